import { type Banner, bannerWords, loneFigure } from "@/core/pivot/lines";
import type { Grid } from "./grid";
import { WORDS } from "./words";

/** The rows of headings above a pivot's columns, and the corner that names what stands down. */
export function PivotHeadings({ grid, banners, toggle }: { grid: Grid; banners: Banner[][]; toggle: (banner: Banner) => void }) {
  const { id, pivot, widths, across, line } = grid;
  const height = Math.max(1, banners.length) * line;
  const figure = loneFigure(pivot);
  const [first, last] = [across[0]?.index ?? 0, across.at(-1)?.index ?? 0];
  return (
    <div role="rowgroup" className="sticky top-0 z-20 border-b border-ink bg-sheet" style={{ height, width: widths.whole }}>
      {banners.map((row, r) => (
        <div key={`banner ${r}`} role="row" aria-rowindex={r + 1}>
          {r === 0 && (
            <div
              role="columnheader"
              id={`${id}--1--1`}
              className="sticky left-0 z-10 flex flex-col justify-center border-r border-rule bg-sheet px-2.5 font-semibold"
              style={{ width: widths.heading, height }}
            >
              <span className="truncate">{pivot.axes.down.map((a, i) => (i === 0 ? a.heading : a.heading.toLowerCase())).join(", ") || WORDS.all}</span>
              {figure && <span className="truncate text-tiny font-normal text-soft">{figure}</span>}
            </div>
          )}
          {row
            .filter((b) => b.from + b.span > first && b.from <= last)
            .map((b) => (
              <BannerCell key={`${b.heading} ${b.from} ${b.figure}`} grid={grid} banner={b} row={r} toggle={() => toggle(b)} />
            ))}
        </div>
      ))}
    </div>
  );
}

function BannerCell({ grid, banner: b, row, toggle }: { grid: Grid; banner: Banner; row: number; toggle: () => void }) {
  const { id, widths, depth, line } = grid;
  const words = bannerWords(grid.pivot, b, grid.locale);
  const ofFigure = b.figure !== null;
  const lowest = row === depth - 1;
  const last = b.from + b.span - 1;
  const left = widths.lefts[b.from] ?? 0;
  const place = { left: widths.heading + left, width: (widths.lefts[last] ?? 0) + (widths.columns[last] ?? 0) - left };
  const look = [
    b.span > 1 ? "justify-center" : "justify-end",
    ofFigure ? (grid.isShare(b.figure ?? 0) ? "text-soft" : "") : "font-semibold",
    ofFigure || lowest ? grid.ringAt(-1, b.from) : "border-b border-b-ink",
  ].join(" ");
  return (
    <div
      id={ofFigure || lowest ? `${id}--1-${b.from}` : undefined}
      role="columnheader"
      aria-colspan={b.span}
      className={`absolute flex items-center border-r border-column px-2.5 ${look}`}
      style={{ ...place, top: row * line, height: (ofFigure ? 1 : Math.min(b.rows, depth - row)) * line }}
    >
      {b.open !== null && (
        <button
          type="button"
          tabIndex={-1}
          className="small-button"
          aria-expanded={b.open}
          aria-label={b.open ? WORDS.collapse(words) : WORDS.expand(words)}
          onClick={toggle}
        >
          {b.open ? "▾" : "▸"}
        </button>
      )}
      <span className="sticky truncate" style={b.span > 1 ? { left: widths.heading + 10 } : undefined}>
        {words}
      </span>
    </div>
  );
}
