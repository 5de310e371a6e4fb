import { z } from "zod";
import { writtenOut } from "@/core/posting/coerce";
import { emptyQuery } from "@/core/query/empty";
import { MOST_NAMED } from "@/core/query/namedRows";
import type { QuerySpec } from "@/core/query/spec";
import { rowNameColumn } from "@/core/schema/rowNames";
import { findTable } from "@/core/schema/schema";
import { isMisfit } from "@/core/types/valueType";
import type { Workspace } from "@/server/workspace/workspace";
import { type Caller, planOf, rowsOfPlan } from "./service";

export const namesSchema = z.object({ table: z.string().max(200), keys: z.array(z.string().max(2000)).max(MOST_NAMED) });

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

/** What rows of a table are called, by their keys as they are typed. A row that has no name, is not there, or may not be seen is left out. */
export async function namesOf(ws: Workspace, { table, keys }: z.infer<typeof namesSchema>, caller: Caller): Promise<Record<string, string>> {
  if (keys.length === 0) return {};
  const rows = await namedRows(ws, table, MOST_NAMED, caller, (key) => [
    { id: "keys", left: field(key), operator: "oneOf", values: keys.map((text) => ({ kind: "value", text })) },
  ]);
  return Object.fromEntries(rows.map(({ key, words }) => [key, words]));
}

/** The keys of rows whose name contains what is sought. */
export async function keysCalled(ws: Workspace, table: string, sought: string, caller: Caller): Promise<string[]> {
  const rows = await namedRows(ws, table, MOST_CALLED, caller, (_, named) => [
    { id: "called", left: field(named), operator: "contains", values: [{ kind: "value", text: sought }] },
  ]);
  return rows.map(({ key }) => key);
}
