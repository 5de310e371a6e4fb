import { execFileSync } from "node:child_process";
import { chmodSync, chownSync, existsSync, mkdtempSync, readdirSync, rmSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type Database from "better-sqlite3";
import pg from "pg";
import type { Value } from "@/core/recount/value";
import type { Column, Schema, Table } from "@/core/schema/schema";
import type { ValueType } from "@/core/types/valueType";
import { tableReader } from "@/server/source/sqlite/tables";

/* A PostgreSQL server of Debian's package, in a folder of its own, run by a user without rights; gone afterwards. */

const PACKAGES = "/usr/lib/postgresql";

function binaries(): string {
  const versions = existsSync(PACKAGES) ? readdirSync(PACKAGES).sort((a, b) => Number(b) - Number(a)) : [];
  if (versions.length === 0) throw new Error("PostgreSQL is not installed. “npm test” installs it; or: apt-get install postgresql");
  return join(PACKAGES, versions[0] as string, "bin");
}

/** A server refuses to be run by the machine's owner: then the package's own user runs it. */
function runner(): { uid?: number; gid?: number } {
  if (process.getuid?.() !== 0) return {};
  const id = (flag: string) => Number(execFileSync("id", [flag, "postgres"], { encoding: "utf8" }));
  return { uid: id("-u"), gid: id("-g") };
}

const freePort = (): Promise<number> =>
  new Promise((done, failed) => {
    const server = createServer().on("error", failed);
    server.listen(0, "127.0.0.1", () => {
      const address = server.address();
      server.close(() => done(typeof address === "object" && address ? address.port : 0));
    });
  });

export type Server = {
  address: (database: string, user?: string) => string;
  /** Where it has an encrypted connection: the file of the authority that signed its certificate. */
  authority: string;
  /** Work over a connection of the driver by hand. */
  by: <T>(database: string, work: (client: pg.Client) => Promise<T>) => Promise<T>;
  pause: () => void;
  go: () => void;
  stop: () => void;
};

export const OWNER = "ledger";

/** Makes an authority in a folder and, signed by it, a certificate of the server of a name. @returns what a server is set to for it */
function certified(folder: string, name: string, ids: { uid?: number; gid?: number }): Record<string, string> {
  const openssl = (...args: string[]) => execFileSync("openssl", args, { cwd: folder, stdio: "ignore" });
  const request = ["req", "-newkey", "rsa:2048", "-nodes", "-days", "2"];
  openssl(...request, "-x509", "-subj", "/CN=an authority", "-keyout", "ca.key", "-out", "ca.pem");
  openssl(...request, "-subj", `/CN=${name}`, "-addext", `subjectAltName=DNS:${name}`, "-keyout", "server.key", "-out", "server.csr");
  openssl("x509", "-req", "-in", "server.csr", "-CA", "ca.pem", "-CAkey", "ca.key", "-days", "2", "-copy_extensions", "copy", "-out", "server.pem");
  chmodSync(join(folder, "server.key"), 0o600);
  if (ids.uid !== undefined && ids.gid !== undefined) chownSync(join(folder, "server.key"), ids.uid, ids.gid);
  return { ssl: "on", ssl_cert_file: join(folder, "server.pem"), ssl_key_file: join(folder, "server.key") };
}

/**
 * @param settings more lines of its configuration
 * @param name it has an encrypted connection, with a certificate for this name
 */
export async function startServer(settings: Record<string, string> = {}, name?: string): Promise<Server> {
  const bin = binaries();
  const ids = runner();
  // Another user's server reaches no folder that only this one may enter.
  const folder = mkdtempSync(join(ids.uid === undefined ? tmpdir() : "/tmp", "next-ledger-pg-"));
  if (ids.uid !== undefined && ids.gid !== undefined) chownSync(folder, ids.uid, ids.gid);
  const data = join(folder, "data");
  const port = await freePort();
  const run = (program: string, ...args: string[]) => execFileSync(join(bin, program), args, { ...ids, cwd: folder, stdio: ["ignore", "ignore", "pipe"] });
  run("initdb", "-D", data, "-U", OWNER, "-A", "trust", "-E", "UTF8", "--locale=C.UTF-8", "--no-sync");
  const encrypted = name === undefined ? {} : certified(folder, name, ids);
  const options = Object.entries({
    port: String(port),
    listen_addresses: "127.0.0.1",
    unix_socket_directories: folder,
    fsync: "off",
    ...encrypted,
    ...settings,
  })
    .map(([name, value]) => `-c ${name}='${value}'`)
    .join(" ");
  const go = () => run("pg_ctl", "-D", data, "-w", "-l", join(folder, "log"), "-o", options, "start");
  const pause = () => run("pg_ctl", "-D", data, "-w", "-m", "immediate", "stop");
  go();
  const address = (database: string, user = OWNER) => `postgres://${user}@127.0.0.1:${port}/${database}`;
  return {
    address,
    authority: join(folder, "ca.pem"),
    async by(database, work) {
      const client = new pg.Client({ connectionString: address(database) });
      client.on("error", () => {});
      await client.connect();
      try {
        return await work(client);
      } finally {
        await client.end().catch(() => {});
      }
    },
    pause,
    go,
    stop() {
      try {
        pause();
      } catch {
        // It was stopped by the test.
      }
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

const named = (name: string) => `"${name.replaceAll('"', '""')}"`;

function declared(type: ValueType): string {
  switch (type.kind) {
    case "whole":
      return "integer";
    case "decimal":
      return `numeric(18, ${type.scale})`;
    case "floating":
      return "double precision";
    case "yesno":
      return "boolean";
    default:
      return type.kind;
  }
}

/** The statements that make a database's tables, with their keys, their links and what they require. */
export function tablesOf({ tables, links }: Schema, types: Record<string, string> = {}): { create: string[]; link: string[] } {
  const create = tables.map((t) => {
    const columns = t.columns.map(
      (c) =>
        `${named(c.name)} ${types[`${t.name}.${c.name}`] ?? declared(c.type)}${c.filled === "number" ? " GENERATED BY DEFAULT AS IDENTITY" : c.nullable ? "" : " NOT NULL"}`,
    );
    return `CREATE TABLE ${named(t.name)} (${[...columns, ...(t.key.length > 0 ? [`PRIMARY KEY (${t.key.map(named).join(", ")})`] : [])].join(", ")})`;
  });
  const link = links.map(
    ({ a, b }) =>
      `ALTER TABLE ${named(a.table)} ADD FOREIGN KEY (${a.columns.map(named).join(", ")}) REFERENCES ${named(b.table)} (${b.columns.map(named).join(", ")}) NOT VALID`,
  );
  return { create, link };
}

const ROWS_AT_ONCE = 500;

/** A value of the recount as the driver takes it: a decimal with its point. */
function written(value: Value, type: ValueType): unknown {
  if (value === null || type.kind !== "decimal") return typeof value === "bigint" ? value.toString() : value;
  const digits = String(value)
    .replace("-", "")
    .padStart(type.scale + 1, "0");
  return `${String(value).startsWith("-") ? "-" : ""}${digits.slice(0, -type.scale)}.${digits.slice(-type.scale)}`;
}

/** Copies the rows of a table as its types say. */
export async function copyRows(client: pg.Client, db: Database.Database, table: Table): Promise<void> {
  const insert = async (rows: unknown[][]) => {
    const places = rows.map((row, r) => `(${row.map((_, c) => `$${r * row.length + c + 1}`).join(", ")})`);
    await client.query(`INSERT INTO ${named(table.name)} VALUES ${places.join(", ")}`, rows.flat());
  };
  const columns = table.columns.map(({ name, type, storage, misfits }) => ({ column: name, type, storage, guarded: misfits > 0 }));
  let waiting: unknown[][] = [];
  for (const row of tableReader(db)(table.name, columns)) {
    waiting.push(row.map((value, i) => written(value, (table.columns[i] as Column).type)));
    if (waiting.length < ROWS_AT_ONCE) continue;
    await insert(waiting);
    waiting = [];
  }
  if (waiting.length > 0) await insert(waiting);
}

/** The same database on a server. */
export async function copyDatabase(client: pg.Client, db: Database.Database, schema: Schema, types?: Record<string, string>): Promise<void> {
  const { create, link } = tablesOf(schema, types);
  for (const statement of create) await client.query(statement);
  for (const table of schema.tables) await copyRows(client, db, table);
  for (const statement of link) await client.query(statement);
  for (const { name, columns } of schema.tables)
    for (const { name: column } of columns.filter((c) => c.filled === "number"))
      await client.query(`SELECT setval(pg_get_serial_sequence($1, $2), (SELECT COALESCE(MAX(${named(column)}), 1) FROM ${named(name)}))`, [
        named(name),
        column,
      ]);
  await client.query("ANALYZE");
}
