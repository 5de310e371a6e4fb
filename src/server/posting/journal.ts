import type Database from "better-sqlite3";
import { namesNow } from "@/server/shape/record";
import type { Tally } from "./outcome";
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
CREATE INDEX IF NOT EXISTS next_ledger_change_row ON next_ledger_change (tbl, row);
`;

export const hasJournal = (db: Database.Database): boolean => db.prepare("SELECT 1 FROM sqlite_schema WHERE name = 'next_ledger_posting'").get() !== undefined;

export type Writing = Pick<Entry, "at" | "by" | "kind" | "name" | "brief" | "table"> & { columns: string[]; reverses?: number };

/** An entry being written within a transaction: changes first, then the entry that counts them. */
export class EntryWriter {
  readonly number: number;
  private readonly counts = { add: 0, change: 0, remove: 0 };
  private readonly insert: Database.Statement;
  private seq = 0;

  constructor(
    private readonly db: Database.Database,
    private readonly writing: Writing,
  ) {
    db.exec(TABLES);
    this.number = Number(db.prepare("SELECT COALESCE(MAX(number), 0) + 1 FROM next_ledger_posting").pluck().get());
    this.insert = db.prepare("INSERT INTO next_ledger_change VALUES (?, ?, ?, ?, ?, ?, ?)");
  }

  readonly sink: ChangeSink = ({ kind, row, before, after }) => {
    this.counts[kind]++;
    this.insert.run(this.number, ++this.seq, this.writing.table, kind, row, before && encodeImage(before), after && encodeImage(after));
  };

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

  finish(tally: Tally | null, sequence: { before: string | null; after: string | null }): Entry {
    const { at, by, kind, name, brief, table, columns, reverses = null } = this.writing;
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
    return { number: this.number, at, by, kind, name, brief, table, counts: this.counts, tally, reverses, reversedBy: null };
  }
}

type Row = Record<"number", number> &
  Record<"at" | "by" | "kind" | "name" | "brief" | "tbl" | "counts", string> & {
    tally: string | null;
    reverses: number | null;
    reversed_by: number | null;
  };

/** @param nameNow what a table of an entry is called today */
const entryOf = (row: Row, nameNow: ReturnType<typeof namesNow>): Entry => ({
  number: row.number,
  at: row.at,
  by: row.by,
  kind: row.kind as JournalKind,
  name: row.name,
  brief: row.brief,
  table: nameNow(row.tbl, row.number),
  counts: JSON.parse(row.counts),
  tally: row.tally === null ? null : JSON.parse(row.tally),
  reverses: row.reverses,
  reversedBy: row.reversed_by,
});

/** The journal, the latest entry first. @param number of the one entry that is asked for; null for all that are listed */
export function readJournal(db: Database.Database, number: number | null = null, limit = 500): Entry[] {
  if (!hasJournal(db)) return [];
  const nameNow = namesNow(db);
  if (number !== null) return (db.prepare("SELECT * FROM next_ledger_posting WHERE number = ?").all(number) as Row[]).map((row) => entryOf(row, nameNow));
  return (db.prepare("SELECT * FROM next_ledger_posting ORDER BY number DESC LIMIT ?").all(limit) as Row[]).map((row) => entryOf(row, nameNow));
}

export function readEntry(
  db: Database.Database,
  number: number,
): (Entry & { columns: string[]; sequence: { before: string | null; after: string | null } }) | null {
  if (!hasJournal(db)) return null;
  const row = db.prepare("SELECT * FROM next_ledger_posting WHERE number = ?").get(number) as
    | (Row & { columns: string; sequence_before: string | null; sequence_after: string | null })
    | undefined;
  return row ? { ...entryOf(row, namesNow(db)), columns: JSON.parse(row.columns), sequence: { before: row.sequence_before, after: row.sequence_after } } : null;
}

export type JournalChange = { seq: number; kind: ChangeKind; row: RowName; before: string | null; after: string | null };

/** The changes of an entry, the last first: the order in which they are taken back. */
export function readChanges(db: Database.Database, number: number): JournalChange[] {
  return db.prepare("SELECT seq, kind, row, before, after FROM next_ledger_change WHERE posting = ? ORDER BY seq DESC").all(number) as JournalChange[];
}

/** Tells which posting that still stands added a row. */
export function postingThatAdded(db: Database.Database, table: string): (row: RowName) => number | null {
  if (!hasJournal(db)) return () => null;
  const find = db
    .prepare(
      `SELECT p.number FROM next_ledger_change c JOIN next_ledger_posting p ON p.number = c.posting
       WHERE c.tbl = ? AND c.row = ? AND c.kind = 'add' AND p.reversed_by IS NULL ORDER BY p.number DESC LIMIT 1`,
    )
    .pluck();
  return (row) => (find.get(table, row) as number | undefined) ?? null;
}
