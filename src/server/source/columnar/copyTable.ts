import { setImmediate } from "node:timers/promises";
import { BIGINT, type DuckDBAppender, type DuckDBConnection, DuckDBDataChunk, type DuckDBValue, VARCHAR } from "@duckdb/node-api";
import { quoted, storedBeside } from "@/core/query/dialect/dialect";
import { sqlite } from "@/core/query/dialect/sqlite";
import type { CopiedColumn, TableToCopy } from "@/core/query/onCopy";
import type { Storage } from "@/core/types/storage";
import type { FileDatabase } from "@/server/source/sqlite/database";
import { freeRowNumber } from "@/server/source/sqlite/rowNumber";
import { TYPES, UNFIT, valueReader } from "./values";

/** Why a table cannot be copied; it is read from the database itself. */
export class NotCopied extends Error {}

/** Nothing can be copied, of whichever table. */
export class NoRoom extends NotCopied {}

/** Told of what is copied meanwhile. `pause`: between any two pieces of the work, whoever asks the copy comes in. */
export type Telling = { told: (rows: number) => void; pause: () => Promise<void> };

/** What was copied of a table: its rows, and whether some text has letters whose case the copy's engine takes otherwise. */
export type Copied = { rows: number; unlike: boolean };

/** The file is another than it was: what was copied of it is not of one moment. */
export class Changed extends Error {}

/** Rows that are read in one go, while the file is held for reading and nobody is answered; and rows of a chunk of the copy. */
const SLICE = 4096;
export const CHUNK = 2048;

/** The column of the copy that has the rows' own numbers. */
const NUMBER = quoted("next ledger row");

/** How a table is read from the database, and what its columns are in the copy: the row's own number, then its values. */
function readingOf(table: TableToCopy, unlike: () => void) {
  const number = freeRowNumber(table.columns.map((c) => c.name));
  if (!number) throw new NotCopied("Its columns use all names of the row number.");
  const parts = [
    { type: BIGINT, column: NUMBER, part: { select: number, read: valueReader({ kind: "whole" }, unlike) } },
    ...table.columns.flatMap((c) => partsOf(c, unlike)),
  ];
  return { number, parts, select: `SELECT ${parts.map((p) => p.part.select).join(", ")} FROM ${quoted(table.name)}` };
}

/** What comes of a column as it is read; without a name in the copy it is only looked at. */
export type Parts = { type: (typeof TYPES)[keyof typeof TYPES]; column: string; part: Part }[];
export const columnsOf = (parts: Parts) => parts.filter((p) => p.column !== "");

/** Values that lie otherwise than they are read are read by the database, which then says what is none. */
const asStored = (storage: Storage): boolean => storage === "plain" || storage === "scaledInteger";

type Part = { select: string; read: (stored: unknown) => DuckDBValue | typeof UNFIT };

/** What is read of a column: its value; of a guarded one what does not fit besides; of one read by the database whether anything is there. */
function partsOf({ name, type, storage, guarded }: CopiedColumn, unlike: () => void): Parts {
  const column = quoted(name);
  const value = valueReader(type, unlike);
  if (!guarded && asStored(storage)) return [{ type: TYPES[type.kind], column, part: { select: column, read: value } }];
  const fitting = sqlite.readFitting(column, type, storage);
  const own = { type: TYPES[type.kind], column, part: { select: fitting, read: value } };
  const beside = `CASE WHEN ${fitting} IS NULL THEN CAST(${column} AS TEXT) END`;
  // Without a guard there is nothing that does not fit, or the ledger does not know of it yet.
  const text = valueReader({ kind: "text" }, unlike);
  const rest: Part = { select: beside, read: guarded ? text : () => UNFIT };
  return [own, { type: VARCHAR, column: guarded ? quoted(storedBeside(name)) : "", part: rest }];
}

/**
 * Copies a table's rows in slices, each read in a moment, so that nobody who writes waits for more than one.
 * @param unchanged whether the file is as it was when the copying began; asked after each slice
 * @param into the name it is to have in the copy until it is whole
 * @throws NotCopied, Changed
 */
export async function copyTable(
  db: FileDatabase,
  duck: DuckDBConnection,
  table: TableToCopy,
  { into, unchanged, told, pause }: Telling & { into: string; unchanged: () => boolean },
): Promise<Copied> {
  let unlike = false;
  const { number, parts, select } = readingOf(table, () => (unlike = true));
  const columns = columnsOf(parts);
  await createTable(duck, into, columns);
  const slice = (where: string) => db.prepare(`${select} ${where} ORDER BY ${number} LIMIT ${SLICE}`).raw().safeIntegers();
  const [first, next] = [slice(""), slice(`WHERE ${number} > ?`)];
  const appender: DuckDBAppender = await duck.createAppender(into);
  const chunk = DuckDBDataChunk.create(columns.map((c) => c.type));
  let rows = 0;
  let last: bigint | null = null;
  try {
    for (;;) {
      const read: unknown[][] = (last === null ? first.all() : next.all(last)) as unknown[][];
      if (!unchanged()) throw new Changed();
      for (let from = 0; from < read.length; from += CHUNK) {
        appendRows(appender, chunk, parts, read.slice(from, from + CHUNK));
        await pause();
      }
      rows += read.length;
      told(rows);
      if (read.length < SLICE) break;
      last = read.at(-1)?.[0] as bigint;
    }
    appender.flushSync();
  } finally {
    appender.closeSync();
  }
  return { rows, unlike };
}

/** @param columns as `columnsOf` gives them */
export const createTable = (duck: DuckDBConnection, into: string, columns: Parts) =>
  duck.run(`CREATE OR REPLACE TABLE ${quoted(into)} (${columns.map((c) => `${c.column} ${c.type}`).join(", ")})`);

/** @throws NotCopied for a value that is none of its column */
export function appendRows(appender: DuckDBAppender, chunk: DuckDBDataChunk, parts: Parts, rows: unknown[][]): void {
  const columns: DuckDBValue[][] = [];
  parts.forEach(({ column, part }, at) => {
    const values = rows.map((row) => {
      const stored = row[at];
      const value = stored === null || stored === undefined ? null : part.read(stored);
      if (value === UNFIT) throw new NotCopied(`Column ${column} has an invalid value.`);
      return value;
    });
    if (column !== "") columns.push(values);
  });
  chunk.reset();
  chunk.setColumns(columns);
  appender.appendDataChunk(chunk);
}

/** Rows that are looked up and replaced in one go. */
const AT_ONCE = 500;

/**
 * Replaces rows of a table in the copy by what the database has of them now, within a transaction of the copy's.
 * @param rows their own numbers; those that are gone go
 * @returns how many rows more there are, and whether some text has letters whose case the copy's engine takes otherwise
 */
export async function copyRows(db: FileDatabase, duck: DuckDBConnection, table: TableToCopy, rows: string[]): Promise<{ more: number; unlike: boolean }> {
  let unlike = false;
  let more = 0;
  const { number, parts, select } = readingOf(table, () => (unlike = true));
  const columns = columnsOf(parts);
  for (let from = 0; from < rows.length; from += AT_ONCE) {
    const some = rows.slice(from, from + AT_ONCE);
    const places = some.map(() => "?").join(", ");
    const read = db.prepare(`${select} WHERE ${number} IN (${places})`).raw().safeIntegers().all(some.map(BigInt)) as unknown[][];
    const list = some.map((row) => BigInt(row).toString()).join(", ");
    const gone = await duck.run(`DELETE FROM ${quoted(table.name)} WHERE ${NUMBER} IN (${list})`);
    more += read.length - Number(gone.rowsChanged);
    if (read.length === 0) continue;
    const appender = await duck.createAppender(table.name);
    appendRows(appender, DuckDBDataChunk.create(columns.map((c) => c.type)), parts, read);
    appender.closeSync();
    await setImmediate();
  }
  return { more, unlike };
}
