import type { DoubledRule } from "@/core/import/choices";
import type { Stored } from "@/core/posting/coerce";
import { quoted } from "@/core/query/dialect/dialect";
import { JobFailure } from "@/server/source/failures";
import type { FileDatabase, FileStatement } from "@/server/source/sqlite/database";

type Noted = { rows: number; first: string[] };

/** Rows that are named in a refusal. */
const NAMED = 3;

const note = (noted: Noted, words: string): void => {
  noted.rows++;
  if (noted.first.length < NAMED) noted.first.push(words);
};

const said = ({ rows, first }: Noted, one: string, several: string): string =>
  `${rows} ${rows === 1 ? one : several} (${first.join(", ")}${rows > first.length ? ", …" : ""})`;

/** What takes a file's rows, one after the other. */
export interface TakenRows {
  /**
   * @param n the row's number in the file, from 1
   * @returns whether the table has a row more
   */
  add(row: Stored[], n: number): boolean;
  /** @throws JobFailure with everything that the key does not take */
  finish(): void;
}

/** What a key does not take, met before anything is said. */
export class KeyNotes {
  private readonly without: Noted = { rows: 0, first: [] };
  private readonly invalid: Noted = { rows: 0, first: [] };
  private readonly again: Noted = { rows: 0, first: [] };

  empty(n: number): void {
    note(this.without, `row ${n}`);
  }

  unfit(value: Stored, n: number): void {
    note(this.invalid, named(value, n));
  }

  doubled(value: Stored, n: number): void {
    note(this.again, named(value, n));
  }

  /** @throws JobFailure where there is anything */
  settle(key: string | null): void {
    const wrong = [
      ...(this.without.rows > 0 ? [said(this.without, "row has no value in it", "rows have no value in it")] : []),
      ...(this.invalid.rows > 0 ? [said(this.invalid, "value is invalid", "values are invalid")] : []),
      ...(this.again.rows > 0 ? [said(this.again, "row has a value that a row before it has", "rows have a value that a row before them has")] : []),
    ];
    if (wrong.length === 0) return;
    const keep = this.again.rows > 0 ? ", or keep the first or last row of each value" : "";
    throw new JobFailure("importRefused", `“${key}” cannot be the key: ${wrong.join("; ")}. Choose another column or none${keep}`);
  }
}

const named = (value: Stored, n: number): string => `“${String(value).slice(0, 40)}” in row ${n}`;

/** Rows that are written at once; more of them bring nothing. */
const ROWS_AT_ONCE = 20;
/** Values that one statement of SQLite takes at most (SQLITE_MAX_VARIABLE_NUMBER as it is built). */
const MOST_VALUES = 32_766;

const insertion = (table: string, columns: number, rows: number, or = ""): string => {
  const row = `(${Array(columns).fill("?").join(", ")})`;
  return `INSERT ${or}INTO ${quoted(table)} VALUES ${Array(rows).fill(row).join(", ")}`;
};

/** Writes a file's rows into a table without a key, several at once. */
export class PlainRows implements TakenRows {
  private readonly rows: number;
  private readonly insert: FileStatement;
  private waiting: Stored[] = [];

  constructor(
    private readonly db: FileDatabase,
    private readonly table: string,
    private readonly columns: number,
  ) {
    this.rows = Math.max(1, Math.min(ROWS_AT_ONCE, Math.floor(MOST_VALUES / columns)));
    this.insert = db.prepare(insertion(table, columns, this.rows));
  }

  add(row: Stored[]): boolean {
    for (let i = 0; i < this.columns; i++) this.waiting.push(row[i] ?? null);
    if (this.waiting.length === this.rows * this.columns) {
      this.insert.run(this.waiting);
      this.waiting = [];
    }
    return true;
  }

  finish(): void {
    if (this.waiting.length > 0) this.db.prepare(insertion(this.table, this.columns, this.waiting.length / this.columns)).run(this.waiting);
    this.waiting = [];
  }
}

/**
 * Writes a file's rows into a table by its key. A value that stands there already is refused, or its first or last row kept; a row without
 * a value, or whose value the key cannot take, is refused. All of them are met before anything is said.
 */
export class KeyedRows implements TakenRows {
  private readonly insert: FileStatement;
  private readonly replace: FileStatement;
  private readonly notes = new KeyNotes();
  private readonly at: number;

  constructor(
    db: FileDatabase,
    table: string,
    columns: string[],
    private readonly by: { key: string; doubled: DoubledRule },
  ) {
    this.insert = db.prepare(insertion(table, columns.length, 1));
    this.replace = db.prepare(insertion(table, columns.length, 1, "OR REPLACE "));
    this.at = columns.indexOf(by.key);
  }

  add(row: Stored[], n: number): boolean {
    const value = row[this.at] ?? null;
    if (value === null) {
      this.notes.empty(n);
      return false;
    }
    try {
      this.insert.run(row);
      return true;
    } catch (error) {
      const { code = "" } = error as { code?: string };
      if (code === "SQLITE_MISMATCH") this.notes.unfit(value, n);
      else if (code !== "SQLITE_CONSTRAINT_PRIMARYKEY") throw error;
      else if (this.by.doubled === "last") this.replace.run(row);
      else if (this.by.doubled === "refuse") this.notes.doubled(value, n);
      return false;
    }
  }

  finish(): void {
    this.notes.settle(this.by.key);
  }
}
