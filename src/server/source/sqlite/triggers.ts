import type Database from "better-sqlite3";

/** The name of a trigger on a table; null where it has none. */
export const triggerOn = (db: Database.Database, table: string): string | null =>
  (db.prepare("SELECT name FROM sqlite_schema WHERE type = 'trigger' AND lower(tbl_name) = lower(?) ORDER BY name LIMIT 1").pluck().get(table) as
    | string
    | undefined) ?? null;
