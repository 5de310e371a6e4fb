import { quoted } from "@/core/query/dialect/dialect";
import { keyOf, parseCreateTable } from "@/core/shape/createTable";
import { sqlTokens } from "@/core/shape/sqlTokens";
import { rowidName } from "@/core/shape/worked";
import { JobFailure } from "@/server/source/failures";
import type { FileDatabase } from "@/server/source/sqlite/database";
import { tableText } from "./schemaTexts";

/** Where a table's rows stand while a new one takes its name. */
const OLD = "next_ledger_old";

/** A column of a table that is written anew. */
export type Move = {
  to: string;
  /** SQL of its value; `o` is a row as it was, `k` what was kept of it. */
  value: string;
  /** The column whose very value it has: held against it before the commit. */
  same?: string | undefined;
};

/** What tells a row from every other, before and after: its rowid, or its key. */
export type RowIdentity = { old: string[]; new: string[]; byRowid: boolean };

/** What is kept of rows that a change cannot be taken back without. */
export type Keeping = {
  table: string;
  /** Columns as they were, and what was made of each; null where nothing was. */
  columns: { from: string; to: string | null }[];
};

export const keptTable = (entry: number): string => `next_ledger_kept_${entry}`;
export const identityColumns = (count: number): string[] => Array.from({ length: count }, (_, i) => `r${i}`);

/**
 * How rows are known across a change.
 * @param renamed a column's name after the change by its name before
 */
export function identityOf(oldSql: string, newSql: string, renamed: (column: string) => string | null): RowIdentity {
  const [old, made] = [parseCreateTable(oldSql), parseCreateTable(newSql)];
  if (!old || !made) throw new JobFailure("shapeRefused", "this table is not an ordinary one, so its columns cannot be changed");
  if (!old.withoutRowid) {
    const names = [rowidName(old.columns.map((c) => c.name)), rowidName(made.columns.map((c) => c.name))];
    const [before, after] = names;
    if (!before || !after) throw new JobFailure("shapeRefused", "its columns are called rowid, _rowid_ and oid; rename one first");
    return { old: [before], new: [after], byRowid: true };
  }
  const key = keyOf(old);
  return { old: key.map(quoted), new: key.map((c) => quoted(renamed(c) ?? c)), byRowid: false };
}

const matching = (left: string, a: string[], right: string, b: string[]): string => a.map((name, i) => `${left}.${name} = ${right}.${b[i]}`).join(" AND ");

type Rebuild = {
  table: string;
  /** The statement of the table to be, under its own name. */
  name: string;
  sql: string;
  moves: Move[];
  identity: RowIdentity;
  /** Of a change that is taken back: what was kept of its rows. */
  kept?: { table: string; identity: string[] } | undefined;
  keep?: Keeping | undefined;
  /** SQL that joins to a row what its new values are made of besides. */
  beside?: string | undefined;
};

/**
 * Writes every row of a table anew, into a table of another statement. Its indexes and triggers are gone afterwards; what
 * others refer to it by is left as it is. Untouched columns are held against the rows as they were before these go.
 * @throws JobFailure "shapeRefused" where a value of an untouched column is not the same afterwards
 */
export function rebuild(db: FileDatabase, { table, name, sql, moves, identity, kept, keep, beside = "" }: Rebuild): void {
  const sequence = sequenceOf(db, table);
  db.pragma("legacy_alter_table = ON");
  try {
    db.exec(`ALTER TABLE ${quoted(table)} RENAME TO ${quoted(OLD)}`);
    db.exec(sql);
  } finally {
    db.pragma("legacy_alter_table = OFF");
  }
  const fresh = quoted(name);
  // A column that is SQLite's own number of the row carries it by itself.
  const numbered = identity.byRowid && ownNumber(db, name);
  const rowid = identity.byRowid && !numbered ? [{ to: identity.new[0] as string, value: `o.${identity.old[0]}` }] : [];
  const into = [...rowid, ...moves.map((m) => ({ to: quoted(m.to), value: m.value }))];
  const join = kept ? ` LEFT JOIN ${quoted(kept.table)} k ON ${matching("k", kept.identity, "o", identity.old)}` : "";
  db.exec(
    `INSERT INTO ${fresh} (${into.map((m) => m.to).join(", ")}) SELECT ${into.map((m) => m.value).join(", ")} FROM ${quoted(OLD)} o${join}${beside}${identity.byRowid ? ` ORDER BY o.${identity.old[0]}` : ""}`,
  );
  checkUntouched(db, name, moves, identity);
  if (keep) keepValues(db, name, keep, identity);
  db.exec(`DROP TABLE ${quoted(OLD)}`);
  if (sequence !== null) setSequence(db, name, sequence);
}

/** Whether a table's only key column is declared INTEGER, which makes it SQLite's number of the row. Source: SQLite's documentation, “ROWIDs and the INTEGER PRIMARY KEY”. */
function ownNumber(db: FileDatabase, table: string): boolean {
  const keys = db.prepare("SELECT type FROM pragma_table_xinfo(?) WHERE pk > 0").pluck().all(table) as string[];
  return keys.length === 1 && /^INTEGER$/i.test(keys[0] ?? "") && !/\bPRIMARY\s+KEY\s+DESC\b/i.test(tableText(db, table) ?? "");
}

const count = (db: FileDatabase, from: string): number => Number(db.prepare(`SELECT COUNT(*) FROM ${from}`).pluck().get());

/** Every row is there again, and in untouched columns has the very same values: by another statement than the one that wrote them. */
function checkUntouched(db: FileDatabase, name: string, moves: Move[], identity: RowIdentity): void {
  const pairs = moves.flatMap((m) => (m.same === undefined ? [] : [[`n.${quoted(m.to)}`, `o.${quoted(m.same)}`]]));
  const alike = pairs.map(([a, b]) => `${a} IS ${b} COLLATE BINARY AND typeof(${a}) = typeof(${b})`);
  const both = `${quoted(OLD)} o JOIN ${quoted(name)} n ON ${matching("n", identity.new, "o", identity.old)}`;
  const rows = count(db, quoted(OLD));
  if (count(db, quoted(name)) !== rows || count(db, alike.length === 0 ? both : `${both} WHERE ${alike.join(" AND ")}`) !== rows)
    throw new JobFailure("shapeRefused", "values of columns that were not to be changed would not stay the same");
}

/** Keeps what a change loses: of each row with any such value, the values before, and what they were turned into. */
function keepValues(db: FileDatabase, name: string, { table, columns }: Keeping, identity: RowIdentity): void {
  const made = columns.map(({ from, to }, i) => ({ old: `o.${quoted(from)}`, new: to === null ? null : `n.${quoted(to)}`, o: `o${i}`, n: `n${i}` }));
  const rows = identityColumns(identity.old.length);
  const names = [...rows, ...made.flatMap((m) => (m.new === null ? [m.o] : [m.o, m.n]))];
  const key = identity.byRowid ? "r0 INTEGER PRIMARY KEY" : rows.join(", ");
  const others = names.slice(rows.length);
  const end = identity.byRowid ? "" : `, PRIMARY KEY (${rows.join(", ")})`;
  db.exec(`CREATE TABLE ${quoted(table)} (${[key, ...others].join(", ")}${end})`);
  const values = made.flatMap((m) => (m.new === null ? [m.old] : [m.old, m.new]));
  db.exec(
    `INSERT INTO ${quoted(table)} (${names.join(", ")}) SELECT ${[...identity.old.map((r) => `o.${r}`), ...values].join(", ")}
     FROM ${quoted(OLD)} o JOIN ${quoted(name)} n ON ${matching("n", identity.new, "o", identity.old)} WHERE ${values.map((v) => `${v} IS NOT NULL`).join(" OR ")}`,
  );
}

/** The last number that was given of a table that never gives one twice; null elsewhere. */
export function sequenceOf(db: FileDatabase, table: string): bigint | null {
  if (!db.prepare("SELECT 1 FROM sqlite_schema WHERE name = 'sqlite_sequence'").get()) return null;
  return (db.prepare("SELECT seq FROM sqlite_sequence WHERE name = ?").pluck().safeIntegers(true).get(table) as bigint | undefined) ?? null;
}

/** Goes on counting from a number, where a table gives none twice. */
export function setSequence(db: FileDatabase, table: string, to: bigint): void {
  if (!sqlTokens(tableText(db, table) ?? "").some((t) => t.text.toUpperCase() === "AUTOINCREMENT")) return;
  db.prepare("DELETE FROM sqlite_sequence WHERE name = ?").run(table);
  db.prepare("INSERT INTO sqlite_sequence (name, seq) VALUES (?, ?)").run(table, to);
}
