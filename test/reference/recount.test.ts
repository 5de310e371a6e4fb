import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { proofColumn } from "@/core/proof/followed";
import { compileRows, readableSql } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import type { Plan } from "@/core/query/plan";
import { resolveQuery } from "@/core/query/resolve";
import type { QuerySpec } from "@/core/query/spec";
import { recountRows } from "@/core/recount/recount";
import { cellOfValue } from "@/core/recount/value";
import type { Schema } from "@/core/schema/schema";
import { usualDay } from "@/core/types/calendar";
import { type Cell, isMisfit } from "@/core/types/valueType";
import { readRows } from "@/server/engine/readers";
import { tableReader } from "@/server/engine/tables";
import { proveQuery } from "@/server/queries/prove";
import { derivedSchema, specArbitrary } from "../support/arbitrary";
import { asWritten, threeEngines } from "../support/engines";
import { nestedArbitrary } from "../support/nested";
import { sampleRows, sampleSchema } from "../support/sample";

/*
 * The recount joins by loops and adds by itself. Queries made at random give the same rows, in the same order, by it and
 * by three engines; and every proof that is made of them agrees.
 */

const SEED = Number(process.env.RANDOM_SEED ?? 20261128);
const RUNS = Number(process.env.RANDOM_RUNS ?? 250);
let engines: Awaited<ReturnType<typeof threeEngines>>;
beforeAll(async () => {
  engines = await threeEngines(sampleSchema, sampleRows(SEED));
});
afterAll(() => engines.close());

const written = (rows: Cell[][]): string[] => rows.map((row) => row.map((cell) => (isMisfit(cell) ? cell.misfit : String(cell ?? "∅"))).join(" | "));

function isTooLarge(work: () => unknown): boolean {
  try {
    work();
    return false;
  } catch (error) {
    if (/integer overflow|larger than 18 digits/.test(String(error))) return true;
    throw error;
  }
}

/** A plan's rows by every way there is are the same, and so are its footings; its proof agrees. */
async function holdsEverywhere(plan: Plan): Promise<void> {
  // What outgrows 64 bits is refused in words, by every way of working it out that has no more.
  fc.pre(!isTooLarge(() => engines.sqlite(plan)));
  const rows = [...readRows(engines.lite, compileRows(plan, sqlite))];
  // What a person copies to run elsewhere, its values written into it, finds the same.
  const columns = plan.columns.map(({ id, type }) => ({ id, type, raw: null }));
  const copied = readRows(engines.lite, { text: readableSql(plan, sqlite).written, values: [], columns });
  expect([...copied]).toEqual(rows);
  const recounted = recountRows(plan, tableReader(engines.lite)).map((row) => row.map(cellOfValue));
  expect(asWritten(written(recounted), written(rows))).toEqual(written(rows));
  const answer = engines.sqlite(plan);
  expect(asWritten(await engines.duckdb(plan), answer)).toEqual(answer);
  expect(asWritten(await engines.postgres(plan), answer)).toEqual(answer);
  const [own = [], ...others] = await engines.footings(plan);
  for (const other of others) expect(asWritten(other, own)).toEqual(own);
  const proof = proveQuery(engines.lite, plan, proofColumn(plan)?.id ?? null);
  expect(proof.agrees, JSON.stringify(proof)).toBe(true);
}

function planned(spec: QuerySpec, schema: Schema): Plan {
  const resolved = resolveQuery(spec, schema, { today: usualDay("2026-11-23"), values: {} });
  if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
  return resolved.value;
}

describe("queries over queries made at random", () => {
  it(`give the same rows by the recount and in three engines, and their proofs agree (seed ${SEED})`, { timeout: 3_600_000 }, async () => {
    await fc.assert(
      fc.asyncProperty(nestedArbitrary, async ({ spec, schema }) => holdsEverywhere(planned(spec, schema))),
      { numRuns: RUNS, seed: SEED },
    );
  });
});

describe("queries made at random", () => {
  it(`give the same rows by the recount and in three engines, and their proofs agree (seed ${SEED})`, { timeout: 3_600_000 }, async () => {
    await fc.assert(
      fc.asyncProperty(specArbitrary, async (spec) => holdsEverywhere(planned(spec, derivedSchema))),
      { numRuns: RUNS, seed: SEED },
    );
  });
});
