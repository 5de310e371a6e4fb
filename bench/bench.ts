import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import Database from "better-sqlite3";
import Papa from "papaparse";
import { usualDay } from "@/core/types/calendar";
import { emptyQuery } from "../src/core/query/empty";
import type { Plan } from "../src/core/query/plan";
import { resolveQuery } from "../src/core/query/resolve";
import type { QuerySpec } from "../src/core/query/spec";
import type { Job } from "../src/server/engine/protocol";
import { Workspace } from "../src/server/services/workspace/workspace";
import { endless } from "../test/support/endless";
import { measureColumnar } from "./columnar";
import { measureData } from "./data";
import { measureDuplicates } from "./duplicates";
import { measureJournal } from "./journal";
import { alone, median, ms, quantile, report, timed } from "./measure";
import { measurePostgres } from "./postgres";
import { measureQuestions } from "./questions";
import { measureReports } from "./reports";
import { measureShape } from "./shape";
import { measureDashboard, measurePivot } from "./show";
import { measureSpread } from "./spread";
import { measureWorkbench } from "./workbench";

/* Measures what docs/speed.md promises; each figure beside what it is held against. Times are medians of several runs. */

const ROWS = 1_000_000;
const folder = mkdtempSync(join(tmpdir(), "next-ledger-bench-"));
const database = join(folder, "business.sqlite");
console.log(`A table of ${ROWS.toLocaleString("en")} rows, joined to one of 1,000…`);
const db = new Database(database);
db.exec(`PRAGMA synchronous = OFF; CREATE TABLE shop (id INTEGER PRIMARY KEY, name TEXT NOT NULL, region TEXT NOT NULL);
  CREATE TABLE sale (id INTEGER PRIMARY KEY, shop_id INTEGER NOT NULL REFERENCES shop(id), day DATE NOT NULL, item TEXT NOT NULL, pieces INTEGER NOT NULL, amount INTEGER_SCALED(2) NOT NULL);
  WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 1000) INSERT INTO shop SELECT i, 'Shop ' || i, 'Region ' || (i % 12) FROM n;
  WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < ${ROWS}) INSERT INTO sale SELECT i, 1 + (i * 7919) % 1000, date('2024-01-01', '+' || (i % 900) || ' days'), 'Item ' || (i % 300), 1 + i % 9, (i * 104729) % 1000000 FROM n; ANALYZE;`);
db.close();

const ws = new Workspace(folder, database, resolve("."));
const schema = await ws.schema();
const field = (column: string, join = "") => ({ kind: "field" as const, join, column });
const joined = { ...emptyQuery("sale"), joins: [{ id: "s", from: "", link: "sale.shop_id", toward: "b" as const, way: "keep" as const }] };
const list: QuerySpec = {
  ...joined,
  columns: ["id", "day", "item", "pieces", "amount"]
    .map((c): QuerySpec["columns"][number] => ({ id: c, value: field(c) }))
    .concat([
      { id: "shop", value: field("name", "s") },
      { id: "region", value: field("region", "s") },
    ]),
};
const grouped: QuerySpec = {
  ...joined,
  grouped: true,
  columns: [
    { id: "r", value: field("region", "s") },
    { id: "n", value: null, figure: "count" },
    { id: "a", value: field("amount"), figure: "total" },
  ],
};
const planOf = (spec: QuerySpec): Plan => {
  const resolved = resolveQuery(spec, schema, { today: usualDay("2026-11-23"), values: {} });
  if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
  return resolved.value;
};
const caller = { client: "bench" };
const rowsJob = (spec: QuerySpec, window?: { offset: number; rows: number }): Job<"rows"> => ({
  kind: "rows",
  database,
  statement: { of: "rows", plan: planOf(spec), window },
});

// The engine beside the same question written by hand on the same driver.
const hand = new Database(database, { readonly: true });
hand.pragma("cache_size = -65536");
const byHand = hand.prepare("SELECT s.region, COUNT(*), SUM(t.amount) FROM sale t LEFT JOIN shop s ON s.id = t.shop_id GROUP BY s.region").raw();
const [engineTimes, handTimes]: [number[], number[]] = [[], []];
for (let i = 0; i < 7; i++) {
  handTimes.push(await timed(() => byHand.all()));
  engineTimes.push(await timed(() => ws.engine.run<"rows">(rowsJob(grouped), caller)));
}
report(
  "Grouped over the join: engine ÷ the same SQL by hand",
  `${(median(engineTimes.slice(1)) / median(handTimes.slice(1))).toFixed(2)}× (${ms(median(engineTimes))})`,
  "1.15×",
);

await measureQuestions(ws, database, planOf);
await measureWorkbench(ws, database, planOf);

const first = rowsJob(list, { offset: 0, rows: 100 });
await ws.engine.run<"rows">(first, caller);
const firstTimes: number[] = [];
for (let i = 0; i < 15; i++) firstTimes.push(await timed(() => ws.engine.run<"rows">(first, caller)));
report("First 100 rows of the join, warm", ms(median(firstTimes)), "300 ms");
const deepTimes: number[] = [];
for (let i = 0; i < 5; i++) deepTimes.push(await timed(() => ws.engine.run<"rows">(rowsJob(list, { offset: 100_000 + i * 200_000, rows: 100 }), caller)));
report("100 rows from anywhere in it, slowest of five places", ms(Math.max(...deepTimes)), "100 ms");

// Two people's heavy queries beside a third one's small ones.
const heavy: Job<"singles"> = { kind: "singles", database, statements: [{ of: "rows", plan: endless(planOf(list).source.table) }] };
const abort = new AbortController();
const running = ["one", "one", "two", "two"].map((client) => ws.engine.run<"singles">(heavy, { client, signal: abort.signal }).catch(() => {}));
await new Promise((done) => setTimeout(done, 500));
const small: number[] = [];
for (let i = 0; i < 100; i++) small.push(await timed(() => ws.engine.run<"rows">(first, { client: "light" })));
report("A small query beside four heavy ones of two other people, 95th percentile", ms(quantile(small, 0.95)), "100 ms");
const stopTime = await timed(async () => {
  abort.abort();
  await Promise.all(running);
});
report("Stopping four heavy queries", ms(stopTime), "250 ms");

const csv = await alone({ kind: "export", format: "csv", database, plan: planOf(list), path: join(folder, "out.csv") });
const plainLoop = await timed(() => {
  const statement = hand
    .prepare("SELECT t.id, t.day, t.item, t.pieces, t.amount, s.name, s.region FROM sale t LEFT JOIN shop s ON s.id = t.shop_id ORDER BY t.id")
    .raw();
  let lines: unknown[][] = [];
  let text = "";
  const chunks: string[] = [];
  for (const row of statement.iterate() as Iterable<unknown[]>) {
    lines.push(row);
    if (lines.length < 500) continue;
    text = `${Papa.unparse(lines as string[][], { newline: "\r\n" })}\r\n`;
    if (chunks.push(text) > 50) writeFileSync(join(folder, "plain.csv"), chunks.splice(0).join(""), { flag: "a" });
    lines = [];
  }
});
report(
  `CSV of ${ROWS.toLocaleString("en")} rows: speed ÷ a plain loop with the same writer`,
  `${(plainLoop / csv.time).toFixed(2)}× (${ms(csv.time)})`,
  "0.8×",
);
report("  most memory", `${csv.peakMb.toFixed(0)} MB`, "300 MB");

await measureReports({ ws, database, folder, list, planOf });
await measurePivot(ws, database, planOf(list));
await measureDashboard();
await measureData(folder);
await measureShape(folder);
await measureJournal(folder);
await measureColumnar();
await measurePostgres();
await measureSpread();
await measureDuplicates(folder);

hand.close();
ws.close();
rmSync(folder, { recursive: true, force: true });
process.exit(0);
