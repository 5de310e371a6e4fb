import { createHash } from "node:crypto";
import { quoted } from "@/core/query/dialect/dialect";
import { sqlite } from "@/core/query/dialect/sqlite";
import { type Broken, type Column, humanise, type Schema, type Table } from "@/core/schema/schema";
import type { ColumnSetting, MadeLink } from "@/core/schema/told";
import { allowedIn } from "@/core/shape/allowed";
import { parseCreateTable } from "@/core/shape/createTable";
import type { Storage } from "@/core/types/storage";
import { date, decimal, floating, text, timestamp, type ValueType, whole, yesno } from "@/core/types/valueType";
import type { FileDatabase } from "@/server/source/sqlite/database";
import { checkMadeLink, linksOf, type Reference } from "../links";
import { triggerOn } from "../triggers";
import { type Counts, countValues, firstValues, rowsUpTo, type Slices, type Span, sampleValues, spanOf } from "./countValues";

type Declared = { name: string; type: string; notnull: number; pk: number; default: string | null; hidden: number };

/**
 * `skip`: places, among all tables and views by name, of views that took too long before. `onView` is told the place of a
 * view before it is read, and -1 after it; `onShare` how much of all values has been looked at, 0 to 1. `slices`: how many rows are
 * looked at in one go. `most`: how many values are looked at in all; of a table that has more a sample is taken.
 */
export type Viewing = { skip?: number[]; onView?: (at: number) => void; onShare?: (share: number) => void; slices?: Slices; most?: number };

/** The tables in which the ledger keeps its journal; they are not the business's. */
export const OWN_TABLES = /^next_ledger_/;

/**
 * Reads a database's shape: tables, keys, columns typed from their declarations and from all their values, foreign
 * keys as links, and the links a person made. Every value is looked at once, so a column that holds what its type does
 * not allow is known; where only a sample was taken, the column says so. A table or view that cannot be read is told as
 * broken; the others are there.
 */
export function inspectDatabase(
  db: FileDatabase,
  settings: ColumnSetting[],
  made: MadeLink[] = [],
  { skip = [], onView = () => {}, onShare = () => {}, slices, most = Number.POSITIVE_INFINITY }: Viewing = {},
): Schema {
  const names = db
    .prepare("SELECT name, type FROM sqlite_schema WHERE type IN ('table', 'view') AND name NOT LIKE 'sqlite\\_%' ESCAPE '\\' ORDER BY name")
    .all() as { name: string; type: string }[];
  const spans = new Map(names.map(({ name, type }) => [name, type === "table" && !OWN_TABLES.test(name) ? spanOf(db, name) : null]));
  const all = [...spans.values()].reduce((sum, span) => sum + (span ? span.last - span.first + 1 : 0), 0);
  let done = 0;
  const looked = (rows: number) => {
    done += rows;
    onShare(Math.min(1, done / Math.max(1, all)));
  };
  const look: Look = { slices, looked, left: most };
  const unread: Broken[] = [];
  const cannot = (name: string, type: string, why: string) =>
    unread.push({ kind: type === "view" ? "view" : "table", id: name, label: humanise(name), table: name, why });
  const tables = names.flatMap(({ name, type }, at): Table[] => {
    if (OWN_TABLES.test(name)) return [];
    if (skip.includes(at)) {
      cannot(name, type, "Reading it took too long. Add conditions to it, or copy its rows into a table.");
      return [];
    }
    if (type === "view") onView(at);
    try {
      return [inspectTable(db, name, type === "view", settings, spans.get(name) ?? null, look)];
    } catch (error) {
      const { code = "", message } = error as { code?: string; message: string };
      // What is wrong with the file itself is wrong with all of it.
      if (!/^SQLITE_ERROR/.test(code)) throw error;
      cannot(name, type, `The database could not run it: ${message}.`);
      return [];
    } finally {
      if (type === "view") onView(-1);
    }
  });
  const links = tables.flatMap((t) => linksOf(t, foreignKeys(db, t.name, tables), tables, (table, columns) => isUnique(db, table, columns)));
  const checked = made.map((link) => checkMadeLink(link, tables, (table, columns) => tellsApart(db, table, columns)));
  return {
    tables,
    links: [...links, ...checked.flatMap((c) => ("link" in c ? [c.link] : []))],
    broken: [...unread, ...checked.flatMap((c) => ("broken" in c ? [c.broken] : []))],
    structure: structureOf(db),
  };
}

/** How a database is looked through, and how many values may still be. */
type Look = { slices: Slices | undefined; looked: (rows: number) => void; left: number };

/** What tells one making of the tables and views from another; those of the ledger's journal come and go beside them. */
function structureOf(db: FileDatabase): string {
  const all = db.prepare("SELECT name, sql FROM sqlite_schema WHERE type IN ('table', 'view') ORDER BY name").all() as { name: string; sql: string }[];
  return createHash("sha256")
    .update(JSON.stringify(all.filter(({ name }) => !OWN_TABLES.test(name))))
    .digest("base64");
}

/** So many rows are looked at of a view: it is read once, for what lies behind it may take long. */
const OF_VIEW = 20_000;

/** What the values of a table are: all of them, or a sample where more are there than may still be looked at. */
function valuesOf(db: FileDatabase, name: string, said: Parameters<typeof countValues>[2], span: Span | null, look: Look) {
  const most = Math.max(0, Math.floor(look.left / Math.max(1, said.length)));
  if (Number.isFinite(most)) {
    if (!span) {
      const first = firstValues(db, name, said, Math.min(most, OF_VIEW) + 1);
      look.left -= first.rows * said.length;
      return { ...first, sampled: first.rows > Math.min(most, OF_VIEW) };
    }
    if (rowsUpTo(db, name, most + 1) > most) return { ...sampleValues(db, name, said, span), sampled: true };
  }
  const counted = countValues(db, name, said, { span, looked: look.looked, slices: look.slices });
  look.left -= counted.rows * said.length;
  return { ...counted, sampled: false };
}

function inspectTable(db: FileDatabase, name: string, view: boolean, settings: ColumnSetting[], span: Span | null, look: Look): Table {
  const declared = db
    .prepare('SELECT name, type, "notnull", pk, dflt_value AS "default", hidden FROM pragma_table_xinfo(?) WHERE hidden <> 1')
    .all(name) as Declared[];
  const said = declared.map(({ name: column, type }) => ({
    name: column,
    type,
    set: settings.find((s) => s.table === name && s.column === column)?.type?.kind,
  }));
  const { rows, counts, sampled } = valuesOf(db, name, said, span, look);
  const key = declared
    .filter((c) => c.pk > 0)
    .sort((a, b) => a.pk - b.pk)
    .map((c) => c.name);
  // SQLite numbers the one column declared INTEGER PRIMARY KEY by itself, where that is the row's own number: an index of the key has none.
  const ownIndex = db.prepare("SELECT 1 FROM pragma_index_list(?) WHERE origin = 'pk'").get(name) !== undefined;
  const allowed = view ? new Map<string, string[]>() : allowedValues(db, name);
  const columns = declared.map((column, i): Column => {
    const set = settings.find((s) => s.table === name && s.column === column.name);
    const { type, storage } = columnType(column.type, counts[i] as Counts, set?.type ?? undefined);
    const numbered = key.length === 1 && column.pk > 0 && /^INTEGER$/i.test(column.type) && !ownIndex;
    const unsure = sampled && !(numbered && type.kind === "whole") && !(type.kind === "text" && endsInText(db, name, column.name));
    return {
      name: column.name,
      label: set?.label ?? humanise(column.name),
      type,
      // Of which kind all its timestamps are is not known: they are read as one that may be of either.
      storage: unsure && type.kind === "timestamp" ? "written" : storage,
      nullable: !column.notnull && !column.pk,
      unit: set?.unit ?? undefined,
      format: set?.format ?? undefined,
      note: set?.note ?? undefined,
      ...(numbered ? { filled: "number" as const } : column.default !== null ? { filled: "default" as const } : {}),
      ...(/CHAR/i.test(column.type) && /\(\s*\d+\s*\)/.test(column.type) ? { most: Number(/\d+/.exec(column.type)?.[0]) } : {}),
      ...(allowed.has(column.name) && (type.kind === "text" || type.kind === "whole") ? { allowed: allowed.get(column.name) } : {}),
      ...(column.hidden > 1 ? { generated: true } : {}),
      // Where most values have sixteen digits or more, a total would mean nothing, and soon outgrow 64 bits.
      ...(type.kind === "whole" && (counts[i]?.long ?? 0) * 2 > (counts[i]?.filled ?? 0) ? { long: true } : {}),
      misfits: 0,
      ...(unsure ? { sampled: true as const } : {}),
    };
  });
  const misfits = sampled ? [] : countMisfits(db, name, columns, counts);
  const trigger = triggerOn(db, name);
  return {
    name,
    label: humanise(name),
    columns: columns.map((c, i) => ({ ...c, misfits: misfits[i] ?? 0 })),
    key,
    rows,
    ...(sampled ? { reckoned: true as const } : {}),
    ...(view ? { view } : {}),
    ...(trigger === null ? {} : { trigger }),
  };
}

/**
 * Whether an index tells that all values of a column are texts: it has what is no text before them or behind them
 * (sqlite.org, "Datatypes In SQLite" 4.1).
 */
function endsInText(db: FileDatabase, table: string, column: string): boolean {
  const indexes = db.prepare("SELECT name FROM pragma_index_list(?) WHERE partial = 0").pluck().all(table) as string[];
  const first = db.prepare("SELECT name FROM pragma_index_info(?) WHERE seqno = 0").pluck();
  if (!indexes.some((index) => first.get(index) === column)) return false;
  const [c, from] = [quoted(column), quoted(table)];
  const end = (order: string) => `(SELECT typeof(${c}) FROM ${from} WHERE ${c} IS NOT NULL ORDER BY ${c} ${order} LIMIT 1)`;
  const ends = db
    .prepare(`SELECT ${end("ASC")}, ${end("DESC")}`)
    .raw()
    .get() as (string | null)[];
  return ends.every((kind) => kind === null || kind === "text");
}

/** Lists of values that checks of a table allow its columns. */
function allowedValues(db: FileDatabase, table: string): Map<string, string[]> {
  const sql = db.prepare("SELECT sql FROM sqlite_schema WHERE type = 'table' AND name = ?").pluck().get(table) as string | undefined;
  const parsed = sql === undefined || !/\bCHECK\b/i.test(sql) ? null : parseCreateTable(sql);
  const checks = [...(parsed?.constraints ?? []), ...(parsed?.columns.flatMap((c) => c.constraints) ?? [])].filter((c) => c.kind === "check");
  return new Map(
    parsed?.columns.flatMap(({ name }): [string, string[]][] => {
      const found = checks.flatMap((c) => [allowedIn(c.text, name) ?? []].filter((list) => list.length > 0))[0];
      return found ? [[name, found]] : [];
    }),
  );
}

/** SQLite takes at most 2,000 result columns; a wide table is read in several passes. */
const COLUMNS_AT_ONCE = 200;

const scaleIn = (declared: string): number => Number(/\(\s*\d+\s*,\s*(\d+)\s*\)/.exec(declared)?.[1] ?? /\(\s*(\d+)\s*\)/.exec(declared)?.[1] ?? 2);

/** The type a declaration means, where at least one value (or none at all) bears it out. */
function declaredType(declared: string, seen: Counts): { type: ValueType; storage: Storage } | null {
  const d = declared.toUpperCase();
  const plain = (type: ValueType, bearing: number) => (seen.filled === 0 || bearing > 0 ? { type, storage: "plain" as const } : null);
  if (/SCALED/.test(d)) return { type: decimal(scaleIn(d)), storage: "scaledInteger" };
  if (/BOOL/.test(d)) return plain(yesno, seen.truths);
  if (/TIMESTAMP|DATETIME/.test(d)) return seen.filled === 0 || seen.timestamps > 0 ? { type: timestamp, storage: storageOf(timestamp, declared, seen) } : null;
  if (/^DATE/.test(d)) return plain(date, seen.dates);
  if (/INT/.test(d)) return plain(whole, seen.integers);
  if (/(DEC|NUMERIC|MONEY)/.test(d) && (/,/.test(d) || /MONEY/.test(d)))
    return { type: decimal(/,/.test(d) ? scaleIn(d) : 2), storage: seen.texts > 0 && seen.integers + seen.reals === 0 ? "digits" : "real" };
  if (/REAL|FLOA|DOUB/.test(d)) return plain(floating, seen.integers + seen.reals);
  return null;
}

/** How a decimal lies in a column that a person says is one. */
function storageOf(type: ValueType, declared: string, seen: Counts): Storage {
  if (type.kind === "timestamp") return seen.timestamps > seen.plainTimestamps ? "written" : "plain";
  if (type.kind !== "decimal") return "plain";
  if (/SCALED/i.test(declared)) return "scaledInteger";
  return seen.texts > 0 && seen.integers + seen.reals === 0 ? "digits" : "real";
}

function columnType(declared: string, seen: Counts, set?: ValueType): { type: ValueType; storage: Storage } {
  if (set) return { type: set, storage: storageOf(set, declared, seen) };
  const said = declaredType(declared, seen);
  if (said) return said;
  const plain = (type: ValueType) => ({ type, storage: "plain" as const });
  if (seen.filled > 0) {
    if (seen.dates === seen.filled) return plain(date);
    if (seen.timestamps === seen.filled) return { type: timestamp, storage: storageOf(timestamp, declared, seen) };
    if (!/CHAR|CLOB|TEXT/i.test(declared)) {
      if (seen.integers === seen.filled) return plain(whole);
      if (seen.integers + seen.reals > seen.texts) return plain(floating);
    }
  }
  return plain(text);
}

/** How many values do not fit a column's type, where what was counted of them tells: the tests are those of readFitting (dialect/sqlite.ts). */
function misfitsIn({ type, storage }: Column, seen: Counts): number | null {
  const { filled, texts, integers, reals, dates, timestamps, truths } = seen;
  if (type.kind === "decimal" && storage !== "scaledInteger") return null;
  const fitting = { text: texts, whole: integers, decimal: integers, floating: integers + reals, date: dates, timestamp: timestamps, yesno: truths };
  return filled - fitting[type.kind];
}

/** Counts them; of a column of which it is not told yet its values are read once more. */
function countMisfits(db: FileDatabase, table: string, columns: Column[], counts: Counts[]): number[] {
  const known = columns.map((c, i) => misfitsIn(c, counts[i] as Counts));
  const read = readMisfits(
    db,
    table,
    columns.filter((_, i) => known[i] === null),
  );
  return known.map((n) => n ?? (read.shift() as number));
}

function readMisfits(db: FileDatabase, table: string, columns: Column[]): number[] {
  const misfits: number[] = [];
  for (let at = 0; at < columns.length; at += COLUMNS_AT_ONCE) {
    const part = columns.slice(at, at + COLUMNS_AT_ONCE);
    const select = part.map((c) => `COUNT(${quoted(c.name)}) - COUNT(${sqlite.readFitting(quoted(c.name), c.type, c.storage)})`);
    misfits.push(
      ...(db
        .prepare(`SELECT ${select.join(", ")} FROM ${quoted(table)}`)
        .raw()
        .get() as number[]),
    );
  }
  return misfits;
}

type ForeignKey = { id: number; seq: number; table: string; from: string; to: string | null };

function foreignKeys(db: FileDatabase, name: string, tables: Table[]): Reference[] {
  const rows = db.prepare('SELECT id, seq, "table", "from", "to" FROM pragma_foreign_key_list(?) ORDER BY id DESC, seq').all(name) as ForeignKey[];
  return [...new Set(rows.map((r) => r.id))].flatMap((id) => {
    const parts = rows.filter((r) => r.id === id);
    const parent = tables.find((t) => t.name.toLowerCase() === parts[0]?.table.toLowerCase());
    return parent ? [{ near: parts.map((p) => p.from), parent: parent.name, far: parts.map((p, i) => p.to ?? parent.key[i] ?? "") }] : [];
  });
}

/** Whether no two rows have the same values in columns, as the data stands. */
export function tellsApart(db: FileDatabase, table: string, columns: string[]): boolean {
  if (isUnique(db, table, columns)) return true;
  const names = columns.map(quoted).join(", ");
  const filled = columns.map((c) => `${quoted(c)} IS NOT NULL`).join(" AND ");
  return db.prepare(`SELECT 1 FROM ${quoted(table)} WHERE ${filled} GROUP BY ${names} HAVING COUNT(*) > 1 LIMIT 1`).get() === undefined;
}

/** Whether columns tell rows apart: by a key or unique index, or because the values do. */
function isUnique(db: FileDatabase, table: string, columns: string[]): boolean {
  const pk = db.prepare("SELECT name FROM pragma_table_xinfo(?) WHERE pk > 0").pluck().all(table) as string[];
  const same = (names: string[]) => names.length > 0 && names.every((n) => columns.includes(n));
  if (same(pk)) return true;
  const indexes = db.prepare('SELECT name FROM pragma_index_list(?) WHERE "unique" = 1 AND partial = 0').pluck().all(table) as string[];
  return indexes.some((index) => same(db.prepare("SELECT name FROM pragma_index_info(?)").pluck().all(index) as string[]));
}
