import { type ChildProcess, execFileSync, fork } from "node:child_process";
import { once } from "node:events";
import { cpSync, mkdirSync, readdirSync, readFileSync, symlinkSync } from "node:fs";
import { tmpdir } from "node:os";
import { basename, join, resolve } from "node:path";
import { DuckDBInstance } from "@duckdb/node-api";
import Database from "better-sqlite3";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import { emptyQuery } from "@/core/query/empty";
import { tablesToCopy } from "@/core/query/onCopy";
import type { Plan } from "@/core/query/plan";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import { whole } from "@/core/types/valueType";
import { proveQuery } from "@/server/jobs/queries/prove";
import { planOf } from "@/server/services/queries/service";
import { copyOf } from "@/server/services/workspace/copy";
import { withCopy } from "@/server/services/workspace/here";
import { Workspace } from "@/server/services/workspace/workspace";
import type { FromCopier } from "@/server/source/columnar/process";
import { readingOf, readingWithCopy } from "@/server/source/read";
import type { Reading } from "@/server/source/reading";
import { versionOf } from "@/server/source/sqlite/version";
import { seeded } from "../../demo/random";
import { planned, SEED } from "../support/everywhere";
import { makeDatabase, temporaryFolder } from "../support/ledger";
import { column } from "../support/sample";
import { agree, agreeOnFigures, agreeOnQueries, answerOf } from "../support/twoWays";

/* The columnar copy as the application has it, in a process of its own and of every table: the demo company, and kills. */

vi.hoisted(() => {
  process.env.NEXT_LEDGER_LARGE = "1";
});

const NOW = () => new Date("2026-11-23T10:00:00Z");
const place = temporaryFolder();
afterAll(place.remove);

const until = async (holds: () => boolean | Promise<boolean>): Promise<void> => {
  while (!(await holds())) await new Promise((done) => setTimeout(done, 50));
};

describe("the demo company over its columnar copy", () => {
  let here: Workspace;
  let there: Workspace;
  beforeAll(async () => {
    const [file, other] = [join(place.folder, "file"), join(place.folder, "copied")];
    execFileSync(process.execPath, ["dist/make-demo.mjs", file, "--bare"]);
    cpSync(file, other, { recursive: true });
    here = new Workspace(file, join(file, "business.sqlite"), process.cwd(), NOW);
    const database = join(other, "business.sqlite");
    const { engine, copy } = withCopy(process.cwd(), other, () => database);
    there = new Workspace(other, database, process.cwd(), NOW, engine, copy);
    const wanted = tablesToCopy(await there.schema(), 1).length;
    const now = versionOf(database);
    await until(() => copy.kept.state?.coming === null && copy.kept.state.tables.length === wanted && copy.kept.state.tables.every((t) => t.at === now));
  }, 120_000);
  afterAll(() => {
    here?.close();
    there?.close();
  });

  const saved = (kind: "query" | "report") => here.catalogue.list(kind);

  it("answers every saved query as the database does, and proves it by the database", async () => {
    const by = (await agreeOnQueries(here, there)).map((proof) => proof.answeredBy);
    expect(by.filter((engine) => engine === "columnar").length, "queries that the copy answers").toBeGreaterThan(by.length / 3);
  }, 120_000);

  it("makes every saved report's pages, and files of queries, as the database does", async () => {
    for (const { name, spec } of saved("report")) await agree(here, there, name, "/api/report/pages", { spec, values: {}, from: 1, to: 3 });
    const file = async (ws: Workspace, spec: QuerySpec, n: number) => {
      const path = join(ws.folder, `file-${n}.csv`);
      await ws.engine.run<"export">({ kind: "export", format: "csv", database: ws.database, plan: await planOf(ws, spec, {}), path }, { client: "test" });
      return readFileSync(path, "utf8");
    };
    for (const [n, { name, spec }] of saved("query").entries()) {
      const own = await file(here, spec as QuerySpec, n).catch((error: Error) => error.message);
      expect(await file(there, spec as QuerySpec, n).catch((error: Error) => error.message), name).toBe(own);
    }
  }, 120_000);

  it("works out every saved pivot, chart and tile as the database does", async () => {
    await agreeOnFigures(here, there);
  }, 120_000);
});

const ROWS = 300_000;
const entries: Schema = {
  tables: [
    {
      name: "entry",
      label: "entry",
      key: ["id"],
      rows: ROWS,
      columns: [{ ...column("id", whole), nullable: false, filled: "number" }, column("amount", whole)],
    },
  ],
  links: [],
};
const amount = { id: "t", value: { kind: "field" as const, join: "", column: "amount" } };
const totals = planned({ ...emptyQuery("entry"), grouped: true, columns: [{ ...amount, figure: "total" }] }, entries);

/** A database of entries whose amounts are their numbers. */
function makeEntries(name: string, rows: number): string {
  const database = join(place.folder, `${name}.sqlite`);
  makeDatabase(
    database,
    `CREATE TABLE entry (id INTEGER PRIMARY KEY, amount INTEGER); WITH n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < ${rows}) INSERT INTO entry SELECT i, i FROM n`,
  );
  return database;
}

/** Begins the process of the entries' copy, which jobs of this process are told of. @returns it, once it answers */
function copying(database: string): Promise<ChildProcess> {
  const socket = join(tmpdir(), `next-ledger-${basename(database, ".sqlite")}-${process.pid}.sock`);
  process.env.NEXT_LEDGER_COPY = socket;
  return new Promise((done) => {
    const child = fork("dist/columnar.mjs", [`${database}-copy`, database, socket], {
      execArgv: ["--expose-gc"],
      stdio: ["ignore", "ignore", "inherit", "ipc"],
    });
    child.on("message", (message: FromCopier) => "ready" in message && done(child));
    child.send({ keep: tablesToCopy(entries, 0) });
  });
}

describe("a copy whose process is killed at any moment", () => {
  it("never answers with rows as they were before, and is whole again in the end", async () => {
    const database = makeEntries("killed", ROWS);
    const db = new Database(database);
    const random = seeded(SEED);
    const begin = () => copying(database);
    const asked = () => readingOf(database, [totals], async (reader) => ({ engine: reader.engine, rows: await reader.answer({ of: "rows", plan: totals }) }));
    const holds = async () => {
      const { engine, rows } = await asked();
      expect(rows, engine).toEqual([[db.prepare("SELECT SUM(amount) FROM entry").pluck().get()]]);
      return engine;
    };
    for (let kill = 0; kill < 8; kill++) {
      const child = await begin();
      const until = Date.now() + random.whole(0, 1500);
      while (Date.now() < until) {
        if (random.chance(0.2)) db.prepare("UPDATE entry SET amount = amount + 1 WHERE id % 1000 = ?").run(random.whole(0, 999));
        await holds();
        await new Promise((done) => setTimeout(done, random.whole(0, 200)));
      }
      const reading = asked().catch((error: Error) => error);
      child.kill("SIGKILL");
      expect(await reading, "a reading in whose midst it was killed").toMatchObject({ rows: [[db.prepare("SELECT SUM(amount) FROM entry").pluck().get()]] });
      await holds();
    }
    const last = await begin();
    await until(async () => (await holds()) === "columnar");
    last.kill("SIGKILL");
    db.close();
  }, 120_000);
});

it("answers what is worked out for a file or a page of it, row by row it is not asked; what is wrong in it is not proved there either", async () => {
  const database = makeEntries("waited", 1000);
  // Others write beside whoever reads.
  const db = new Database(database);
  db.pragma("journal_mode = WAL");
  const rows = planned({ ...emptyQuery("entry"), columns: [{ ...amount, footing: "total" }] }, entries);
  const sum = (plan: Plan, reading: Reading) => [...reading.ask({ of: "rows", plan })].reduce((all, [cell]) => all + Number(cell), 0);
  /** What a file's figures, its rows and its proof come to. */
  const waited = () =>
    readingWithCopy(database, (reading) => ({ figure: sum(totals, reading), rows: sum(rows, reading), agrees: proveQuery(reading, totals, null).agrees }));
  let child = await copying(database);
  await until(async () => (await readingOf(database, [totals], async ({ engine }) => engine)) === "columnar");
  expect(await waited()).toEqual({ figure: 500_500, rows: 500_500, agrees: true });
  child.kill("SIGKILL");
  await once(child, "exit");
  expect(await waited(), "while its process is not there").toEqual({ figure: 500_500, rows: 500_500, agrees: true });
  const instance = await DuckDBInstance.create(join(`${database}-copy`, "copy.duckdb"));
  const connection = await instance.connect();
  await connection.run("UPDATE entry SET amount = amount + 1 WHERE id = 7");
  connection.closeSync();
  instance.closeSync();
  child = await copying(database);
  expect(await waited()).toEqual({ figure: 500_501, rows: 500_500, agrees: false });
  // Of another moment than the database's it is not asked.
  await readingWithCopy(database, async (reading) => {
    db.prepare("UPDATE entry SET amount = 0 WHERE id = 1000").run();
    expect([sum(totals, reading), sum(rows, reading)], "both of the moment before").toEqual([500_501, 500_500]);
  });
  expect((await waited()).rows).toBe(499_500);
  await until(async () => (await waited()).agrees);
  expect(await waited()).toEqual({ figure: 499_500, rows: 499_500, agrees: true });
  child.kill("SIGKILL");
  db.close();
}, 60_000);

it("where its engine is not installed, the database answers, and that is told in one line", async () => {
  // The application as it is, with all packages but that one.
  const root = join(place.folder, "without");
  mkdirSync(join(root, "node_modules"), { recursive: true });
  cpSync("dist", join(root, "dist"), { recursive: true });
  symlinkSync(resolve("src"), join(root, "src"));
  for (const name of readdirSync("node_modules").filter((n) => n !== "@duckdb" && !n.startsWith(".")))
    symlinkSync(resolve("node_modules", name), join(root, "node_modules", name));
  const database = join(place.folder, "without.sqlite");
  makeDatabase(database, "CREATE TABLE t (id INTEGER PRIMARY KEY, n INTEGER); INSERT INTO t (n) VALUES (2), (3)");
  const folder = join(place.folder, "without-data");
  const { engine, copy } = withCopy(root, folder, () => database);
  const ws = new Workspace(folder, database, root, NOW, engine, copy);
  try {
    const total = { id: "n", value: { kind: "field", join: "", column: "n" }, figure: "total" };
    const question = { spec: { ...emptyQuery("t"), grouped: true, columns: [total] }, values: {} };
    expect(await answerOf(ws, "/api/query/rows", { ...question, offset: 0, rows: 10 })).toEqual([[5]]);
    await until(() => copyOf(ws).failed !== null);
    expect(copyOf(ws).failed).toBe("its engine (@duckdb/node-api) is not installed on this machine, or not for its system.");
    expect(await answerOf(ws, "/api/query/proof", question)).toMatchObject({ agrees: true, answeredBy: "sqlite" });
  } finally {
    ws.close();
  }
}, 60_000);
