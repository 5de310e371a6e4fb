import { StringDecoder } from "node:string_decoder";
import { type DuckDBConnection, DuckDBDataChunk } from "@duckdb/node-api";
import pg from "pg";
import { to as copyTo } from "pg-copy-streams";
import { quoted } from "@/core/query/dialect/dialect";
import { postgres } from "@/core/query/dialect/postgres";
import type { TableToCopy } from "@/core/query/onCopy";
import { isExact } from "@/core/types/valueType";
import { connectTo } from "@/server/source/postgres/connect";
import { appendRows, CHUNK, type Copied, columnsOf, createTable, NotCopied, type Parts, type Telling } from "./copyTable";
import { TYPES, writtenReader } from "./values";

/* Tables of a database server on their way into the copy: all of one moment, by COPY. */

/** Copies one table under a name of its own. */
export type CopyOne = (table: TableToCopy, duck: DuckDBConnection, into: string, telling: Telling) => Promise<Copied>;

/**
 * Work with what copies tables of a server, all as they are at one moment, which begins now.
 * @throws what the driver does, where the server goes away
 */
export async function ofOneMoment<T>(address: string, work: (copy: CopyOne) => Promise<T>): Promise<T> {
  const client = await connectTo(address);
  try {
    await client.query("BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY; SELECT pg_current_snapshot()");
    return await work((...asked) => orAsBefore(client, () => copyOne(client, ...asked)));
  } finally {
    // With the connection goes whatever was not sent yet.
    await client.end().catch(() => {});
  }
}

/** Work after whose fault the moment goes on: a table that may not be read keeps no other from being copied. @throws NotCopied */
async function orAsBefore<T>(client: pg.Client, work: () => Promise<T>): Promise<T> {
  await client.query("SAVEPOINT copied");
  try {
    return await work();
  } catch (error) {
    // Where the server is gone, this fails with it.
    await client.query("ROLLBACK TO copied");
    if (error instanceof pg.DatabaseError) throw new NotCopied(`The database server refused to read it: ${error.message}.`);
    throw error;
  }
}

async function copyOne(client: pg.Client, table: TableToCopy, duck: DuckDBConnection, into: string, { told, pause }: Telling): Promise<Copied> {
  let unlike = false;
  const parts: Parts = table.columns.map(({ name, type, storage }) => {
    const read = writtenReader(type, () => (unlike = true));
    return { type: TYPES[type.kind], column: quoted(name), part: { select: postgres.read(quoted(name), type, storage), read: (v) => read(String(v)) } };
  });
  const odd = table.columns.find((c) => c.guarded);
  if (odd) throw new NotCopied(`Column ${quoted(odd.name)} has an invalid value.`);
  if (parts.length === 0) throw new NotCopied("It has no columns.");
  const from = postgres.table(table.name);
  await createTable(duck, into, columnsOf(parts));
  const appender = await duck.createAppender(into);
  const chunk = DuckDBDataChunk.create(parts.map((p) => p.type));
  let rows = 0;
  let failed: { error: unknown } | null = null;
  try {
    const stream = client.query(copyTo(`COPY (SELECT ${parts.map((p) => p.part.select).join(", ")} FROM ${from}) TO STDOUT`));
    for await (const read of chunksOf(stream)) {
      // What the server has begun to send is taken to its end: nothing else comes over the connection before.
      if (failed) continue;
      try {
        appendRows(appender, chunk, parts, read);
        rows += read.length;
        told(rows);
      } catch (error) {
        failed = { error };
      }
      await pause();
    }
    if (failed) throw failed.error;
    appender.flushSync();
  } finally {
    appender.closeSync();
  }
  await mustAgree(client, duck, { from, into, table });
  return { rows, unlike };
}

/** Rows of COPY's text format (PostgreSQL's manual, "COPY", "File Formats"), as many at once as the copy takes. */
async function* chunksOf(bytes: AsyncIterable<Buffer>): AsyncGenerator<(string | null)[][]> {
  const decoder = new StringDecoder("utf8");
  let rest = "";
  let rows: (string | null)[][] = [];
  for await (const piece of bytes) {
    const lines = (rest + decoder.write(piece)).split("\n");
    rest = lines.pop() ?? "";
    for (const line of lines) {
      rows.push(fieldsOf(line));
      if (rows.length < CHUNK) continue;
      yield rows;
      rows = [];
    }
  }
  if (rows.length > 0) yield rows;
}

const UNESCAPED: Record<string, string> = { b: "\b", f: "\f", n: "\n", r: "\r", t: "\t", v: "\v" };

/** The values of a line of COPY's text format. @example fieldsOf("a\\\\b\t\\N") // ["a\\b", null] */
export const fieldsOf = (line: string): (string | null)[] =>
  line.split("\t").map((field) => {
    if (!field.includes("\\")) return field;
    return field === "\\N" ? null : field.replace(/\\(.)/gs, (_, letter: string) => UNESCAPED[letter] ?? letter);
  });

/**
 * The rows, values and sums of each column, by the server and by the copy: figures of a copy that has other ones would be
 * proved of themselves alone.
 * @throws NotCopied
 */
async function mustAgree(client: pg.Client, duck: DuckDBConnection, { from, into, table }: { from: string; into: string; table: TableToCopy }): Promise<void> {
  const figures = (value: (column: TableToCopy["columns"][number]) => string, text: string) => {
    const counts = table.columns.map((c) => `COUNT(${value(c)})`);
    const sums = table.columns.filter((c) => isExact(c.type)).map((c) => `CAST(SUM(${value(c)}) AS ${text})`);
    return `SELECT ${["COUNT(*)", ...counts]
      .map((count) => `CAST(${count} AS ${text})`)
      .concat(sums)
      .join(", ")}`;
  };
  const asked = `${figures((c) => postgres.read(quoted(c.name), c.type, c.storage), "text")} FROM ${from}`;
  const [there = []] = (await client.query<string[]>({ text: asked, rowMode: "array" })).rows;
  const [here = []] = (await duck.runAndReadAll(`${figures((c) => quoted(c.name), "VARCHAR")} FROM ${quoted(into)}`)).getRowsJS();
  if (JSON.stringify(there) !== JSON.stringify(here)) throw new NotCopied("Its copy did not agree with the server’s own counts and sums.");
}
