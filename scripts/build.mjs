import { bundle } from "./bundle.mjs";
import { run } from "./run.mjs";

await bundle();
await run("npx", ["next", "build"], { quiet: true });
