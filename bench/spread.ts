import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import type { Statement } from "@/core/query/statement";
import { usualDay } from "@/core/types/calendar";
import { resolveQuery } from "../src/core/query/resolve";
import { Workspace } from "../src/server/services/workspace/workspace";
import { OWNER, type Server, startServer } from "../test/support/postgres";
import { median, ms, report, timed } from "./measure";
import { QUESTIONS } from "./sales";

/* Sales spread over servers: one that plans, two that each hold half of them by a hash of their key (docs/scale.md). */

const TIMES = 3;
const SALE = "id integer NOT NULL, shop_id integer NOT NULL, day date NOT NULL, item text NOT NULL, pieces integer NOT NULL, amount numeric(12, 2) NOT NULL";
const SETTINGS = { shared_buffers: "512MB", work_mem: "64MB", max_wal_size: "4GB" };

async function spread(planner: Server, halves: Server[], rows: number): Promise<void> {
  for (const [n, half] of halves.entries())
    await half.by("postgres", async (client) => {
      await client.query(`CREATE TABLE sale (${SALE}, PRIMARY KEY (id)); CREATE TABLE whole (${SALE}) PARTITION BY HASH (id)`);
      await client.query(`INSERT INTO sale SELECT i, 1 + (i::bigint * 7919) % 1000, DATE '2024-01-01' + i % 900, 'Item ' || (i % 300), 1 + i % 9, ((i::bigint * 104729) % 1000000)::numeric / 100
        FROM generate_series(1, ${rows}) AS i WHERE satisfies_hash_partition('whole'::regclass, ${halves.length}, ${n}, i)`);
      await client.query("VACUUM ANALYZE sale");
    });
  await planner.by("postgres", async (client) => {
    await client.query(`CREATE EXTENSION postgres_fdw;
      CREATE TABLE shop (id integer PRIMARY KEY, name text NOT NULL, region text NOT NULL);
      INSERT INTO shop SELECT i, 'Shop ' || i, 'Region ' || (i % 12) FROM generate_series(1, 1000) AS i;
      CREATE TABLE sale (${SALE}) PARTITION BY HASH (id);
      CREATE SCHEMA next_ledger;
      CREATE TABLE next_ledger.declared_key (table_name text PRIMARY KEY, columns text[] NOT NULL);
      CREATE TABLE next_ledger.declared_reference (table_name text, columns text[], to_table text, to_columns text[]);
      INSERT INTO next_ledger.declared_key VALUES ('sale', '{id}');
      INSERT INTO next_ledger.declared_reference VALUES ('sale', '{shop_id}', 'shop', '{id}')`);
    for (const [n, half] of halves.entries())
      await client.query(`CREATE SERVER half_${n} FOREIGN DATA WRAPPER postgres_fdw
          OPTIONS (host '127.0.0.1', port '${new URL(half.address("postgres")).port}', dbname 'postgres', async_capable 'true', fetch_size '10000');
        CREATE USER MAPPING FOR ${OWNER} SERVER half_${n} OPTIONS (user '${OWNER}');
        CREATE FOREIGN TABLE sale_${n} PARTITION OF sale FOR VALUES WITH (MODULUS ${halves.length}, REMAINDER ${n}) SERVER half_${n} OPTIONS (table_name 'sale')`);
    await client.query("ANALYZE");
  });
}

export async function measureSpread(rows = 1_000_000): Promise<void> {
  const planning = { ...SETTINGS, enable_partitionwise_aggregate: "on", enable_partitionwise_join: "on" };
  const [planner, ...halves] = await Promise.all([startServer(planning), startServer(SETTINGS), startServer(SETTINGS)]);
  const folder = mkdtempSync(join(tmpdir(), "next-ledger-bench-"));
  try {
    await spread(planner as Server, halves, rows);
    const ws = new Workspace(folder, (planner as Server).address("postgres"), resolve("."));
    report(`PostgreSQL over three servers, ${rows.toLocaleString("en")} rows: its shape read, the declared key held`, ms(await timed(() => ws.schema())), "");
    const schema = await ws.schema();
    for (const [what, spec] of QUESTIONS) {
      const resolved = resolveQuery(spec, schema, { today: usualDay("2026-11-23"), values: {} });
      if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
      const statement: Statement = { of: "rows", plan: resolved.value };
      const own: number[] = [];
      for (let i = 0; i <= TIMES; i++)
        own.push(await timed(() => ws.engine.run<"rows">({ kind: "rows", database: ws.database, statement }, { client: "bench" })));
      report(`… ${what}`, ms(median(own.slice(1))), "");
    }
    ws.close();
  } finally {
    for (const server of [planner, ...halves] as Server[]) server.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}
