import fc from "fast-check";
import { afterAll, beforeAll, describe, it } from "vitest";
import { threeEngines } from "../support/engines";
import { holdsEverywhere, planned, RUNS, SEED } from "../support/everywhere";
import { nestedArbitrary } from "../support/nested";
import { sampleRows, sampleSchema } from "../support/sample";

/*
 * Queries that read queries, to three levels, and rows put together, by the recount and by three engines.
 */

let engines: Awaited<ReturnType<typeof threeEngines>>;
beforeAll(async () => {
  engines = await threeEngines(sampleSchema, sampleRows(SEED));
});
afterAll(() => engines.close());

describe("queries over queries made at random", () => {
  it(`give the same rows by the recount and in three engines, and their proofs agree (seed ${SEED})`, { timeout: 3_600_000 }, async () => {
    await fc.assert(
      fc.asyncProperty(nestedArbitrary, async ({ spec, schema }) => holdsEverywhere(engines, planned(spec, schema))),
      { numRuns: RUNS, seed: SEED },
    );
  });
});
