import { execFileSync } from "node:child_process";
import { cpSync } from "node:fs";
import { join } from "node:path";
import { afterAll, beforeAll, expect, it } from "vitest";
import { isSampled } from "@/core/schema/sampled";
import type { Job } from "@/server/engine/protocol";
import { Workspace } from "@/server/services/workspace/workspace";
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
