import { emptyQuery } from "../query/empty";
import type { Plan } from "../query/plan";
import { resolveQuery } from "../query/resolve";
import { type Column, storedColumns, type Table } from "../schema/schema";
import type { Today } from "../types/calendar";
import type { Problem } from "../types/problem";
import { ownStorage } from "../types/storage";
import { text, whole } from "../types/valueType";
import { type CreateTable, keyOf } from "./createTable";
import type { ShapeColumn } from "./spec";

/**
 * Values that formulas come to: the query that gives them for each row, what tells a row apart as its first columns, and the column
 * each value is kept in meanwhile, by the id of the column it is for.
 */
export type Worked = { rows: Plan; identity: string[]; columns: Record<string, Column> };

const ROWIDS = ["rowid", "_rowid_", "oid"];

/** The name by which SQLite knows the number of a row. @returns null where the columns of a table have all the names of its rowid */
export function rowidName(columns: string[]): string | null {
  return ROWIDS.find((name) => !columns.some((c) => c.toLowerCase() === name)) ?? null;
}

/** Whether a column's values, or those that do not fit, are worked out by a formula. */
const isWorked = ({ from, formula = "", misfits, lookup }: ShapeColumn): boolean =>
  formula.trim() !== "" && !lookup && (from === null || misfits === "formula");

/**
 * Plans the formulas of a change of a table, over its rows as they are: what tells a row apart comes first (r0, r1, …), each formula's value
 * after it. They are kept under names that no column can have.
 * @returns null where there are none, or where something is wrong with them
 */
export function planWorked(
  given: ShapeColumn[],
  { now, today }: { now: { table: Table; sql: CreateTable } | null; today: Today },
  wrong: (problem: Problem) => void,
): Worked | null {
  const columns = given.filter(isWorked);
  if (!now || columns.length === 0) return null;
  const table: Table = { ...now.table, columns: storedColumns(now.table) };
  const query = { ...emptyQuery(table.name), columns: columns.map(({ id, formula = "" }) => ({ id, value: { kind: "formula" as const, text: formula } })) };
  const resolved = resolveQuery(query, { tables: [table], links: [] }, { today, values: {} });
  if (!resolved.ok) {
    for (const p of resolved.problems) wrong({ ...p, path: ["columns", columns[Number(p.path[1])]?.id ?? "", "formula"] });
    return null;
  }
  const { value: plan } = resolved;
  const names = now.sql.withoutRowid ? keyOf(now.sql) : [rowidName(now.sql.columns.map((c) => c.name)) ?? "rowid"];
  const [like] = plan.columns;
  if (!like) return null;
  const identity = names.map((column, i) => {
    const type = now.sql.withoutRowid ? text : whole;
    return { ...like, id: `r${i}`, type, expr: { node: "field" as const, alias: plan.source.alias, column, type, storage: "plain" as const, guarded: false } };
  });
  return {
    rows: { ...plan, columns: [...identity, ...plan.columns] },
    identity: names,
    columns: Object.fromEntries(
      plan.columns.map(({ id, type }, i): [string, Column] => [
        id,
        { name: `next_ledger_f${i}`, label: columns[i]?.name ?? "", type, storage: ownStorage(type), nullable: true, misfits: 0 },
      ]),
    ),
  };
}
