import { compileRows } from "@/core/query/compile";
import { quoted } from "@/core/query/dialect/dialect";
import { sqlite } from "@/core/query/dialect/sqlite";
import type { Worked } from "@/core/shape/worked";
import type { FileDatabase } from "@/server/source/sqlite/database";
import { bindings } from "@/server/source/sqlite/readers";

/** Where what formulas came to is kept until the rows are written. */
const TABLE = "temp.next_ledger_worked";

const rowColumn = (i: number): string => `next_ledger_r${i}`;

/** Works the formulas of a change out for every row of the table as it is, and keeps the values beside the database until it is closed. */
export function workOut(db: FileDatabase, worked: Worked | null): void {
  if (!worked) return;
  db.exec(`DROP TABLE IF EXISTS ${TABLE}`);
  const kept = Object.values(worked.columns).map((c) => c.name);
  const identity = worked.identity.map((_, i) => rowColumn(i));
  // The number of a row is its own index; any other key needs one.
  const byNumber = worked.rows.columns[0]?.type.kind === "whole";
  const key = byNumber ? [`${identity[0]} INTEGER PRIMARY KEY`, ...kept] : [...identity, ...kept, `PRIMARY KEY (${identity.join(", ")})`];
  db.exec(`CREATE TABLE ${TABLE} (${key.join(", ")})`);
  const { text, values } = compileRows(worked.rows, sqlite);
  const columns = [...identity, ...kept];
  db.prepare(`INSERT INTO ${TABLE} (${columns.join(", ")}) SELECT ${columns.map((_, i) => `c${i}`).join(", ")} FROM (${text})`).run(bindings(values));
}

/** SQL that joins what was worked out to the rows of a table. @param identity SQL names of what tells these apart */
export const joinWorked = (worked: Worked | null, rows: string, identity: string[]): string =>
  worked ? ` LEFT JOIN ${TABLE} w ON ${identity.map((name, i) => `w.${rowColumn(i)} = ${rows}.${name}`).join(" AND ")}` : "";

export const workedSql = (name: string): string => `w.${quoted(name)}`;
