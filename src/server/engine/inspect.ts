import type Database from "better-sqlite3";
import { quoted } from "@/core/query/dialect/dialect";
import { sqlite } from "@/core/query/dialect/sqlite";
import { type Column, humanise, type Link, plural, type Schema, type Storage, type Table } from "@/core/schema/schema";
import { date, decimal, floating, text, timestamp, type ValueType, whole, yesno } from "@/core/types/valueType";

/** What a person has set for a column; it stands before what the file says. */
export type ColumnSetting = { table: string; column: string; unit?: string | undefined };

type Counts = { filled: number; integers: number; reals: number; texts: number; dates: number; timestamps: number; truths: number };
type Declared = { name: string; type: string; notnull: number; pk: number };

/**
 * Reads a database's shape: tables, keys, columns typed from their declarations and from all their values, foreign
 * keys as links. Every value is looked at once, so a column that holds what its type does not allow is known.
 */
export function inspectDatabase(db: Database.Database, settings: ColumnSetting[]): Schema {
  const names = db
    .prepare("SELECT name FROM sqlite_schema WHERE type IN ('table', 'view') AND name NOT LIKE 'sqlite\\_%' ESCAPE '\\' ORDER BY name")
    .pluck()
    .all() as string[];
  const tables = names.map((name) => inspectTable(db, name, settings));
  return { tables, links: names.flatMap((name) => inspectLinks(db, name, tables)) };
}

function inspectTable(db: Database.Database, name: string, settings: ColumnSetting[]): Table {
  const declared = db.prepare('SELECT name, type, "notnull", pk FROM pragma_table_xinfo(?) WHERE hidden <> 1').all(name) as Declared[];
  const { rows, counts } = countValues(db, name, declared);
  const columns = declared.map((column, i): Column => {
    const seen = counts[i] as Counts;
    const { type, storage } = columnType(column.type, seen);
    const unit = settings.find((s) => s.table === name && s.column === column.name)?.unit;
    return { name: column.name, label: humanise(column.name), type, storage, nullable: !column.notnull && !column.pk, unit, misfits: 0 };
  });
  const misfits = countMisfits(db, name, columns);
  const key = declared
    .filter((c) => c.pk > 0)
    .sort((a, b) => a.pk - b.pk)
    .map((c) => c.name);
  return { name, label: humanise(name), columns: columns.map((c, i) => ({ ...c, misfits: misfits[i] ?? 0 })), key, rows };
}

/** SQLite takes at most 2,000 result columns; a wide table is read in several passes. */
const COLUMNS_AT_ONCE = 200;

function countValues(db: Database.Database, table: string, columns: Declared[]): { rows: number; counts: Counts[] } {
  const counts: Counts[] = [];
  let rows = 0;
  for (let at = 0; at < columns.length; at += COLUMNS_AT_ONCE) {
    const part = columns.slice(at, at + COLUMNS_AT_ONCE);
    const select = part.flatMap(({ name }) => {
      const c = quoted(name);
      const like = (test: string) => `COUNT(CASE WHEN typeof(${c}) = 'text' AND ${test} THEN 1 END)`;
      return [
        `COUNT(${c})`,
        `COUNT(CASE WHEN typeof(${c}) = 'integer' THEN 1 END)`,
        `COUNT(CASE WHEN typeof(${c}) = 'real' THEN 1 END)`,
        `COUNT(CASE WHEN typeof(${c}) = 'text' THEN 1 END)`,
        like(`length(${c}) = 10 AND date(${c}, '+0 days') = ${c}`),
        like(`length(${c}) >= 16 AND substr(datetime(${c}, '+0 days'), 1, 10) = substr(${c}, 1, 10)`),
        `COUNT(CASE WHEN ${c} IN (0, 1) THEN 1 END)`,
      ];
    });
    const row = db
      .prepare(`SELECT COUNT(*), ${select.join(", ")} FROM ${quoted(table)}`)
      .raw()
      .get() as number[];
    rows = row[0] ?? 0;
    part.forEach((_, i) => {
      const [filled = 0, integers = 0, reals = 0, texts = 0, dates = 0, timestamps = 0, truths = 0] = row.slice(1 + 7 * i, 8 + 7 * i);
      counts.push({ filled, integers, reals, texts, dates, timestamps, truths });
    });
  }
  return { rows, counts };
}

const scaleIn = (declared: string): number => Number(/\(\s*\d+\s*,\s*(\d+)\s*\)/.exec(declared)?.[1] ?? /\(\s*(\d+)\s*\)/.exec(declared)?.[1] ?? 2);

/** The type a declaration means, where at least one value (or none at all) bears it out. */
function declaredType(declared: string, seen: Counts): { type: ValueType; storage: Storage } | null {
  const d = declared.toUpperCase();
  const plain = (type: ValueType, bearing: number) => (seen.filled === 0 || bearing > 0 ? { type, storage: "plain" as const } : null);
  if (/SCALED/.test(d)) return { type: decimal(scaleIn(d)), storage: "scaledInteger" };
  if (/BOOL/.test(d)) return plain(yesno, seen.truths);
  if (/TIMESTAMP|DATETIME/.test(d)) return plain(timestamp, seen.timestamps);
  if (/^DATE/.test(d)) return plain(date, seen.dates);
  if (/INT/.test(d)) return plain(whole, seen.integers);
  if (/(DEC|NUMERIC|MONEY)/.test(d) && (/,/.test(d) || /MONEY/.test(d)))
    return { type: decimal(/,/.test(d) ? scaleIn(d) : 2), storage: seen.texts > 0 && seen.integers + seen.reals === 0 ? "digits" : "real" };
  if (/REAL|FLOA|DOUB/.test(d)) return plain(floating, seen.integers + seen.reals);
  return null;
}

function columnType(declared: string, seen: Counts): { type: ValueType; storage: Storage } {
  const said = declaredType(declared, seen);
  if (said) return said;
  const plain = (type: ValueType) => ({ type, storage: "plain" as const });
  if (seen.filled > 0) {
    if (seen.dates === seen.filled) return plain(date);
    if (seen.timestamps === seen.filled) return plain(timestamp);
    if (!/CHAR|CLOB|TEXT/i.test(declared)) {
      if (seen.integers === seen.filled) return plain(whole);
      if (seen.integers + seen.reals > seen.texts) return plain(floating);
    }
  }
  return plain(text);
}

function countMisfits(db: Database.Database, table: string, columns: Column[]): number[] {
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

function inspectLinks(db: Database.Database, name: string, tables: Table[]): Link[] {
  const rows = db.prepare('SELECT id, seq, "table", "from", "to" FROM pragma_foreign_key_list(?) ORDER BY id DESC, seq').all(name) as ForeignKey[];
  const child = tables.find((t) => t.name === name) as Table;
  const ids = [...new Set(rows.map((r) => r.id))];
  return ids.flatMap((id): Link[] => {
    const parts = rows.filter((r) => r.id === id);
    const parent = tables.find((t) => t.name.toLowerCase() === parts[0]?.table.toLowerCase());
    if (!parent) return [];
    const near = parts.map((p) => p.from);
    const far = parts.map((p, i) => p.to ?? parent.key[i] ?? "");
    const known = (table: Table, columns: string[]) => columns.every((c) => table.columns.some((k) => k.name === c));
    if (!known(child, near) || !known(parent, far)) return [];
    const named = linkName(near, parent);
    const siblings = ids.filter((other) => rows.find((r) => r.id === other)?.table === parts[0]?.table).length;
    const childName = siblings > 1 || child.name === parent.name ? `${plural(child.label)} by ${named}` : plural(child.label);
    return [
      {
        id: `${name}.${near.join("+")}`,
        a: { table: name, columns: near, name: childName, leadsTo: isUnique(db, name, near) ? "one" : "many" },
        b: { table: parent.name, columns: far, name: named, leadsTo: isUnique(db, parent.name, far) ? "one" : "many" },
      },
    ];
  });
}

/** The name of a link as its column says it: "from_harbour_id" leads to the "from harbour". */
function linkName(columns: string[], parent: Table): string {
  const [column] = columns;
  if (columns.length > 1 || !column) return parent.label;
  const stem = humanise(column.replace(/[_ ]?(id|key|code|no)$/i, ""));
  return stem === "" ? parent.label : stem;
}

/** Whether columns tell rows apart: by a key or unique index, or because the values do. */
function isUnique(db: Database.Database, table: string, columns: string[]): boolean {
  const pk = db.prepare("SELECT name FROM pragma_table_xinfo(?) WHERE pk > 0").pluck().all(table) as string[];
  const same = (names: string[]) => names.length > 0 && names.every((n) => columns.includes(n));
  if (same(pk)) return true;
  const indexes = db.prepare('SELECT name FROM pragma_index_list(?) WHERE "unique" = 1 AND partial = 0').pluck().all(table) as string[];
  return indexes.some((index) => same(db.prepare("SELECT name FROM pragma_index_info(?)").pluck().all(index) as string[]));
}
