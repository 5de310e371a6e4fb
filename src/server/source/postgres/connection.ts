import { type Dialect, quoted } from "@/core/query/dialect/dialect";
import type { Connection, Statement } from "@/server/source/connection";
import type { ServerBridge } from "./bridge";
import type { Written } from "./protocol";

/*
 * The ledger's own statements over a server's connection, asked as over SQLite's. What a server writes is told apart by the
 * number of its type (pg_type.oid).
 */

const BOOLEAN = 16;
const BYTES = 17;
const WHOLE = [20, 21, 23, 26];
const FLOATING = [700, 701];
const NUMERIC = 1700;

function storedOf(written: Written, type: number, safe: boolean): unknown {
  if (written === null) return null;
  const whole = (exact: bigint) => (safe ? exact : Number(exact));
  if (type === BOOLEAN) return whole(written === "t" ? 1n : 0n);
  if (type === BYTES) return Buffer.from(written.slice(2), "hex");
  if (FLOATING.includes(type)) return Number(written);
  // A numeric without a point is a whole number, as sums of whole numbers are.
  return WHOLE.includes(type) || (type === NUMERIC && /^-?\d+$/.test(written)) ? whole(BigInt(written)) : written;
}

function writtenOf(value: unknown): Written {
  if (value === null || value === undefined) return null;
  return value instanceof Uint8Array ? `\\x${Buffer.from(value).toString("hex")}` : String(value);
}

const ESCAPED: Record<string, string> = { "\\": "\\\\", "\t": "\\t", "\n": "\\n", "\r": "\\r" };
const escaped = (written: Written): string => (written === null ? "\\N" : written.replace(/[\\\t\n\r]/g, (c) => ESCAPED[c] as string));

/** A statement with numbered places for its values, for those that stand as ? outside of quotes. */
export function numbered(sql: string): string {
  let place = 0;
  return sql.replace(/'(?:[^']|'')*'|"(?:[^"]|"")*"|\?/g, (part) => (part === "?" ? `$${++place}` : part));
}

const WRITES = /^\s*(INSERT|UPDATE|DELETE)\b/i;
/** Tables of the ledger itself, in which nothing is refused that could be told of a row. */
const OWN = /^\s*(INSERT INTO|UPDATE|DELETE FROM) next_ledger_/i;

class ServerStatement implements Statement {
  readonly reader: boolean;
  private readonly text: string;
  private shape: "object" | "raw" | "pluck" = "object";
  private safe = false;

  constructor(
    private readonly bridge: ServerBridge,
    private readonly fetched: Fetched,
    sql: string,
  ) {
    this.text = numbered(sql);
    this.reader = !WRITES.test(sql) || /\bRETURNING\b/i.test(sql);
  }

  raw(): this {
    this.shape = "raw";
    return this;
  }

  pluck(): this {
    this.shape = "pluck";
    return this;
  }

  safeIntegers(on = true): this {
    this.safe = on;
    return this;
  }

  get(...values: unknown[]): unknown {
    return this.all(...values)[0];
  }

  all(...values: unknown[]): unknown[] {
    const { rows, types, names } = this.asked(values);
    return rows.map((row) => this.shaped(row, types, names));
  }

  *iterate(...values: unknown[]): Generator<unknown> {
    for (const { row, types, names } of this.fetched(this.text, this.bound(values))) yield this.shaped(row, types, names);
  }

  run(...values: unknown[]): { changes: number; lastInsertRowid: number } {
    return { changes: this.asked(values).count, lastInsertRowid: 0 };
  }

  private bound(values: unknown[]): Written[] {
    return (values.length === 1 && Array.isArray(values[0]) ? values[0] : values).map(writtenOf);
  }

  /** What the server refuses of a row leaves the transaction as it was before. */
  private asked(values: unknown[]) {
    return this.bridge.ask({
      all: { text: this.text, values: this.bound(values), most: null, kept: true, guarded: WRITES.test(this.text) && !OWN.test(this.text) },
    });
  }

  private shaped(row: Written[], types: number[], names: string[]): unknown {
    const value = (i: number) => storedOf(row[i] ?? null, types[i] ?? 0, this.safe);
    if (this.shape === "pluck") return value(0);
    const values = row.map((_, i) => value(i));
    return this.shape === "raw" ? values : Object.fromEntries(names.map((name, i) => [name, values[i]]));
  }
}

/** Rows of a statement, as they are taken; within a transaction. */
export type Fetched = (text: string, values: Written[]) => Iterable<{ row: Written[]; types: number[]; names: string[] }>;

export class ServerConnection implements Connection {
  /** It is used within a transaction of its session. */
  readonly inTransaction = true;

  constructor(
    private readonly bridge: ServerBridge,
    private readonly fetched: Fetched,
    readonly dialect: Dialect,
  ) {}

  prepare(sql: string): Statement {
    return new ServerStatement(this.bridge, this.fetched, sql);
  }

  /** Text format of COPY (PostgreSQL's manual, "COPY", "File Formats"). */
  copy(table: string, columns: string[], rows: unknown[][]): void {
    const line = (row: unknown[]) => row.map((value) => escaped(writtenOf(value))).join("\t");
    const text = `COPY ${this.dialect.table(table)} (${columns.map(quoted).join(", ")}) FROM STDIN`;
    this.bridge.ask({ copy: { text, data: `${rows.map(line).join("\n")}\n` } });
  }

  exec(sql: string): void {
    this.bridge.ask({ run: { text: sql } });
  }
}
