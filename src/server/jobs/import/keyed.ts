import type Database from "better-sqlite3";
import type { DoubledRule } from "@/core/import/choices";
import type { Stored } from "@/core/posting/coerce";
import { quoted } from "@/core/query/dialect/dialect";
import { JobFailure } from "@/server/source/failures";

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

/**
 * Writes a file's rows into a table, by its key where it has one. A value that stands there already is refused, or its first or last row
 * kept; a row without a value, or whose value the key cannot take, is refused. All of them are met before anything is said.
 */
export class KeyedRows implements TakenRows {
  private readonly insert: Database.Statement;
  private readonly replace: Database.Statement;
  private readonly notes = new KeyNotes();
  private readonly at: number;

  constructor(
    db: Database.Database,
    table: string,
    columns: string[],
    private readonly by: { key: string | null; doubled: DoubledRule },
  ) {
    const values = `INTO ${quoted(table)} VALUES (${columns.map(() => "?").join(", ")})`;
    this.insert = db.prepare(`INSERT ${values}`);
    this.replace = db.prepare(`INSERT OR REPLACE ${values}`);
    this.at = by.key === null ? -1 : columns.indexOf(by.key);
  }

  add(row: Stored[], n: number): boolean {
    const value = row[this.at] ?? null;
    if (this.at >= 0 && value === null) {
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
