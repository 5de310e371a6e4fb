import type { PostedBefore, Tally } from "@/core/posting/outcome";
import { namesBefore, namesNow } from "@/server/jobs/shape/record";
import { amongSql, type Connection, hasOwn, isOnServer, jsonSql, makeOwn, type Statement } from "@/server/source/connection";
import { encodeImage, type Image, type RowName } from "./target";

/*
 * The journal lies in the database it is about: a posting and its entry are one transaction, so that a killed process
 * leaves both or neither, and a copy or a restored backup of the file has the journal that belongs to it.
 */

export const JOURNAL_KINDS = ["posting", "edit", "reversal", "table", "shape"] as const;
export type JournalKind = (typeof JOURNAL_KINDS)[number];

export type ChangeKind = "add" | "change" | "remove";
export type Change = { kind: ChangeKind; row: RowName; before: Image | null; after: Image | null };
export type ChangeSink = (change: Change) => void;

/** One entry of the journal. */
export type Entry = {
  number: number;
  at: string;
  by: string;
  kind: JournalKind;
  name: string;
  brief: string;
  table: string;
  /** Other tables of which it changed rows. */
  others: string[];
  counts: { add: number; change: number; remove: number };
  tally: Tally | null;
  reverses: number | null;
  reversedBy: number | null;
};

const TABLES = `
CREATE TABLE IF NOT EXISTS next_ledger_posting (
  number INTEGER PRIMARY KEY, at TEXT NOT NULL, by TEXT NOT NULL, kind TEXT NOT NULL, name TEXT NOT NULL, brief TEXT NOT NULL,
  tbl TEXT NOT NULL, columns TEXT NOT NULL, counts TEXT NOT NULL, tally TEXT, reverses INTEGER, reversed_by INTEGER,
  sequence_before TEXT, sequence_after TEXT);
CREATE TABLE IF NOT EXISTS next_ledger_change (
  posting INTEGER NOT NULL, seq INTEGER NOT NULL, tbl TEXT NOT NULL, kind TEXT NOT NULL, row TEXT NOT NULL, before TEXT, after TEXT,
  PRIMARY KEY (posting, seq)) WITHOUT ROWID;
CREATE TABLE IF NOT EXISTS next_ledger_part (
  posting INTEGER NOT NULL, tbl TEXT NOT NULL, columns TEXT NOT NULL, sequence_before TEXT, sequence_after TEXT, PRIMARY KEY (posting, tbl)) WITHOUT ROWID;
CREATE INDEX IF NOT EXISTS next_ledger_change_row ON next_ledger_change (tbl, row);
CREATE INDEX IF NOT EXISTS next_ledger_posting_by ON next_ledger_posting (by);
`;

export const hasJournal = (db: Connection): boolean => hasOwn(db, "next_ledger_posting");

/** Whether entries can have changed further tables: journals that were begun earlier have none. */
export const hasParts = (db: Connection): boolean => hasOwn(db, "next_ledger_part");

/** SQL: the columns of a change's table as its images have them, of a change c in an entry p. */
export const columnsOf = (db: Connection): string =>
  hasParts(db) ? "COALESCE((SELECT o.columns FROM next_ledger_part o WHERE o.posting = c.posting AND o.tbl = c.tbl), p.columns)" : "p.columns";

/** The last numbers that a table gave, where it never gives one twice. */
export type Sequence = { before: string | null; after: string | null };

/** One table of which an entry changed rows: its columns as the entry's images have them. */
export type Part = { table: string; columns: string[]; sequence: Sequence };

export type Writing = Pick<Entry, "at" | "by" | "kind" | "name" | "brief" | "table"> & { columns: string[]; reverses?: number };

/** Changes that are written at once; to a server, which is asked each time anew, more of them. */
const CHANGES_AT_ONCE = 25;
const CHANGES_AT_ONCE_ON_SERVER = 250;
const CHANGE_VALUES = 7;

const insertion = (changes: number): string => `INSERT INTO next_ledger_change VALUES ${Array(changes).fill("(?, ?, ?, ?, ?, ?, ?)").join(", ")}`;

/** An entry being written within a transaction: changes first, then the entry that counts them. It must be finished. */
export class EntryWriter {
  readonly number: number;
  private readonly counts = { add: 0, change: 0, remove: 0 };
  private readonly insert: Statement;
  private readonly atOnce: number;
  private waiting: unknown[] = [];
  private seq = 0;

  constructor(
    private readonly db: Connection,
    private readonly writing: Writing,
  ) {
    makeOwn(db, TABLES);
    this.number = Number(db.prepare("SELECT COALESCE(MAX(number), 0) + 1 FROM next_ledger_posting").pluck().get());
    this.atOnce = isOnServer(db) ? CHANGES_AT_ONCE_ON_SERVER : CHANGES_AT_ONCE;
    this.insert = db.prepare(insertion(this.atOnce));
  }

  readonly sink: ChangeSink = (change) => this.write(this.writing.table, change);

  /** Takes the changes of a table's rows. */
  sinkOf(table: string): ChangeSink {
    return (change) => this.write(table, change);
  }

  private write(table: string, { kind, row, before, after }: Change): void {
    this.counts[kind]++;
    this.waiting.push(this.number, ++this.seq, table, kind, row, before && encodeImage(before), after && encodeImage(after));
    if (this.waiting.length < this.atOnce * CHANGE_VALUES) return;
    this.insert.run(this.waiting);
    this.waiting = [];
  }

  /** The entry of a table that was made, its rows counted and not listed: taking it back lets the table go. */
  finishTable(rows: number): Entry {
    this.counts.add = rows;
    return this.finish(null, { before: null, after: null });
  }

  /** The entry of a table that was changed or dropped. @param changed rows with a value that was turned into another */
  finishShape(changed: number, removed = 0): Entry {
    this.counts.change = changed;
    this.counts.remove = removed;
    return this.finish(null, { before: null, after: null });
  }

  /** @param others further tables of which rows were changed */
  finish(tally: Tally | null, sequence: Sequence, others: Part[] = []): Entry {
    if (this.waiting.length > 0) this.db.prepare(insertion(this.waiting.length / CHANGE_VALUES)).run(this.waiting);
    this.waiting = [];
    const { at, by, kind, name, brief, table, columns, reverses = null } = this.writing;
    const part = this.db.prepare("INSERT INTO next_ledger_part VALUES (?, ?, ?, ?, ?)");
    for (const o of others) part.run(this.number, o.table, JSON.stringify(o.columns), o.sequence.before, o.sequence.after);
    this.db
      .prepare("INSERT INTO next_ledger_posting VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, NULL, ?, ?)")
      .run(
        this.number,
        at,
        by,
        kind,
        name,
        brief,
        table,
        JSON.stringify(columns),
        JSON.stringify(this.counts),
        tally && JSON.stringify(tally),
        reverses,
        sequence.before,
        sequence.after,
      );
    return {
      number: this.number,
      at,
      by,
      kind,
      name,
      brief,
      table,
      others: others.map((o) => o.table),
      counts: this.counts,
      tally,
      reverses,
      reversedBy: null,
    };
  }
}

type Row = Record<"number", number> &
  Record<"at" | "by" | "kind" | "name" | "brief" | "tbl" | "columns" | "counts", string> & {
    tally: string | null;
    reverses: number | null;
    reversed_by: number | null;
    sequence_before: string | null;
    sequence_after: string | null;
    /** The names of further tables, as a JSON list. */
    others: string;
  };

/** The rows of entries; the names of further tables beside them. */
function entryRows(db: Connection): string {
  const list = isOnServer(db) ? "COALESCE(json_agg(o.tbl)::text, '[]')" : "json_group_array(o.tbl)";
  const others = hasParts(db) ? `(SELECT ${list} FROM next_ledger_part o WHERE o.posting = p.number)` : "'[]'";
  return `SELECT p.*, ${others} AS others FROM next_ledger_posting p`;
}

/** @param nameNow what a table of an entry is called today */
const entryOf = (row: Row, nameNow: ReturnType<typeof namesNow>): Entry => ({
  number: row.number,
  at: row.at,
  by: row.by,
  kind: row.kind as JournalKind,
  name: row.name,
  brief: row.brief,
  table: nameNow(row.tbl, row.number),
  others: (JSON.parse(row.others) as string[]).map((name) => nameNow(name, row.number)),
  counts: JSON.parse(row.counts),
  tally: row.tally === null ? null : JSON.parse(row.tally),
  reverses: row.reverses,
  reversedBy: row.reversed_by,
});

/** Entries one after the other. @param more SQL after the rows of entries, which it calls p */
export function* entriesOf(db: Connection, more: string, values: unknown[], nameNow = namesNow(db)): Generator<Entry> {
  for (const row of db.prepare(`${entryRows(db)} ${more}`).iterate(...values) as Iterable<Row>) yield entryOf(row, nameNow);
}

/** The journal, the latest entry first. */
export const readJournal = (db: Connection): Entry[] => (hasJournal(db) ? [...entriesOf(db, "ORDER BY p.number DESC", [])] : []);

/** An entry with every table of which it changed rows, the first one first. */
export function readEntry(db: Connection, number: number): (Entry & { parts: Part[] }) | null {
  if (!hasJournal(db)) return null;
  const row = db.prepare(`${entryRows(db)} WHERE p.number = ?`).get(number) as Row | undefined;
  if (!row) return null;
  const nameNow = namesNow(db);
  const partOf = ({ tbl, columns, sequence_before, sequence_after }: Pick<Row, "tbl" | "columns" | "sequence_before" | "sequence_after">): Part => ({
    table: nameNow(tbl, number),
    columns: JSON.parse(columns),
    sequence: { before: sequence_before, after: sequence_after },
  });
  const others = hasParts(db) ? (db.prepare("SELECT * FROM next_ledger_part WHERE posting = ?").all(number) as Parameters<typeof partOf>[0][]) : [];
  return { ...entryOf(row, nameNow), parts: [row, ...others].map(partOf) };
}

export type JournalChange = { seq: number; table: string; kind: ChangeKind; row: RowName; before: string | null; after: string | null };

/** The changes of an entry, the last first: the order in which they are taken back. */
export function readChanges(db: Connection, number: number): JournalChange[] {
  const nameNow = namesNow(db);
  const changes = db.prepare('SELECT seq, tbl AS "table", kind, row, before, after FROM next_ledger_change WHERE posting = ? ORDER BY seq DESC').all(number);
  return (changes as JournalChange[]).map((c) => ({ ...c, table: nameNow(c.table, number) }));
}

/** The posting into a table that had the very same rows, one that still stands before others. @param content what stands for them */
export function postingOfContent(db: Connection, table: string, content: string): PostedBefore | null {
  if (!hasJournal(db)) return null;
  const nameNow = namesNow(db);
  const names = namesBefore(db, table);
  const found = db
    .prepare(
      `SELECT number, at, reversed_by AS "reversedBy", tbl FROM next_ledger_posting
       WHERE tbl ${amongSql(names)} AND kind = 'posting' AND ${jsonSql(db, "tally", "content")} = ? ORDER BY reversed_by IS NULL DESC, number DESC`,
    )
    .all(...names, content) as (PostedBefore & { tbl: string })[];
  const own = found.find(({ tbl, number }) => nameNow(tbl, number) === table);
  return own ? { number: own.number, at: own.at, reversedBy: own.reversedBy } : null;
}

/** Tells which posting that still stands added a row. */
export function postingThatAdded(db: Connection, table: string): (row: RowName) => number | null {
  if (!hasJournal(db)) return () => null;
  const [names, nameNow] = [namesBefore(db, table), namesNow(db)];
  const find = db.prepare(
    `SELECT p.number, c.tbl FROM next_ledger_change c JOIN next_ledger_posting p ON p.number = c.posting
     WHERE c.tbl ${amongSql(names)} AND c.row = ? AND c.kind = 'add' AND p.reversed_by IS NULL ORDER BY p.number DESC`,
  );
  return (row) => (find.all(...names, row) as { number: number; tbl: string }[]).find(({ tbl, number }) => nameNow(tbl, number) === table)?.number ?? null;
}
