import { existsSync, mkdirSync, rmSync } from "node:fs";
import { dirname } from "node:path";
import Database from "better-sqlite3";
import { JobFailure } from "../failures";
import { isServer } from "../postgres/address";
import type { FileDatabase } from "./database";
import { registerFunctions } from "./functions";

/** How long a writer waits for another one, and for readers to finish when it commits. */
const WRITE_WAIT_MS = 60_000;

/** A connection that writes; links are checked by the ledger, which says what would break, so SQLite's own actions rest. */
export function openWriter(path: string): FileDatabase {
  if (isServer(path)) throw new JobFailure("serverShape");
  const db = new Database(path, { fileMustExist: true, timeout: WRITE_WAIT_MS });
  db.pragma("foreign_keys = OFF");
  // Changed pages stay in memory until the commit, so that readers go on reading the state before.
  db.pragma("cache_spill = OFF");
  registerFunctions(db);
  return db;
}

/** Work in one write transaction of a file, kept or undone as a whole. */
export function writingFile<T>(path: string, outcome: "commit" | "rollback", work: (db: FileDatabase) => T): T {
  const db = openWriter(path);
  try {
    db.exec("BEGIN IMMEDIATE");
    const result = work(db);
    db.exec(outcome === "commit" ? "COMMIT" : "ROLLBACK");
    return result;
  } catch (error) {
    if (db.inTransaction) db.exec("ROLLBACK");
    throw error;
  } finally {
    db.close();
  }
}

/** A database for values on their way: gone if the process is, so it is written without waiting for the disk. */
export function openStage(path: string): FileDatabase {
  mkdirSync(dirname(path), { recursive: true });
  if (existsSync(path)) rmSync(path);
  const db = new Database(path);
  db.pragma("journal_mode = OFF");
  db.pragma("synchronous = OFF");
  return db;
}

/** Closes a staged file that could not be made whole, as on a full disk, and removes it. */
export function abandonStage(db: FileDatabase, path: string): void {
  db.close();
  rmSync(path, { force: true });
}

/** A database in memory, to try a change in; its caller closes it. */
export function openMemory(): FileDatabase {
  const db = new Database(":memory:");
  db.pragma("foreign_keys = OFF");
  registerFunctions(db);
  return db;
}
