import { createHash } from "node:crypto";
import { cellOfStored } from "@/core/posting/coerce";
import { linksOf } from "@/core/posting/plan";
import type { Schema, Table } from "@/core/schema/schema";
import type { Cell } from "@/core/types/valueType";
import { changeBack, rowsSince } from "@/server/jobs/shape/back";
import { dropTable, undropTable } from "@/server/jobs/shape/drop";
import { letGoOnServer, takeBackOnServer } from "@/server/jobs/shape/dropOnServer";
import { readRecord, type ShapeRecord } from "@/server/jobs/shape/record";
import { type Connection, inFile, isOnServer, tableSql } from "@/server/source/connection";
import { JobFailure } from "@/server/source/failures";
import { constraintWords } from "./constraintWords";
import { type Entry, type JournalChange, type Part, readChanges, readEntry, type Sequence } from "./journal";
import { LinkChecks } from "./linkChecks";
import type { Sinks } from "./perform";
import { decodeImage, encodeImage, type Image, Target } from "./target";

/** What becomes of one change when its posting is taken back. */
export type ReversalRow = {
  /** The table whose row it is. */
  table: string;
  /** Taken back; or left, because the row was changed since, is gone, or others lead to it. */
  outcome: "back" | "left";
  was: JournalChange["kind"];
  why: string | null;
  /** Other values of the row were changed since, and are kept. */
  kept: boolean;
  /** The row as it is now, and as it is to be again; null where there was none. */
  now: Cell[] | null;
  before: Cell[] | null;
};

/** How many changes of a table's rows are taken back, or left. */
export type TableReversal = { table: string; rows: number; back: number; left: number };
export type Reversal = {
  number: number;
  rows: number;
  back: number;
  left: number;
  /** Rows taken back of which other values were changed since. */
  kept: number;
  tables: TableReversal[];
  digest: string;
};

/** Takes what becomes of a change, and the place of its table among the entry's. */
type EmitReversal = (row: ReversalRow, step: number) => void;

/** What is written down besides: each change, and under which number what is lost is kept; null where it is only tried. */
export type Reversing = { sinks: Sinks | undefined; entry: number | null };
type Reversed = Reversal & { sequences: Map<string, Sequence> /** Of a table's shape. */; shape?: ShapeRecord | undefined };

/** One table of which an entry changed rows. */
type Written = { target: Target; links: LinkChecks; sequence: Sequence; before: string | null; step: number; counts: TableReversal };

/**
 * Takes a posting back on an open transaction, its last change first. A row that somebody changed since is left as it
 * is unless it is said to be taken back all the same.
 * @throws JobFailure where there is no such posting, it is taken back already, or the table's columns are others now
 */
export function performReversal(
  db: Connection,
  schema: Schema,
  number: number,
  force: boolean,
  emit: EmitReversal,
  { sinks, entry: made }: Reversing = { sinks: undefined, entry: null },
): Reversed {
  const entry = readEntry(db, number);
  if (!entry) throw new JobFailure("noEntry", String(number));
  if (entry.reversedBy !== null) throw new JobFailure("reversedBefore", String(entry.reversedBy));
  const record = readRecord(db, number);
  if (record) return shapeBack(db, schema, number, record, force, made);
  const table = schema.tables.find((t) => t.name === entry.table);
  if (!table) throw new JobFailure("noEntry", String(number));
  if (entry.kind === "table") return letTableGo(db, table, entry, force, emit, made);
  const written = new Map(entry.parts.map((part, step): [string, Written] => [part.table, { ...writtenOf(db, schema, part), step }]));
  const digest = createHash("sha1");
  const result = { number, rows: 0, back: 0, left: 0, kept: 0 };

  for (const change of readChanges(db, number)) {
    const part = written.get(change.table);
    if (!part) throw new JobFailure("noEntry", String(number));
    const row = takeBack(change, part);
    result.rows++;
    result[row.outcome]++;
    if (row.kept && row.outcome === "back") result.kept++;
    part.counts.rows++;
    part.counts[row.outcome]++;
    digest.update(JSON.stringify(row));
    emit(row, part.step);
  }
  const sequences = new Map([...written].map(([table, part]) => [table, sequenceBack(part, sinks !== undefined)]));
  const tables = [...written.values()].map((part) => part.counts);
  return { ...result, tables, digest: digest.digest("hex"), sequences };

  function takeBack({ table, kind, row, before, after }: JournalChange, { target, links }: Written): ReversalRow {
    const sink = sinks?.(table);
    const cellsOf = (image: Image | null) => image && target.columns.map((c, i) => cellOfStored(image[i] ?? null, c));
    const now = target.find(row);
    const untouched = (now === null ? null : encodeImage(now)) === after;
    const old = before === null ? null : kind === "change" && now && after ? imageBack(decodeImage(before), decodeImage(after), now) : decodeImage(before);
    // A change is of single values: what else was changed in the row since is somebody else's.
    const apart = !untouched && kind === "change" && now !== null && after !== null && sameChanged(before, after, now);
    const made = (outcome: ReversalRow["outcome"], why: string | null = null): ReversalRow => ({
      table,
      outcome,
      was: kind,
      why,
      kept: apart,
      now: cellsOf(now),
      before: cellsOf(old),
    });
    if (!untouched && now === null) return made("left", "it was removed meanwhile");
    if (!untouched && !apart && !force) return made("left", kind === "remove" ? "another row has its key now" : "it was changed meanwhile");
    try {
      if (kind === "remove") {
        if (now !== null) return made("left", "another row has its key now");
        target.restore(row, old as Image);
        sink?.({ kind: "add", row, before: null, after: old });
      } else if (kind === "add") {
        const others = links.inward(now as Image);
        if (others && !force) return made("left", others);
        target.remove(row);
        sink?.({ kind: "remove", row, before: now, after: null });
      } else {
        const put = target.put(row, old as Image);
        sink?.({ kind: "change", row: put, before: now, after: old });
      }
      return made("back");
    } catch (error) {
      const why = constraintWords(error, target);
      if (why === null) throw error;
      return made("left", why);
    }
  }
}

/** The places of the values that a change gave a row. */
const changedAt = (before: Image, after: Image): number[] =>
  before.flatMap((value, i) => (encodeImage([value]) === encodeImage([after[i] ?? null]) ? [] : [i]));

/** Whether the values that a change gave a row still stand there. */
function sameChanged(before: string | null, after: string, now: Image): boolean {
  const posted = decodeImage(after);
  return before !== null && changedAt(decodeImage(before), posted).every((i) => encodeImage([now[i] ?? null]) === encodeImage([posted[i] ?? null]));
}

/** A row with the values back that a change took away; the others as they are now. */
function imageBack(before: Image, after: Image, now: Image): Image {
  const back = new Set(changedAt(before, after));
  return now.map((value, i) => (back.has(i) ? (before[i] ?? null) : value));
}

/** A table of an entry as it is to be taken back. @throws JobFailure where it is gone or its columns are others now */
function writtenOf(db: Connection, schema: Schema, { table: name, columns, sequence }: Part): Omit<Written, "step"> {
  const table = schema.tables.find((t) => t.name === name);
  if (!table) throw new JobFailure("columnsChanged", name);
  const target = new Target(db, table);
  if (JSON.stringify(target.columns.map((c) => c.name)) !== JSON.stringify(columns)) throw new JobFailure("columnsChanged", table.label);
  return {
    target,
    links: new LinkChecks(db, linksOf(table, schema), { name, columns: target.columns }),
    sequence,
    before: target.sequence(),
    counts: { table: name, rows: 0, back: 0, left: 0 },
  };
}

/** The numbers that a table gave are given again where all its rows are as they were. @param kept it is not only tried */
function sequenceBack({ target, sequence, before, counts }: Written, kept: boolean): Sequence {
  if (kept && counts.left === 0 && sequence.before !== sequence.after && before === sequence.after) target.setSequence(sequence.before);
  return { before, after: target.sequence() };
}

/** What came of taking a change back, whole or not at all. @param left rows that were changed since */
const asOne = (number: number, left: number, force: boolean, shape?: ShapeRecord): Reversed => {
  const back = left === 0 || force;
  return {
    number,
    rows: 0,
    back: back ? 1 : 0,
    left: back ? 0 : left,
    kept: 0,
    tables: [],
    digest: JSON.stringify([number, left]),
    sequences: new Map(),
    shape,
  };
};

/** Takes a change of a table's shape back; where rows were changed since, only if it is said to be taken back all the same. */
function shapeBack(db: Connection, schema: Schema, number: number, record: ShapeRecord, force: boolean, made: number | null): Reversed {
  const { before, after } = record;
  if (before === null) {
    const table = schema.tables.find((t) => t.name === after?.name);
    if (!table) throw new JobFailure("noEntry", String(number));
    return asOne(number, 0, force, letGo(db, table, made));
  }
  if (after === null) return asOne(number, 0, force, isOnServer(db) ? takeBackOnServer(db, record, number) : undropTable(inFile(db), record, number));
  const standing = { ...record, before, after };
  const file = inFile(db);
  const left = rowsSince(file, standing, number);
  return asOne(number, left, force, left === 0 || force ? changeBack(file, standing, number, made) : undefined);
}

const letGo = (db: Connection, table: Table, made: number | null): ShapeRecord =>
  isOnServer(db) ? letGoOnServer(db, table, made) : dropTable(inFile(db), table, made);

/** A table that was made goes again, unless its rows are others by now; it is kept, so that this can be taken back in turn. */
function letTableGo(db: Connection, table: Table, entry: Entry, force: boolean, emit: EmitReversal, made: number | null): Reversed {
  const rows = Number(
    db
      .prepare(`SELECT COUNT(*) FROM ${tableSql(db, table.name)}`)
      .pluck()
      .get(),
  );
  const later = db
    .prepare("SELECT COUNT(*) FROM next_ledger_posting WHERE tbl = ? AND number > ? AND kind <> 'reversal' AND reversed_by IS NULL")
    .pluck()
    .get(table.name, entry.number);
  const untouched = rows === entry.counts.add && Number(later) === 0;
  const back = untouched || force;
  const why = back ? null : `the table has ${rows} rows now, ${entry.counts.add} when it was made, and ${later} entries since`;
  emit({ table: table.name, outcome: back ? "back" : "left", was: "add", why, kept: false, now: null, before: null }, 0);
  return { ...asOne(entry.number, untouched ? 0 : 1, force, back ? letGo(db, table, made) : undefined), digest: JSON.stringify([rows, later]) };
}
