import type { Dialect } from "@/core/query/dialect/dialect";
import { sqlite } from "@/core/query/dialect/sqlite";
import type { FileDatabase } from "@/server/source/sqlite/database";
import { JobFailure } from "./failures";

/*
 * A connection to a business database as the ledger's own statements are asked over it: as SQLite's driver has them, which a
 * server's connection does alike (postgres/connection.ts). Values that are bound stand as ? in the text.
 */

export interface Statement {
  /** Whether it gives rows. */
  readonly reader: boolean;
  /** Rows as lists of values; the first value alone; whole numbers as bigint. */
  raw(): Statement;
  pluck(): Statement;
  safeIntegers(on?: boolean): Statement;
  get(...values: unknown[]): unknown;
  all(...values: unknown[]): unknown[];
  iterate(...values: unknown[]): Iterable<unknown>;
  run(...values: unknown[]): { changes: number; lastInsertRowid: number | bigint };
}

export interface Connection {
  prepare(sql: string): Statement;
  exec(sql: string): unknown;
  readonly inTransaction: boolean;
  /** Of a server: takes rows into columns of a table, all of them or none. */
  copy?(table: string, columns: string[], rows: unknown[][]): void;
  /** Of a server: how SQL is written for it. */
  readonly dialect?: Dialect;
}

export const isOnServer = (db: Connection): boolean => db.dialect !== undefined;

/** A connection as one to a file. @throws JobFailure where it is to a server: what is done would change the shape of its tables */
export function inFile(db: Connection): FileDatabase {
  if (isOnServer(db)) throw new JobFailure("serverShape");
  return db as FileDatabase;
}

export const dialectOf = (db: Connection): Dialect => db.dialect ?? sqlite;

/** A table in SQL, by its name in a schema. */
export const tableSql = (db: Connection, name: string): string => dialectOf(db).table(name);

/** SQL: a value is among so many that are bound. */
export const amongSql = (values: unknown[]): string => `IN (${values.map(() => "?").join(", ")})`;

/** SQL: a text of a JSON object that lies in a column. */
export const jsonSql = (db: Connection, column: string, ...path: string[]): string =>
  isOnServer(db) ? `(${column}::json #>> '{${path.join(",")}}')` : `json_extract(${column}, '$.${path.join(".")}')`;

/** Makes tables of the ledger's own, by a script for SQLite: on a server in a schema of their own. */
export function makeOwn(db: Connection, script: string): void {
  if (!isOnServer(db)) return void db.exec(script);
  if (db.prepare("SELECT to_regnamespace('next_ledger') IS NULL").pluck().get() === 1) db.exec("CREATE SCHEMA next_ledger");
  db.exec(script.replaceAll("WITHOUT ROWID", "").replace(/(CREATE TABLE IF NOT EXISTS) /g, "$1 next_ledger."));
}

/** Whether the ledger has made a table of its own. */
export const hasOwn = (db: Connection, table: string): boolean =>
  isOnServer(db)
    ? db.prepare("SELECT to_regclass('next_ledger.' || ?) IS NOT NULL").pluck().get(table) === 1
    : db.prepare("SELECT 1 FROM sqlite_schema WHERE name = ?").get(table) !== undefined;
