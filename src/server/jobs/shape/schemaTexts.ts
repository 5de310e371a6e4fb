import { quoted } from "@/core/query/dialect/dialect";
import type { FileDatabase } from "@/server/source/sqlite/database";

/** One object of a database as its statement says it. */
export type SchemaText = { type: "table" | "index" | "view" | "trigger"; name: string; table: string; sql: string };

/** What the database is made of, without what SQLite and the ledger keep for themselves. */
export const schemaTexts = (db: FileDatabase): SchemaText[] =>
  db
    .prepare(
      `SELECT type, name, tbl_name AS "table", sql FROM sqlite_schema
       WHERE sql IS NOT NULL AND name NOT LIKE 'sqlite\\_%' ESCAPE '\\' AND name NOT LIKE 'next\\_ledger\\_%' ESCAPE '\\' ORDER BY rowid`,
    )
    .all() as SchemaText[];

export const tableText = (db: FileDatabase, name: string): string | null =>
  (db.prepare("SELECT sql FROM sqlite_schema WHERE type = 'table' AND lower(name) = lower(?)").pluck().get(name) as string | undefined) ?? null;

const told = ({ type, name }: SchemaText): string => `${type} ${name}`;

/** What is in the first list, and not the very same in the second. */
export function otherTexts(texts: SchemaText[], than: SchemaText[]): SchemaText[] {
  const there = new Map(than.map((t) => [told(t), t]));
  return texts.filter((t) => there.get(told(t))?.sql !== t.sql || there.get(told(t))?.table !== t.table);
}

/** Indexes and triggers on a table: they go with it, and are made again. */
export const belongings = (texts: SchemaText[], table: string): SchemaText[] =>
  texts.filter((t) => (t.type === "index" || t.type === "trigger") && t.table.toLowerCase() === table.toLowerCase());

/**
 * Makes objects as they were: indexes, triggers and views are made again by their statements; of tables that stand, the
 * statement is put back, as SQLite wrote it before.
 */
export function restoreTexts(db: FileDatabase, before: SchemaText[], now: SchemaText[]): void {
  for (const { type, name } of now) if (type !== "table") db.exec(`DROP ${type} IF EXISTS ${quoted(name)}`);
  const tables = before.filter((t) => t.type === "table");
  if (tables.length > 0) writeTexts(db, tables);
  for (const kind of ["index", "view", "trigger"] as const) for (const { type, sql } of before) if (type === kind) db.exec(sql);
}

/** Puts statements back into the schema. They are SQLite's own of a moment ago, of tables with the same columns. */
function writeTexts(db: FileDatabase, tables: SchemaText[]): void {
  db.unsafeMode(true);
  try {
    db.pragma("writable_schema = ON");
    const put = db.prepare("UPDATE sqlite_schema SET sql = ? WHERE type = 'table' AND name = ?");
    for (const { name, sql } of tables) put.run(sql, name);
  } finally {
    db.pragma("writable_schema = RESET");
    db.unsafeMode(false);
  }
}

/**
 * Why the database's objects do not go together, in SQLite's words; null where they do. A column that is renamed makes SQLite
 * read all of them. Source: its documentation, “ALTER TABLE RENAME”.
 */
export function schemaFault(db: FileDatabase): string | null {
  const legacy = db.pragma("legacy_alter_table", { simple: true });
  db.pragma("legacy_alter_table = OFF");
  db.exec("SAVEPOINT next_ledger_fault");
  try {
    db.exec("CREATE TABLE next_ledger_fault (a); ALTER TABLE next_ledger_fault RENAME COLUMN a TO b;");
    prepareTriggers(db);
    return null;
  } catch (error) {
    return (error as Error).message;
  } finally {
    db.exec("ROLLBACK TO next_ledger_fault; RELEASE next_ledger_fault");
    db.pragma(`legacy_alter_table = ${legacy}`);
  }
}

/** Prepares what fires each trigger, without doing it: SQLite then reads its statements whole. @throws what SQLite says of one it cannot */
function prepareTriggers(db: FileDatabase): void {
  const tables = db.prepare("SELECT DISTINCT tbl_name FROM sqlite_schema WHERE type = 'trigger'").pluck().all() as string[];
  for (const table of tables) {
    const columns = db.prepare("SELECT name FROM pragma_table_xinfo(?) WHERE hidden = 0").pluck().all(table) as string[];
    const set = columns.map((c) => `${quoted(c)} = ${quoted(c)}`).join(", ");
    for (const sql of [`INSERT INTO ${quoted(table)} DEFAULT VALUES`, `UPDATE ${quoted(table)} SET ${set}`, `DELETE FROM ${quoted(table)}`])
      try {
        db.prepare(sql);
      } catch (error) {
        // A view without a trigger for it takes no such statement.
        if (!/^cannot modify/.test((error as Error).message)) throw new Error(`a trigger on ${table}: ${(error as Error).message}`);
      }
  }
}
