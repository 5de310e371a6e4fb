import { execFileSync } from "node:child_process";
import { readFileSync, renameSync, truncateSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { DuckDBInstance } from "@duckdb/node-api";
import Database from "better-sqlite3";
import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import { duckdb } from "@/core/query/dialect/duckdb";
import { sqlite } from "@/core/query/dialect/sqlite";
import { emptyQuery } from "@/core/query/empty";
import { type ReadTable, tablesOnCopy } from "@/core/query/onCopy";
import type { Plan } from "@/core/query/plan";
import type { QuerySpec } from "@/core/query/spec";
import { compileStatement, type Statement } from "@/core/query/statement";
import type { Schema } from "@/core/schema/schema";
import { type Cell, decimal, text, whole } from "@/core/types/valueType";
import { run } from "@/server/jobs/kinds/proof";
import { NotOnCopy } from "@/server/source/columnar/client";
import { UNLIKE } from "@/server/source/columnar/values";
import { beginWatch, endWatch } from "@/server/source/columnar/watch";
import type { Connection } from "@/server/source/connection";
import { readingBeside, readingOf } from "@/server/source/read";
import type { Reader } from "@/server/source/reading";
import { registerFunctions } from "@/server/source/sqlite/functions";
import { readStatement } from "@/server/source/sqlite/readers";
import { versionOf } from "@/server/source/sqlite/version";
import { changing } from "@/server/source/writing";
import { seeded } from "../../demo/random";
import { derivedSchema, specArbitrary } from "../support/arbitrary";
import { copied } from "../support/copied";
import { isTooLarge, planned, RUNS, SEED } from "../support/everywhere";
import { makeDatabase, temporaryFolder } from "../support/ledger";
import { nestedArbitrary } from "../support/nested";
import { column, fillSample, sampleSchema } from "../support/sample";

/*
 * The columnar copy, asked as jobs ask it: it answers what SQLite answers, to the last digit and in the same order, or
 * does not answer; and never with rows as they were before.
 */

/** What somebody else does just after the file's version was looked at. */
const meanwhile: (() => void)[] = [];
vi.mock("@/server/source/sqlite/version", async (original) => {
  const real = await original<typeof import("@/server/source/sqlite/version")>();
  return {
    versionOf: (path: string) => {
      const version = real.versionOf(path);
      meanwhile.shift()?.();
      return version;
    },
  };
});

const place = temporaryFolder();
afterAll(place.remove);

describe("queries made at random", () => {
  const file = join(place.folder, "sample.sqlite");
  let copy: Awaited<ReturnType<typeof copied>>;
  let lite: Database.Database;
  beforeAll(async () => {
    lite = new Database(file);
    registerFunctions(lite);
    fillSample(lite, SEED);
    copy = await copied(join(place.folder, "sample"), file);
    expect(await copy.refresh(sampleSchema)).toBe(true);
    expect(copy.store.state.tables.map((t) => t.name).sort()).toEqual(["crate", "stamp", "yard"]);
  });
  afterAll(() => {
    copy.close();
    lite.close();
  });

  let [answered, left, failed] = [0, 0, 0];
  async function holds(plan: Plan): Promise<void> {
    const tables = tablesOnCopy(plan);
    const statements: Statement[] = [
      { of: "sheet", plan },
      { of: "sheet", plan, window: { offset: 3, rows: 5 } },
      { of: "footing", plan },
    ];
    if (!tables) return void left++;
    fc.pre(!isTooLarge(() => statements.map((s) => [...readStatement(lite, s)])));
    answered++;
    const own = statements.map((s) => [...readStatement(lite, s)]);
    const work = async (reader: Reader) => {
      const answers = [];
      for (const s of statements) answers.push(await reader.answer(s));
      return answers;
    };
    const others = await copy.read(tables, work).catch((error: Error) => {
      // The optimizer of the copy's engine fails on some plans; then the database is asked.
      if (error instanceof NotOnCopy && error.message.startsWith("INTERNAL")) return null;
      throw error;
    });
    if (others === null) return void failed++;
    expect(others, compileStatement({ of: "sheet", plan }, sqlite).text).toEqual(own);
  }

  it(`come to the same by the copy: ${RUNS} of them, and their footings`, async () => {
    await fc.assert(
      fc.asyncProperty(specArbitrary, (spec) => holds(planned(spec, derivedSchema))),
      { numRuns: RUNS, seed: SEED },
    );
    expect(answered / (answered + left), "the part of them that the copy answers").toBeGreaterThan(0.15);
    expect(failed / answered, "the part at which its engine fails").toBeLessThan(0.02);
  });
  it("so do those of three levels", async () => {
    await fc.assert(
      fc.asyncProperty(nestedArbitrary, ({ spec, schema }) => holds(planned(spec, schema))),
      { numRuns: Math.ceil(RUNS / 4), seed: SEED },
    );
  });
});

/** A ledger's table as it is described to the copy, and a count and a total over it. */
const amounts: Schema = {
  tables: [
    {
      name: "entry",
      label: "entry",
      key: ["id"],
      rows: 0,
      columns: [{ ...column("id", whole), nullable: false, filled: "number" }, column("note", text), column("amount", whole)],
    },
    { name: "other", label: "other", key: ["id"], rows: 0, columns: [column("id", whole)] },
  ],
  links: [],
};
const totalsOf: QuerySpec = {
  ...emptyQuery("entry"),
  grouped: true,
  columns: [
    { id: "n", value: null, figure: "count" },
    { id: "t", value: { kind: "field", join: "", column: "amount" }, figure: "total" },
  ],
};
const totals = planned(totalsOf, amounts);
const ENTRIES = "CREATE TABLE entry (id INTEGER PRIMARY KEY, note TEXT, amount INTEGER); CREATE TABLE other (id INTEGER PRIMARY KEY);";

describe.each(["delete", "wal"])("a copy of a database whose journal is %s", (journal) => {
  let number = 0;
  /** A database with some rows, its copy, and what both come to. */
  async function begun(rows = 2000) {
    const file = join(place.folder, `${journal}-${++number}.sqlite`);
    const db = new Database(file);
    registerFunctions(db);
    db.exec(
      `PRAGMA journal_mode = ${journal}; ${ENTRIES} WITH n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < ${rows}) INSERT INTO entry SELECT i, 'note ' || i, i FROM n`,
    );
    const copy = await copied(`${file}-copy`, file);
    const own = (): Cell[][] => [...readStatement(db, { of: "rows", plan: totals })];
    const asked = () => copy.read(tablesOnCopy(totals) ?? [], (reader) => reader.answer({ of: "rows", plan: totals }));
    return { file, db, copy, own, asked };
  }

  it("is asked only while it is as the file is, whoever writes and whenever", async () => {
    const { file, db, copy, own, asked } = await begun();
    process.env.NEXT_LEDGER_COPY = copy.socket;
    const random = seeded(SEED + number);
    let [answered, followed] = [0, 0];
    const states = [JSON.stringify(own())];
    const wrote = () => void states.push(JSON.stringify(own()));
    const deeds: (() => unknown)[] = [
      () => db.prepare("INSERT INTO entry (note, amount) VALUES ('new', ?)").run(random.whole(1, 1000)),
      () => db.prepare("UPDATE entry SET amount = amount + 1 WHERE id % 97 = ?").run(random.whole(0, 96)),
      () => db.prepare("DELETE FROM entry WHERE id = (SELECT MAX(id) FROM entry)").run(),
      () => db.exec("BEGIN; UPDATE entry SET amount = 0; ROLLBACK"),
    ];
    const byLedger = async () => {
      await beginWatch(file);
      const work = (own: Connection) => {
        const id = random.whole(1, 2000);
        if (random.chance(0.3)) own.prepare("DELETE FROM entry WHERE id = ?").run(id);
        else if (random.chance(0.5))
          own.prepare("UPDATE OR IGNORE entry SET id = ?, amount = ? WHERE id = ?").run(random.whole(1, 4000), random.whole(0, 9), id);
        else own.prepare("INSERT INTO entry (note, amount) VALUES ('ledger', ?)").run(random.whole(1, 1000));
        own.prepare("UPDATE OR ABORT entry SET amount = amount + 1 WHERE id = ?").run(id);
      };
      changing(file, work);
      wrote();
      await endWatch();
    };
    for (let i = 0; i < 150; i++) {
      const refreshing = random.chance(0.4) ? copy.refresh(amounts) : Promise.resolve(false);
      const from = states.length - 1;
      const reading = asked();
      if (random.chance(0.4)) {
        random.pick(deeds)();
        wrote();
      } else if (random.chance(0.6)) {
        const fresh = await asked();
        await byLedger();
        // What was fresh before is so after a change of the ledger's own, without being copied anew.
        if (fresh && (await asked())) followed++;
      }
      await refreshing;
      const answer = await reading;
      if (answer) {
        answered++;
        expect(states.slice(from)).toContain(JSON.stringify(answer));
      }
      const now = await asked();
      if (now) expect(now).toEqual(own());
    }
    expect(answered).toBeGreaterThan(20);
    expect(followed).toBeGreaterThan(5);
    copy.close();
    db.close();
  });

  it("refuses at once what it has not as it is asked, without asking its engine: nobody waits for what is copied meanwhile", async () => {
    const { db, copy, own, asked } = await begun(10);
    await copy.refresh(amounts);
    expect(await asked()).toEqual(own());
    const connects = vi.spyOn((copy.store as unknown as { instance: DuckDBInstance }).instance, "connect");
    const tables = tablesOnCopy(totals) ?? [];
    expect(await copy.begin(tables.map((t) => ({ ...t, made: "otherwise" })))).toBeNull();
    expect(await copy.begin([{ name: "not there", rows: 1, made: "" }])).toBeNull();
    db.exec("UPDATE entry SET amount = amount + 1");
    expect(await asked()).toBeUndefined();
    expect(connects).not.toHaveBeenCalled();
    copy.close();
    db.close();
  });

  it("does not make a proof agree: a figure that is wrong in the copy is held against the database, and the proof says no", async () => {
    const { file, db, copy } = await begun(40_000);
    await copy.refresh(amounts);
    process.env.NEXT_LEDGER_COPY = copy.socket;
    const large = { ...totals, source: { ...totals.source, table: { ...totals.source.table, rows: 1_000_000 } } };
    const proof = () => run({ kind: "proof", database: file, plan: large, figure: "t" }, { progress: () => {}, at: () => {} });
    expect(await proof()).toMatchObject({ agrees: true, answeredBy: "columnar" });
    const { writer } = copy.store as unknown as { writer: { run: (sql: string) => Promise<unknown> } };
    await writer.run("UPDATE entry SET amount = amount + 1 WHERE id = 7");
    expect(await proof()).toMatchObject({ agrees: false, answeredBy: "columnar" });
    await writer.run("UPDATE entry SET amount = amount - 1 WHERE id = 7");
    expect(await proof()).toMatchObject({ agrees: true });
    await writer.run("DELETE FROM entry WHERE id = 7");
    expect(await proof()).toMatchObject({ agrees: false, answeredBy: "columnar" });
    copy.close();
    db.close();
  });

  it("is not followed with changes of rows that nobody watched, as of a table copied while the ledger was about to write", async () => {
    const { file, copy, db, own, asked } = await begun(10);
    await copy.refresh({ ...amounts, tables: amounts.tables.filter((t) => t.name === "other") });
    process.env.NEXT_LEDGER_COPY = copy.socket;
    await beginWatch(file);
    await copy.refresh(amounts);
    changing(file, (own) => own.prepare("UPDATE entry SET amount = 100 WHERE id = 7").run());
    await endWatch();
    expect(await asked()).toBeUndefined();
    await copy.refresh(amounts);
    expect(await asked()).toEqual(own());
    copy.close();
    db.close();
  });

  it("follows rows that give way to others by a rule of their table", async () => {
    const { file, db, copy, own, asked } = await begun(10);
    db.exec(
      "CREATE UNIQUE INDEX unrelated ON other (id); DROP TABLE entry; CREATE TABLE entry (id INTEGER PRIMARY KEY, note TEXT UNIQUE ON CONFLICT REPLACE, amount INTEGER)",
    );
    db.exec("INSERT INTO entry VALUES (1, 'a', 1), (2, 'b', 10)");
    await copy.refresh(amounts);
    process.env.NEXT_LEDGER_COPY = copy.socket;
    await beginWatch(file);
    changing(file, (own) => own.prepare("INSERT INTO entry VALUES (3, 'a', 100)").run());
    await endWatch();
    expect(await asked()).toEqual([[2, 110]]);
    expect(own()).toEqual([[2, 110]]);
    copy.close();
    db.close();
  });

  it("is not read beside another moment of the database than its own", async () => {
    const { file, db, copy, own } = await begun();
    await copy.refresh(amounts);
    process.env.NEXT_LEDGER_COPY = copy.socket;
    const large = { ...totals, source: { ...totals.source, table: { ...totals.source.table, rows: 1_000_000 } } };
    const beside = () =>
      readingBeside(file, [large], async (tables, reader) => ({
        engine: reader.engine,
        answer: await reader.answer({ of: "rows", plan: totals }),
        there: [...tables("entry", [{ column: "amount", stored: "plain" }])].reduce((sum, [amount]) => sum + Number(amount), 0),
      }));
    expect(await beside()).toEqual({ engine: "columnar", answer: own(), there: Number(own()[0]?.[1]) });
    // Somebody writes just when the reading begins.
    meanwhile.push(() => db.exec("UPDATE entry SET amount = amount + 1"));
    const { engine, answer, there } = await beside();
    expect([engine, Number(answer[0]?.[1])]).toEqual(["sqlite", there]);
    copy.close();
    db.close();
  });

  it("is left while it cannot be: a value that does not fit, rows compared by a rule of their own, no numbers of rows", async () => {
    const { file, db, copy, own, asked } = await begun(10);
    db.exec("INSERT INTO entry (note, amount) VALUES ('odd', 'a few')");
    await copy.refresh(amounts);
    expect(await asked()).toBeUndefined();
    expect(copy.store.state.without.map((w) => w.name)).toEqual(["entry"]);
    db.exec("DELETE FROM entry WHERE note = 'odd'; UPDATE entry SET note = 'ΐ' WHERE id = 3");
    await copy.refresh(amounts);
    expect(await asked()).toEqual(own());
    // Letters whose case its engine takes otherwise are shown, but not changed there.
    const shouted = planned({ ...emptyQuery("entry"), columns: [{ id: "u", value: { kind: "formula", text: "UPPER(note)" } }] }, amounts);
    await expect(copy.read(tablesOnCopy(shouted) ?? [], (reader) => reader.answer({ of: "rows", plan: shouted }))).rejects.toThrow(NotOnCopy);
    process.env.NEXT_LEDGER_COPY = copy.socket;
    const large = { ...shouted, source: { ...shouted.source, table: { ...shouted.source.table, rows: 1_000_000 } } };
    const read = await readingOf(file, [large], async (reader) => ({ engine: reader.engine, rows: await reader.answer({ of: "rows", plan: shouted }) }));
    expect(read).toEqual({ engine: "sqlite", rows: [...readStatement(db, { of: "rows", plan: shouted })] });
    // Of names that are one in its engine neither is copied.
    const twice = { ...amounts, tables: [...amounts.tables, ...amounts.tables.slice(0, 1).map((t) => ({ ...t, name: "ENTRY" }))] };
    await copy.refresh(twice);
    await copy.refresh({ ...amounts, tables: twice.tables.slice(2) });
    await copy.refresh(twice);
    expect(await asked()).toBeUndefined();
    for (const table of [
      "entry (id INTEGER PRIMARY KEY, note TEXT COLLATE NOCASE, amount INTEGER)",
      "entry (id INTEGER PRIMARY KEY, note TEXT COLLATE\n  rtrim, amount INTEGER)",
      "entry (id INTEGER PRIMARY KEY, note TEXT, amount INTEGER) WITHOUT ROWID",
    ]) {
      db.exec(`DROP TABLE entry; CREATE TABLE ${table}; INSERT INTO entry VALUES (1, 'a', 1)`);
      await copy.refresh(amounts);
      expect(await asked(), table).toBeUndefined();
    }
    copy.close();
    db.close();
  });

  it("is begun again where its file is of another version of its engine, or of another layout", async () => {
    const { file, db, copy, own } = await begun(50);
    await copy.refresh(amounts);
    copy.close();
    const path = join(`${file}-copy`, "copy.duckdb");
    /** Opened again the copy is empty, and can be filled. */
    const beginsAgain = async () => {
      const again = await copied(`${file}-copy`, file);
      expect(again.store.state.tables).toEqual([]);
      expect(await again.refresh(amounts)).toBe(true);
      expect(await again.read(tablesOnCopy(totals) ?? [], (reader) => reader.answer({ of: "rows", plan: totals }))).toEqual(own());
      again.close();
    };
    // The version stands behind a sum of the first block, and "DUCK" (duckdb.org, "Storage Versions and Format", from memory).
    const bytes = readFileSync(path);
    expect(bytes.toString("latin1", 8, 12)).toBe("DUCK");
    bytes.writeBigUInt64LE(9_999n, 12);
    writeFileSync(path, bytes);
    await beginsAgain();
    const kept = await DuckDBInstance.create(path);
    const connection = await kept.connect();
    await connection.run('UPDATE "next ledger copied" SET layout = 99');
    connection.closeSync();
    kept.closeSync();
    await beginsAgain();
    db.close();
  });

  it("is begun again where its file is cut short, is another database's, or its columns are taken for others", async () => {
    const { file, db, copy, own } = await begun(50);
    await copy.refresh(amounts);
    copy.close();
    const path = join(`${file}-copy`, "copy.duckdb");
    truncateSync(path, 5000);
    const again = await copied(`${file}-copy`, file);
    expect(again.store.state.tables).toEqual([]);
    expect(await again.refresh(amounts)).toBe(true);
    const read = (tables: ReadTable[]) => again.read(tables, (reader) => reader.answer({ of: "rows", plan: totals }));
    expect(await read(tablesOnCopy(totals) ?? [])).toEqual(own());
    // Another type said of a column makes it another copy, though the file is the same.
    const said: Schema = {
      ...amounts,
      tables: amounts.tables.map((t) => ({ ...t, columns: t.columns.map((c) => (c.name === "amount" ? { ...c, type: decimal(2), storage: "real" } : c)) })),
    };
    const dear = planned(totalsOf, said);
    const tables = tablesOnCopy(dear) ?? [];
    expect(await read(tables)).toBeUndefined();
    await again.refresh(said);
    expect(await again.read(tables, (reader) => reader.answer({ of: "rows", plan: dear }))).toEqual([...readStatement(db, { of: "rows", plan: dear })]);
    expect(await read(tablesOnCopy(totals) ?? [])).toBeUndefined();
    // Rows are followed to the version they are told of, and to no other.
    const at = String(versionOf(file));
    await again.store.moved({ database: file, from: at, to: "elsewhere", watched: [{ name: "entry", touched: ["1"] }] });
    expect(again.store.state.tables.filter((t) => t.name === "entry")).toEqual([]);
    again.close();
    const other = join(place.folder, `${journal}-other.sqlite`);
    makeDatabase(other, ENTRIES);
    const moved = await copied(`${file}-copy`, other);
    expect(moved.store.state.tables).toEqual([]);
    moved.close();
    db.close();
  });
});

it("the first rows of a sort are those of the database, whatever was removed since from among the parts in which the copy's engine keeps rows", async () => {
  const file = join(place.folder, "large.sqlite");
  const db = new Database(file);
  registerFunctions(db);
  // Its engine keeps 122,880 rows together: what it knows of the values of each part must not be of rows that are gone.
  db.exec(`CREATE TABLE entry (id INTEGER PRIMARY KEY, amount INTEGER, mixed INTEGER NOT NULL); WITH n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 380000)
    INSERT INTO entry SELECT i, CASE WHEN i > 125000 AND i % 130000 >= 5000 THEN i / 100 END, (i * 7919) % 380000 FROM n`);
  const schema: Schema = {
    tables: [{ name: "entry", label: "entry", key: ["id"], rows: 0, columns: [column("id", whole), column("amount", whole), column("mixed", whole)] }],
    links: [],
  };
  const copy = await copied(`${file}-copy`, file);
  process.env.NEXT_LEDGER_COPY = copy.socket;
  await copy.refresh(schema);
  const columns = ["id", "amount", "mixed"].map((c) => ({ id: c, value: { kind: "field" as const, join: "", column: c } }));
  const orders = [
    ["mixed", "up"],
    ["mixed", "down"],
    ["amount", "up"],
    ["id", "down"],
  ].map(([column, direction]) => [{ column, direction }]) as QuerySpec["order"][];
  const holds = async () => {
    for (const order of orders) {
      const plan = planned({ ...emptyQuery("entry"), columns, order }, schema);
      for (const window of [
        { offset: 0, rows: 1 },
        { offset: 0, rows: 200 },
      ]) {
        const statement: Statement = { of: "sheet", plan, window };
        const read = await copy.read(tablesOnCopy(plan) ?? [], (reader) => reader.answer(statement));
        expect(read, compileStatement(statement, duckdb).text).toEqual([...readStatement(db, statement)]);
      }
    }
  };
  await holds();
  for (const deed of [
    "DELETE FROM entry WHERE id > 379000 OR id BETWEEN 130000 AND 150000",
    "UPDATE entry SET amount = 9000000 - id, mixed = mixed + 2 WHERE id < 20000",
  ]) {
    await beginWatch(file);
    changing(file, (own) => own.exec(deed));
    await endWatch();
    await copy.refresh(schema);
    await holds();
  }
  copy.close();
  db.close();
});

it("a file that is moved over the database is read, not the one that was there", async () => {
  const file = join(place.folder, "moved.sqlite");
  const other = join(place.folder, "restored.sqlite");
  makeDatabase(file, `${ENTRIES} INSERT INTO entry VALUES (1, 'a', 1)`);
  makeDatabase(other, `${ENTRIES} INSERT INTO entry VALUES (1, 'a', 1000)`);
  const copy = await copied(`${file}-copy`, file);
  const asked = () => copy.read(tablesOnCopy(totals) ?? [], (reader) => reader.answer({ of: "rows", plan: totals }));
  await copy.refresh(amounts);
  expect(await asked()).toEqual([[1, 1]]);
  renameSync(other, file);
  expect(await asked()).toBeUndefined();
  await copy.refresh(amounts);
  expect(await asked()).toEqual([[1, 1000]]);
  copy.close();
});

describe("the version of a file", () => {
  it.each(["delete", "wal"])("is another after each change, however fast they come, and the same while nothing is written (%s)", (journal) => {
    const file = join(place.folder, `version-${journal}.sqlite`);
    const db = new Database(file);
    db.exec(`PRAGMA journal_mode = ${journal}; CREATE TABLE t (n INTEGER); INSERT INTO t VALUES (0)`);
    const versions = new Set([versionOf(file)]);
    for (let i = 0; i < 200; i++) {
      db.exec(`UPDATE t SET n = ${i + 1}`);
      versions.add(versionOf(file));
      db.prepare("SELECT * FROM t").all();
      versions.add(versionOf(file));
    }
    expect(versions.size).toBe(201);
    expect(versions.has(null)).toBe(false);
    db.close();
  });
});

it("a file whose version was looked at is still locked by whoever locks it in the same process", () => {
  const file = join(place.folder, "locked.sqlite");
  makeDatabase(file, ENTRIES);
  const db = new Database(file);
  db.exec("BEGIN EXCLUSIVE");
  versionOf(file);
  const write = `const D = require("better-sqlite3"); new D(${JSON.stringify(file)}, { timeout: 0 }).exec("INSERT INTO other VALUES (1)")`;
  const other = () => execFileSync(process.execPath, ["-e", write], { stdio: ["ignore", "ignore", "pipe"] });
  expect(other).toThrow(/database is locked/);
  db.exec("COMMIT");
  expect(other).not.toThrow();
  db.close();
});

it("letters whose case and accents the copy's engine takes as the ledger does are those that are not left out", async () => {
  const lite = new Database(":memory:");
  registerFunctions(lite);
  const duck = await (await DuckDBInstance.create(":memory:")).connect();
  const letters = Array.from({ length: 0xffff }, (_, i) => i + 1)
    .filter((i) => i < 0xd800 || i > 0xdfff)
    .map((i) => String.fromCharCode(i));
  const alike = letters.filter((letter) => !UNLIKE.test(letter)).flatMap((letter) => [letter, `a${letter}`, `${letter}b`]);
  expect(alike.length).toBeGreaterThan(900);
  await duck.run("CREATE TABLE t (c VARCHAR)");
  const appender = await duck.createAppender("t");
  for (const letter of alike) {
    appender.appendVarchar(letter);
    appender.endRow();
  }
  appender.closeSync();
  for (const name of ["fold", "upper", "lower", "initcap"] as const) {
    const others = (await duck.runAndReadAll(`SELECT ${duckdb[name]("c")} FROM t`)).getRowsJS().map(([text]) => text);
    const own = lite
      .prepare(`SELECT ${sqlite[name]("value")} FROM json_each(?)`)
      .pluck()
      .all(JSON.stringify(alike));
    expect(
      alike.filter((_, i) => own[i] !== others[i]),
      name,
    ).toEqual([]);
  }
  lite.close();
});
