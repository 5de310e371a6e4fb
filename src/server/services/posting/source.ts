import { randomUUID } from "node:crypto";
import { mkdirSync, readdirSync, rmSync, statSync } from "node:fs";
import { join } from "node:path";
import { withWholeRows } from "@/core/posting/origin";
import { originOfTable, type StepSource } from "@/core/posting/plan";
import type { PostingSource, PostingStep } from "@/core/posting/spec";
import { querySpecSchema } from "@/core/query/spec";
import { findTable } from "@/core/schema/schema";
import { Refusal } from "@/server/common/refusal";
import { stagedFile } from "@/server/services/import/files";
import { newestFile, stageAs } from "@/server/services/import/next";
import { planOf } from "@/server/services/queries/service";
import type { Workspace } from "@/server/services/workspace/workspace";

type Caller = { client: string; signal?: AbortSignal | undefined };

/** Rows of a posting are worked through in one go; a large one takes its time. */
export const TIME_LIMIT_MS = 1_800_000;
/** How long a preview can be looked at. */
const PREVIEW_KEPT_MS = 6 * 3_600_000;

/** A step's source, and the database that it lies in. */
export type ReadSource = StepSource & { database: string; name: string };

/** A place for rows on their way, or for those of a preview; what nobody will look at again goes. */
export function temporaryFile(ws: Workspace, id: string): string {
  const folder = join(ws.folder, "tmp");
  mkdirSync(folder, { recursive: true });
  for (const name of readdirSync(folder)) {
    const path = join(folder, name);
    if (/^(preview|source)-/.test(name) && Date.now() - statSync(path).mtimeMs > PREVIEW_KEPT_MS) rmSync(path, { force: true });
  }
  return join(folder, `${id}.sqlite`);
}

/** The sources of a posting's steps; what several take their rows from is read once. */
export async function sourcesOf(ws: Workspace, steps: Pick<PostingStep, "source" | "action">[], caller: Caller): Promise<ReadSource[]> {
  const read = new Map<string, Promise<ReadSource>>();
  const made = steps.map(({ source, action }) => {
    const moving = action === "move";
    const key = JSON.stringify([source, source.kind === "query" && moving]);
    const known = read.get(key) ?? sourceOf(ws, source, moving, caller);
    read.set(key, known);
    return known;
  });
  return Promise.all(made);
}

/** Where a posting's rows come from; a query's rows, and those of a file of the inbox, are staged first. @param moving its rows are to be found again */
export async function sourceOf(ws: Workspace, source: PostingSource, moving: boolean, caller: Caller): Promise<ReadSource> {
  switch (source.kind) {
    case "table": {
      const table = findTable(await ws.schema(), source.table);
      if (!table) throw new Refusal(404, `The table “${source.table}” does not exist any more. Choose another source.`);
      return { database: ws.database, table, origin: originOfTable(table), name: table.label };
    }
    case "query":
      return querySource(ws, source, moving, caller);
    case "file": {
      const staged = stagedFile(ws, source.id);
      if (!staged) throw new Refusal(404, `The file “${source.name}” is no longer stored. Import it again.`);
      return { ...staged, origin: null, name: source.name };
    }
    case "inbox": {
      const file = newestFile(ws, source.like);
      const database = temporaryFile(ws, `source-${randomUUID()}`);
      const table = await stageAs(ws, file, source.as, database, { ...caller, timeLimitMs: TIME_LIMIT_MS });
      return { database, table, origin: null, name: file.name };
    }
    default:
      return source satisfies never;
  }
}

async function querySource(ws: Workspace, { id, values }: Extract<PostingSource, { kind: "query" }>, moving: boolean, caller: Caller): Promise<ReadSource> {
  const saved = ws.objects.get(id);
  if (saved?.kind !== "query") throw new Refusal(404, "The source query was deleted. Choose another source.");
  const query = querySpecSchema.parse(saved.spec);
  const whole = moving ? withWholeRows(query, await ws.schema()) : null;
  const plan = await planOf(ws, whole?.query ?? query, values);
  const database = temporaryFile(ws, `source-${randomUUID()}`);
  const job = { kind: "stageQuery" as const, database: ws.database, plan, path: database };
  const table = await ws.engine.run<"stageQuery">(job, { ...caller, timeLimitMs: TIME_LIMIT_MS });
  const shown = plan.columns.filter((c) => !c.hidden);
  const nameOf = (shownAs: string): string => table.columns[shown.findIndex((c) => c.id === shownAs)]?.name ?? "";
  const origin = whole && { table: whole.table, columns: whole.columns.map(({ column, id: shownAs }) => ({ column, name: nameOf(shownAs) })) };
  return { database, table, origin, name: saved.name };
}
