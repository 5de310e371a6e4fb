import { shadeAt } from "@/core/pivot/heat";
import { type Column, type Line, lineWords } from "@/core/pivot/lines";
import { GRID, isTextFigure } from "@/core/pivot/widths";
import type { GridPlace } from "@/ui/gridWalk";
import type { Grid } from "./grid";
import { MOST_SHADE, shadeColour } from "./Heat";

type Props = {
  grid: Grid;
  index: number;
  /** How far it stands below the headings, in pixels. */
  top: number;
  line: Line;
  click: (place: GridPlace) => void;
  /** Folds the group of a heading, or opens the rows behind a figure. */
  act: (place: GridPlace) => void;
};

const LOOKS = {
  total: "border-t border-b-[3px] border-t-ink border-b-ink bg-sheet font-semibold [border-bottom-style:double]",
  group: "border-b border-hairline bg-group font-semibold",
  subtotal: "border-b border-hairline bg-group font-semibold",
  leaf: "border-b border-hairline",
} satisfies Record<Line["kind"], string>;

/** One line of a pivot: its heading, which stays in sight, and its figures. */
export function PivotLine({ grid, index, top, line, click, act }: Props) {
  const total = line.kind === "total";
  return (
    <div
      role="row"
      aria-rowindex={grid.depth + index + 1}
      className={`absolute top-0 left-0 ${LOOKS[line.kind]}`}
      style={{ height: total ? grid.line + 3 : grid.line, width: grid.widths.whole, transform: `translateY(${top}px)` }}
    >
      <LineHeading
        grid={grid}
        index={index}
        line={line}
        click={() => {
          click({ row: index, column: -1 });
          act({ row: index, column: -1 });
        }}
      />
      {grid.across.map(({ index: c, start: left }) => {
        const column = grid.columns[c] as Column;
        const cell = grid.written(line, column);
        const shaded = shadeAt(grid.pivot, grid.heat, line, column, MOST_SHADE);
        const background = shaded ? { background: shadeColour(shaded.shade, shaded.negative) } : {};
        const colour = cell.negative ? "text-vermilion" : grid.isShare(column.figure) ? "text-soft" : "";
        return (
          <div
            key={c}
            id={`${grid.id}-${index}-${c}`}
            role="gridcell"
            tabIndex={-1}
            aria-colindex={c + 2}
            onMouseDown={(e) => {
              click({ row: index, column: c });
              e.preventDefault();
            }}
            onDoubleClick={() => act({ row: index, column: c })}
            className={`absolute top-0 flex h-full items-center justify-end border-r border-column px-2.5 whitespace-nowrap ${column.kind === "leaf" ? "" : "font-semibold"} ${colour} ${grid.ringAt(index, c)}`}
            style={{ left: grid.widths.heading + left, width: grid.widths.columns[c], ...background }}
          >
            {isTextFigure(grid.pivot, column) ? (
              <span className="truncate" title={cell.text}>
                {cell.text}
              </span>
            ) : (
              cell.text
            )}
          </div>
        );
      })}
    </div>
  );
}

function LineHeading({ grid, index, line, click }: { grid: Grid; index: number; line: Line; click: () => void }) {
  const { pivot, widths } = grid;
  const words = lineWords(pivot, line, grid.locale);
  const heading = pivot.down[line.heading];
  const unnamed = heading?.rest || (heading?.key === null && line.level > 0);
  const ground = line.kind === "group" || line.kind === "subtotal" ? "bg-group" : "bg-sheet";
  return (
    <div
      id={`${grid.id}-${index}--1`}
      role="rowheader"
      aria-expanded={line.open ?? undefined}
      onClick={click}
      className={`sticky left-0 z-10 flex h-full items-center gap-1 border-r border-rule pr-2 ${ground} ${line.open !== null ? "cursor-pointer" : ""} ${unnamed ? "text-soft italic" : ""} ${grid.ringAt(index, -1)}`}
      style={{ width: widths.heading, paddingLeft: 10 + Math.max(0, line.level - 1) * GRID.heading.step }}
      title={words.length * GRID.letter > widths.heading - 40 ? words : undefined}
    >
      {line.open !== null && (
        <span aria-hidden="true" className="w-3 text-tiny">
          {line.open ? "▾" : "▸"}
        </span>
      )}
      <span className="truncate">{words}</span>
    </div>
  );
}
