import { writtenOut } from "../posting/coerce";
import { type Cell, isMisfit, type ValueType } from "../types/valueType";
import type { Plan, PlanColumn } from "./plan";

/*
 * Columns whose values are the keys of rows elsewhere, as they are shown: by what those rows are called.
 */

/** Keys whose names are asked for at once at most. */
export const MOST_NAMED = 1000;

/** Rows whose names are wanted: of a table, by their keys as they are typed. */
export type WantedNames = { table: string; keys: string[] };

/** Whether a column's values are shown by the names of their rows. */
export const showsNames = (column: Pick<PlanColumn, "rowOf" | "format">): boolean => column.rowOf !== undefined && !column.format.byKey;

/** A key as it is typed; null for what is none. */
export const keyText = (cell: Cell, type: ValueType): string | null => (cell === null || isMisfit(cell) ? null : writtenOut(cell, type));

/** The names that a plan's rows are shown by: for each table every different key once, in order. */
export function namesWanted(plan: Pick<Plan, "columns">, rows: Cell[][]): WantedNames[] {
  const keys = new Map<string, Set<string>>();
  plan.columns.forEach((column, at) => {
    if (!showsNames(column) || column.rowOf === undefined || column.hidden) return;
    const own = keys.get(column.rowOf) ?? new Set();
    keys.set(column.rowOf, own);
    for (const row of rows) {
      const key = keyText(row[at] ?? null, column.type);
      if (key !== null) own.add(key);
    }
  });
  return [...keys].flatMap(([table, own]) => inParts(table, [...own].sort()));
}

/** Keys in as many questions as they need. */
function inParts(table: string, keys: string[]): WantedNames[] {
  const parts = Math.ceil(keys.length / MOST_NAMED);
  return Array.from({ length: parts }, (_, i) => ({ table, keys: keys.slice(i * MOST_NAMED, (i + 1) * MOST_NAMED) }));
}
