import { createReadStream, createWriteStream } from "node:fs";
import { join } from "node:path";
import { DuckDBInstance } from "@duckdb/node-api";
import Database from "better-sqlite3";
import { usualDay } from "@/core/types/calendar";
import { withDerivedFields } from "../src/core/derive/derive";
import type { DerivedField } from "../src/core/derive/spec";
import type { ImportSpec } from "../src/core/import/spec";
import type { Tally } from "../src/core/posting/outcome";
import { resolvePosting } from "../src/core/posting/plan";
import type { PostingSpec } from "../src/core/posting/spec";
import { compileRows } from "../src/core/query/compile";
import { sqlite } from "../src/core/query/dialect/sqlite";
import { emptyQuery } from "../src/core/query/empty";
import { resolveQuery } from "../src/core/query/resolve";
import type { QueryColumn } from "../src/core/query/spec";
import { findTable, type Schema, type Table } from "../src/core/schema/schema";
import type { PostingJob } from "../src/server/jobs/work";
import { inspectDatabase } from "../src/server/source/sqlite/inspect";
import { bindings } from "../src/server/source/sqlite/readers";
import { alone, median, ms, report, timed } from "./measure";

/* The data side: a file in, rollups over many rows, a posting; each beside the same done by hand on the same driver. */

export const ENTRY = { at: "2026-11-23T08:00:00Z", by: "bench", kind: "posting" as const, name: "bench", brief: "", table: "t" };

export async function measureData(folder: string): Promise<void> {
  await measureImport(folder);
  await measureRollups(folder);
  await measurePosting(folder);
}

const COLUMNS = 10;
const LINES = 1_000_000;

export async function measureImport(folder: string): Promise<void> {
  const path = join(folder, "in.csv");
  const out = createWriteStream(path);
  out.write(`${Array.from({ length: COLUMNS }, (_, i) => `c${i}`).join(",")}\n`);
  for (let i = 0; i < LINES; i++) {
    const line = `${i},name ${i % 999},${(i * 7919) % 100000}.${String(i % 100).padStart(2, "0")},2026-0${1 + (i % 9)}-1${i % 10},${i % 2 ? "yes" : "no"},town ${i % 77},${i % 13},${(i * 31) % 9973},code-${i % 4999},${i % 3 === 0 ? "" : "a note"}\n`;
    if (!out.write(line)) await new Promise((resume) => out.once("drain", () => resume(undefined)));
  }
  await new Promise((done) => out.end(() => done(undefined)));
  const byHand = await importedByHand(path, join(folder, "plain.sqlite"));
  const kinds = ["whole", "text", "decimal", "date", "yesno", "text", "whole", "whole", "text", "text"] as const;
  const spec: ImportSpec = {
    format: { kind: "delimited", delimiter: ",", quote: '"', encoding: "utf-8", heading: true, comma: false },
    columns: kinds.map((kind, i) => ({ name: `c${i}`, type: kind === "decimal" ? { kind, scale: 2 } : { kind }, dates: "ymd", left: false })),
    misfits: "keep",
    into: { kind: "table", name: "t", key: null },
  };
  const database = join(folder, "in.sqlite");
  new Database(database).exec("CREATE TABLE first (x)").close();
  const scan = await alone({ kind: "scanFile", path, name: "in.csv", format: spec.format });
  const done = await alone({ kind: "importFile", path, spec, into: { kind: "table", database, entry: { ...ENTRY, kind: "table" } } });
  const seconds = (time: number) => `${(time / 1000).toFixed(1)} s`;
  report(
    `A file of ${LINES.toLocaleString("en")} × ${COLUMNS} looked through and brought in ÷ DuckDB reading it and a bare insert loop`,
    `${((scan.time + done.time) / byHand).toFixed(2)}× (${seconds(scan.time)} + ${seconds(done.time)})`,
    "2.5×",
  );
  report("  most memory", `${Math.max(scan.peakMb, done.peakMb).toFixed(0)} MB`, "300 MB");
}

/** The same with nothing but what cannot be left out: read by DuckDB, and its rows inserted one by one. */
async function importedByHand(path: string, into: string): Promise<number> {
  const connection = await (await DuckDBInstance.create(":memory:")).connect();
  const read = await timed(() => connection.run("CREATE TABLE read AS SELECT * FROM read_csv($1, all_varchar = true)", [path]));
  connection.closeSync();
  const plain = new Database(into);
  plain.exec(`CREATE TABLE t (${Array.from({ length: COLUMNS }, (_, i) => `c${i}`).join(", ")}); BEGIN`);
  const insert = plain.prepare(`INSERT INTO t VALUES (${Array.from({ length: COLUMNS }, () => "?").join(", ")})`);
  let inserted = 0;
  let carried = "";
  for await (const block of createReadStream(path, { encoding: "utf8", highWaterMark: 1 << 20 }) as AsyncIterable<string>) {
    const lines = (carried + block).split("\n");
    carried = lines.pop() ?? "";
    const rows = lines.map((line) => line.split(",").map((text, i) => (i === 0 || i === 6 || i === 7 ? BigInt(Number(text) || 0) : text)));
    inserted += await timed(() => rows.forEach((row) => insert.run(row)));
  }
  inserted += await timed(() => plain.exec("COMMIT"));
  plain.close();
  return read + inserted;
}

async function measureRollups(folder: string): Promise<void> {
  const path = join(folder, "rollups.sqlite");
  const db = new Database(path);
  db.exec(`PRAGMA synchronous = OFF; CREATE TABLE parent (id INTEGER PRIMARY KEY, name TEXT);
    CREATE TABLE child (id INTEGER PRIMARY KEY, parent_id INTEGER NOT NULL REFERENCES parent(id), day DATE NOT NULL, amount INTEGER_SCALED(2) NOT NULL, kind INTEGER NOT NULL);
    WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 100000) INSERT INTO parent SELECT i, 'Parent ' || i FROM n;
    WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 1000000) INSERT INTO child SELECT i, 1 + (i * 7919) % 100000, date('2024-01-01', '+' || (i % 900) || ' days'), (i * 104729) % 1000000, i % 5 FROM n;
    CREATE INDEX child_parent ON child (parent_id); ANALYZE;`);
  const rollup = (id: string, column: Omit<QueryColumn, "id">, kind?: string): DerivedField => {
    const conditions = kind
      ? [{ id: "w", left: { kind: "field" as const, join: "", column: "kind" }, operator: "is" as const, values: [{ kind: "value" as const, text: kind }] }]
      : [];
    const query = { ...emptyQuery("child"), grouped: true, columns: [{ id: "f", ...column }], conditions };
    return { version: 1, id, label: id, table: "parent", definition: { kind: "rollup", step: { link: "child.parent_id", toward: "a" }, query } };
  };
  const amount = { kind: "field" as const, join: "", column: "amount" };
  const fields = [
    rollup("r1", { value: null, figure: "count" }),
    rollup("r2", { value: amount, figure: "total" }),
    rollup("r3", { value: { ...amount, column: "day" }, figure: "greatest" }),
    rollup("r4", { value: amount, figure: "total" }, "1"),
    rollup("r5", { value: amount, figure: "least" }, "2"),
  ];
  const schema = withDerivedFields(inspectDatabase(db, []), fields, usualDay("2026-11-23"));
  const columns = ["id", "name", "r1", "r2", "r3", "r4", "r5"].map((column) => ({ id: column, value: { kind: "field" as const, join: "", column } }));
  const resolved = resolveQuery({ ...emptyQuery("parent"), columns }, schema, { today: usualDay("2026-11-23"), values: {} });
  if (!resolved.ok) throw new Error(JSON.stringify([schema.broken, resolved.problems]));
  const sql = compileRows(resolved.value, sqlite);
  const grouped = `SELECT p.id, p.name, COALESCE(g.n, 0), g.a, g.d, g.a1, g.l FROM parent p LEFT JOIN (SELECT parent_id, COUNT(*) AS n, SUM(amount) AS a, MAX(day) AS d,
    SUM(CASE WHEN kind = 1 THEN amount END) AS a1, MIN(CASE WHEN kind = 2 THEN amount END) AS l FROM child GROUP BY parent_id) g ON g.parent_id = p.id ORDER BY p.id`;
  const [ours, theirs]: [number[], number[]] = [[], []];
  const reader = new Database(path, { readonly: true });
  reader.pragma("cache_size = -65536");
  const run = (text: string, values: Record<string, unknown>) => reader.prepare(text).raw().all(values).length;
  for (let i = 0; i < 5; i++) {
    const since = performance.now();
    run(grouped, {});
    const between = performance.now();
    run(sql.text, bindings(sql.values));
    theirs.push(between - since);
    ours.push(performance.now() - between);
  }
  const first: number[] = [];
  const sight = compileRows(resolved.value, sqlite, { offset: 50_000, rows: 100 });
  for (let i = 0; i < 5; i++) first.push(await timed(() => reader.prepare(sight.text).raw().all(bindings(sight.values))));
  reader.close();
  db.close();
  report("  100 rows of them in sight", ms(median(first)), "300 ms");
  report("Five rollups, 100,000 over 1,000,000 rows ÷ the best SQL by hand", `${(median(ours) / median(theirs)).toFixed(2)}× (${ms(median(ours))})`, "1.3×");
}

/** The posting that is measured: rows of one table added to another, what is there already left. */
export function postingOf(schema: Schema, database: string): PostingJob {
  const spec: PostingSpec = {
    version: 1,
    source: { kind: "table", table: "source" },
    action: "add",
    target: "target",
    same: ["mark"],
    present: "leave",
    breaking: "refuse",
    pairs: ["mark", "day", "amount", "note"].map((column) => ({ column, value: { kind: "field", name: column } })),
  };
  const made = resolvePosting(spec, schema, [{ table: findTable(schema, "source") as Table, origin: null }], usualDay("2026-11-23"));
  if (!made.ok) throw new Error(JSON.stringify(made.problems));
  const steps = made.value.map(({ posting: plan, rows }) => ({ plan, source: { database, rows } }));
  return { steps, controls: [] };
}

export async function measurePosting(folder: string): Promise<void> {
  const path = join(folder, "posting.sqlite");
  const db = new Database(path);
  const table = (name: string) => `CREATE TABLE ${name} (id INTEGER PRIMARY KEY, mark TEXT NOT NULL UNIQUE, day DATE, amount INTEGER_SCALED(2), note TEXT);`;
  db.exec(`PRAGMA synchronous = OFF; ${table("target")}${table("plain")} CREATE TABLE source (mark TEXT, day DATE, amount INTEGER_SCALED(2), note TEXT);
    WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 100000) INSERT INTO source SELECT 'mark ' || i, date('2024-01-01', '+' || (i % 900) || ' days'), i * 7, 'a note' FROM n;
    INSERT INTO target (mark) SELECT 'there ' || mark FROM source LIMIT 50000; INSERT INTO plain (mark) SELECT 'there ' || mark FROM source LIMIT 50000; ANALYZE; PRAGMA synchronous = FULL;`);
  const schema = inspectDatabase(db, []);
  const rows = db.prepare("SELECT mark, day, amount, note FROM source").raw().all();
  const insert = db.prepare("INSERT INTO plain (mark, day, amount, note) VALUES (?, ?, ?, ?)");
  const bare = await timed(() => db.transaction(() => rows.forEach((r) => insert.run(r as unknown[])))());
  db.close();
  const posting = postingOf(schema, path);
  const preview = await alone({ kind: "postingPreview", database: path, posting, path: join(folder, "preview.sqlite") });
  const posted = await alone({
    kind: "post",
    database: path,
    posting,
    digest: (preview.result as Tally).digest,
    again: false,
    entry: { ...ENTRY, table: "target" },
  });
  report("Posting 100,000 rows, its preview ÷ the bare inserts", `${(preview.time / bare).toFixed(2)}× (${ms(preview.time)})`, "3×");
  report("  posting them, journaled ÷ the bare inserts", `${(posted.time / bare).toFixed(2)}× (${ms(posted.time)})`, "4×");
}
