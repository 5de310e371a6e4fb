import type { Column } from "@/core/schema/schema";
import type { ShapeNames } from "@/core/shape/shapedSchema";
import type { ShapeSaid } from "@/core/shape/shapePlan";
import type { ValueType } from "@/core/types/valueType";
import { type Connection, hasOwn, jsonSql, makeOwn } from "@/server/source/connection";
import type { SchemaText } from "./schemaTexts";

/** A column before and after a change; null on the side where it is not. */
export type ColumnPair = { before: Column | null; after: Column | null /** Its values are the very same. */; same: boolean };

/** What an entry of the journal needs to take a change of a table back: its names and columns, and what else it changed of the schema. */
export type ShapeRecord = {
  /** The table's names; null on the side where there is none: it was dropped, or is there again. */
  before: { name: string } | null;
  after: { name: string } | null;
  pairs: ColumnPair[];
  /** Objects as they were, and as they became, where these differ. */
  texts: { before: SchemaText[]; after: SchemaText[] };
  /** What else was said of columns; missing in entries made before this was kept. */
  said?: ShapeSaid[];
  /** The last number given, of a table that never gives one twice. */
  sequence: string | null;
  /** The columns of which values are kept under the entry's number, by their names before, in the order they are kept in. */
  kept: string[];
};

/** The names that a change of the journal gave. */
export const namesIn = ({ before, after, pairs }: ShapeRecord): ShapeNames | null =>
  before && after
    ? {
        from: before.name,
        to: after.name,
        columns: pairs.flatMap(({ before: old, after: made }): [string, string | null][] => (old ? [[old.name, made?.name ?? null]] : [])),
      }
    : null;

/** The columns that a change gave other values, with the types these have. */
export const typesIn = ({ pairs }: ShapeRecord): [column: string, type: ValueType][] =>
  pairs.flatMap(({ after, same }): [string, ValueType][] => (after && !same ? [[after.name, after.type]] : []));

const TABLE = "CREATE TABLE IF NOT EXISTS next_ledger_shape (posting INTEGER PRIMARY KEY, record TEXT NOT NULL)";

export function writeRecord(db: Connection, entry: number, record: ShapeRecord): void {
  makeOwn(db, TABLE);
  db.prepare("INSERT INTO next_ledger_shape VALUES (?, ?)").run(entry, JSON.stringify(record));
}

const hasRecords = (db: Connection): boolean => hasOwn(db, "next_ledger_shape");

export function readRecord(db: Connection, entry: number): ShapeRecord | null {
  const json = hasRecords(db) ? db.prepare("SELECT record FROM next_ledger_shape WHERE posting = ?").pluck().get(entry) : undefined;
  return json === undefined ? null : (JSON.parse(String(json)) as ShapeRecord);
}

/** What tables of earlier entries are called today. @returns by a name and the entry's number, the name now */
export function namesNow(db: Connection): (name: string, entry: number) => string {
  if (!hasRecords(db)) return (name) => name;
  const [was, is] = [jsonSql(db, "record", "before", "name"), jsonSql(db, "record", "after", "name")];
  const renames = db
    .prepare(`SELECT posting, ${was} AS "from", ${is} AS "to" FROM next_ledger_shape WHERE ${is} IS NOT NULL AND ${was} <> ${is} ORDER BY posting`)
    .all() as { posting: number; from: string; to: string }[];
  return (name, entry) => renames.reduce((at, r) => (r.posting > entry && r.from === at ? r.to : at), name);
}

/** What a table may have been called in entries of the journal: its name now, and every name that was given up. */
export function namesBefore(db: Connection, table: string): string[] {
  if (!hasRecords(db)) return [table];
  const before = db
    .prepare(`SELECT DISTINCT ${jsonSql(db, "record", "before", "name")} FROM next_ledger_shape`)
    .pluck()
    .all() as (string | null)[];
  return [...new Set([table, ...before.filter((name) => name !== null)])];
}
