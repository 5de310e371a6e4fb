import type Database from "better-sqlite3";

/** A file of SQLite, or a database in memory, as its driver has it open. */
export type FileDatabase = Database.Database;
export type FileStatement = Database.Statement;
