import { mkdirSync, rmSync, statfsSync, statSync } from "node:fs";
import { join } from "node:path";
import { setImmediate, setTimeout } from "node:timers/promises";
import type { DuckDBConnection, DuckDBInstance } from "@duckdb/node-api";
import { quoted } from "@/core/query/dialect/dialect";
import type { TableToCopy } from "@/core/query/onCopy";
import { inTurns } from "@/server/common/turns";
import type { FileDatabase } from "@/server/source/sqlite/database";
import { openReader } from "@/server/source/sqlite/readers";
import { versionOf } from "@/server/source/sqlite/version";
import type { CopyOne } from "./copyServer";
import { Changed, copyRows, copyTable, NoRoom, NotCopied, type Telling } from "./copyTable";
import { openEngine } from "./engine";
import type { Moved } from "./protocol";

/*
 * The copy of a database's large tables by columns. Each table in it is known to be as the file was at one version; what
 * is asked of tables at another version is not answered here.
 */

/** The part of the disk that stays free. */
const KEPT_FREE = 0.1;

/** The table in which the copy tells what it holds. */
const HELD = "next ledger copied";
/** The table that is being copied, until it is whole; of several that are copied together, the begin of their names. */
const COMING = "next ledger coming";

/** Of another layout than this the copy is made again. */
const LAYOUT = 1;

/** A table of the copy: what its columns are taken for, and the version of the file it is of. */
type Held = { made: string; at: string; rows: number; unlike: boolean };

/** `at`: the version of the file that a table is as. */
export type CopyState = {
  tables: { name: string; rows: number; at: string }[];
  coming: { name: string; share: number } | null;
  without: { name: string; why: string }[];
};

/** Between two pieces of copying: turns in which questions are taken, and how long those that are being answered are waited for. */
const TURNS = 3;
const PAUSE_MS = 5;
const LONGEST_PAUSE_MS = 100;

export class ColumnarStore {
  private readonly held = new Map<string, Held>();
  /** Tables that cannot be copied as they were at a version, with the reason. */
  private readonly without = new Map<string, { at: string; made: string; why: string }>();
  private coming: CopyState["coming"] = null;
  private wanted: TableToCopy[] = [];
  /** What writes to the copy, one after the other. */
  private readonly alone = inTurns();

  private constructor(
    private readonly instance: DuckDBInstance,
    private readonly writer: DuckDBConnection,
    readonly database: string,
    private readonly folder: string,
    private readonly told: () => void,
  ) {}

  /** What is left of tables that were being copied when the process ended takes no room. */
  private async dropComing(): Promise<void> {
    const read = await this.writer.runAndReadAll("SELECT table_name FROM duckdb_tables()");
    for (const [name] of read.getRowsJS() as [string][]) if (name.startsWith(COMING)) await this.writer.run(`DROP TABLE ${quoted(name)}`);
  }

  /**
   * Opens the copy in a folder, or begins one where there is none that can be read.
   * @param told called whenever its state is another
   */
  static async open(folder: string, database: string, threads: number, told: () => void = () => {}): Promise<ColumnarStore> {
    mkdirSync(folder, { recursive: true });
    const path = join(folder, "copy.duckdb");
    try {
      return await ColumnarStore.openFile(path, database, folder, threads, told);
    } catch {
      // Cut short, of another version of its engine, or of another layout: nothing is in it that is not in the database.
      for (const file of [path, `${path}.wal`]) rmSync(file, { force: true });
      return ColumnarStore.openFile(path, database, folder, threads, told);
    }
  }

  private static async openFile(path: string, database: string, folder: string, threads: number, told: () => void) {
    const { instance, writer } = await openEngine(path, folder, threads);
    try {
      const store = new ColumnarStore(instance, writer, database, folder, told);
      await store.readHeld();
      await store.dropComing();
      return store;
    } catch (error) {
      instance.closeSync();
      throw error;
    }
  }

  private async readHeld(): Promise<void> {
    await this.writer.run(
      `CREATE TABLE IF NOT EXISTS ${quoted(HELD)} (name VARCHAR PRIMARY KEY, database VARCHAR, made VARCHAR, version VARCHAR, "rows" BIGINT, unlike BOOLEAN, layout INTEGER)`,
    );
    const read = await this.writer.runAndReadAll(`SELECT name, database, made, version, "rows", unlike, layout FROM ${quoted(HELD)}`);
    for (const [name, database, made, at, rows, unlike, layout] of read.getRowsJS() as [string, string, string, string, bigint, boolean, number][]) {
      if (layout !== LAYOUT || database !== this.database) throw new TypeError("Of another layout or database");
      this.held.set(name, { made, at, rows: Number(rows), unlike });
    }
  }

  get state(): CopyState {
    return {
      tables: [...this.held].map(([name, { rows, at }]) => ({ name, rows, at })),
      coming: this.coming,
      without: [...this.without].map(([name, { why }]) => ({ name, why })),
    };
  }

  /**
   * Copies what is not there as the file is now; lets go what is not wanted any more. What changes while it is copied is
   * begun again at the next call.
   * @returns whether all that can be copied is there as the file is now
   */
  refresh(wanted: TableToCopy[]): Promise<boolean> {
    this.wanted = wanted;
    return this.alone(() => this.copyAll(wanted));
  }

  /** How many readings are going on. */
  private readers = 0;

  /** Tells that one more is begun, or one has ended: what is copied waits for them, for a while. */
  reader(change: 1 | -1): void {
    this.readers += change;
  }

  private async pause(): Promise<void> {
    // A question that has come is read in a turn of its own, after the one in which whoever asks it is let in.
    for (let turn = 0; turn < TURNS; turn++) await setImmediate();
    for (let waited = 0; this.readers > 0 && waited < LONGEST_PAUSE_MS; waited += PAUSE_MS) await setTimeout(PAUSE_MS);
  }

  /** Lets go of tables that are not wanted any more. */
  keepOnly(wanted: TableToCopy[]): Promise<void> {
    return this.alone(() => this.letGoOthers(wanted));
  }

  private async letGoOthers(wanted: TableToCopy[]): Promise<void> {
    for (const name of [...this.held.keys()]) if (!wanted.some((t) => t.name === name)) await this.letGo(name);
  }

  private async copyAll(wanted: TableToCopy[]): Promise<boolean> {
    await this.letGoOthers(wanted);
    for (const table of wanted) {
      const at = versionOf(this.database);
      if (at === null) return false;
      if (this.isFresh(table, at)) continue;
      const left = this.without.get(table.name);
      if (left?.at === at && left.made === table.made) continue;
      try {
        this.without.delete(table.name);
        await this.copy(table, at);
      } catch (error) {
        if (error instanceof Changed) return false;
        await this.letGo(table.name);
        this.without.set(table.name, { at, made: table.made, why: error instanceof NotCopied ? error.message : "Copying it failed." });
      } finally {
        this.coming = null;
        await this.writer.run(`DROP TABLE IF EXISTS ${quoted(COMING)}`);
        this.told();
      }
    }
    return wanted.every((t) => this.isFresh(t, versionOf(this.database)) || this.without.has(t.name));
  }

  /**
   * Whether tables of a server are to be copied: some were never, or as they are not taken any more, or all were before a
   * moment (ISO 8601).
   */
  isBehind(wanted: TableToCopy[], due: string): boolean {
    return wanted.some((table) => {
      const { made, at } = this.held.get(table.name) ?? this.without.get(table.name) ?? {};
      return made !== table.made || at === undefined || at < due;
    });
  }

  /**
   * Copies tables of a server, all as they are at one moment; what was there before is answered from until all are here.
   * @param at the moment (ISO 8601)
   * @throws what `copy` does, but for a table that cannot be copied at all; NoRoom: then all stays as it was
   */
  renew(wanted: TableToCopy[], at: string, copy: CopyOne): Promise<void> {
    this.wanted = wanted;
    return this.alone(async () => {
      const [came, without]: [Map<string, Held>, typeof this.without] = [new Map(), new Map()];
      const place = (name: string) => quoted(`${COMING} ${wanted.findIndex((t) => t.name === name)}`);
      try {
        for (const table of wanted) {
          try {
            this.mustHaveOwnName(table.name);
            const { rows, unlike } = await copy(table, this.writer, `${COMING} ${wanted.indexOf(table)}`, this.telling(table));
            came.set(table.name, { made: table.made, at, rows, unlike });
          } catch (error) {
            if (!(error instanceof NotCopied) || error instanceof NoRoom) throw error;
            without.set(table.name, { at, made: table.made, why: error.message });
          }
        }
        await this.atOnce(async () => {
          for (const name of this.held.keys()) await this.writer.run(`DROP TABLE IF EXISTS ${quoted(name)}`);
          await this.writer.run(`DELETE FROM ${quoted(HELD)}`);
          for (const [name, held] of came) {
            await this.writer.run(`ALTER TABLE ${place(name)} RENAME TO ${quoted(name)}`);
            await this.writeHeld(name, held);
          }
        });
        this.held.clear();
        for (const [name, held] of came) this.held.set(name, held);
        this.without.clear();
        for (const [name, why] of without) this.without.set(name, why);
      } finally {
        this.coming = null;
        await this.dropComing();
        this.told();
      }
    });
  }

  private telling(table: TableToCopy): Telling {
    return {
      pause: () => this.pause(),
      told: (rows) => {
        this.mustHaveRoom();
        this.coming = { name: table.name, share: Math.min(1, rows / Math.max(1, table.rows)) };
        this.told();
      },
    };
  }

  private isFresh({ name, made }: { name: string; made: string }, at: string | null): boolean {
    const held = this.held.get(name);
    return held !== undefined && held.made === made && held.at === at;
  }

  private async copy(table: TableToCopy, at: string): Promise<void> {
    this.mustHaveRoom(statSync(this.database).size);
    this.mustHaveOwnName(table.name);
    const unchanged = () => versionOf(this.database) === at;
    const { rows, unlike } = await this.reading((db) => {
      mustCompareAlike(db, table.name);
      return copyTable(db, this.writer, table, { into: COMING, unchanged, ...this.telling(table) });
    });
    await this.keep(table.name, { made: table.made, at, rows, unlike }, async () => {
      await this.writer.run(`DROP TABLE IF EXISTS ${quoted(table.name)}`);
      await this.writer.run(`ALTER TABLE ${quoted(COMING)} RENAME TO ${quoted(table.name)}`);
    });
  }

  /** Changes what is there of a table, and what is told of it, at once. */
  private async keep(name: string, held: Held, change: () => Promise<void>): Promise<void> {
    await this.atOnce(async () => {
      await change();
      await this.writeHeld(name, held);
    });
    this.held.set(name, held);
    this.told();
  }

  private async atOnce(change: () => Promise<void>): Promise<void> {
    await this.writer.run("BEGIN TRANSACTION");
    try {
      await change();
      await this.writer.run("COMMIT");
    } catch (error) {
      await this.writer.run("ROLLBACK");
      throw error;
    }
  }

  private async writeHeld(name: string, { made, at, rows, unlike }: Held): Promise<void> {
    const values = [name, this.database, made, at, BigInt(rows), unlike, LAYOUT];
    await this.writer.run(`INSERT OR REPLACE INTO ${quoted(HELD)} VALUES ($1, $2, $3, $4, $5, $6, $7)`, values);
  }

  private async letGo(name: string): Promise<void> {
    // First it is not answered from any more.
    if (!this.held.delete(name)) return;
    await this.writer.run(`DELETE FROM ${quoted(HELD)} WHERE name = $1`, [name]);
    await this.writer.run(`DROP TABLE IF EXISTS ${quoted(name)}`);
    this.told();
  }

  /** @param bytes what is to come still */
  private mustHaveRoom(bytes = 0): void {
    const { bavail, blocks, bsize } = statfsSync(this.folder);
    if (bavail * bsize - bytes < blocks * bsize * KEPT_FREE) throw new NoRoom("The disk is almost full.");
  }

  /** In the copy's engine names that differ in their case alone are one, and two names are the copy's own. */
  private mustHaveOwnName(name: string): void {
    const same = [...this.wanted.map((t) => t.name), HELD, COMING].filter((other) => other.toLowerCase() === name.toLowerCase());
    if (same.length > 1) throw new NotCopied("Another table has the same name, ignoring case.");
  }

  /** Opened for each reading: another file may have been moved over the one before, which an open connection would read on. */
  private async reading<T>(work: (db: FileDatabase) => Promise<T>): Promise<T> {
    const db = openReader(this.database);
    try {
      return await work(db);
    } finally {
      db.close();
    }
  }

  /**
   * Follows what the ledger itself changed: rows that it touched are read again. A table that cannot be followed, or was not
   * watched as it was changed, is copied anew.
   */
  moved(moved: Moved): Promise<void> {
    return this.alone(async () => {
      if (moved.database !== this.database) return;
      for (const { name, touched } of moved.watched) {
        const held = this.held.get(name);
        if (held?.at !== moved.from || touched === null) continue;
        if (touched.length === 0) await this.keep(name, { ...held, at: moved.to }, async () => {});
        else await this.follow(name, held, moved.to, touched).catch(() => this.letGo(name));
      }
    });
  }

  private async follow(name: string, held: Held, to: string, rows: string[]): Promise<void> {
    const table = this.wanted.find((t) => t.name === name && t.made === held.made);
    if (!table) return;
    const now: Held = { ...held, at: to };
    await this.keep(name, now, async () => {
      const { more, unlike } = await this.reading((db) => copyRows(db, this.writer, table, rows));
      if (versionOf(this.database) !== to) throw new Changed();
      now.rows += more;
      now.unlike ||= unlike;
    });
  }

  /**
   * Begins to read: all tables as they were at a version of the database. Null where one of them is not there so.
   * @param wanted the version; null where any one will do
   * @returns a connection that sees nothing of what is copied afterwards, of which version it is, and whether texts' case
   *   must not be asked for
   */
  async begin(
    database: string,
    wanted: string | null,
    tables: { name: string; made: string }[],
  ): Promise<{ connection: DuckDBConnection; at: string; unlike: boolean } | null> {
    if (database !== this.database) return null;
    const at = wanted ?? this.held.get(tables[0]?.name ?? "")?.at;
    // Most of what cannot be answered is known at once: whoever asks does not wait for what is copied meanwhile.
    if (at === undefined || tables.some(({ name, made }) => this.held.get(name)?.made !== made || this.held.get(name)?.at !== at)) return null;
    const connection = await this.instance.connect();
    try {
      await connection.run("BEGIN TRANSACTION");
      // Told by what the transaction sees: another state may have come since the question was put.
      const read = await connection.runAndReadAll(`SELECT name, made, version, unlike FROM ${quoted(HELD)}`);
      const seen = new Map((read.getRowsJS() as [string, string, string, boolean][]).map(([name, ...rest]) => [name, rest]));
      const fresh = tables.every(({ name, made }) => seen.get(name)?.[0] === made && seen.get(name)?.[1] === at);
      if (fresh) return { connection, at, unlike: tables.some((t) => seen.get(t.name)?.[2] === true) };
    } catch (error) {
      connection.closeSync();
      throw error;
    }
    connection.closeSync();
    return null;
  }

  /** Ends the process where the copy's engine answers nothing any more. */
  async mustAnswer(): Promise<void> {
    await this.writer.run("SELECT 1").catch(() => process.exit(1));
  }

  close(): void {
    this.writer.closeSync();
    this.instance.closeSync();
  }
}

/** Tables that another module keeps cannot be followed; texts that compare by a rule of their own, or in another encoding, compare otherwise in the copy. */
function mustCompareAlike(db: FileDatabase, name: string): void {
  const sql = db.prepare("SELECT sql FROM sqlite_schema WHERE type = 'table' AND name = ?").pluck().get(name) as string | undefined;
  if (sql === undefined || /^\s*create\s+virtual\b/i.test(sql)) throw new NotCopied("It is a virtual table.");
  if (/\bwithout\s+rowid\b[^)]*$/i.test(sql)) throw new NotCopied("Its rows have no row number (WITHOUT ROWID).");
  if (/\bcollate\s+(?!binary\b)/i.test(sql)) throw new NotCopied("A column has its own collation.");
  if (db.pragma("encoding", { simple: true }) !== "UTF-8") throw new NotCopied("The database is not encoded in UTF-8.");
}
