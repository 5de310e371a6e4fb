import fc from "fast-check";
import { afterAll, beforeAll, describe, it } from "vitest";
import { derivedSchema, specArbitrary } from "../support/arbitrary";
import { threeEngines } from "../support/engines";
import { holdsEverywhere, planned, RUNS, SEED } from "../support/everywhere";
import { sampleRows, sampleSchema } from "../support/sample";

/*
 * The recount joins by loops and adds by itself. Queries made at random give the same rows, in the same order, by it and
 * by three engines; and every proof that is made of them agrees.
 */

let engines: Awaited<ReturnType<typeof threeEngines>>;
beforeAll(async () => {
  engines = await threeEngines(sampleSchema, sampleRows(SEED));
});
afterAll(() => engines.close());

describe("queries made at random", () => {
  it(`give the same rows by the recount and in three engines, and their proofs agree (seed ${SEED})`, { timeout: 3_600_000 }, async () => {
    await fc.assert(
      fc.asyncProperty(specArbitrary, async (spec) => holdsEverywhere(engines, planned(spec, derivedSchema))),
      { numRuns: RUNS, seed: SEED },
    );
  });
});
