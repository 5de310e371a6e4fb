import { join } from "node:path";
import Database from "better-sqlite3";
import { usualDay } from "@/core/types/calendar";
import { findTable, type Table } from "../src/core/schema/schema";
import { parseCreateTable } from "../src/core/shape/createTable";
import * as edit from "../src/core/shape/edit";
import { planShape } from "../src/core/shape/plan";
import type { ShapeSpec } from "../src/core/shape/spec";
import { shapeNow, shapeTable, surveyIn } from "../src/server/jobs/shape/run";
import { inspectDatabase } from "../src/server/source/sqlite/inspect";
import { ms, report, timed } from "./measure";

/* Tables of 1,000,000 rows reshaped: a column added, and texts read as decimals beside the bare rebuild of the same table. */

const COLUMNS = "id INTEGER PRIMARY KEY, day DATE, few TEXT, many TEXT, name TEXT, note TEXT";
const FILL = `INSERT INTO t SELECT i, date('2020-01-01', (i % 2000) || ' days'), (i % 5000) || '.50', i || '.25', 'name ' || (i % 5000), 'a note of some length ' || i
  FROM (WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 1000000) SELECT i FROM n)`;
const BARE = `BEGIN IMMEDIATE; ALTER TABLE t RENAME TO o; CREATE TABLE t (${COLUMNS}); INSERT INTO t SELECT * FROM o; DROP TABLE o; COMMIT`;
const entry = { at: "", by: "bench", kind: "shape" as const, name: "", brief: "", table: "t" };

export async function measureShape(folder: string): Promise<void> {
  const file = join(folder, "shape.sqlite");
  const db = new Database(file);
  db.exec(`PRAGMA journal_mode = WAL; PRAGMA synchronous = OFF; CREATE TABLE t (${COLUMNS})`);
  db.exec(FILL);
  const bare = await timed(() => {
    const writer = new Database(file);
    writer.pragma("cache_spill = 40000");
    writer.exec(BARE).close();
  });
  const tableNow = (): Table => findTable(inspectDatabase(db, []), "t") as Table;
  /** Makes a change that was looked at. @returns how long looking and making took */
  async function change(alter: (start: ShapeSpec) => ShapeSpec): Promise<{ looked: number; made: number }> {
    const table = tableNow();
    const { sql, taken } = shapeNow(db, "t");
    const parsed = parseCreateTable(sql ?? "");
    const planned = planShape(alter(edit.startShape(table)), {
      now: parsed && { table, sql: parsed },
      tables: [],
      taken,
      order: "ymd",
      today: usualDay("2026-11-28"),
    });
    if (!planned.ok) throw new Error(JSON.stringify(planned));
    let seen = { digest: "", state: "" };
    const looked = await timed(() => {
      seen = surveyIn(file, db, planned.value);
    });
    return { looked, made: await timed(() => shapeTable(file, planned.value, seen.digest, entry, seen.state)) };
  }
  const added = await change((s) => edit.setColumn(edit.addColumn(s), "new 1", { name: "paid" }));
  report("A column added to 1,000,000 rows, looked at before", ms(added.looked + added.made), "100 ms");
  for (const column of ["few", "many"]) {
    const { looked, made } = await change((s) => edit.setType(s, column, { kind: "decimal", scale: 2 }));
    report(`Texts read as decimals, ${column} different ones ÷ a bare rebuild`, `${(made / bare).toFixed(2)}× (${ms(made)}; ${ms(looked)})`, "3×");
  }
  db.close();
}
