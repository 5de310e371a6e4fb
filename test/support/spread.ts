import type Database from "better-sqlite3";
import type { Schema } from "@/core/schema/schema";
import { copyRows, OWNER, type Server, startServer, tablesOf } from "./postgres";

/* A database spread over three servers: one that plans, and two that each hold half of its largest tables, by a hash of their keys. */

const DATABASE = "ferries";
/** The tables that are spread, by the columns that tell which half a row is in. */
const SPREAD: Record<string, string> = { consignment: "id", fare_sale: "id" };

const portOf = (server: Server): string => new URL(server.address(DATABASE)).port;

export type Spread = { planner: Server; halves: Server[]; address: string; stop: () => void };

export async function startSpread(db: Database.Database, schema: Schema): Promise<Spread> {
  const [planner, ...halves] = await Promise.all([
    startServer({ enable_partitionwise_aggregate: "on", enable_partitionwise_join: "on", wal_level: "minimal", max_wal_senders: "0" }),
    startServer(),
    startServer(),
  ]);
  const spread = schema.tables.filter((t) => SPREAD[t.name]);
  const other = schema.tables.filter((t) => !SPREAD[t.name]);
  for (const server of [planner, ...halves] as Server[]) await server.by("postgres", (client) => client.query(`CREATE DATABASE ${DATABASE}`));
  for (const half of halves)
    await half.by(DATABASE, async (client) => {
      for (const statement of tablesOf({ ...schema, tables: spread, links: [] }).create) await client.query(statement);
    });
  await planner?.by(DATABASE, async (client) => {
    await client.query("CREATE EXTENSION postgres_fdw");
    for (const [i, half] of halves.entries())
      await client.query(`CREATE SERVER half_${i} FOREIGN DATA WRAPPER postgres_fdw
          OPTIONS (host '127.0.0.1', port '${portOf(half)}', dbname '${DATABASE}', async_capable 'true', batch_size '500', fetch_size '10000', use_remote_estimate 'true');
        CREATE USER MAPPING FOR ${OWNER} SERVER half_${i} OPTIONS (user '${OWNER}')`);
    const keyless = tablesOf({
      ...schema,
      tables: spread.map((t) => ({ ...t, key: [], columns: t.columns.map((c) => ({ ...c, filled: undefined })) })),
      links: [],
    });
    for (const [i, table] of spread.entries()) {
      await client.query(`${keyless.create[i]} PARTITION BY HASH ("${SPREAD[table.name]}")`);
      for (const [n] of halves.entries())
        await client.query(`CREATE FOREIGN TABLE "${table.name}_${n}" PARTITION OF "${table.name}" FOR VALUES WITH (MODULUS ${halves.length}, REMAINDER ${n})
          SERVER half_${n} OPTIONS (table_name '${table.name}')`);
    }
    for (const statement of tablesOf({ ...schema, tables: other, links: [] }).create) await client.query(statement);
    // The server that plans cannot hold a key over other servers, nor what leads to it: both are declared.
    await client.query(`CREATE SCHEMA next_ledger;
      CREATE TABLE next_ledger.declared_key (table_name text PRIMARY KEY, columns text[] NOT NULL);
      CREATE TABLE next_ledger.declared_reference (table_name text, columns text[], to_table text, to_columns text[])`);
    for (const { name, key } of spread) await client.query("INSERT INTO next_ledger.declared_key VALUES ($1, $2)", [name, key]);
    for (const { a, b } of schema.links)
      await client.query("INSERT INTO next_ledger.declared_reference VALUES ($1, $2, $3, $4)", [a.table, a.columns, b.table, b.columns]);
    for (const table of schema.tables) await copyRows(client, db, table);
    await client.query("ANALYZE");
  });
  const stop = () => {
    for (const server of [planner, ...halves] as Server[]) server.stop();
  };
  return { planner: planner as Server, halves, address: (planner as Server).address(DATABASE), stop };
}
