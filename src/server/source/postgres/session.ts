import type { BoundValue, RowsSql, Sql } from "@/core/query/compile";
import type { Dialect } from "@/core/query/dialect/dialect";
import { quoted } from "@/core/query/dialect/dialect";
import { type Letters, postgresOf } from "@/core/query/dialect/postgres";
import { qualified } from "@/core/query/dialect/tableName";
import { compileStatement, type Statement } from "@/core/query/statement";
import type { ReadColumn, ReadTable } from "@/core/recount/recount";
import type { Value } from "@/core/recount/value";
import type { Schema } from "@/core/schema/schema";
import type { ColumnSetting, MadeLink } from "@/core/schema/told";
import type { Cell, ValueType } from "@/core/types/valueType";
import type { Connection } from "@/server/source/connection";
import { JobFailure } from "@/server/source/failures";
import type { Reading } from "@/server/source/reading";
import { ServerBridge, ServerRefusal } from "./bridge";
import { cellOf, plainOf, typedValue } from "./cells";
import { ServerConnection } from "./connection";
import { isLost } from "./faults";
import { inspectServer } from "./inspect";
import type { Written } from "./protocol";

/* A process's connection to a database server, and what jobs read of it. */

const READ_ONLY = "REPEATABLE READ READ ONLY";
const SERIALIZABLE = "SERIALIZABLE";
/** The lock that whoever writes through the ledger holds: a number of its own among those of the database. */
const WRITER = 7_326_511_094;

/** Rows that are fetched at once. */
const FETCHED = 1000;

const boundOf = ({ value, type }: BoundValue): Written => (type.kind === "yesno" && value !== null ? String(value === "1") : value);

/** Collations that know all letters, the best first; a server has them or not. */
const FOR_TEXT = ["pg_c_utf8", "und-x-icu", "C.utf8"];
const FOR_WORDS = ["pg_c_utf8", "C.utf8", "und-x-icu"];

export class Session {
  private readonly bridge: ServerBridge;
  private known: Dialect | null = null;
  private state: string | null = null;

  constructor(readonly address: string) {
    this.bridge = new ServerBridge(address);
  }

  close(): void {
    try {
      this.bridge.ask({ end: true });
    } catch {
      // It was lost before.
    }
  }

  /** Reads the shape of the database, of one moment. */
  inspect(settings: ColumnSetting[], made: MadeLink[]): Promise<Schema> {
    return this.reading(() => inspectServer((text, values) => this.attempt(() => this.plainRows(text, values)), settings, made));
  }

  /** Rows of a statement of our own, all at once, as the server writes them. */
  private plainRows(text: string, values: Written[] = []): Written[][] {
    return this.bridge.ask({ all: { text, values, most: null } }).rows;
  }

  /** Work after whose fault the transaction goes on. */
  private attempt<T>(work: () => T): T {
    this.bridge.ask({ run: { text: "SAVEPOINT attempt" } });
    try {
      return work();
    } catch (error) {
      if (error instanceof ServerRefusal && !isLost(error.code, error.message)) this.bridge.ask({ run: { text: "ROLLBACK TO attempt" } });
      throw error;
    }
  }

  /** Work within one moment of the database, which is only read. */
  async reading<T>(work: (reading: Reading) => T | Promise<T>): Promise<T> {
    this.attached(() => this.begin(READ_ONLY, true));
    try {
      return await work(this.readingOf(this.dialect()));
    } finally {
      this.end();
    }
  }

  /** The same over a connection, for statements of the ledger's own. */
  snapshot<T>(work: (db: Connection) => T): T {
    this.attached(() => this.begin(READ_ONLY, true));
    try {
      return work(this.connection());
    } finally {
      this.end();
    }
  }

  /**
   * Work in one transaction that writes, kept or undone as a whole. The ledger writes one after the other; what others write
   * meanwhile so that it would come to something else makes the server refuse it (SERIALIZABLE).
   */
  writing<T>(outcome: "commit" | "rollback", work: (db: Connection) => T): T {
    this.hold();
    try {
      this.begin(SERIALIZABLE, false);
      try {
        const db = this.connection();
        const result = work(db);
        this.bridge.ask({ run: { text: outcome === "commit" ? "COMMIT" : "ROLLBACK" } });
        return result;
      } catch (error) {
        this.end();
        throw error;
      }
    } finally {
      this.letGo();
    }
  }

  /** The same, kept, where the work takes its time. */
  async writingLong<T>(work: (db: Connection) => Promise<T>): Promise<T> {
    this.hold();
    try {
      this.begin(SERIALIZABLE, false);
      try {
        const result = await work(this.connection());
        this.bridge.ask({ run: { text: "COMMIT" } });
        return result;
      } catch (error) {
        this.end();
        throw error;
      }
    } finally {
      this.letGo();
    }
  }

  /** Waits for whoever else writes through the ledger: before a transaction begins, so that it sees what that one wrote. */
  private hold(): void {
    this.attached(() => this.bridge.ask({ run: { text: `SELECT pg_advisory_lock(${WRITER})`, begins: true } }));
  }

  private letGo(): void {
    this.quietly(`SELECT pg_advisory_unlock(${WRITER})`);
  }

  /** Rows of a statement within the transaction that is open. */
  within(statement: Statement): Iterable<Cell[]> {
    return this.answer(compileStatement(statement, this.dialect()));
  }

  private connection(): Connection {
    return new ServerConnection(this.bridge, (text, values) => this.fetched(text, values), this.dialect());
  }

  private readingOf(dialect: Dialect): Reading {
    return {
      engine: "postgres",
      ask: (statement, most) => this.answer(compileStatement(statement, dialect), most),
      tables: this.tables(dialect),
      version: () => (this.elsewhere() ? null : this.state),
    };
  }

  private end(): void {
    this.quietly("ROLLBACK");
  }

  /** What failed is over for the server as well; a lost connection has nothing to end. */
  private quietly(text: string): void {
    try {
      this.bridge.ask({ run: { text } });
    } catch {}
  }

  /** @param begins nothing is held on the connection yet */
  private begin(isolation: string, begins: boolean): void {
    // Two snapshots that are the same see the same rows: what a transaction sees hangs on nothing else.
    const text = `BEGIN ISOLATION LEVEL ${isolation}; SELECT pg_current_snapshot()::text`;
    this.state = this.bridge.ask({ run: { text, begins } }).rows[0]?.[0] ?? null;
  }

  /** A connection may have been lost while nobody asked anything: it is made once more. */
  private attached<T>(work: () => T): T {
    try {
      return work();
    } catch (error) {
      if (!(error instanceof ServerRefusal) || !isLost(error.code, error.message)) throw error;
      return work();
    }
  }

  /** Whether rows lie on other servers: what changes there does not show in the snapshot of this one. */
  private elsewhere(): boolean {
    return this.plainRows("SELECT 1::text FROM pg_class WHERE relkind = 'f' LIMIT 1").length > 0;
  }

  /** How SQL is written for this server. @throws JobFailure where its texts cannot be read */
  private dialect(): Dialect {
    if (this.known) return this.known;
    const [[encoding = ""] = []] = this.plainRows("SELECT current_setting('server_encoding')");
    if (encoding !== "UTF8") throw new JobFailure("serverEncoding", String(encoding));
    const there = this.plainRows("SELECT DISTINCT collname::text FROM pg_collation WHERE collencoding IN (-1, 6)").map(([name]) => String(name));
    const first = (wanted: string[]) => wanted.find((name) => there.includes(name)) ?? "C";
    const letters: Letters = { text: first(FOR_TEXT), words: first(FOR_WORDS) };
    this.known = postgresOf(letters);
    return this.known;
  }

  private *answer(sql: Sql | RowsSql, most?: number): Generator<Cell[]> {
    const values = sql.values.map(boundOf);
    if (!("columns" in sql)) {
      const types = sql.types ?? [];
      const [row = []] = this.bridge.ask({ all: { text: sql.text, values, most: null } }).rows;
      return yield row.map((value, i) => cellOf(value, types[i] ?? { kind: "floating" }));
    }
    const cells = (row: Written[]): Cell[] =>
      sql.columns.map(({ type, raw }: { type: ValueType; raw: number | null }, i) => {
        const cell = cellOf(row[i] ?? null, type);
        const stored = raw === null ? null : (row[raw] ?? null);
        return cell === null && stored !== null ? { misfit: stored } : cell;
      });
    for (const { row } of most === undefined ? this.fetched(sql.text, values) : this.whole(sql.text, values, most)) yield cells(row);
  }

  private *whole(text: string, values: Written[], most: number): Generator<{ row: Written[] }> {
    // Without a cursor the server may work on it side by side.
    for (const row of this.bridge.ask({ all: { text, values, most: Number.isFinite(most) ? most : null } }).rows) yield { row };
  }

  private *fetched(text: string, values: Written[]): Generator<{ row: Written[]; types: number[]; names: string[] }> {
    const { cursor = 0 } = this.bridge.ask({ open: { text, values } });
    let failed = false;
    try {
      for (;;) {
        const { rows, types, names } = this.bridge.ask({ fetch: { cursor, rows: FETCHED } });
        for (const row of rows) yield { row, types, names };
        if (rows.length < FETCHED) return;
      }
    } catch (error) {
      failed = true;
      throw error;
    } finally {
      // After a fault the transaction is over, and its cursors with it.
      if (!failed) this.bridge.ask({ close: { cursor } });
    }
  }

  private tables(dialect: Dialect): ReadTable {
    const fetched = (text: string) => this.fetched(text, []);
    return function* (table, columns) {
      const select = columns.map((c) => {
        const name = quoted(c.column);
        if ("stored" in c) return c.stored === "text" ? `CAST(${name} AS text)` : name;
        return dialect.read(name, c.type, c.storage);
      });
      const value = (column: ReadColumn, written: Written, type: number): Value => {
        if (!("stored" in column)) return typedValue(written, column.type);
        return column.stored === "text" ? written : plainOf(written, type);
      };
      for (const { row, types } of fetched(`SELECT ${[...select, "1"].join(", ")} FROM ${qualified(table)}`))
        yield columns.map((column, i) => value(column, row[i] ?? null, types[i] ?? 0));
    };
  }
}

let kept: Session | null = null;

/** The connection of this process to a server; one is kept, that of the address asked last. */
export function sessionOf(address: string): Session {
  if (kept?.address !== address) {
    kept?.close();
    kept = new Session(address);
  }
  return kept;
}
