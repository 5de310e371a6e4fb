import { quoted } from "@/core/query/dialect/dialect";
import type { FileDatabase } from "@/server/source/sqlite/database";
import { freeRowNumber } from "@/server/source/sqlite/rowNumber";
import { askHeld, tellMoved } from "./client";
import type { Moved } from "./protocol";

/*
 * What the ledger itself writes reaches the columnar copy from the same change: which rows it touched is written down by
 * triggers of the writing connection alone, which nobody else sees and the file does not keep.
 */

/** From so many touched rows of a table on it is copied anew. */
const MOST_TOUCHED = 50_000;

let held: string[] = [];
let moves: Moved[] = [];

/** Before a job that may write: which tables the copy has of its database. */
export async function beginWatch(database: string): Promise<void> {
  const path = process.env.NEXT_LEDGER_COPY;
  moves = [];
  held = path ? await askHeld(path, database) : [];
}

/** After it: the copy is told, so that whoever asks next finds it as the database is. */
export async function endWatch(): Promise<void> {
  const path = process.env.NEXT_LEDGER_COPY;
  const told = moves;
  moves = [];
  if (path) for (const moved of told) await tellMoved(path, moved);
}

export type Watch = { moved: (database: string, from: string, to: string) => void };

/** Watches a connection from within its transaction; null where the copy has nothing of its database. */
export function watchRows(db: FileDatabase): Watch | null {
  if (held.length === 0) return null;
  // Rows that give way to others by a rule of their table are told of too.
  db.pragma("recursive_triggers = ON");
  db.exec("CREATE TEMP TABLE next_ledger_touched (tbl TEXT NOT NULL, number INTEGER NOT NULL, PRIMARY KEY (tbl, number)) WITHOUT ROWID");
  const watched: string[] = [];
  held.forEach((table, at) => {
    const columns = db.prepare("SELECT name FROM pragma_table_xinfo(?)").pluck().all(table) as string[];
    const number = freeRowNumber(columns);
    if (columns.length === 0 || number === null) return;
    watched.push(table);
    for (const [deed, rows] of [
      ["INSERT", ["NEW"]],
      ["UPDATE", ["OLD", "NEW"]],
      ["DELETE", ["OLD"]],
    ] as const) {
      // Not OR IGNORE: a statement's own OR goes before that of what it sets off (SQLite's documentation, “CREATE TRIGGER”).
      const notes = rows.map((row) => {
        const [name, n] = [`'${table.replaceAll("'", "''")}'`, `${row}.${number}`];
        return `INSERT INTO next_ledger_touched SELECT ${name}, ${n} WHERE NOT EXISTS (SELECT 1 FROM next_ledger_touched WHERE tbl = ${name} AND number = ${n});`;
      });
      db.exec(`CREATE TEMP TRIGGER next_ledger_${deed}_${at} AFTER ${deed} ON main.${quoted(table)} BEGIN ${notes.join(" ")} END`);
    }
  });
  return {
    moved: (database, from, to) => {
      const read = db.prepare("SELECT number FROM next_ledger_touched WHERE tbl = ? LIMIT ?").pluck().safeIntegers();
      const touchedOf = (name: string): string[] | null => {
        const rows = (read.all(name, MOST_TOUCHED + 1) as bigint[]).map(String);
        return rows.length > MOST_TOUCHED ? null : rows;
      };
      moves.push({ database, from, to, watched: watched.map((name) => ({ name, touched: touchedOf(name) })) });
    },
  };
}
