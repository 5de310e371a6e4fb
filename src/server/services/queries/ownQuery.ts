import { randomUUID } from "node:crypto";
import { z } from "zod";
import { firstColumns } from "@/core/query/edit";
import { emptyQuery } from "@/core/query/empty";
import { capitalised } from "@/core/query/naming";
import type { QuerySpec } from "@/core/query/spec";
import { findTable, plural } from "@/core/schema/schema";
import { BIN_MS } from "@/server/catalogue/history";
import { madeFrom } from "@/server/catalogue/madeFrom";
import { Refusal } from "@/server/common/refusal";
import type { Workspace } from "@/server/services/workspace/workspace";
import { savedQuery } from "./saved";

/*
 * A query that is used in one place only has no name: it stands in no list, and lives as long as what is made from it.
 * Once it is given a name, it is a saved query like any other.
 */

/** What something is made from: a saved query, or a table, of which it gets a query of its own. */
export const madeOfSchema = { query: z.string().max(60).optional(), table: z.string().max(200).optional() };

type MadeOf = { query?: string | undefined; table?: string | undefined };

/** A query to make something from; `keep` saves it where it is new, once what is made from it is ready. */
export type QueryToUse = { id: string; name: string; spec: QuerySpec; keep: () => void };

/** @throws ProblemError where the query is gone, Refusal where the table is */
export async function queryToUse(ws: Workspace, { query, table }: MadeOf): Promise<QueryToUse> {
  if (query !== undefined) return { id: query, ...savedQuery(ws, query), keep: () => {} };
  const schema = await ws.shownSchema();
  const found = table === undefined ? undefined : findTable(schema, table);
  if (!found) throw new Refusal(404, "This table does not exist any more. Choose another.");
  const id = randomUUID();
  const spec: QuerySpec = { ...emptyQuery(found.name), columns: firstColumns(schema, found.name) };
  return { id, name: capitalised(plural(found.label)), spec, keep: () => keepOwn(ws, id, spec) };
}

function keepOwn(ws: Workspace, id: string, spec: QuerySpec): void {
  sweepOwn(ws);
  ws.objects.create("query", "", spec, id);
}

/** Removes queries without a name whose places are gone, and can come back no more. */
export function sweepOwn({ catalogue }: Workspace, now = Date.now()): void {
  const all = catalogue.list();
  const used = new Set(all.flatMap((o) => madeFrom(o.kind, o.spec)));
  for (const o of all) if (o.kind === "query" && o.name === "" && !used.has(o.id) && o.updatedAt.getTime() < now - BIN_MS) catalogue.remove(o.id);
}
