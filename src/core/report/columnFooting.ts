import type { PlanColumn } from "../query/plan";
import { tallyOf } from "../recount/figures";
import { cellOfValue } from "../recount/value";
import { type CellWriter, cellWriter, type Locale } from "../types/format";
import { type Cell, digitsOf, type ValueType } from "../types/valueType";
import { valueOfCell } from "./recount";
import { Tally } from "./tally";

/** What the footing under a column of a table comes to, while its rows come. */
export type ColumnFooting = { type: ValueType; add: (cell: Cell, row: Cell[]) => void; cell: () => Cell };

/**
 * The figure that a column's footing shows, over rows as they are printed: its total, or the one a person chose.
 * @param keys the places in a row of what tells apart the rows counted once; null where every row counts
 * @returns null where nothing stands under it
 */
export function columnFooting({ type, totalled, foot, hidden }: PlanColumn, keys: number[] | null): ColumnFooting | null {
  if (hidden) return null;
  if (totalled) {
    const tally = new Tally(type, keys);
    return { type, add: (cell, row) => tally.add(cell, row), cell: () => tally.figure("total") };
  }
  if (foot?.node !== "figure") return null;
  const tally = tallyOf(foot.figure, type, foot);
  return { type: foot.type, add: (cell) => tally.add({ value: valueOfCell(cell, type), by: null, keys: null }), cell: () => cellOfValue(tally.value()) };
}

/** What writes a column's footing: like its values where it is of their type, else with the digits of its own. */
export function footingWriter(column: PlanColumn, footing: ColumnFooting, locale: Locale): CellWriter {
  const same = JSON.stringify(footing.type) === JSON.stringify(column.type);
  const decimals = column.format.decimals ?? (digitsOf(column.type) || 2);
  return cellWriter(footing.type, same ? column.format : footing.type.kind === "whole" ? {} : { ...column.format, decimals }, locale);
}
