import { writtenOut } from "../posting/coerce";
import { rowNameColumn } from "../schema/rowNames";
import { findTable, type Schema } from "../schema/schema";
import type { NamedFormat } from "../types/format";
import { type Cell, isMisfit, isNumber } from "../types/valueType";
import { emptyQuery } from "./empty";
import { showsNames } from "./namedRows";
import type { RunContext } from "./operands";
import type { Plan, PlanColumn } from "./plan";
import { resolveQuery } from "./resolve";

/*
 * What rows are called, read in the same moment as the rows that are shown by it: on paper, in pivots and charts. A sheet
 * asks for the names of what is in sight instead (namedRows.ts).
 */

/**
 * The plan of the keys and names of the table that a column's values lead to.
 * @param schema with the rules on rows of the one it is worked out for: a row that they may not see is not named
 * @returns undefined where the column is not shown by names
 */
export function namePlan(column: Pick<PlanColumn, "rowOf" | "format">, schema: Schema, context: RunContext): Plan | undefined {
  if (!showsNames(column) || column.rowOf === undefined) return undefined;
  const table = findTable(schema, column.rowOf);
  const named = table && rowNameColumn(table);
  const [key] = table?.key ?? [];
  if (!named || key === undefined) return undefined;
  const columns = [key, named.name].map((name, i) => ({ id: `c${i}`, value: { kind: "field" as const, join: "", column: name } }));
  const resolved = resolveQuery({ ...emptyQuery(table.name), columns }, schema, { ...context, values: {} });
  return resolved.ok ? resolved.value : undefined;
}

/** The plans of names that a plan's columns are shown by, by the columns' ids. */
export function namePlans({ columns }: Pick<Plan, "columns">, schema: Schema, context: RunContext): Record<string, Plan> {
  return Object.fromEntries(
    columns.flatMap((column) => {
      const plan = column.hidden ? undefined : namePlan(column, schema, context);
      return plan ? [[column.id, plan]] : [];
    }),
  );
}

/** Names by their keys, as cells hold these. */
export type Names = ReadonlyMap<string, string>;

/** The names that the rows of a `namePlan` tell; a row without one is left out. */
export function readNames({ columns }: Pick<Plan, "columns">, rows: Iterable<Cell[]>): Names {
  const names = new Map<string, string>();
  const type = columns[1]?.type;
  for (const [key = null, name = null] of rows) {
    if (key === null || name === null || isMisfit(key) || isMisfit(name) || !type) continue;
    const words = writtenOut(name, type).trim();
    if (words !== "") names.set(String(key), words);
  }
  return names;
}

/** Columns that are written by the names of their rows, by the columns' ids. */
export const namedColumns = <C extends PlanColumn>(columns: C[], names: Record<string, Names>): C[] =>
  columns.map((c) => {
    const named = names[c.id];
    const format: NamedFormat = { ...c.format, named };
    return named ? { ...c, format } : c;
  });

/** Whether a column's values stand on the right: numbers, but not the names that stand for some. */
export const standsRight = ({ type, format }: Pick<PlanColumn, "type" | "format">): boolean => isNumber(type) && (format as NamedFormat).named === undefined;
