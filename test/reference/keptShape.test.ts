import { readdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import Database from "better-sqlite3";
import { expect, it } from "vitest";
import type { Schema } from "@/core/schema/schema";
import { whole } from "@/core/types/valueType";
import type { Job } from "@/server/engine/protocol";
import { KeptShape } from "@/server/services/workspace/keptShape";
import { makeDatabase, openLedger, temporaryFolder } from "../support/ledger";
import { column } from "../support/sample";

/* The shape of a database is read once for each state of its file, also by the next ledger that is opened on it. */

it("is kept beside the file's version, and read anew where file, settings or what is kept are others", async () => {
  const { folder, remove } = temporaryFolder();
  const database = makeDatabase(join(folder, "business.sqlite"), "CREATE TABLE t (id INTEGER PRIMARY KEY, n); INSERT INTO t (n) VALUES (1), (2)");
  /** Opens a ledger, reads the shape, and tells whether the database was read for it. */
  async function opened(before: (ws: ReturnType<typeof openLedger>) => void = () => {}) {
    const ws = openLedger(folder, database);
    let read = 0;
    const run = ws.engine.run.bind(ws.engine) as (job: Job, options: object) => Promise<unknown>;
    Object.defineProperty(ws.engine, "run", {
      value: (job: Job, options: object) => {
        if (job.kind === "inspect") read++;
        return run(job, options);
      },
    });
    before(ws);
    const [table] = (await ws.schema()).tables;
    ws.close();
    return { read, rows: table?.rows, column: table?.columns[1] };
  }
  expect(await opened()).toMatchObject({ read: 1, rows: 2, column: { type: { kind: "whole" }, misfits: 0 } });
  expect(await opened()).toMatchObject({ read: 0, rows: 2, column: { type: { kind: "whole" }, misfits: 0 } });
  const write = (sql: string) => {
    const db = new Database(database);
    db.exec(sql);
    db.close();
  };
  write("INSERT INTO t (n) VALUES ('many')");
  expect(await opened()).toMatchObject({ read: 1, rows: 3 });
  expect(await opened()).toMatchObject({ read: 0, rows: 3 });
  expect(await opened((ws) => ws.catalogue.setColumn("t", "n", { label: "number" }))).toMatchObject({ read: 1, column: { label: "number" } });
  writeFileSync(join(folder, "shape.json"), '{"at":');
  expect(await opened()).toMatchObject({ read: 1, rows: 3, column: { label: "number" } });
  // What cannot be read is tried again each time.
  write("CREATE VIEW v AS SELECT * FROM gone");
  expect((await opened()).read).toBe(1);
  expect((await opened()).read).toBe(1);
  expect(readdirSync(folder)).not.toContain("shape.json.part");
  remove();
});

it("is waited for with a word by the first page alone: pages that somebody works in are not replaced when it is read anew", async () => {
  const { folder, remove } = temporaryFolder();
  // A view that takes a second or more to be looked through.
  const slow =
    "CREATE TABLE t (n INTEGER); CREATE VIEW v AS WITH i(n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM i WHERE n < 12000000) SELECT COUNT(*) AS rows FROM i";
  const database = makeDatabase(join(folder, "business.sqlite"), slow);
  const ws = openLedger(folder, database);
  expect(await ws.opening()).toBe(0);
  await ws.schema();
  expect(await ws.opening()).toBeNull();
  const db = new Database(database);
  db.exec("INSERT INTO t VALUES (1)");
  db.close();
  const waited = new Promise((done) => setImmediate(() => done("waited")));
  expect(await Promise.race([ws.opening(), waited])).toBeNull();
  await ws.schema();
  ws.close();
  remove();
}, 60_000);

it("is not kept where it is from a sample; what all values showed before is known when the file is another, to who reads it alike", async () => {
  const { folder, remove } = temporaryFolder();
  const database = makeDatabase(join(folder, "business.sqlite"), "CREATE TABLE t (id INTEGER PRIMARY KEY, n); INSERT INTO t (n) VALUES (1)");
  const shape = (sampled: boolean): Schema => ({
    tables: [{ name: "t", label: "t", columns: [{ ...column("n", whole), ...(sampled ? { sampled } : {}) }], key: [], rows: 1 }],
    links: [],
  });
  const kept = new KeptShape(folder, database, "dist/engine.mjs");
  await kept.reading("told", async () => shape(true));
  expect(kept.read("told")).toBeNull();
  await kept.reading("told", async () => shape(false));
  expect(kept.read("told")).toEqual({ schema: shape(false), isNow: true });
  expect(kept.read("else")).toBeNull();
  const db = new Database(database);
  db.exec("INSERT INTO t (n) VALUES (2)");
  db.close();
  expect(kept.read("told")).toEqual({ schema: shape(false), isNow: false });
  expect(new KeptShape(folder, database, "dist/columnar.mjs").read("told")).toBeNull();
  remove();
});
