import { type ChildProcess, execFileSync, fork } from "node:child_process";
import { cpSync, mkdirSync, readdirSync, symlinkSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import Database from "better-sqlite3";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import { dashboardSpecSchema } from "@/core/dashboard/spec";
import { plainTiles } from "@/core/dashboard/tiles";
import type { Proof } from "@/core/proof/proof";
import { emptyQuery } from "@/core/query/empty";
import { tablesToCopy } from "@/core/query/onCopy";
import type { Schema } from "@/core/schema/schema";
import { whole } from "@/core/types/valueType";
import { copyOf } from "@/server/services/workspace/copy";
import { Workspace, withCopy } from "@/server/services/workspace/workspace";
import type { FromCopier } from "@/server/source/columnar/process";
import { readingOf } from "@/server/source/read";
import { versionOf } from "@/server/source/sqlite/version";
import { seeded } from "../../demo/random";
import { planned, SEED } from "../support/everywhere";
import { makeDatabase, temporaryFolder } from "../support/ledger";
import { column } from "../support/sample";
import { agree, answerOf } from "../support/twoWays";

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
    const { engine, copy } = withCopy(process.cwd(), other, database);
    there = new Workspace(other, database, process.cwd(), NOW, engine, copy);
    const wanted = tablesToCopy(await there.schema(), 1).length;
    const now = versionOf(database);
    await until(() => copy.kept.state?.coming === null && copy.kept.state.tables.length === wanted && copy.kept.state.tables.every((t) => t.at === now));
  }, 120_000);
  afterAll(() => {
    here?.close();
    there?.close();
  });

  const saved = (kind: "query" | "pivot" | "chart" | "dashboard") => here.catalogue.list(kind);

  it("answers every saved query as the database does, and proves it by the database", async () => {
    const by: (string | undefined)[] = [];
    for (const { name, spec } of saved("query")) {
      const question = { spec, values: {} };
      await agree(here, there, name, "/api/query/rows", { ...question, offset: 0, rows: 1000 });
      await agree(here, there, name, "/api/query/footing", question);
      by.push(((await agree(here, there, name, "/api/query/proof", question)) as Proof).answeredBy);
    }
    expect(by.filter((engine) => engine === "columnar").length, "queries that the copy answers").toBeGreaterThan(by.length / 3);
  }, 120_000);

  it("works out every saved pivot, chart and tile as the database does", async () => {
    for (const { name, spec } of saved("pivot")) {
      await agree(here, there, name, "/api/pivots", { spec, values: {} });
      await agree(here, there, name, "/api/pivots/recount", { spec, values: {} });
    }
    for (const { name, spec } of saved("chart")) await agree(here, there, name, "/api/charts", { spec, values: {} });
    for (const { name, spec } of saved("dashboard"))
      for (const { id } of plainTiles(dashboardSpecSchema.parse(spec)))
        await agree(here, there, `${name} ${id}`, "/api/dashboards/tile", { spec, tile: id, values: {} });
  }, 120_000);
});

describe("a copy whose process is killed at any moment", () => {
  const ROWS = 300_000;
  const schema: Schema = {
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
  const totals = planned(
    { ...emptyQuery("entry"), grouped: true, columns: [{ id: "t", value: { kind: "field", join: "", column: "amount" }, figure: "total" }] },
    schema,
  );

  it("never answers with rows as they were before, and is whole again in the end", async () => {
    const database = join(place.folder, "killed.sqlite");
    makeDatabase(
      database,
      `CREATE TABLE entry (id INTEGER PRIMARY KEY, amount INTEGER); WITH n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < ${ROWS}) INSERT INTO entry SELECT i, i FROM n`,
    );
    const db = new Database(database);
    const socket = join(tmpdir(), `next-ledger-killed-${process.pid}.sock`);
    process.env.NEXT_LEDGER_COPY = socket;
    const random = seeded(SEED);
    /** @returns the process, once it answers */
    const begin = (): Promise<ChildProcess> =>
      new Promise((done) => {
        const child = fork("dist/columnar.mjs", [join(place.folder, "killed-copy"), database, socket], {
          execArgv: ["--expose-gc"],
          stdio: ["ignore", "ignore", "inherit", "ipc"],
        });
        child.on("message", (message: FromCopier) => "ready" in message && done(child));
        child.send({ keep: tablesToCopy(schema, 0) });
      });
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
  const { engine, copy } = withCopy(root, folder, database);
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
