import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import { postgresOf } from "@/core/query/dialect/postgres";
import { compileStatement, type Statement } from "@/core/query/statement";
import { usualDay } from "@/core/types/calendar";
import { emptyQuery } from "../src/core/query/empty";
import { resolveQuery } from "../src/core/query/resolve";
import type { QuerySpec } from "../src/core/query/spec";
import { chooseCopiedAsOf } from "../src/server/services/workspace/copy";
import { withCopy } from "../src/server/services/workspace/here";
import { Workspace } from "../src/server/services/workspace/workspace";
import { startServer } from "../test/support/postgres";
import { median, ms, peakOf, report, timed } from "./measure";
import { QUESTIONS } from "./sales";

/* Sales on a PostgreSQL server: the engine, and the same SQL through the driver by hand. */

const ROWS = 2_000_000;
const TIMES = 5;

const sql = (rows: number) => `
CREATE TABLE shop (id integer PRIMARY KEY, name text NOT NULL, region text NOT NULL);
CREATE TABLE sale (id integer PRIMARY KEY, shop_id integer NOT NULL, day date NOT NULL, item text NOT NULL, pieces integer NOT NULL, amount numeric(12, 2) NOT NULL);
INSERT INTO shop SELECT i, 'Shop ' || i, 'Region ' || (i % 12) FROM generate_series(1, 1000) AS i;
INSERT INTO sale SELECT i, 1 + (i::bigint * 7919) % 1000, DATE '2024-01-01' + i % 900, 'Item ' || (i % 300), 1 + i % 9, ((i::bigint * 104729) % 1000000)::numeric / 100
  FROM generate_series(1, ${rows}) AS i;
ALTER TABLE sale ADD FOREIGN KEY (shop_id) REFERENCES shop(id)`;

const joinedRows: QuerySpec = {
  ...emptyQuery("sale"),
  joins: [{ id: "s", from: "", link: "sale.shop_id", toward: "b", way: "keep" }],
  columns: [
    { id: "id", value: { kind: "field", join: "", column: "id" } },
    { id: "amount", value: { kind: "field", join: "", column: "amount" } },
    { id: "region", value: { kind: "field", join: "s", column: "region" } },
  ],
};

export async function measurePostgres(rows = ROWS): Promise<void> {
  const server = await startServer({ shared_buffers: "512MB", work_mem: "64MB", max_wal_size: "4GB" });
  const folder = mkdtempSync(join(tmpdir(), "next-ledger-bench-"));
  try {
    await server.by("postgres", async (client) => {
      await client.query(sql(rows));
      await client.query("VACUUM ANALYZE");
    });
    const { engine, copy } = withCopy(resolve("."), folder, () => ws.database);
    const ws: Workspace = new Workspace(folder, server.address("postgres"), resolve("."), undefined, engine, copy);
    report(`PostgreSQL, ${rows.toLocaleString("en")} rows: its shape read`, ms(await timed(() => ws.schema())), "1 s");
    const schema = await ws.schema();
    const planOf = (spec: QuerySpec) => {
      const resolved = resolveQuery(spec, schema, { today: usualDay("2026-11-23"), values: {} });
      if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
      return resolved.value;
    };
    const asked = (statement: Statement, asOf: string[] = []) =>
      ws.engine.run<"rows">({ kind: "rows", database: ws.database, statement, asOf }, { client: "bench" });
    await server.by("postgres", async (client) => {
      for (const [what, spec] of QUESTIONS) {
        const statement: Statement = { of: "rows", plan: planOf(spec) };
        const { text, values } = compileStatement(statement, postgresOf({ text: "und-x-icu", words: "C.utf8" }));
        const [own, others]: [number[], number[]] = [[], []];
        for (let i = 0; i <= TIMES; i++) {
          others.push(await timed(() => client.query({ text, values: values.map((v) => v.value), rowMode: "array" })));
          own.push(await timed(() => asked(statement)));
        }
        report(`… ${what}: engine ÷ the same SQL by hand`, `${(median(own.slice(1)) / median(others.slice(1))).toFixed(2)}× (${ms(median(own))})`, "1.15×");
      }
    });
    const window = { offset: 0, rows: 200 };
    const first: number[] = [];
    for (let i = 0; i < TIMES; i++) first.push(await timed(() => asked({ of: "sheet", plan: planOf(joinedRows), window })));
    report("… the first 200 rows of all of them, joined", ms(median(first)), "300 ms");
    const path = join(folder, "half.csv");
    const half = { ...planOf(joinedRows), limit: rows / 2 };
    const written = await timed(() => ws.engine.run<"export">({ kind: "export", format: "csv", database: ws.database, plan: half, path }, { client: "bench" }));
    report(`… CSV of ${(rows / 2).toLocaleString("en")} of them`, ms(written), "");
    const copying = await timed(async () => {
      await chooseCopiedAsOf(ws, { tables: ["sale"], time: "07:00" });
      while (copy.kept.state?.coming !== null || copy.kept.state.tables.length !== 2) await new Promise((done) => setTimeout(done, 50));
    });
    report("… copied as of a moment", `${ms(copying)}, ${peakOf((copy as unknown as { child: { pid: number } }).child.pid).toFixed(0)} MB`, "700 MB");
    for (const [what, spec] of QUESTIONS) {
      const statement: Statement = { of: "rows", plan: planOf(spec) };
      const times: number[] = [];
      for (let i = 0; i < TIMES; i++) times.push(await timed(() => asked(statement, ["sale"])));
      const { asOf } = await asked(statement, ["sale"]);
      report(`… ${what}, as of it`, `${ms(median(times))}${asOf ? "" : " (by the server)"}`, "");
    }
    ws.close();
  } finally {
    server.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}
