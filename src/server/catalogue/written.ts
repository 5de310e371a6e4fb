import type { BetterSQLite3Database } from "drizzle-orm/better-sqlite3";

/**
 * Writes in a transaction of its own, whose commit is an answer of its own. A statement that returns the row it wrote is
 * read by its first row, and would say nothing of a commit that failed behind it, as on a full disk.
 * @throws what the commit failed with; then nothing was written
 */
export const written = <T>(db: BetterSQLite3Database, work: () => T): T => db.transaction(work, { behavior: "immediate" });
