"use client";

import { useVirtualizer } from "@tanstack/react-virtual";
import { type KeyboardEvent, type RefObject, useCallback, useId, useMemo, useRef, useState } from "react";
import { heatOf } from "@/core/pivot/heat";
import { bannerRows, type Column, cellAt, deedAt, type Line, linesOf, shutKey } from "@/core/pivot/lines";
import type { Pivot } from "@/core/pivot/pivot";
import { SHOWN } from "@/core/pivot/show";
import type { PivotSpec } from "@/core/pivot/spec";
import { gridWidths } from "@/core/pivot/widths";
import { cellWriter, type Locale } from "@/core/types/format";
import { useTextScale } from "@/ui/appearance";
import { type GridPlace, placeAfter, withinGrid } from "@/ui/gridWalk";
import { useLocale } from "../workspace/locale";
import { type Grid, LINE } from "./grid";
import { PivotHeadings } from "./PivotHeadings";
import { PivotLine } from "./PivotLine";

type Props = {
  pivot: Pivot;
  spec: PivotSpec;
  label: string;
  onOpen: (line: Line, column: Column) => void;
  /** Folds a group shut or open, by its path. */
  onToggle: (path: string) => void;
};

/**
 * A pivot as a grid whose headings stay in sight (WAI-ARIA grid pattern): one stop for Tab, arrows move, Enter opens
 * the rows behind a figure or folds a group. Only what is in sight is in the page.
 */
export function PivotGrid({ pivot, spec, label, onOpen, onToggle }: Props) {
  const id = useId();
  const scroller = useRef<HTMLDivElement>(null);
  const [at, setAt] = useState<GridPlace>({ row: 0, column: 0 });
  const [focused, setFocused] = useState(false);
  const laid = useLaidOut(pivot, spec);
  const { lines, columns, banners, widths, line } = laid;
  const { rows, across } = useInSight(scroller, laid);

  const act = (place: GridPlace): void => {
    const deed = deedAt(pivot, laid, place);
    if (deed?.does === "fold") onToggle(deed.group);
    else if (deed) onOpen(deed.line, deed.column);
  };

  const size = () => ({
    rows: lines.length,
    columns: columns.length,
    firstColumn: -1 as const,
    page: Math.max(1, Math.floor((scroller.current?.clientHeight ?? 300) / line) - banners.length - 1),
  });
  function move(place: GridPlace): void {
    const to = withinGrid(place, size());
    setAt(to);
    if (to.row >= 0) rows.scrollToIndex(to.row);
    if (to.column >= 0) across.scrollToIndex(to.column);
  }

  function onKeyDown(event: KeyboardEvent): void {
    if (event.target !== scroller.current) return;
    const to = placeAfter(event.key, event.ctrlKey || event.metaKey, at, size());
    if (to) move(to);
    else if (event.key === "Enter" || event.key === " ") act(at);
    else return;
    event.preventDefault();
  }

  const grid: Grid = {
    id,
    pivot,
    ...laid,
    across: across.getVirtualItems(),
    depth: banners.length,
    isShare: (figure) => SHOWN[spec.figures[figure]?.showAs ?? "asIs"].percent,
    ringAt: (line, column) => (focused && at.row === line && at.column === column ? "outline-2 -outline-offset-2 outline-bottle" : ""),
  };
  const click = (place: GridPlace): void => {
    move(place);
    scroller.current?.focus({ preventScroll: true });
  };

  return (
    <div
      ref={scroller}
      role="grid"
      aria-label={label}
      aria-rowcount={lines.length + banners.length}
      aria-colcount={columns.length + 1}
      tabIndex={0}
      aria-activedescendant={`${id}-${at.row}-${at.column}`}
      onKeyDown={onKeyDown}
      onFocus={() => setFocused(true)}
      onBlur={() => setFocused(false)}
      className="relative min-h-0 flex-1 overflow-auto border border-rule bg-sheet"
    >
      <div style={{ width: widths.whole, minHeight: "100%" }}>
        <PivotHeadings grid={grid} banners={banners} toggle={(b) => onToggle(shutKey("across", pivot.across, b.heading))} />
        <div role="rowgroup" style={{ height: rows.getTotalSize(), position: "relative", width: widths.whole }}>
          {rows.getVirtualItems().map(({ index, start }) => (
            <PivotLine key={index} grid={grid} index={index} top={start} line={lines[index] as Line} click={click} act={act} />
          ))}
        </div>
      </div>
    </div>
  );
}

/** Pixels of a grid before it is known how large it is: its first lines stand in the page as it comes. */
const FIRST_SIGHT = { width: 720, height: 560 };

/** What a pivot shows, and how large each part of it is, in pixels at the viewer's size of type. */
function useLaidOut(pivot: Pivot, spec: PivotSpec) {
  const locale = useLocale();
  const scale = useTextScale();
  const laid = useMemo(() => linesOf(pivot, spec), [pivot, spec]);
  const banners = useMemo(() => bannerRows(pivot, laid), [pivot, laid]);
  const heat = useMemo(() => heatOf(pivot, spec), [pivot, spec]);
  const written = useWritten(pivot, locale);
  const widths = useMemo(() => gridWidths(pivot, laid, (l, column) => written(l, column).text, locale, scale), [pivot, laid, written, locale, scale]);
  return { locale, lines: laid.lines, columns: laid.columns, banners, heat, written, widths, line: Math.round(LINE * scale) };
}

/** The lines and columns in sight. */
function useInSight(scroller: RefObject<HTMLDivElement | null>, { lines, columns, banners, widths, line }: ReturnType<typeof useLaidOut>) {
  const rows = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => line,
    overscan: 3,
    scrollPaddingStart: banners.length * line,
    scrollPaddingEnd: 8,
    initialRect: FIRST_SIGHT,
  });
  const across = useVirtualizer({
    horizontal: true,
    count: columns.length,
    getScrollElement: () => scroller.current,
    estimateSize: (i) => widths.columns[i] ?? 0,
    overscan: 1,
    scrollPaddingStart: widths.heading,
    initialRect: FIRST_SIGHT,
  });
  return { rows, across };
}

/** Writes the cell of a line and a column as its figure is written. */
function useWritten(pivot: Pivot, locale: Locale) {
  const writers = useMemo(() => pivot.figures.map((f) => cellWriter(f.type, f.format, locale)), [pivot, locale]);
  return useCallback(
    (line: Line, column: Column) => writers[column.figure]?.(cellAt(pivot, line, column)) ?? { text: "", negative: false, misfit: false },
    [pivot, writers],
  );
}
