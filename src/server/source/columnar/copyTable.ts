import { setImmediate } from "node:timers/promises";
import { type DuckDBAppender, type DuckDBConnection, DuckDBDataChunk, type DuckDBValue, VARCHAR } from "@duckdb/node-api";
import type Database from "better-sqlite3";
import { quoted, storedBeside } from "@/core/query/dialect/dialect";
import { sqlite } from "@/core/query/dialect/sqlite";
import type { Column } from "@/core/schema/column";
import type { Storage } from "@/core/types/storage";
import { TYPES, UNFIT, valueReader } from "./values";

/** A table to be copied: its stored columns as the ledger takes them. */
export type CopiedColumn = Pick<Column, "name" | "type" | "storage"> & { guarded: boolean };
export type TableToCopy = { name: string; rows: number; made: string; columns: CopiedColumn[] };

/** Why a table cannot be copied; it is read from the database itself. */
export class NotCopied extends Error {}

/** The file is another than it was: what was copied of it is not of one moment. */
export class Changed extends Error {}

/** Rows that are read in one go, while the file is held for reading; and rows of a chunk of the copy. */
const SLICE = 16_384;
const CHUNK = 2048;

/** A name by which the rows' own number is reached, past columns that are called so. */
function rowNumber(columns: CopiedColumn[]): string {
  const taken = new Set(columns.map((c) => c.name.toLowerCase()));
  const free = ["_rowid_", "rowid", "oid"].find((name) => !taken.has(name));
  if (!free) throw new NotCopied("Its columns hide the rows' numbers.");
  return free;
}

/** Values that lie otherwise than they are read are read by the database, which then says what is none. */
const asStored = (storage: Storage): boolean => storage === "plain" || storage === "scaledInteger";

type Part = { select: string; read: (stored: unknown) => DuckDBValue | typeof UNFIT };

/** What is read of a column: its value; of a guarded one what does not fit besides; of one read by the database whether anything is there. */
function partsOf(
  { name, type, storage, guarded }: CopiedColumn,
  unlike: () => void,
): { type: (typeof TYPES)[keyof typeof TYPES]; column: string; part: Part }[] {
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
 * @param unchanged whether the file is as it was when the copying began; asked around each slice
 * @param into the name it is to have in the copy until it is whole
 * @returns how many rows there are, and whether some text has letters whose case the copy's engine takes otherwise
 * @throws NotCopied, Changed
 */
export async function copyTable(
  db: Database.Database,
  duck: DuckDBConnection,
  table: TableToCopy,
  { into, unchanged, told }: { into: string; unchanged: () => boolean; told: (rows: number) => void },
): Promise<{ rows: number; unlike: boolean }> {
  let unlike = false;
  const parts = table.columns.flatMap((c) => partsOf(c, () => (unlike = true)));
  const columns = parts.filter((p) => p.column !== "");
  await duck.run(`CREATE OR REPLACE TABLE ${quoted(into)} (${columns.map((c) => `${c.column} ${c.type}`).join(", ")})`);
  const number = rowNumber(table.columns);
  const select = `SELECT ${[number, ...parts.map((p) => p.part.select)].join(", ")} FROM ${quoted(table.name)}`;
  const slice = (where: string) => db.prepare(`${select} ${where} ORDER BY ${number} LIMIT ${SLICE}`).raw().safeIntegers();
  const [first, next] = [slice(""), slice(`WHERE ${number} > ?`)];
  const appender: DuckDBAppender = await duck.createAppender(into);
  const chunk = DuckDBDataChunk.create(columns.map((c) => c.type));
  let rows = 0;
  let last: bigint | null = null;
  try {
    for (;;) {
      if (!unchanged()) throw new Changed();
      const read: unknown[][] = (last === null ? first.all() : next.all(last)) as unknown[][];
      if (!unchanged()) throw new Changed();
      for (let from = 0; from < read.length; from += CHUNK) {
        appendRows(appender, chunk, parts, read.slice(from, from + CHUNK));
        // Whoever asks the copy meanwhile comes in between.
        await setImmediate();
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

function appendRows(appender: DuckDBAppender, chunk: DuckDBDataChunk, parts: ReturnType<typeof partsOf>, rows: unknown[][]): void {
  const columns: DuckDBValue[][] = [];
  parts.forEach(({ column, part }, at) => {
    const values = rows.map((row) => {
      const stored = row[at + 1];
      const value = stored === null || stored === undefined ? null : part.read(stored);
      if (value === UNFIT) throw new NotCopied(`“${column}” holds what does not fit its type.`);
      return value;
    });
    if (column !== "") columns.push(values);
  });
  chunk.reset();
  chunk.setColumns(columns);
  appender.appendDataChunk(chunk);
}
