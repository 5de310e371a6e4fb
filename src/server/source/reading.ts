import type Database from "better-sqlite3";
import type { AnsweredBy } from "@/core/proof/proof";
import type { RowsSql, Sql } from "@/core/query/compile";
import type { Dialect } from "@/core/query/dialect/dialect";
import { duckdb } from "@/core/query/dialect/duckdb";
import { sqlite } from "@/core/query/dialect/sqlite";
import { tablesOnCopy } from "@/core/query/onCopy";
import type { Plan } from "@/core/query/plan";
import { compileStatement, type Statement } from "@/core/query/statement";
import type { Cell } from "@/core/types/valueType";
import { CopyReading, NotOnCopy } from "./columnar/client";
import { LARGE } from "./large";
import { connection, inLongSnapshot, readRows, readSingle } from "./sqlite/readers";
import { versionOf } from "./sqlite/version";

/*
 * One reading of a business database: several statements of one moment, whichever engine answers. Rows come in batches,
 * as whoever reads them takes them.
 */

export type Reader = {
  engine: AnsweredBy;
  /** What statements are written in. */
  dialect: Dialect;
  batches: (sql: RowsSql) => AsyncIterable<Cell[][]>;
  /** The one row of a statement that gives one. */
  single: (sql: Sql | RowsSql) => Promise<Cell[]>;
};

/** Rows of a batch. */
const BATCH = 1000;

/**
 * What a statement comes to.
 * @param most of more rows than that some are left out: they are too many for whoever asks
 */
export async function answerOf({ dialect, batches, single }: Reader, statement: Statement, most = Number.POSITIVE_INFINITY): Promise<Cell[][]> {
  const sql = compileStatement(statement, dialect);
  if (!("columns" in sql)) return [await single(sql)];
  const rows: Cell[][] = [];
  for await (const batch of batches(sql)) {
    for (const row of batch) rows.push(row);
    if (rows.length > most) break;
  }
  return rows;
}

export function sqliteReader(db: Database.Database): Reader {
  return {
    engine: "sqlite",
    dialect: sqlite,
    batches: async function* (sql) {
      let batch: Cell[][] = [];
      for (const row of readRows(db, sql)) {
        batch.push(row);
        if (batch.length < BATCH) continue;
        yield batch;
        batch = [];
      }
      if (batch.length > 0) yield batch;
    },
    single: async (sql) => readSingle(db, sql),
  };
}

export function copyReader(copy: CopyReading): Reader {
  return {
    engine: "columnar",
    dialect: duckdb,
    batches: (sql) => copy.batches(sql),
    single: async (sql) => {
      const columns = "columns" in sql ? sql.columns : (sql.types ?? []).map((type) => ({ type, raw: null }));
      let row: Cell[] = [];
      for await (const [first = []] of copy.batches({ ...sql, columns })) row = first;
      return row;
    },
  };
}

/** The copy, where it has all that is read as it is now, and would answer the same. */
async function copyOf(database: string, plans: Plan[], at: string | null): Promise<CopyReading | null> {
  const path = process.env.NEXT_LEDGER_COPY;
  if (!path || at === null) return null;
  const tables = plans.map(tablesOnCopy);
  const needed = new Map(tables.flatMap((found) => found ?? []).map((t) => [t.name, t]));
  if (tables.includes(null) || ![...needed.values()].some((t) => t.rows >= LARGE)) return null;
  return CopyReading.begin(path, database, at, [...needed.values()]);
}

/** Work over the copy; undefined where there is none, or it could not answer something after all. */
async function onCopy<T>(copy: CopyReading | null, work: (reader: Reader) => Promise<T>): Promise<{ result: T } | undefined> {
  if (!copy) return undefined;
  try {
    return { result: await work(copyReader(copy)) };
  } catch (error) {
    if (!(error instanceof NotOnCopy)) throw error;
    return undefined;
  } finally {
    copy.close();
  }
}

/**
 * Reads what some plans ask for, all of one moment: from the columnar copy where it may answer, else from the database.
 * @param work done again from its beginning where the copy could not answer something after all
 */
export async function readingOf<T>(database: string, plans: Plan[], work: (reader: Reader) => Promise<T>): Promise<T> {
  const done = await onCopy(await copyOf(database, plans, process.env.NEXT_LEDGER_COPY ? versionOf(database) : null), work);
  if (done) return done.result;
  const db = connection(database);
  return inLongSnapshot(db, () => work(sqliteReader(db)));
}

/**
 * The same beside the database itself, which is read as it is at the very moment of the reading: for what is held against
 * what some engine answers.
 */
export function readingBeside<T>(database: string, plans: Plan[], work: (db: Database.Database, reader: Reader) => Promise<T>): Promise<T> {
  const db = connection(database);
  return inLongSnapshot(db, async () => {
    // From its first statement on the transaction sees one moment: it is known where the file was the same before and after.
    const before = versionOf(database);
    db.prepare("SELECT 1 FROM sqlite_schema LIMIT 1").get();
    const at = before === versionOf(database) ? before : null;
    const done = await onCopy(await copyOf(database, plans, at), (reader) => work(db, reader));
    return done ? done.result : work(db, sqliteReader(db));
  });
}
