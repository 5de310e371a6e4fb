"use client";

import { useVirtualizer } from "@tanstack/react-virtual";
import { type KeyboardEvent, useCallback, useId, useMemo, useRef, useState } from "react";
import type { Pivot } from "@/core/pivot/assemble";
import { heatOf } from "@/core/pivot/heat";
import { type Banner, bannerRows, bannerWords, type Column, cellAt, extremesOf, type Line, linesOf, lineWords, pathKey } from "@/core/pivot/lines";
import { SHOWN } from "@/core/pivot/show";
import type { PivotSpec } from "@/core/pivot/spec";
import { cellWriter } from "@/core/types/format";
import { isMisfit } from "@/core/types/valueType";
import { useLocale } from "../shell/Shell";

const ROW = 31;
const BANNER = 31;
const LETTER = 6.9;
const SAMPLED = 60;
/** Lists of values are cut at this width; figures never are. */
const MOST_TEXT = 320;
const SHADES = [0, 8, 16, 26, 38];

type Props = {
  pivot: Pivot;
  spec: PivotSpec;
  label: string;
  onOpen: (line: Line, column: Column) => void;
  /** Folds a group shut or open, by its path. */
  onToggle: (path: string) => void;
};

/** What the shades of a pivot mean. */
export function HeatLegend({ pivot, spec }: Pick<Props, "pivot" | "spec">) {
  const locale = useLocale();
  const heat = heatOf(pivot, spec);
  const figure = heat && pivot.figures[heat.figure];
  if (!figure) return null;
  const write = cellWriter(figure.type, figure.format, locale);
  return (
    <span className="flex items-center gap-1.5">
      {figure.heading}: {write(figure.type.kind === "floating" ? 0 : "0").text}
      {SHADES.slice(1).map((shade) => (
        <span key={shade} className="h-3 w-5 border border-hairline" style={{ background: shadeOf(shade, false) }} />
      ))}
      {write(figure.type.kind === "floating" ? heat.most : String(Math.round(heat.most))).text}
    </span>
  );
}

const shadeOf = (share: number, negative: boolean) => `color-mix(in srgb, var(--color-${negative ? "vermilion" : "bottle"}) ${share}%, var(--color-sheet))`;

/**
 * A pivot as a grid whose headings stay in sight (WAI-ARIA grid pattern): one stop for Tab, arrows move, Enter opens
 * the rows behind a figure or folds a group. Only what is in sight is in the page.
 */
export function PivotGrid({ pivot, spec, label, onOpen, onToggle }: Props) {
  const locale = useLocale();
  const id = useId();
  const scroller = useRef<HTMLDivElement>(null);
  const [at, setAt] = useState({ line: 0, column: 0 });
  const [focused, setFocused] = useState(false);
  const laid = useMemo(() => linesOf(pivot, spec), [pivot, spec]);
  const { lines, columns } = laid;
  const banners = useMemo(() => bannerRows(pivot, laid), [pivot, laid]);
  const writers = useMemo(() => pivot.figures.map((f) => cellWriter(f.type, f.format, locale)), [pivot, locale]);
  const heat = useMemo(() => heatOf(pivot, spec), [pivot, spec]);
  const written = useCallback(
    (line: Line, column: Column) => writers[column.figure]?.(cellAt(pivot, line, column)) ?? { text: "", negative: false, misfit: false },
    [pivot, writers],
  );

  const isText = useCallback(({ figure }: Column) => pivot.figures[figure]?.type.kind === "text", [pivot]);
  const { widths, headingWidth } = useMemo(() => {
    const sample = [...lines.filter((l) => l.kind === "total"), ...lines.slice(0, SAMPLED)];
    const room = (l: Line, c: Column) => 22 + LETTER * (written(l, c).text.length + (l.kind === "leaf" ? 0 : 0.8));
    const extremes = extremesOf(pivot, lines, columns);
    const wide = columns.map((c, i) => {
      const widest = Math.max(64, ...[...sample, ...(extremes[i] ?? [])].map((l) => room(l, c)));
      return isText(c) ? Math.min(MOST_TEXT, widest) : widest;
    });
    for (const row of banners)
      for (const b of row) {
        const spanned = wide.slice(b.from, b.from + b.span).reduce((sum, w) => sum + w, 0);
        const lacking = 24 + LETTER * bannerWords(pivot, b, locale).length - spanned;
        if (lacking > 0 && b.span > 0) for (let i = b.from; i < b.from + b.span; i++) wide[i] = (wide[i] ?? 0) + lacking / b.span;
      }
    const longest = Math.max(...lines.slice(0, 2000).map((l) => lineWords(pivot, l, locale).length * LETTER + Math.max(0, l.level - 1) * 16 + 46));
    return { widths: wide.map(Math.round), headingWidth: Math.round(Math.min(320, Math.max(120, longest))) };
  }, [lines, columns, banners, pivot, locale, written, isText]);

  const rows = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 3,
    scrollPaddingStart: banners.length * BANNER,
    scrollPaddingEnd: 8,
  });
  const across = useVirtualizer({
    horizontal: true,
    count: columns.length,
    getScrollElement: () => scroller.current,
    estimateSize: (i) => widths[i] ?? 64,
    overscan: 1,
    scrollPaddingStart: headingWidth,
  });
  const lefts = useMemo(() => {
    let sum = 0;
    return widths.map((w) => {
      const left = sum;
      sum += w;
      return left;
    });
  }, [widths]);
  const width = headingWidth + widths.reduce((sum, w) => sum + w, 0);
  const bannerHeight = Math.max(1, banners.length) * BANNER;

  const togglePath = (b: Banner | null, line: Line | null): void => {
    if (line && line.open !== null) onToggle(`down ${pathKey(pivot.down, line.heading)}`);
    else if (b && b.open !== null) onToggle(`across ${pathKey(pivot.across, b.heading)}`);
  };

  /** Line -1 is the headings above; column -1 the headings of lines. */
  function move(line: number, column: number): void {
    const to = { line: Math.max(-1, Math.min(lines.length - 1, line)), column: Math.max(-1, Math.min(columns.length - 1, column)) };
    setAt(to);
    if (to.line >= 0) rows.scrollToIndex(to.line);
    if (to.column >= 0) across.scrollToIndex(to.column);
  }

  function onKeyDown(event: KeyboardEvent): void {
    if (event.target !== scroller.current) return;
    const far = event.ctrlKey || event.metaKey;
    const page = Math.max(1, Math.floor((scroller.current?.clientHeight ?? 300) / ROW) - banners.length - 1);
    const { line, column } = at;
    const moves: Record<string, [number, number]> = {
      ArrowDown: [far ? lines.length - 1 : line + 1, column],
      ArrowUp: [far ? 0 : line - 1, column],
      ArrowRight: [line, far ? columns.length - 1 : column + 1],
      ArrowLeft: [line, far ? 0 : column - 1],
      PageDown: [line + page, column],
      PageUp: [Math.max(0, line - page), column],
      Home: far ? [0, 0] : [line, -1],
      End: far ? [lines.length - 1, columns.length - 1] : [line, columns.length - 1],
    };
    const to = moves[event.key];
    if (to) move(...to);
    else if (event.key === "Enter" || event.key === " ") {
      const here = lines[line] ?? null;
      const group = banners.flat().find((b) => b.open !== null && column >= b.from && column < b.from + b.span) ?? null;
      if (line < 0) togglePath(group, null);
      else if (column < 0) togglePath(null, here);
      else if (here?.figures && columns[column]) onOpen(here, columns[column]);
    } else return;
    event.preventDefault();
  }

  const isAt = (line: number, column: number) => focused && at.line === line && at.column === column;
  const ring = "outline-2 -outline-offset-2 outline-bottle";
  const shadeFor = (line: Line, column: Column): string | undefined => {
    if (!heat || heat.most === 0 || column.figure !== heat.figure || line.kind !== "leaf" || column.kind !== "leaf") return undefined;
    const cell = cellAt(pivot, line, column);
    if (cell === null || isMisfit(cell)) return undefined;
    const step = Math.min(SHADES.length - 1, Math.ceil((Math.abs(Number(cell)) / heat.most) * (SHADES.length - 1)));
    return shadeOf(SHADES[step] ?? 0, Number(cell) < 0);
  };
  const isShare = (figure: number) => SHOWN[spec.figures[figure]?.showAs ?? "asIs"].percent;

  return (
    <div
      ref={scroller}
      role="grid"
      aria-label={label}
      aria-rowcount={lines.length + banners.length}
      aria-colcount={columns.length + 1}
      tabIndex={0}
      aria-activedescendant={`${id}-${at.line}-${at.column}`}
      onKeyDown={onKeyDown}
      onFocus={() => setFocused(true)}
      onBlur={() => setFocused(false)}
      className="relative min-h-0 flex-1 overflow-auto border border-rule bg-sheet"
    >
      <div style={{ width, minHeight: "100%" }}>
        <div role="rowgroup" className="sticky top-0 z-20 border-b border-ink bg-sheet" style={{ height: bannerHeight, width }}>
          {banners.map((row, r) => (
            <div key={`banner ${r}`} role="row" aria-rowindex={r + 1}>
              {r === 0 && (
                <div
                  role="columnheader"
                  id={`${id}--1--1`}
                  className="sticky left-0 z-10 flex items-center border-r border-rule bg-sheet px-2.5 font-semibold"
                  style={{ width: headingWidth, height: bannerHeight }}
                >
                  {pivot.axes.down.map((a, i) => (i === 0 ? a.heading : a.heading.toLowerCase())).join(", ") || "All"}
                </div>
              )}
              {row
                .filter((b) => b.from + b.span > (across.getVirtualItems()[0]?.index ?? 0) && b.from <= (across.getVirtualItems().at(-1)?.index ?? 0))
                .map((b) => {
                  const plain = b.figure !== null;
                  const last = b.from + b.span - 1;
                  const own = { left: headingWidth + (lefts[b.from] ?? 0), width: (lefts[last] ?? 0) + (widths[last] ?? 0) - (lefts[b.from] ?? 0) };
                  const rowsDeep = plain ? 1 : Math.min(b.rows, banners.length - r);
                  return (
                    <div
                      key={`${b.heading} ${b.from} ${b.figure}`}
                      id={plain || r === banners.length - 1 ? `${id}--1-${b.from}` : undefined}
                      role="columnheader"
                      aria-colspan={b.span}
                      className={`absolute flex items-center border-r border-column px-2.5 ${b.span > 1 ? "justify-center" : "justify-end"} ${plain ? (isShare(b.figure ?? 0) ? "text-soft" : "") : "font-semibold"} ${!plain && r < banners.length - 1 ? "border-b border-b-ink" : ""} ${isAt(-1, b.from) && (plain || r === banners.length - 1) ? ring : ""}`}
                      style={{ ...own, top: r * BANNER, height: rowsDeep * BANNER }}
                    >
                      {b.open !== null && (
                        <button
                          type="button"
                          tabIndex={-1}
                          className="small-button"
                          aria-expanded={b.open}
                          aria-label={`${b.open ? "Fold" : "Unfold"} ${bannerWords(pivot, b, locale)}`}
                          onClick={() => togglePath(b, null)}
                        >
                          {b.open ? "▾" : "▸"}
                        </button>
                      )}
                      <span className="sticky truncate" style={b.span > 1 ? { left: headingWidth + 10 } : undefined}>
                        {bannerWords(pivot, b, locale)}
                      </span>
                    </div>
                  );
                })}
            </div>
          ))}
        </div>
        <div role="rowgroup" style={{ height: rows.getTotalSize(), position: "relative", width }}>
          {rows.getVirtualItems().map(({ index, start }) => {
            const line = lines[index] as Line;
            const strong = line.kind !== "leaf";
            const words = lineWords(pivot, line, locale);
            const total = line.kind === "total";
            return (
              <div
                key={index}
                role="row"
                aria-rowindex={banners.length + index + 1}
                className={`absolute top-0 left-0 ${total ? "border-t border-b-[3px] border-t-ink border-b-ink bg-sheet font-semibold [border-bottom-style:double]" : strong ? "border-b border-hairline bg-group font-semibold" : "border-b border-hairline"}`}
                style={{ height: total ? ROW + 3 : ROW, width, transform: `translateY(${start}px)` }}
              >
                <div
                  id={`${id}-${index}--1`}
                  role="rowheader"
                  aria-expanded={line.open ?? undefined}
                  onClick={() => {
                    move(index, -1);
                    if (line.open !== null) togglePath(null, line);
                  }}
                  className={`sticky left-0 z-10 flex h-full items-center gap-1 border-r border-rule pr-2 ${total ? "bg-sheet" : strong ? "bg-group" : "bg-sheet"} ${line.open !== null ? "cursor-pointer" : ""} ${pivot.down[line.heading]?.rest || (pivot.down[line.heading]?.key === null && line.level > 0) ? "text-soft italic" : ""} ${isAt(index, -1) ? ring : ""}`}
                  style={{ width: headingWidth, paddingLeft: 10 + Math.max(0, line.level - 1) * 16 }}
                  title={words.length * LETTER > headingWidth - 40 ? words : undefined}
                >
                  {line.open !== null && (
                    <span aria-hidden="true" className="w-3 text-tiny">
                      {line.open ? "▾" : "▸"}
                    </span>
                  )}
                  <span className="truncate">{words}</span>
                </div>
                {across.getVirtualItems().map(({ index: c, start: left }) => {
                  const column = columns[c] as Column;
                  const cell = written(line, column);
                  const background = shadeFor(line, column);
                  return (
                    <div
                      key={c}
                      id={`${id}-${index}-${c}`}
                      role="gridcell"
                      tabIndex={-1}
                      aria-colindex={c + 2}
                      onMouseDown={(e) => {
                        move(index, c);
                        scroller.current?.focus({ preventScroll: true });
                        e.preventDefault();
                      }}
                      onDoubleClick={() => line.figures && onOpen(line, column)}
                      className={`absolute top-0 flex h-full items-center justify-end border-r border-column px-2.5 whitespace-nowrap ${column.kind === "leaf" ? "" : "font-semibold"} ${cell.negative ? "text-vermilion" : isShare(column.figure) ? "text-soft" : ""} ${isAt(index, c) ? ring : ""}`}
                      style={{ left: headingWidth + left, width: widths[c] ?? 64, ...(background ? { background } : {}) }}
                    >
                      {isText(column) ? (
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
          })}
        </div>
      </div>
    </div>
  );
}
