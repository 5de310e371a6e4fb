import type Database from "better-sqlite3";

/** Keeps what was last worked out of a database, as long as neither its data nor what was asked for are others. */
export class LastOf<T> {
  private last: { db: Database.Database; key: string; value: T } | null = null;

  /** @param asked all that the value depends on beside the data */
  of(db: Database.Database, asked: unknown, make: () => T): T {
    // Versions of data are told apart within one connection alone.
    const key = JSON.stringify([asked, db.pragma("data_version", { simple: true })]);
    if (this.last?.db !== db || this.last.key !== key) this.last = { db, key, value: make() };
    return this.last.value;
  }
}
