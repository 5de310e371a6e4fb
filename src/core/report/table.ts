import { standsRight } from "../query/namePlan";
import type { PlanColumn } from "../query/plan";
import { type CellWriter, cellWriter, type Locale } from "../types/format";
import { withUnit } from "../types/unit";
import { type Cell, isDated, isExact, isMisfit } from "../types/valueType";
import type { Place } from "./draft";
import { type Metrics, SIZE } from "./page";
import { COLUMN_GAP, type ColumnNeed, columnWidths } from "./widths";

/*
 * Columns of a table on the paper: the report's own, and those of tables of related rows.
 */

/** By which each group level is set in. */
export const INDENT = 9;
export const LINE = 14;

/** A column to be placed: its width as set, else as its values need. */
export type TableColumn = { id: string; column: PlanColumn; at: number; widthMm: number | null; wrap?: boolean | undefined };

/** A column in its place on the paper. */
export type LaidColumn = TableColumn & Place & { write: CellWriter };

/** A column's heading with its unit. */
export const headingText = (column: PlanColumn): string => withUnit(column.heading, column.unit);

/**
 * Gathers how wide each column's values are.
 * @param more texts that stand under the columns, in bold: footings can be wider than any value
 */
export function measureColumns(columns: TableColumn[], rows: Iterable<Cell[]>, metrics: Metrics, locale: Locale, more: string[][] = []): number[] {
  const measured = columns.map((c) => ({
    ...c,
    write: cellWriter(c.column.type, c.column.format, locale),
    width: metrics.width(headingText(c.column), "sansBold", SIZE.body),
    least: null as Cell,
    greatest: null as Cell,
  }));
  for (const row of rows)
    for (const c of measured) {
      const cell = row[c.at] ?? null;
      if (isExact(c.column.type) && standsRight(c.column) && !isMisfit(cell) && cell !== null) {
        // Of exact numbers the least and the greatest are the longest: the rest need not be written out.
        if (c.least === null || Number(cell) < Number(c.least)) c.least = cell;
        if (c.greatest === null || Number(cell) > Number(c.greatest)) c.greatest = cell;
        continue;
      }
      const { text, misfit } = c.write(cell);
      // No letter is wider than its type is high, so that a short text need not be measured.
      if ((text.length + (misfit ? 2 : 0)) * SIZE.body <= c.width) continue;
      c.width = Math.max(c.width, metrics.width(misfit ? `“${text}”` : text, "sans", SIZE.body));
    }
  return measured.map((c, i) => {
    const extremes = [c.least, c.greatest].map((cell) => metrics.width(c.write(cell).text, "sans", SIZE.body));
    const under = (more[i] ?? []).map((words) => metrics.width(words, "sansBold", SIZE.body));
    return Math.max(c.width, ...extremes, ...under) + 1;
  });
}

/** Gives each column its place and width: as set, else as its values need, from `left` to `right`. */
export function placeColumns(columns: TableColumn[], natural: number[], left: number, right: number, locale: Locale): LaidColumn[] {
  const widths = columnWidths(
    columns.map(({ column, widthMm }, i) => ({ widthMm, ...needOf(column, natural[i] ?? 0) })),
    right - left,
  );
  let x = left;
  return columns.map((c, i) => {
    const laid = { ...c, x, width: widths[i] ?? 0, right: standsRight(c.column), write: cellWriter(c.column.type, c.column.format, locale) };
    x += laid.width + COLUMN_GAP;
    return laid;
  });
}

/** What a column needs by its values: how wide the widest is, whether it is cut where there is no room, and on which side it stands. */
export const needOf = (column: PlanColumn, natural: number): ColumnNeed => ({
  natural,
  whole: standsRight(column) || isDated(column.type),
  right: standsRight(column),
});
