import type { FileDatabase } from "@/server/source/sqlite/database";

/** How many rows lead by a foreign key to one that is not there. Source: SQLite's documentation, PRAGMA foreign_key_check. */
export function foreignFaults(db: FileDatabase): number {
  const keyed = db
    .prepare("SELECT name FROM sqlite_schema WHERE type = 'table' AND sql LIKE '%REFERENCES%' AND name NOT LIKE 'next\\_ledger\\_%' ESCAPE '\\'")
    .pluck()
    .all() as string[];
  let faults = 0;
  for (const table of keyed) {
    try {
      for (const _ of db.prepare("SELECT 1 FROM pragma_foreign_key_check(?)").iterate(table)) faults++;
    } catch (error) {
      // A key whose other end is not unique, or is no column of its table: no row of it fits.
      if (!/foreign key mismatch/.test((error as Error).message)) throw error;
      faults += 1e9;
    }
  }
  return faults;
}
