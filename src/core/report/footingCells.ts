import type { QueryColumn } from "../query/spec";
import type { FootingCell, ReportColumn } from "./spec";

/*
 * Figures of a report's footings as columns of a query over its rows.
 */

/**
 * A figure of a footing as a column of groups, over the rows of `planRows`.
 * @returns null for a figure of a column that has none: one worked out from the rows beside it
 */
export function figureColumn(id: string, column: ReportColumn, cell: FootingCell): QueryColumn | null {
  const format = cell.format ? { format: cell.format } : {};
  if (cell.kind === "formula") return { id, value: { kind: "formula", text: cell.text }, figure: "formula", ...format };
  if (column.window) return null;
  const { figure, by, direction, separator, percent, count } = cell;
  return {
    id,
    value: { kind: "field", join: "", column: `value ${column.id}` },
    figure,
    ...(by === undefined ? {} : { by: { kind: "field", join: "", column: by } as const }),
    ...(direction ? { direction } : {}),
    ...(separator === undefined ? {} : { separator }),
    ...(percent === undefined ? {} : { percent }),
    ...(count === undefined ? {} : { count }),
    ...format,
  };
}
