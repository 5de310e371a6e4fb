import { walkTo } from "../dashboard/filters";
import type { DashboardSpec } from "../dashboard/spec";
import { emptyDashboard } from "../dashboard/tiles";
import { writtenOut } from "../posting/coerce";
import type { QuerySpec } from "../query/spec";
import { findColumn, type Schema, type Table } from "../schema/schema";
import { isMisfit } from "../types/valueType";
import type { RowCells } from "./panel";
import type { Shown } from "./spec";

/** Whether a query's rows belong to rows of a table: links to one lead there from its source. */
export const belongsTo = (schema: Schema, query: QuerySpec, table: Table): boolean => table.key.length > 0 && walkTo(schema, query.source, table.name) !== null;

/**
 * A chart or figure of a folio as a dashboard of one tile, narrowed to the row by its key.
 * @returns null where no link leads from the query to the table, or the row has no key that can be compared
 */
export function shownOf(shown: Shown, query: QuerySpec, table: Table, cells: RowCells, schema: Schema): DashboardSpec | null {
  const steps = walkTo(schema, query.source, table.name);
  if (!steps || table.key.length === 0) return null;
  const filters = table.key.flatMap((name) => {
    const column = findColumn(table, name);
    const cell = cells[name] ?? null;
    if (!column || cell === null || isMisfit(cell)) return [];
    const value = { kind: "set" as const, not: false, values: [writtenOut(cell, column.type)] };
    return [{ id: `key ${name}`, label: name, table: table.name, column: name, meets: { [shown.id]: { steps } }, default: value }];
  });
  return filters.length === table.key.length ? { ...emptyDashboard(), tiles: [shown], filters } : null;
}
