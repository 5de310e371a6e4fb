import { mkdtempSync, rmSync, statSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import { DuckDBInstance } from "@duckdb/node-api";
import Database from "better-sqlite3";
import { usualDay } from "@/core/types/calendar";
import { resolveQuery } from "../src/core/query/resolve";
import type { Statement } from "../src/core/query/statement";
import { Workspace, withCopy } from "../src/server/services/workspace/workspace";
import { median, ms, report, timed } from "./measure";
import { QUESTIONS } from "./sales";

/* The columnar copy of a table of 2,000,000 rows: how long it takes to make, and the same questions by the engine and by DuckDB's own SQL. */

const ROWS = 2_000_000;
/** Resolves once a condition holds. */
async function until(holds: () => boolean): Promise<void> {
  while (!holds()) await new Promise((done) => setTimeout(done, 50));
}

export async function measureColumnar(rows = ROWS): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), "next-ledger-bench-"));
  const database = join(folder, "business.sqlite");
  const db = new Database(database);
  db.exec(`PRAGMA synchronous = OFF; CREATE TABLE shop (id INTEGER PRIMARY KEY, name TEXT NOT NULL, region TEXT NOT NULL);
    CREATE TABLE sale (id INTEGER PRIMARY KEY, shop_id INTEGER NOT NULL REFERENCES shop(id), day DATE NOT NULL, item TEXT NOT NULL, pieces INTEGER NOT NULL, amount INTEGER_SCALED(2) NOT NULL);
    WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 1000) INSERT INTO shop SELECT i, 'Shop ' || i, 'Region ' || (i % 12) FROM n;
    WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < ${rows}) INSERT INTO sale SELECT i, 1 + (i * 7919) % 1000, date('2024-01-01', '+' || (i % 900) || ' days'), 'Item ' || (i % 300), 1 + i % 9, (i * 104729) % 1000000 FROM n; ANALYZE;`);
  const { engine, copy } = withCopy(resolve("."), folder, database);
  const ws = new Workspace(folder, database, resolve("."), undefined, engine, copy);
  const opened = await timed(() => ws.schema());
  report(`A table of ${rows.toLocaleString("en")} rows opened: its shape read`, ms(opened), "1 s");
  const schema = await ws.schema();
  const copying = await timed(() => until(() => copy.kept.state?.tables.length === 2));
  const loop = await timed(() => {
    for (const _ of db.prepare("SELECT * FROM sale").raw().safeIntegers().iterate());
  });
  report("… copied by columns ÷ its rows read plainly", `${(copying / loop).toFixed(2)}× (${ms(copying)})`, "");
  report("… the room it takes ÷ the file", `${(statSync(join(folder, "columnar/copy.duckdb")).size / statSync(database).size).toFixed(2)}×`, "");
  const hand = await (await DuckDBInstance.create(":memory:", { threads: "2" })).connect();
  await hand.run(`ATTACH '${join(folder, "hand.duckdb")}' AS h; USE h`);
  await hand.run(
    "CREATE TABLE shop (id BIGINT, name VARCHAR, region VARCHAR); CREATE TABLE sale (id BIGINT, shop_id BIGINT, day DATE, item VARCHAR, pieces BIGINT, amount BIGINT)",
  );
  await hand.run("INSERT INTO shop SELECT i, 'Shop ' || i, 'Region ' || (i % 12) FROM range(1, 1001) r(i)");
  await hand.run(
    `INSERT INTO sale SELECT i, 1 + (i * 7919) % 1000, DATE '2024-01-01' + CAST(i % 900 AS INTEGER), 'Item ' || (i % 300), 1 + i % 9, (i * 104729) % 1000000 FROM range(1, ${rows + 1}) r(i)`,
  );
  for (const [what, spec, sql] of QUESTIONS) {
    const resolved = resolveQuery(spec, schema, { today: usualDay("2026-11-23"), values: {} });
    if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
    const statement: Statement = { of: "rows", plan: resolved.value };
    const [own, others]: [number[], number[]] = [[], []];
    for (let i = 0; i < 7; i++) {
      others.push(await timed(async () => (await hand.runAndReadAll(sql)).getRowsJS()));
      own.push(await timed(() => engine.run<"rows">({ kind: "rows", database, statement }, { client: "bench" })));
    }
    report(`… ${what}: engine ÷ the same by hand in DuckDB`, `${(median(own.slice(1)) / median(others.slice(1))).toFixed(2)}× (${ms(median(own))})`, "1.5×");
  }
  db.close();
  ws.close();
  rmSync(folder, { recursive: true, force: true });
}
