import { parseArgs } from "node:util";
import { installPackages, installTestTools } from "./install.mjs";
import { run } from "./run.mjs";

/** Holds queries made at random against three engines and the recount: as many as are asked for, from a seed. */
const { values } = parseArgs({ options: { runs: { type: "string", default: "10000" }, seed: { type: "string" } } });
const seed = values.seed ?? String(Math.floor(Math.random() * 2 ** 31));
console.log(`${values.runs} queries of each kind, seed ${seed}`);
await installPackages();
await installTestTools();
await run("npx", ["vitest", "run", "--project", "reference", "test/reference/recount.test.ts", "test/reference/nested.test.ts"], {
  env: { RANDOM_RUNS: values.runs, RANDOM_SEED: seed },
});
