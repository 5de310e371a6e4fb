import { statSync } from "node:fs";
import Database from "better-sqlite3";
import type { BoundValue, RowsSql, Sql } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import { compileStatement, type Statement } from "@/core/query/statement";
import { type Cell, isExact, type ValueType } from "@/core/types/valueType";
import { JobFailure } from "@/server/source/failures";
import { registerFunctions } from "./functions";

const open = new Map<string, { db: Database.Database; file: string }>();

/** What tells a file from one that was moved into its place; empty where there is none. */
function fileAt(path: string): string {
  const found = statSync(path, { throwIfNoEntry: false, bigint: true });
  return found ? `${found.dev} ${found.ino}` : "";
}

/** A read-only connection to a database file, kept until renewConnection finds another file there. */
export function connection(path: string): Database.Database {
  const known = open.get(path);
  if (known) return known.db;
  const file = fileAt(path);
  const db = openReader(path);
  db.pragma("cache_size = -65536");
  open.set(path, { db, file });
  return db;
}

/** Lets the connection to a file go where another file was moved over it, as by a restore: the old one would be read on. Asked before each job. */
export function renewConnection(path: string): void {
  if (open.has(path) && open.get(path)?.file !== fileAt(path)) closeConnection(path);
}

/** How long a reader waits while a posting is being made final. */
const READ_WAIT_MS = 10_000;

/** A read-only connection that its caller closes. */
export function openReader(path: string): Database.Database {
  const db = new Database(path, { readonly: true, fileMustExist: true, timeout: READ_WAIT_MS });
  registerFunctions(db);
  return db;
}

/** Opens and closes a connection to a file for some work. */
export function withReader<T>(path: string, work: (db: Database.Database) => T): T {
  const db = openReader(path);
  try {
    return work(db);
  } finally {
    db.close();
  }
}

/** Lets the connection to a file go, so that the next one sees it afresh. */
export function closeConnection(path: string): void {
  open.get(path)?.db.close();
  open.delete(path);
}

/** Bound values in the driver's terms. */
export function bindings(values: BoundValue[]): Record<string, unknown> {
  return Object.fromEntries(values.map((v) => [v.name, bound(v)]));
}

function bound({ value, type }: BoundValue): unknown {
  if (value === null) return null;
  if (isExact(type) || type.kind === "yesno") {
    const exact = BigInt(value);
    if (BigInt.asIntN(64, exact) !== exact) throw new JobFailure("tooLarge");
    return exact;
  }
  return type.kind === "floating" ? Number(value) : value;
}

/** One stored value as a cell. Exact columns must hold integers: a product that outgrew 64 bits is refused, not rounded. */
export function cellOf(value: unknown, type: ValueType): Cell {
  if (value === null || value === undefined) return null;
  if (typeof value === "string") return value;
  if (typeof value === "bigint") return Number.isSafeInteger(Number(value)) ? Number(value) : value.toString();
  if (isExact(type) && typeof value === "number") throw new JobFailure("tooLarge");
  if (typeof value === "number") return value;
  if (Buffer.isBuffer(value)) return { misfit: `${value.length} bytes` };
  return String(value);
}

/** The rows of a compiled query, one at a time, as cells. */
export function* readRows(db: Database.Database, sql: RowsSql): Generator<Cell[]> {
  const statement = db
    .prepare(sql.text)
    .raw()
    .safeIntegers(sql.columns.some((c) => isExact(c.type)));
  const types = sql.columns.map((c) => c.type);
  const beside = sql.columns.map((c) => c.raw);
  const guarded = beside.some((raw) => raw !== null);
  for (const row of statement.iterate(bindings(sql.values)) as Iterable<unknown[]>) {
    const cells = types.map((type, i) => cellOf(row[i], type));
    if (guarded) {
      beside.forEach((raw, i) => {
        if (cells[i] === null && raw !== null && row[raw] !== null) cells[i] = { misfit: String(row[raw]) };
      });
    }
    yield cells;
  }
}

/** The one row of a query that gives one, as cells; integers beyond 2^53 as digits. A total that outgrew 64 bits on the way is refused. */
export function readSingle(db: Database.Database, sql: Sql): Cell[] {
  const row = db.prepare(sql.text).raw().safeIntegers(true).get(bindings(sql.values)) as unknown[] | undefined;
  return (row ?? []).map((value, i) => cellOf(value, sql.types?.[i] ?? { kind: "floating" }));
}

/** What a statement comes to, row by row. */
export function readStatement(db: Database.Database, statement: Statement): Iterable<Cell[]> {
  const sql = compileStatement(statement, sqlite);
  return "columns" in sql ? readRows(db, sql) : [readSingle(db, sql)];
}

/** Work in one read transaction, its own or the one it is part of: everything it reads is of one moment. */
export function inSnapshot<T>(db: Database.Database, work: () => T): T {
  if (db.inTransaction) return work();
  db.exec("BEGIN");
  try {
    return work();
  } finally {
    db.exec("COMMIT");
  }
}

/** The same, where the work takes its time. What it reads row by row must be closed when it ends. */
export async function inLongSnapshot<T>(db: Database.Database, work: () => Promise<T>): Promise<T> {
  if (db.inTransaction) return work();
  db.exec("BEGIN");
  try {
    return await work();
  } finally {
    db.exec("COMMIT");
  }
}

const numbers = new WeakMap<Database.Database, number>();
let numbered = 0;

/** What tells one state of the data a connection sees from the next. */
export function dataVersion(db: Database.Database): string {
  // Versions of data are told apart within one connection alone.
  const number = numbers.get(db) ?? ++numbered;
  numbers.set(db, number);
  return `${number} ${db.pragma("data_version", { simple: true })}`;
}
