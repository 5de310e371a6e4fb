import { randomUUID } from "node:crypto";
import { existsSync, mkdirSync, readdirSync, rmSync, statSync } from "node:fs";
import { join } from "node:path";
import { briefText } from "@/core/brief/brief";
import { postingBrief } from "@/core/brief/postingBrief";
import { isWhole } from "@/core/people/rules";
import { linksOf, type PostingPlan, resolvePosting } from "@/core/posting/plan";
import type { PostingSource, PostingSpec } from "@/core/posting/spec";
import { columnFormat } from "@/core/query/naming";
import type { Plan } from "@/core/query/plan";
import { querySpecSchema } from "@/core/query/spec";
import { findTable, storedColumns, type Table } from "@/core/schema/schema";
import { ProblemError } from "@/core/types/problem";
import type { ColumnFormat } from "@/core/types/schemas";
import { Refusal } from "@/server/http/refusal";
import { stagedFile } from "@/server/import/files";
import { planOf } from "@/server/queries/service";
import { carryNames, holdTypes } from "@/server/shape/names";
import type { Workspace } from "@/server/workspace/workspace";
import { columnsWritten, type RowEdit } from "./edit";
import type { Entry } from "./journal";
import type { Tally } from "./outcome";
import type { Reversal } from "./reverse";
import type { RowChange } from "./rowHistory";

type Caller = { client: string; signal?: AbortSignal | undefined };

/** Rows of a posting are worked through in one go; a large one takes its time. */
const TIME_LIMIT_MS = 1_800_000;
/** How long a preview can be looked at. */
const PREVIEW_KEPT_MS = 6 * 3_600_000;

/** The table a posting's rows come from, and the database it lies in; a query's rows are staged first. */
export async function sourceOf(ws: Workspace, source: PostingSource, caller: Caller): Promise<{ database: string; table: Table; name: string }> {
  switch (source.kind) {
    case "table": {
      const table = findTable(await ws.schema(), source.table);
      if (!table) throw new Refusal(404, `The table “${source.table}” does not exist any more. Choose another source.`);
      return { database: ws.database, table, name: table.label };
    }
    case "query": {
      const saved = ws.objects.get(source.id);
      if (saved?.kind !== "query") throw new Refusal(404, "The source query was deleted. Choose another source.");
      const plan = await planOf(ws, querySpecSchema.parse(saved.spec), source.values);
      const database = previewPath(ws, `source-${randomUUID()}`);
      const table = await ws.engine.run<"stageQuery">(
        { kind: "stageQuery", database: ws.database, plan, path: database },
        { ...caller, timeLimitMs: TIME_LIMIT_MS },
      );
      return { database, table, name: saved.name };
    }
    case "file": {
      const staged = stagedFile(ws, source.id);
      if (!staged) throw new Refusal(404, `The file “${source.name}” is no longer stored. Import it again.`);
      return { ...staged, name: source.name };
    }
    default:
      return source satisfies never;
  }
}

/** Where a preview's rows are kept; those nobody will look at again go. */
function previewPath(ws: Workspace, id: string): string {
  const folder = join(ws.folder, "tmp");
  mkdirSync(folder, { recursive: true });
  for (const name of readdirSync(folder)) {
    const path = join(folder, name);
    if (/^(preview|source)-/.test(name) && Date.now() - statSync(path).mtimeMs > PREVIEW_KEPT_MS) rmSync(path, { force: true });
  }
  return join(folder, `${id}.sqlite`);
}

/** The file of a preview by its id. @throws Refusal where it is no longer kept */
export function previewFile(ws: Workspace, id: string): string {
  const path = join(ws.folder, "tmp", `preview-${id}.sqlite`);
  if (!/^[\w-]+$/.test(id) || !existsSync(path)) throw new Refusal(404, "This preview has expired. Preview again.");
  return path;
}

export type Preview = {
  id: string;
  tally: Tally;
  pairs: { column: string; label: string; type: PostingPlan["pairs"][number]["column"]["type"]; format: ColumnFormat; heading: string; found: boolean }[];
};

async function resolved(
  ws: Workspace,
  spec: PostingSpec,
  caller: Caller,
): Promise<{ plan: PostingPlan; source: { database: string; rows: Plan }; name: string }> {
  const source = await sourceOf(ws, spec.source, caller);
  await ws.needWhole([spec.target, ...(spec.source.kind === "table" ? [spec.source.table] : [])]);
  await ws.needUnread(spec.target, null);
  const made = resolvePosting(spec, await ws.schema(), source.table, ws.today);
  if (!made.ok) throw new ProblemError(made.problems);
  return { plan: made.value.posting, source: { database: source.database, rows: made.value.rows }, name: source.name };
}

/** What would happen to every row, and what it would come to. */
export async function previewOf(ws: Workspace, spec: PostingSpec, caller: Caller): Promise<Preview> {
  const { plan, source } = await resolved(ws, spec, caller);
  const id = randomUUID();
  const path = previewPath(ws, `preview-${id}`);
  const tally = await ws.engine.run<"postingPreview">(
    { kind: "postingPreview", database: ws.database, posting: { plan, source }, path },
    { ...caller, timeLimitMs: TIME_LIMIT_MS },
  );
  const schema = await ws.schema();
  const table = findTable(schema, spec.target);
  const pairs = plan.pairs.map((p) => ({
    column: p.column.name,
    label: p.column.label,
    type: p.found ? p.from : p.column.type,
    // What a row is found by is written as its source has it.
    format: table && !p.found ? columnFormat(schema, { table, column: p.column }) : {},
    heading: p.heading,
    found: p.found !== null,
  }));
  return { id, tally, pairs };
}

/** Posts what a preview showed. @throws JobFailure "changedSince" where it would come to something else by now */
export async function postOf(ws: Workspace, spec: PostingSpec, name: string, digest: string, caller: Caller): Promise<Entry> {
  const { plan, source, name: sourceName } = await resolved(ws, spec, caller);
  const brief = briefText(postingBrief(spec, await ws.schema(), sourceName));
  const entry = { at: ws.now().toISOString(), by: ws.person, kind: "posting" as const, name, brief, table: spec.target };
  const job = { kind: "post" as const, database: ws.database, posting: { plan, source }, digest, entry };
  const posted = await ws.engine.run<"post">(job, { ...caller, timeLimitMs: TIME_LIMIT_MS });
  ws.recordDone("posted", name);
  return posted;
}

/** The journal of the tables of which the one who works here sees every row: what an entry did tells of rows. */
export async function journalOf(ws: Workspace, caller: Caller, number: number | null = null): Promise<Entry[]> {
  const [schema, entries] = await Promise.all([ws.schema(), ws.engine.run<"journal">({ kind: "journal", database: ws.database, number }, caller)]);
  return entries.filter((e) => isWhole(schema, e.table));
}

/** What was done to one row, the latest first; told of tables of which every row may be seen. @param key as the folio has it */
export async function rowHistoryOf(ws: Workspace, table: string, key: string[], caller: Caller): Promise<RowChange[]> {
  const found = findTable(await ws.schema(), table);
  if (!found || found.view) throw new Refusal(404, `The table “${table}” does not exist any more.`);
  await ws.needWhole([table]);
  return ws.engine.run<"rowHistory">({ kind: "rowHistory", database: ws.database, table: { ...found, columns: storedColumns(found) }, key }, caller);
}

/** What an entry did is told, and taken back, only where all rows of its table may be seen. */
async function needWholeEntry(ws: Workspace, number: number, caller: Caller): Promise<void> {
  const [entry] = await ws.engine.run<"journal">({ kind: "journal", database: ws.database, number }, caller);
  if (entry) await Promise.all([ws.needWhole([entry.table]), ws.needUnread(entry.table, null)]);
}

export type ReversalPreview = { id: string; reversal: Reversal };

export async function reversalPreviewOf(ws: Workspace, number: number, force: boolean, caller: Caller): Promise<ReversalPreview> {
  await needWholeEntry(ws, number, caller);
  const id = randomUUID();
  const path = previewPath(ws, `preview-${id}`);
  const job = { kind: "reversalPreview" as const, database: ws.database, schema: await ws.schema(), number, force, path };
  return { id, reversal: await ws.engine.run<"reversalPreview">(job, { ...caller, timeLimitMs: TIME_LIMIT_MS }) };
}

/**
 * Takes an entry back.
 * @param seen the digest of the preview that was looked at; null to take back whatever it comes to now
 */
export async function reverseOf(ws: Workspace, number: number, force: boolean, seen: string | null, caller: Caller): Promise<Entry> {
  await needWholeEntry(ws, number, caller);
  const digest = seen ?? (await reversalDigest(ws, number, force, caller));
  const brief = `Reverse #${number}${force ? ", including rows changed since" : ""}.`;
  const entry = { at: ws.now().toISOString(), by: ws.person, kind: "reversal" as const, name: `#${number} reversed`, brief };
  const schema = await ws.schema();
  const job = { kind: "reverse" as const, database: ws.database, schema, number, force, digest, entry };
  const { shape, ...reversal } = await ws.engine.run<"reverse">(job, { ...caller, timeLimitMs: TIME_LIMIT_MS });
  if (shape) {
    carryNames(ws, shape.names, schema);
    await holdTypes(ws, shape.names.to, shape.types);
  }
  ws.recordDone("reversed", `posting #${number}`);
  return reversal;
}

/** What taking an entry back comes to now; nobody looks at its rows, so they are not kept. */
async function reversalDigest(ws: Workspace, number: number, force: boolean, caller: Caller): Promise<string> {
  const { id, reversal } = await reversalPreviewOf(ws, number, force, caller);
  rmSync(previewFile(ws, id), { force: true });
  return reversal.digest;
}

/** One change made in a table's sheet. */
export async function editOf(ws: Workspace, table: string, change: RowEdit, caller: Caller): Promise<Entry> {
  await ws.needWhole([table]);
  return writeEdit(ws, table, change, caller);
}

/** Writes one change; who may make it on which row has been seen to. */
export async function writeEdit(ws: Workspace, table: string, change: RowEdit, caller: Caller): Promise<Entry> {
  const columns = columnsWritten(change);
  for (const column of columns ?? [null]) await ws.needUnread(table, column);
  const schema = await ws.schema();
  const found = findTable(schema, table);
  if (!found || found.view) throw new Refusal(404, `The table “${table}” does not exist any more.`);
  if (found.key.length === 0) throw new Refusal(422, "This table has no key, so single rows cannot be identified. Use a posting.");
  const name = { change: "a value changed", block: "a block of values changed", add: "a row added", remove: "rows removed" }[change.kind];
  const brief = change.kind === "change" ? `Set ${change.column} of ${found.label} ${change.key.join(", ")}.` : `In ${found.label}: ${name}.`;
  const entry = { at: ws.now().toISOString(), by: ws.person, kind: "edit" as const, name: `${found.label}: ${name}`, brief, table };
  const { entry: edited, states } = await ws.engine.run<"edit">(
    {
      kind: "edit",
      database: ws.database,
      table: { ...found, columns: found.columns.filter((c) => !c.derived) },
      links: linksOf(found, schema),
      change,
      entry,
    },
    caller,
  );
  const rows = edited.counts.add - edited.counts.remove;
  await ws.editDone({ table, rows, columns }, states);
  return edited;
}
