import { duckdb } from "@/core/query/dialect/duckdb";
import { type ReadTable, tablesAsOf, tablesOfAll } from "@/core/query/onCopy";
import type { Plan } from "@/core/query/plan";
import { compileStatement, type Statement } from "@/core/query/statement";
import type { ReadTable as ReadRows } from "@/core/recount/recount";
import type { Cell } from "@/core/types/valueType";
import type { FileDatabase } from "@/server/source/sqlite/database";
import { CopyReading, type Statement as CopyStatement, NotOnCopy } from "./columnar/client";
import { rowsOfCopy, tablesOfCopy } from "./columnar/waiting";
import { JobFailure } from "./failures";
import { LARGE } from "./large";
import { isServer } from "./postgres/address";
import type { Reader, Reading } from "./reading";
import { connection, dataVersion, inLongSnapshot, readStatement } from "./sqlite/readers";
import { tableReader } from "./sqlite/tables";
import { versionOf } from "./sqlite/version";

/** A connection of SQLite as it is; whoever reads several statements of it keeps it in one snapshot. */
export const sqliteReading = (db: FileDatabase): Reading => ({
  engine: "sqlite",
  ask: (statement) => readStatement(db, statement),
  tables: tableReader(db),
  version: () => dataVersion(db),
});

const readerOf = ({ engine, ask }: Reading): Reader => ({
  engine,
  asOf: null,
  async answer(statement, most = Number.POSITIVE_INFINITY) {
    const rows: Cell[][] = [];
    for (const row of ask(statement, most)) if (rows.push(row) > most) break;
    return rows;
  },
});

function forCopy(statement: Statement): CopyStatement {
  const sql = compileStatement(statement, duckdb);
  return { ...sql, columns: "columns" in sql ? sql.columns : (sql.types ?? []).map((type) => ({ type, raw: null })) };
}

/** @param asOf the moment it is of, where that is not now */
export const copyReader = (copy: CopyReading, asOf: string | null = null): Reader => ({
  engine: "columnar",
  asOf,
  async answer(statement, most = Number.POSITIVE_INFINITY) {
    const rows: Cell[][] = [];
    for await (const batch of copy.batches(forCopy(statement))) {
      for (const row of batch) rows.push(row);
      if (rows.length > most) break;
    }
    return rows;
  },
});

/** Reads a database itself, all of one moment. What is read row by row must be closed when the work ends. */
export async function reading<T>(database: string, work: (reading: Reading) => T | Promise<T>): Promise<T> {
  if (isServer(database)) return (await import("./postgres/session")).sessionOf(database).reading(work);
  const db = connection(database);
  return inLongSnapshot(db, async () => work(sqliteReading(db)));
}

/** The version of the moment that a transaction, just begun, sees; null where the file was changed meanwhile. */
function versionOfMoment(database: string): string | null {
  if (isServer(database)) return null;
  // From its first statement on the transaction sees one moment: it is known where the file was the same before and after.
  const before = versionOf(database);
  connection(database).prepare("SELECT 1 FROM sqlite_schema LIMIT 1").get();
  return before === versionOf(database) ? before : null;
}

/** The tables that plans read, where the copy would answer the same and one of them is large; null where it is not asked. */
function tablesAsked(plans: Plan[]): ReadTable[] | null {
  const tables = tablesOfAll(plans);
  return tables?.some((t) => t.rows >= LARGE) ? tables : null;
}

/** The copy, where it has all that is read as it is now, and would answer the same. */
async function copyOf(database: string, plans: Plan[], at: string | null): Promise<CopyReading | null> {
  const path = process.env.NEXT_LEDGER_COPY;
  if (!path || at === null || isServer(database)) return null;
  const tables = tablesAsked(plans);
  return tables && CopyReading.begin(path, database, at, tables);
}

/** So many rows of the copy are waited for at most; where it has more, the database gives them one by one. */
const MOST_WAITED = 50_000;

/** Whether a statement works rows out of many: others are found in the database as fast, or are too many to be waited for. */
const worksOut = ({ of, plan }: Statement): boolean => of === "footing" || of === "lineCount" || plan.grouped;

/**
 * Reads a database, all of one moment; what is worked out of many rows is answered by its columnar copy, where that has
 * them of this moment. For what is made into pages and files; a proof holds it against the database itself.
 */
export function readingWithCopy<T>(database: string, work: (reading: Reading) => T | Promise<T>): Promise<T> {
  return reading(database, (own) => {
    const path = process.env.NEXT_LEDGER_COPY;
    const at = path ? versionOfMoment(database) : null;
    return work(path && at !== null ? besideCopy(own, { path, database, at }) : own);
  });
}

function besideCopy(own: Reading, copy: { path: string; database: string; at: string }): Reading {
  const onCopyNow = (statement: Statement): Cell[][] | null => {
    const tables = worksOut(statement) ? tablesAsked([statement.plan]) : null;
    return tables && rowsOfCopy({ ...copy, tables, statement: forCopy(statement), most: MOST_WAITED });
  };
  return { ...own, ask: (statement, most) => onCopyNow(statement) ?? own.ask(statement, most) };
}

/** The copy of a server's tables as of an earlier moment, where that will do for what some plans ask. */
async function copyAsOf(database: string, plans: Plan[], chosen: string[]): Promise<CopyReading | null> {
  const path = process.env.NEXT_LEDGER_COPY;
  const tables = path && tablesAsOf(plans, chosen, LARGE);
  return path && tables ? CopyReading.begin(path, database, null, tables) : null;
}

/** Work over the copy; undefined where there is none, or it could not answer something after all. */
async function onCopy<T>(copy: CopyReading | null, work: (reader: Reader) => Promise<T>, asOf: string | null = null): Promise<{ result: T } | undefined> {
  if (!copy) return undefined;
  try {
    return { result: await work(copyReader(copy, asOf)) };
  } catch (error) {
    if (!(error instanceof NotOnCopy) && !(error instanceof JobFailure && error.code === "copyRenewed")) throw error;
    return undefined;
  } finally {
    copy.close();
  }
}

/**
 * Reads what some plans ask for, all of one moment: from the columnar copy where it may answer, else from the database.
 * @param work done again from its beginning where the copy could not answer something after all
 * @param asOf the large tables of a server of which an earlier moment will do
 */
export async function readingOf<T>(database: string, plans: Plan[], work: (reader: Reader) => Promise<T>, asOf: string[] = []): Promise<T> {
  const earlier = await copyAsOf(database, plans, asOf);
  const early = await onCopy(earlier, work, earlier?.at);
  if (early) return early.result;
  const done = await onCopy(await copyOf(database, plans, process.env.NEXT_LEDGER_COPY && !isServer(database) ? versionOf(database) : null), work);
  return done ? done.result : reading(database, (own) => work(readerOf(own)));
}

/**
 * The same beside the tables themselves, read as they are at the very moment of the reading: for what is held against what
 * some engine answers. As of an earlier moment these are the copy's rows, one by one.
 */
export async function readingBeside<T>(
  database: string,
  plans: Plan[],
  work: (tables: ReadRows, reader: Reader) => Promise<T>,
  asOf: string[] = [],
): Promise<T> {
  const earlier = await copyAsOf(database, plans, asOf);
  const early = await onCopy(earlier, (reader) => work(rowsAsOf(database, plans, reader.asOf ?? ""), reader), earlier?.at);
  if (early) return early.result;
  return reading(database, async (own) => {
    const done = await onCopy(await copyOf(database, plans, versionOfMoment(database)), (reader) => work(own.tables, reader));
    return done ? done.result : work(own.tables, readerOf(own));
  });
}

/** The tables of some plans, row by row, as the copy has them of a moment. @throws JobFailure copyRenewed where it has them of another meanwhile */
export function rowsAsOf(database: string, plans: Plan[], at: string): ReadRows {
  return tablesOfCopy({ path: process.env.NEXT_LEDGER_COPY ?? "", database, at, tables: tablesOfAll(plans) ?? [] });
}
