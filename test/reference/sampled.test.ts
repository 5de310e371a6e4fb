import { execFileSync } from "node:child_process";
import { cpSync } from "node:fs";
import { join } from "node:path";
import Database from "better-sqlite3";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { sqlite } from "@/core/query/dialect/sqlite";
import { emptyQuery } from "@/core/query/empty";
import { compileFooting } from "@/core/query/footing";
import type { Plan } from "@/core/query/plan";
import { resolveQuery } from "@/core/query/resolve";
import { isSampled } from "@/core/schema/sampled";
import { usualDay } from "@/core/types/calendar";
import type { Job } from "@/server/engine/protocol";
import { proveQuery } from "@/server/jobs/queries/prove";
import { Workspace } from "@/server/services/workspace/workspace";
import { sqliteReading } from "@/server/source/read";
import type { Reading } from "@/server/source/reading";
import { registerFunctions } from "@/server/source/sqlite/functions";
import { inspectDatabase } from "@/server/source/sqlite/inspect";
import { temporaryFolder } from "../support/ledger";
import { agreeOnFigures, agreeOnQueries } from "../support/twoWays";

/* The demo company by types of a sample, while the look at all its values goes on: pages say what they say by all of them. */

const NOW = () => new Date("2026-11-23T10:00:00Z");
const place = temporaryFolder();
let here: Workspace;
let early: Workspace;
beforeAll(async () => {
  const [file, other] = [join(place.folder, "file"), join(place.folder, "sampled")];
  execFileSync(process.execPath, ["dist/make-demo.mjs", file, "--bare"]);
  cpSync(file, other, { recursive: true });
  here = new Workspace(file, join(file, "business.sqlite"), process.cwd(), NOW);
  const there = new Workspace(other, join(other, "business.sqlite"), process.cwd(), NOW);
  const run = there.engine.run.bind(there.engine) as (job: Job, options: object) => Promise<unknown>;
  // A thousand values are many here; the look at all of them does not end.
  const value = (job: Job, options: object) =>
    job.kind !== "inspect" ? run(job, options) : job.most ? run({ ...job, most: 1000 }, options) : new Promise(() => {});
  Object.defineProperty(there.engine, "run", { value });
  early = there.early();
}, 120_000);
afterAll(() => {
  here?.close();
  early?.close();
  place.remove();
});

it("answers and proves every saved query, pivot, chart and tile alike", async () => {
  const schema = await early.schema();
  expect(isSampled(schema)).toBe(true);
  expect(schema.tables.filter((t) => t.reckoned).length).toBeGreaterThan(5);
  await agreeOnQueries(here, early);
  await agreeOnFigures(here, early);
  expect(early.looking.share).not.toBeNull();
  // What was asked by types of a sample is not what is asked by all values.
  const [first, whole] = [await early.state(), await here.early().state()];
  expect([first.includes(" true "), whole.includes(" true ")]).toEqual([true, false]);
}, 240_000);

describe("a proof by types of a sample", () => {
  /** Thirty thousand amounts, one of which lies between the places of the sample and begins like a number. */
  const db = new Database(":memory:");
  db.exec(`CREATE TABLE sale (id INTEGER PRIMARY KEY, amount INTEGER);
    WITH n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 30000) INSERT INTO sale SELECT i, CASE i WHEN 16001 THEN '12 crates' ELSE 1 END FROM n`);
  registerFunctions(db);
  const schema = inspectDatabase(db, [], [], { most: 1000 });
  const plan = () => {
    const made = resolveQuery(
      { ...emptyQuery("sale"), columns: [{ id: "amount", value: { kind: "field", join: "", column: "amount" }, footing: "total" }] },
      schema,
      { today: usualDay("2026-11-23"), values: {} },
    );
    if (!made.ok) throw new Error("not resolved");
    return made.value;
  };
  const own = sqliteReading(db);

  it("leaves the value out that does not fit, and counts it, though nobody has seen it yet", () => {
    expect(schema.tables[0]?.columns[1]).toMatchObject({ type: { kind: "whole" }, misfits: 0, sampled: true });
    const proof = proveQuery(own, plan(), "amount");
    expect([proof.agrees, proof.totals.map((c) => [c.sheet, c.accounted])]).toEqual([true, [[29_999, 29_999]]]);
    expect(compileFooting(plan(), sqlite).misfits).toEqual(["amount"]);
  });

  it("says no where the sheet takes it for what it begins with, or is one out", () => {
    const answering = (total: (right: number) => number): Reading => ({
      ...own,
      ask: (statement) => [...own.ask(statement)].map(([rows, right, ...more]) => [rows ?? 0, total(Number(right)), ...more]),
    });
    expect(
      [0, 12, 1, -1].map(
        (by) =>
          proveQuery(
            answering((right) => right + by),
            plan(),
            "amount",
          ).agrees,
      ),
    ).toEqual([true, false, false, false]);
    // Nor is a total made of it where its column is taken to hold numbers alone: it is refused.
    const bare = JSON.parse(JSON.stringify(plan()).replaceAll('"guarded":true', '"guarded":false')) as Plan;
    expect(() => [...own.ask({ of: "footing", plan: bare })]).toThrow("more than 18 digits");
  });
});
