import { existsSync } from "node:fs";
import { resolve } from "node:path";
import { bundle } from "./bundle.mjs";
import { installPackages } from "./install.mjs";
import { freePort } from "./ports.mjs";
import { run, say } from "./run.mjs";

/* For those who work on it: the demo company on a server that shows every change at once. */
await installPackages();
await bundle();
const data = resolve(process.env.NEXT_LEDGER_DATA ?? "data");
if (!existsSync(resolve(data, "business.sqlite"))) await run("node", ["dist/make-demo.mjs", data]);
const port = await freePort(Number(process.env.PORT ?? 4310));
say(`Next Ledger is being developed at http://127.0.0.1:${port} (Ctrl C ends it)`);
await run("node", ["node_modules/next/dist/bin/next", "dev", "--hostname", "127.0.0.1", "--port", String(port)], {
  env: { NEXT_LEDGER_DATA: data },
});
