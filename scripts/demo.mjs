import { resolve } from "node:path";
import { buildApplication, installPackages } from "./install.mjs";
import { freePort } from "./ports.mjs";
import { run, say } from "./run.mjs";
import { serve } from "./serve.mjs";

try {
  const data = resolve(process.env.NEXT_LEDGER_DATA ?? "data");
  await installPackages();
  await buildApplication();
  say("Making the demo company, Brindle Sound Ferries…");
  await run("node", ["dist/make-demo.mjs", data]);
  const server = await serve({ data, port: await freePort(Number(process.env.PORT ?? 4310)) });
  say(`Next Ledger is open at ${server.address} (Ctrl C ends it)`);
  process.on("SIGINT", () => server.stop().then(() => process.exit(0)));
  process.on("SIGTERM", () => server.stop().then(() => process.exit(0)));
} catch (error) {
  console.error(error.message);
  process.exit(1);
}
