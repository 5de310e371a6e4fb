import { DuckDBInstance } from "@duckdb/node-api";
import { PGlite } from "@electric-sql/pglite";
import Database from "better-sqlite3";
import type { BoundValue, RowsSql } from "@/core/query/compile";
import type { Dialect } from "@/core/query/dialect/dialect";
import { duckdb } from "@/core/query/dialect/duckdb";
import { postgres } from "@/core/query/dialect/postgres";
import { sqlite } from "@/core/query/dialect/sqlite";
import { compileFooting } from "@/core/query/footing";
import type { Plan } from "@/core/query/plan";
import { compileSheet } from "@/core/query/subtotals";
import type { Schema } from "@/core/schema/schema";
import type { Cell, ValueType } from "@/core/types/valueType";
import { sqliteReading } from "@/server/source/read";
import { registerFunctions } from "@/server/source/sqlite/functions";
import { readRows, readSingle } from "@/server/source/sqlite/readers";

type Row = (string | number | null)[];
export type Rows = Record<string, Row[]>;

const SQL_TYPES: Record<"duckdb" | "postgres", Record<ValueType["kind"], string>> = {
  duckdb: { text: "VARCHAR", whole: "BIGINT", decimal: "BIGINT", floating: "DOUBLE", date: "DATE", timestamp: "TIMESTAMP", yesno: "BOOLEAN" },
  postgres: {
    text: 'text COLLATE "C"',
    whole: "bigint",
    decimal: "bigint",
    floating: "double precision",
    date: "date",
    timestamp: "timestamp",
    yesno: "boolean",
  },
};

const literalSql = (value: string | number | null, type: ValueType): string => {
  if (value === null) return "NULL";
  if (type.kind === "yesno") return Number(value) === 1 ? "TRUE" : "FALSE";
  return typeof value === "number" ? String(value) : `'${value.replaceAll("'", "''")}'`;
};

function script(schema: Schema, rows: Rows, types: Record<ValueType["kind"], string>): string {
  return schema.tables
    .map((t) => {
      const columns = t.columns.map((c) => `"${c.name}" ${types[c.type.kind]}`).join(", ");
      const values = (rows[t.name] ?? []).map((r) => `(${t.columns.map((c, i) => literalSql(r[i] ?? null, c.type)).join(", ")})`);
      return `CREATE TABLE "${t.name}" (${columns});${values.length > 0 ? `INSERT INTO "${t.name}" VALUES ${values.join(", ")};` : ""}`;
    })
    .join("\n");
}

const boundText = (v: BoundValue) => v.value;
const pgValue = (v: BoundValue) => (v.type.kind === "yesno" && v.value !== null ? v.value === "1" : v.value);

/** Casts each column to text in a dialect, so that engines can be compared; floating numbers stay numbers. */
function wrapped(sql: RowsSql, dialect: Dialect): string {
  const kind = dialect.name === "postgres" ? "text" : "VARCHAR";
  const columns = sql.columns.map(({ type }, i) => {
    if (type.kind === "floating") return `"c${i}"`;
    if (type.kind === "yesno") return `CAST(CAST("c${i}" AS INTEGER) AS ${kind})`;
    return `CAST("c${i}" AS ${kind})`;
  });
  return `SELECT ${columns.join(", ")} FROM (${sql.text}) AS w`;
}

const normal = (value: unknown, type: ValueType): string => {
  if (value === null || value === undefined) return "∅";
  if (type.kind === "floating") return Number(value).toPrecision(12);
  if (value instanceof Date)
    return value
      .toISOString()
      .slice(0, type.kind === "date" ? 10 : 19)
      .replace("T", " ");
  if (typeof value === "boolean") return String(Number(value));
  return String(value);
};

export type Answer = string[];

const isFloating = (written: string): boolean => /^-?\d+\.\d+(e[+-]\d+)?$|^-?\d+e[+-]\d+$/.test(written);

/** Floating figures depend on the order in which they are added: they are the same within a hundred millionth. */
const sameWritten = (a: string, b: string): boolean =>
  a === b || ((isFloating(a) || isFloating(b)) && Math.abs(Number(a) - Number(b)) <= 1e-8 * Math.max(Math.abs(Number(a)), Math.abs(Number(b)), 1e-3));

/** An answer with each row that is another's but for floating figures written as that. */
export const asWritten = (answer: Answer, other: Answer): Answer =>
  answer.map((row, i) => {
    const [a, b] = [row.split(" | "), (other[i] ?? "").split(" | ")];
    return a.length === b.length && a.every((cell, k) => sameWritten(cell, b[k] ?? "")) ? (other[i] ?? row) : row;
  });
type Window = { offset: number; rows: number };

/** The same rows in SQLite (through the ledger's own engine), DuckDB and PostgreSQL. */
export async function threeEngines(schema: Schema, rows: Rows) {
  const lite = new Database(":memory:");
  registerFunctions(lite);
  for (const t of schema.tables) {
    lite.exec(`CREATE TABLE "${t.name}" (${t.columns.map((c) => `"${c.name}"`).join(", ")})`);
    const insert = lite.prepare(`INSERT INTO "${t.name}" VALUES (${t.columns.map(() => "?").join(", ")})`);
    // Whole numbers go in as integers, as a ledger's file holds them.
    for (const row of rows[t.name] ?? []) insert.run(row.map((v, i) => (typeof v === "number" && t.columns[i]?.type.kind !== "floating" ? BigInt(v) : v)));
  }
  const duck = await (await DuckDBInstance.create(":memory:")).connect();
  // Its optimizer fails with an internal error on some conditions between joined tables; the answers need none of it.
  // Threads add floating numbers in any order: the same sum twice is then not always the same.
  await duck.run("SET threads TO 1");
  await duck.run("PRAGMA disable_optimizer");
  for (const statement of script(schema, rows, SQL_TYPES.duckdb).split(/;\n?(?=CREATE|INSERT|$)/)) if (statement.trim()) await duck.run(statement);
  const pg = await PGlite.create();
  await pg.exec(script(schema, rows, SQL_TYPES.postgres));

  /** Rows as text, in the order they came in: a plan's order tells all of them apart. Where it has none, their order means nothing. */
  const texts = (result: unknown[][], sql: RowsSql, { tieBreak, order }: Plan): Answer => {
    const rows = result.map((r) => sql.columns.map((c, i) => normal(r[i], c.type)).join(" | "));
    return tieBreak.length > 0 || order.length > 0 ? rows : rows.sort();
  };
  return {
    sqlite: (plan: Plan, window?: Window): Answer => {
      const sql = compileSheet(plan, sqlite, window);
      return texts([...readRows(lite, sql)] as Cell[][], sql, plan);
    },
    duckdb: async (plan: Plan, window?: Window): Promise<Answer> => {
      const sql = compileSheet(plan, duckdb, window);
      const reader = await duck.runAndReadAll(wrapped(sql, duckdb), sql.values.map(boundText));
      return texts(reader.getRowsJS() as unknown[][], sql, plan);
    },
    postgres: async (plan: Plan, window?: Window): Promise<Answer> => {
      const sql = compileSheet(plan, postgres, window);
      const result = await pg.query<unknown[]>(wrapped(sql, postgres), sql.values.map(pgValue), { rowMode: "array" });
      return texts(result.rows, sql, plan);
    },
    /** A plan's footing in each engine: its row count, its totals and what it tells of repeats, as text. */
    footings: async (plan: Plan): Promise<Answer[]> => {
      const own = compileFooting(plan, sqlite);
      const cells = (row: unknown[]) => own.types?.map((type, i) => normal(row[i], type)) ?? [];
      const inDuck = compileFooting(plan, duckdb);
      const [duckRow = []] = (await duck.runAndReadAll(inDuck.text, inDuck.values.map(boundText))).getRowsJS() as unknown[][];
      const inPg = compileFooting(plan, postgres);
      const { rows } = await pg.query<unknown[]>(inPg.text, inPg.values.map(pgValue), { rowMode: "array" });
      return [cells(readSingle(lite, own)), cells(duckRow), cells(rows[0] ?? [])];
    },
    /** SQL written by hand, its rows as text. */
    handDuck: async (sql: string) => (await duck.runAndReadAll(sql)).getRowsJS() as unknown[][],
    handPostgres: async (sql: string) => (await pg.query<unknown[]>(sql, [], { rowMode: "array" })).rows,
    lite,
    /** The same rows as jobs read them. */
    reading: sqliteReading(lite),
    close: async () => {
      lite.close();
      duck.closeSync();
      await pg.close();
    },
  };
}
