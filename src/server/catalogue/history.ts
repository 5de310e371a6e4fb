import { and, asc, desc, eq, lt, max } from "drizzle-orm";
import type { BetterSQLite3Database } from "drizzle-orm/better-sqlite3";
import { bin, filings, type objects, versions } from "./tables";

/*
 * What saved objects were, each time they were saved, and those that were deleted, for as long as they can come back.
 */

type Db = BetterSQLite3Database;
type SavedObject = typeof objects.$inferSelect;
export type Version = typeof versions.$inferSelect;
export type Deleted = typeof bin.$inferSelect;

/** How many versions of an object are kept. */
const MOST_VERSIONS = 200;
/** How long deleted objects can come back. */
export const BIN_MS = 30 * 24 * 3_600_000;

/** The first revision of an object under an id that may have been another's before it was deleted. */
export function firstRevision(db: Db, id: string): number {
  const [known] = db
    .select({ last: max(versions.revision) })
    .from(versions)
    .where(eq(versions.object, id))
    .all();
  return (known?.last ?? 0) + 1;
}

/** Keeps what an object is now. A query without a name is kept where it is used. */
export function keepVersion(db: Db, { id, revision, name, spec, kind }: SavedObject, person: string | null, at: Date): void {
  if (kind === "query" && name === "") return;
  db.insert(versions).values({ object: id, revision, name, spec, person, at }).onConflictDoNothing().run();
  db.delete(versions)
    .where(and(eq(versions.object, id), lt(versions.revision, revision - MOST_VERSIONS)))
    .run();
}

/** What an object was before it is saved for the first time since there is a history. */
export function keepFormer(db: Db, former: SavedObject): void {
  keepVersion(db, former, null, former.updatedAt);
}

/** The versions of an object, the last first. */
export const versionsOf = (db: Db, object: string): Version[] =>
  db.select().from(versions).where(eq(versions.object, object)).orderBy(desc(versions.revision)).all();

/** Puts a deleted object where it can come back from. */
export function putInBin(db: Db, { id, kind, name, spec, owner }: SavedObject, deletedBy: string | null, deletedAt: Date): void {
  if (kind === "query" && name === "") return;
  const values = { id, kind, name, spec, owner, deletedBy, deletedAt };
  db.insert(bin).values(values).onConflictDoUpdate({ target: bin.id, set: values }).run();
}

export const takeFromBin = (db: Db, id: string): void => void db.delete(bin).where(eq(bin.id, id)).run();

export const inBin = (db: Db): Deleted[] => db.select().from(bin).orderBy(desc(bin.deletedAt), asc(bin.name)).all();

/** Deletes for good what was deleted before an instant, with its history. */
export function emptyBin(db: Db, before: Date): void {
  for (const { id } of db.select({ id: bin.id }).from(bin).where(lt(bin.deletedAt, before)).all()) {
    db.delete(versions).where(eq(versions.object, id)).run();
    db.delete(filings).where(eq(filings.object, id)).run();
    takeFromBin(db, id);
  }
}
