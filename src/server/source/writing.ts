import { watchRows } from "./columnar/watch";
import type { Connection } from "./connection";
import { isServer } from "./postgres/address";
import { sessionOf } from "./postgres/session";
import type { FileDatabase } from "./sqlite/database";
import { fileStamp } from "./sqlite/fileStamp";
import { openReader } from "./sqlite/readers";
import { versionOf } from "./sqlite/version";
import { openWriter, writingFile } from "./sqlite/writers";

/* Transactions that write to a business database, whichever it is. */

/** Work in one write transaction, kept or undone as a whole, whichever database it is. */
export const inTransaction = <T>(database: string, outcome: "commit" | "rollback", work: (db: Connection) => T): T =>
  isServer(database) ? sessionOf(database).writing(outcome, work) : writingFile(database, outcome, work);

/** The states of a file around a change: `after` is null where another connection wrote as well before it was looked at. */
export type States = { before: string; after: string | null };

/**
 * Work in one write transaction, kept; with the states of the file around it. The columnar copy follows the rows it
 * touches, so it must not change any table's shape.
 */
export function changing<T>(path: string, work: (db: Connection) => T): { result: T; states: States } {
  if (isServer(path)) return { result: sessionOf(path).writing("commit", work), states: { before: "", after: null } };
  const witness = openReader(path);
  const version = (db: FileDatabase) => db.pragma("data_version", { simple: true });
  const db = openWriter(path);
  try {
    db.exec("BEGIN IMMEDIATE");
    // Nobody else writes from here to the commit. A connection's version changes by what others commit, not by its own.
    const before = fileStamp(path);
    const from = versionOf(path);
    const own = version(db);
    const watch = watchRows(db);
    const result = work(db);
    db.exec("COMMIT");
    const seen = version(witness);
    const alone = version(db) === own;
    const to = versionOf(path);
    if (alone && from !== null && to !== null && version(witness) === seen) watch?.moved(path, from, to);
    db.close();
    const after = fileStamp(path);
    return { result, states: { before, after: alone && version(witness) === seen ? after : null } };
  } catch (error) {
    if (db.inTransaction) db.exec("ROLLBACK");
    throw error;
  } finally {
    db.close();
    witness.close();
  }
}
