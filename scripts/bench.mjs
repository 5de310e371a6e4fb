import { bundle, ENTRIES } from "./bundle.mjs";
import { installPackages } from "./install.mjs";
import { run } from "./run.mjs";

await installPackages();
await bundle({ ...ENTRIES, bench: "bench/bench.ts" });
await run(process.execPath, ["dist/bench.mjs"]);
