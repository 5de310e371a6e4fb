import { randomUUID } from "node:crypto";
import { existsSync, rmSync } from "node:fs";
import { join } from "node:path";
import { briefText } from "@/core/brief/brief";
import { postingBrief } from "@/core/brief/postingBrief";
import { checkPosting, type PostingCheck } from "@/core/posting/controls";
import type { Tally } from "@/core/posting/outcome";
import { linksOf, type PostingPlan, resolvePosting } from "@/core/posting/plan";
import type { PostingSpec } from "@/core/posting/spec";
import { stepsOf } from "@/core/posting/steps";
import { columnFormat } from "@/core/query/naming";
import { findTable, mayChange, type Schema, storedColumns } from "@/core/schema/schema";
import { ProblemError } from "@/core/types/problem";
import type { ColumnFormat } from "@/core/types/schemas";
import { Refusal } from "@/server/common/refusal";
import { columnsWritten, type RowEdit } from "@/server/jobs/posting/edit";
import type { Entry } from "@/server/jobs/posting/journal";
import type { Reversal } from "@/server/jobs/posting/reverse";
import type { RowChange } from "@/server/jobs/posting/rowHistory";
import type { PostingJob } from "@/server/jobs/work";
import { carryNames, holdTypes, sayOfColumns } from "@/server/services/shape/names";
import type { Workspace } from "@/server/services/workspace/workspace";
import { needWholeEntry } from "./journalService";
import { sourcesOf, TIME_LIMIT_MS, temporaryFile } from "./source";

type Caller = { client: string; signal?: AbortSignal | undefined };

/** The file of a preview by its id. @throws Refusal where it is no longer kept */
export function previewFile(ws: Workspace, id: string): string {
  const path = join(ws.folder, "tmp", `preview-${id}.sqlite`);
  if (!/^[\w-]+$/.test(id) || !existsSync(path)) throw new Refusal(404, "This preview has expired. Preview again.");
  return path;
}

type Resolved = { job: PostingJob; names: string[] };

/** A posting ready to be made, with what its steps' sources are called. @throws ProblemError, Refusal */
async function resolved(ws: Workspace, spec: PostingSpec, caller: Caller): Promise<Resolved> {
  const steps = stepsOf(spec);
  const sources = await sourcesOf(ws, steps, caller);
  const read = steps.flatMap(({ source }) => (source.kind === "table" ? [source.table] : []));
  const written = sources.flatMap(({ origin }, i) => [steps[i]?.target ?? "", ...(steps[i]?.action === "move" && origin ? [origin.table] : [])]);
  await ws.needWhole([...written, ...read]);
  for (const table of written) await ws.needUnread(table, null);
  const made = resolvePosting(spec, await ws.schema(), sources, ws.today);
  if (!made.ok) throw new ProblemError(made.problems);
  const job = made.value.map(({ posting, rows }, i) => ({ plan: posting, source: { database: sources[i]?.database ?? ws.database, rows } }));
  return { job: { steps: job, controls: spec.controls ?? [] }, names: sources.map((s) => s.name) };
}

export type PreviewPair = {
  column: string;
  label: string;
  type: PostingPlan["pairs"][number]["column"]["type"];
  format: ColumnFormat;
  heading: string;
  found: boolean;
};

export type Preview = {
  id: string;
  tally: Tally;
  /** By the step, the columns that its rows are shown with. */
  pairs: PreviewPair[][];
  checks: PostingCheck[];
};

/** What would happen to every row, and what it would come to. */
export async function previewOf(ws: Workspace, spec: PostingSpec, caller: Caller): Promise<Preview> {
  const { job } = await resolved(ws, spec, caller);
  const id = randomUUID();
  const path = temporaryFile(ws, `preview-${id}`);
  const tally = await ws.engine.run<"postingPreview">(
    { kind: "postingPreview", database: ws.database, posting: job, path },
    { ...caller, timeLimitMs: TIME_LIMIT_MS },
  );
  const schema = await ws.schema();
  const pairs = job.steps.map(({ plan }) => previewPairs(plan, schema));
  return { id, tally, pairs, checks: checkPosting(job.controls, tally) };
}

function previewPairs({ table: { name }, pairs }: PostingPlan, schema: Schema): PreviewPair[] {
  const table = findTable(schema, name);
  return pairs.map((p) => ({
    column: p.column.name,
    label: p.column.label,
    type: p.found ? p.from : p.column.type,
    // What a row is found by is written as its source has it.
    format: table && !p.found ? columnFormat(schema, { table, column: p.column }) : {},
    heading: p.heading,
    found: p.found !== null,
  }));
}

/** What is posted: under which name, what its preview came to, and whether rows that were posted before are posted once more. */
export type Posting = { name: string; digest: string; again: boolean };

/** Posts what a preview showed. @throws JobFailure "changedSince" where it would come to something else by now */
export async function postOf(ws: Workspace, spec: PostingSpec, { name, digest, again }: Posting, caller: Caller): Promise<Entry> {
  const { job, names } = await resolved(ws, spec, caller);
  const brief = briefText(postingBrief(spec, await ws.schema(), names));
  const entry = { at: ws.now().toISOString(), by: ws.person, kind: "posting" as const, name, brief, table: spec.target };
  const posted = await ws.engine.run<"post">(
    { kind: "post", database: ws.database, posting: job, digest, again, entry },
    { ...caller, timeLimitMs: TIME_LIMIT_MS },
  );
  ws.recordDone("posted", name);
  return posted;
}

/** What was done to one row, the latest first; told of tables of which every row may be seen. @param key as the folio has it */
export async function rowHistoryOf(ws: Workspace, table: string, key: string[], caller: Caller): Promise<RowChange[]> {
  const found = findTable(await ws.schema(), table);
  if (!found || !mayChange(found)) throw new Refusal(404, `The table “${table}” does not exist any more.`);
  await ws.needWhole([table]);
  return ws.engine.run<"rowHistory">({ kind: "rowHistory", database: ws.database, table: { ...found, columns: storedColumns(found) }, key }, caller);
}

export type ReversalPreview = { id: string; reversal: Reversal };

export async function reversalPreviewOf(ws: Workspace, number: number, force: boolean, caller: Caller): Promise<ReversalPreview> {
  await needWholeEntry(ws, number, caller);
  const id = randomUUID();
  const path = temporaryFile(ws, `preview-${id}`);
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
    sayOfColumns(ws, shape.names.to, shape.said);
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
  if (found?.denied) throw new Refusal(403, `The database does not allow Next Ledger to change “${found.label}”.`);
  if (!found || !mayChange(found)) throw new Refusal(404, `The table “${table}” does not exist any more.`);
  if (found.key.length === 0) throw new Refusal(422, "This table has no key, so single rows cannot be identified. Use a posting.");
  const name = { change: "a value changed", block: "a block of values changed", add: "a row added", rows: "rows added", remove: "rows removed" }[change.kind];
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
