import { checkPosting } from "@/core/posting/controls";
import { type Tally, wouldDouble } from "@/core/posting/outcome";
import type { Schema, Table } from "@/core/schema/schema";
import type { ShapeNames } from "@/core/shape/shapedSchema";
import type { ShapeSaid } from "@/core/shape/shapePlan";
import type { Cell } from "@/core/types/valueType";
import { namesIn, readRecord, typesIn, writeRecord } from "@/server/jobs/shape/record";
import type { PostingJob } from "@/server/jobs/work";
import type { Connection } from "@/server/source/connection";
import { inSnapshotOf } from "@/server/source/connections";
import { JobFailure } from "@/server/source/failures";
import { isServer } from "@/server/source/postgres/address";
import { sessionOf } from "@/server/source/postgres/session";
import type { FileDatabase } from "@/server/source/sqlite/database";
import { openReader, readStatement } from "@/server/source/sqlite/readers";
import { changing, inTransaction } from "@/server/source/writing";
import { type Entry, EntryWriter, readEntry, type Writing } from "./journal";
import { type Emit, performSteps, type Sinks } from "./perform";
import { PreviewWriter } from "./preview";
import { performReversal, type Reversal, type ReversalRow } from "./reverse";
import { Target, writtenColumns } from "./target";

/** What is known of an entry before it is made. */
export type NewEntry = Omit<Writing, "columns">;

function perform(db: Connection, { steps }: PostingJob, emits: ((step: number) => Emit) | null, sinks?: Sinks): Tally {
  const readers: FileDatabase[] = [];
  /** Of a server's database the rows are read in the transaction itself. */
  const rowsOf = ({ database, rows }: PostingJob["steps"][number]["source"]): Iterable<Cell[]> => {
    if (isServer(database)) return sessionOf(database).within({ of: "rows", plan: rows });
    const reader = openReader(database);
    readers.push(reader);
    return readStatement(reader, { of: "rows", plan: rows });
  };
  try {
    return performSteps(
      db,
      steps.map(({ plan, source }) => ({ plan, rows: rowsOf(source) })),
      emits,
      sinks,
    );
  } finally {
    for (const reader of readers) reader.close();
  }
}

function withPreview<T>(path: string, work: (preview: PreviewWriter) => T): T {
  const preview = new PreviewWriter(path);
  try {
    const result = work(preview);
    preview.finish();
    return result;
  } catch (error) {
    preview.abandon();
    throw error;
  }
}

/** Makes a posting and takes it back at once, keeping what became of every row. */
export const previewPosting = (database: string, job: PostingJob, path: string): Tally =>
  withPreview(path, (preview) => inTransaction(database, "rollback", (db) => perform(db, job, preview.emitIn)));

const nothing = () => {};

/** The tables that a posting writes, each once, the first step's first. */
function tablesWritten({ steps }: PostingJob): Table[] {
  const tables = steps.flatMap(({ plan }) => [plan.table, ...(plan.origin ? [plan.origin.table] : [])]);
  return tables.filter((t, i) => tables.findIndex((o) => o.name === t.name) === i);
}

/**
 * Makes a posting and its entry in the journal, in one transaction.
 * @param posted the digest of the preview that was looked at; whether the very same rows may be posted again
 * @throws JobFailure "changedSince" where it would come to something else now, "postedTwice", "controlled" where a control total does not agree
 */
export function post(database: string, job: PostingJob, { digest, again, entry }: { digest: string; again: boolean; entry: NewEntry }): Entry {
  return changing(database, (db) => {
    const [first, ...others] = tablesWritten(job).map((table) => new Target(db, table));
    if (!first) throw new TypeError("A posting has a step");
    const before = new Map([first, ...others].map((t) => [t, t.sequence()]));
    const sequence = (t: Target) => ({ before: before.get(t) ?? null, after: t.sequence() });
    const columns = (t: Target) => t.columns.map((c) => c.name);
    const writer = new EntryWriter(db, { ...entry, columns: columns(first) });
    const tally = perform(db, job, null, (table) => writer.sinkOf(table));
    if (tally.digest !== digest) throw new JobFailure("changedSince");
    const twice = wouldDouble(tally);
    if (twice && !again) throw new JobFailure("postedTwice", `#${twice.number}`);
    if (checkPosting(job.controls, tally).some((c) => !c.agrees)) throw new JobFailure("controlled");
    return writer.finish(
      tally,
      sequence(first),
      others.map((t) => ({ table: t.table.name, columns: columns(t), sequence: sequence(t) })),
    );
  }).result;
}

export const previewReversal = (database: string, schema: Schema, number: number, force: boolean, path: string): Reversal =>
  withPreview(path, (preview) =>
    inTransaction(database, "rollback", (db) => {
      const emit = (row: ReversalRow, step: number) => preview.emitIn(step)(row);
      const { back, left, kept, rows, tables, digest } = performReversal(db, schema, number, force, emit, { sinks: () => nothing, entry: null });
      return { number, back, left, kept, rows, tables, digest };
    }),
  );

/** The entry of a reversal; of a table's shape, with the names and types it has again. */
export type ReversedEntry = Entry & { shape: { names: ShapeNames; types: ReturnType<typeof typesIn>; said: ShapeSaid[] } | null };

/** Takes a posting back, as an entry of its own: taking that one back makes the posting stand again. */
export function reverse(database: string, schema: Schema, number: number, force: boolean, digest: string, entry: Omit<NewEntry, "table">): ReversedEntry {
  const work = (db: Connection): ReversedEntry => {
    const [first = "", ...others] = readEntry(db, number)?.parts.map((p) => p.table) ?? [];
    const columnsOf = (name: string): string[] => {
      const table = schema.tables.find((t) => t.name === name);
      return table ? writtenColumns(table).map((c) => c.name) : [];
    };
    const writer = new EntryWriter(db, { ...entry, table: first, columns: columnsOf(first), reverses: number });
    const done = performReversal(db, schema, number, force, nothing, { sinks: (table) => writer.sinkOf(table), entry: writer.number });
    if (done.digest !== digest) throw new JobFailure("changedSince");
    if (done.back === 0 && done.left > 0) throw new JobFailure("refusedEdit", "rows were changed since, and nothing would be reversed without them");
    if (done.shape) writeRecord(db, writer.number, done.shape);
    db.prepare("UPDATE next_ledger_posting SET reversed_by = ? WHERE number = ?").run(writer.number, number);
    // What this one had reversed stands again.
    db.prepare("UPDATE next_ledger_posting SET reversed_by = NULL WHERE reversed_by = ?").run(number);
    const names = done.shape && namesIn(done.shape);
    const unnumbered = { before: null, after: null };
    const parts = others.map((table) => ({ table, columns: columnsOf(table), sequence: done.sequences.get(table) ?? unnumbered }));
    return {
      ...writer.finish(null, done.sequences.get(first) ?? unnumbered, parts),
      shape: done.shape && names ? { names, types: typesIn(done.shape), said: done.shape.said ?? [] } : null,
    };
  };
  // What changes a table's shape is not followed row by row.
  const shaped = inSnapshotOf(database, (db) => readRecord(db, number) !== null || readEntry(db, number)?.kind === "table");
  return shaped ? inTransaction(database, "commit", work) : changing(database, work).result;
}
