import type Database from "better-sqlite3";
import type { AnsweredBy } from "@/core/proof/proof";
import { duckdb } from "@/core/query/dialect/duckdb";
import { tablesOnCopy } from "@/core/query/onCopy";
import type { Plan } from "@/core/query/plan";
import { compileStatement, type Statement } from "@/core/query/statement";
import type { ReadTable } from "@/core/recount/recount";
import type { Cell } from "@/core/types/valueType";
import { CopyReading, NotOnCopy } from "./columnar/client";
import { LARGE } from "./large";
import { connection, dataVersion, inLongSnapshot, readStatement } from "./sqlite/readers";
import { tableReader } from "./sqlite/tables";
import { versionOf } from "./sqlite/version";

/*
 * Readings of a business database: several statements of one moment, whichever engine answers.
 *
 *   Reading   the database itself; who asks waits, so that what is laid out may ask in its midst
 *   Reader    the database or its columnar copy; who asks is answered in its time
 */

export type Reading = {
  engine: AnsweredBy;
  /**
   * What a statement comes to, row by row, as it is taken.
   * @param most it is taken whole, but more rows than that would be too many: some of them are left out
   */
  ask: (statement: Statement, most?: number) => Iterable<Cell[]>;
  /** The tables as they lie, for the recount. */
  tables: ReadTable;
  /** Another whenever the data may be another; null where it cannot be told. */
  version: () => string | null;
};

export type Reader = { engine: AnsweredBy; answer: (statement: Statement, most?: number) => Promise<Iterable<Cell[]>> };

/** A connection of SQLite as it is; whoever reads several statements of it keeps it in one snapshot. */
export const sqliteReading = (db: Database.Database): Reading => ({
  engine: "sqlite",
  ask: (statement) => readStatement(db, statement),
  tables: tableReader(db),
  version: () => dataVersion(db),
});

const readerOf = ({ engine, ask }: Reading): Reader => ({ engine, answer: async (statement, most) => ask(statement, most) });

export const copyReader = (copy: CopyReading): Reader => ({
  engine: "columnar",
  async answer(statement, most = Number.POSITIVE_INFINITY) {
    const sql = compileStatement(statement, duckdb);
    const columns = "columns" in sql ? sql.columns : (sql.types ?? []).map((type) => ({ type, raw: null }));
    const rows: Cell[][] = [];
    for await (const batch of copy.batches({ ...sql, columns })) {
      for (const row of batch) rows.push(row);
      if (rows.length > most) break;
    }
    return rows;
  },
});

/** Reads a database itself, all of one moment. What is read row by row must be closed when the work ends. */
export function reading<T>(database: string, work: (reading: Reading) => T | Promise<T>): Promise<T> {
  const db = connection(database);
  return inLongSnapshot(db, async () => work(sqliteReading(db)));
}

/** The version of the moment that a transaction, just begun, sees; null where the file was changed meanwhile. */
function versionOfMoment(database: string): string | null {
  // From its first statement on the transaction sees one moment: it is known where the file was the same before and after.
  const before = versionOf(database);
  connection(database).prepare("SELECT 1 FROM sqlite_schema LIMIT 1").get();
  return before === versionOf(database) ? before : null;
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
  return done ? done.result : reading(database, (own) => work(readerOf(own)));
}

/**
 * The same beside the database itself, which is read as it is at the very moment of the reading: for what is held against
 * what some engine answers.
 */
export function readingBeside<T>(database: string, plans: Plan[], work: (own: Reading, reader: Reader) => Promise<T>): Promise<T> {
  return reading(database, async (own) => {
    const done = await onCopy(await copyOf(database, plans, versionOfMoment(database)), (reader) => work(own, reader));
    return done ? done.result : work(own, readerOf(own));
  });
}
