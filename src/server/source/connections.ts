import type { Connection } from "./connection";
import { isServer } from "./postgres/address";
import { sessionOf } from "./postgres/session";
import { connection, inSnapshot } from "./sqlite/readers";

/** Work over a connection to a database, whichever it is, that only reads: all of one moment. */
export function inSnapshotOf<T>(database: string, work: (db: Connection) => T): T {
  if (isServer(database)) return sessionOf(database).snapshot(work);
  const db = connection(database);
  return inSnapshot(db, () => work(db));
}
