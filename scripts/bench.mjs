import { measurePages } from "../bench/pages.mjs";
import { bundle, ENTRIES } from "./bundle.mjs";
import { buildApplication, installPackages, installTestTools } from "./install.mjs";
import { run } from "./run.mjs";

await installPackages();
await installTestTools();
await buildApplication();
await bundle({ ...ENTRIES, bench: "bench/bench.ts" });
if (!process.argv.includes("--pages")) await run(process.execPath, ["dist/bench.mjs"]);
await measurePages();
