import { z } from "zod";
import { writtenOut } from "@/core/posting/coerce";
import { emptyQuery } from "@/core/query/empty";
import { keyText, MOST_NAMED, namesWanted, showsNames } from "@/core/query/namedRows";
import { overRows, resolveOver } from "@/core/query/over";
import type { PlanColumn } from "@/core/query/plan";
import { type ShownColumn, shownColumn } from "@/core/query/shownColumn";
import type { QuerySpec } from "@/core/query/spec";
import { rowNameColumn } from "@/core/schema/rowNames";
import { findTable } from "@/core/schema/schema";
import { ProblemError } from "@/core/types/problem";
import { type Cell, isMisfit, text } from "@/core/types/valueType";
import { needBuilder } from "@/server/services/people/described";
import type { Workspace } from "@/server/services/workspace/workspace";
import { type Caller, planFor, planOf, type Question, questionSchema, rowsOfPlan } from "./service";

const namedSchema = z.object({ table: z.string().max(200), keys: z.array(z.string().max(2000)).max(MOST_NAMED) });
/** `behind`: the rows behind a tile in which the keys stand, for those who only look. */
export const namesSchema = namedSchema.extend({ behind: questionSchema.optional() });

/** How many rows are found by their name at most. */
const MOST_CALLED = 200;

const field = (column: string) => ({ kind: "field" as const, join: "", column });

/** The rows of a table that meet conditions: their keys as they are typed, and what they are called. */
async function namedRows(ws: Workspace, name: string, most: number, caller: Caller, meet: (key: string, named: string) => QuerySpec["conditions"]) {
  const table = findTable(await ws.schema(), name);
  const named = table && rowNameColumn(table);
  const [key] = table?.key ?? [];
  if (!named || key === undefined) return [];
  const columns = [key, named.name].map((column, i) => ({ id: `c${i}`, value: field(column) }));
  const plan = await planOf(ws, { ...emptyQuery(name), columns, conditions: meet(key, named.name) }, {});
  const [keyed, called] = plan.columns;
  const rows = await rowsOfPlan(ws, plan, { offset: 0, rows: most }, caller);
  return rows.flatMap(([k = null, n = null]) => {
    if (k === null || n === null || isMisfit(k) || isMisfit(n) || !keyed || !called) return [];
    const words = writtenOut(n, called.type).trim();
    return words === "" ? [] : [{ key: writtenOut(k, keyed.type), words }];
  });
}

/** The names that are asked for: of any rows by those who build, by those who only look of what stands in rows that they are shown. */
export async function namesAsked(ws: Workspace, { table, keys, behind }: z.infer<typeof namesSchema>, caller: Caller): Promise<Record<string, string>> {
  if (!behind) needBuilder(ws);
  return namesOf(ws, { table, keys: behind ? await keysShown(ws, behind, table, keys, caller) : keys }, caller);
}

/** Of some keys of a table's rows those that stand in rows which are asked about, in a column that is shown by names. */
async function keysShown(ws: Workspace, question: Question, table: string, keys: string[], caller: Caller): Promise<string[]> {
  const plan = await planFor(ws, question);
  const found = plan.columns
    .filter((c) => !c.hidden && c.rowOf === table && showsNames(c))
    .map(async ({ id }) => {
      const value = field(id);
      const among = { id: "keys", left: value, operator: "oneOf" as const, values: keys.map((key) => ({ kind: "value" as const, text: key })) };
      const over = resolveOver({ ...overRows(), grouped: true, columns: [{ id: "key", value }], conditions: [among] }, plan, { today: ws.today, values: {} });
      if (!over.ok) throw new ProblemError(over.problems);
      const type = over.value.columns[0]?.type ?? text;
      return (await rowsOfPlan(ws, over.value, { offset: 0, rows: MOST_NAMED }, caller)).flatMap(([cell = null]) => keyText(cell, type) ?? []);
    });
  return [...new Set((await Promise.all(found)).flat())];
}

/** What rows of a table are called, by their keys as they are typed. A row that has no name, is not there, or may not be seen is left out. */
export async function namesOf(ws: Workspace, { table, keys }: z.infer<typeof namedSchema>, caller: Caller): Promise<Record<string, string>> {
  if (keys.length === 0) return {};
  const rows = await namedRows(ws, table, MOST_NAMED, caller, (key) => [
    { id: "keys", left: field(key), operator: "oneOf", values: keys.map((text) => ({ kind: "value", text })) },
  ]);
  return Object.fromEntries(rows.map(({ key, words }) => [key, words]));
}

/** Columns as they are shown, with the names that their cells stand for. @param rows of cells, in the columns' places */
export async function shownColumns(ws: Workspace, columns: PlanColumn[], rows: Cell[][], caller: Caller): Promise<ShownColumn[]> {
  const wanted = namesWanted({ columns: columns.map((c) => ({ ...c, hidden: false })) }, rows);
  const found = await Promise.all(wanted.map(async (asked) => ({ table: asked.table, names: await namesOf(ws, asked, caller) })));
  const nameOf = (table: string | undefined) => (key: string) => found.find((f) => f.table === table && key in f.names)?.names[key];
  return columns.map((column, at) =>
    shownColumn(
      column,
      rows.map((row) => row[at] ?? null),
      nameOf(column.rowOf),
    ),
  );
}

/** The keys of rows whose name contains what is sought. */
export async function keysCalled(ws: Workspace, table: string, sought: string, caller: Caller): Promise<string[]> {
  const rows = await namedRows(ws, table, MOST_CALLED, caller, (_, named) => [
    { id: "called", left: field(named), operator: "contains", values: [{ kind: "value", text: sought }] },
  ]);
  return rows.map(({ key }) => key);
}
