import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { openBrowser } from "../test/support/browser.mjs";
import { buildApplication, installPackages, installTestTools } from "./install.mjs";
import { freePort } from "./ports.mjs";
import { run } from "./run.mjs";
import { serve } from "./serve.mjs";

/** Makes docs/screenshots anew from the demo company, one picture of each main view at 1280 × 800. */
const button = (words) => `button ::-p-text(${words})`;
const VIEWS = [
  { name: "query", path: "/queries/freight-by-shipper", ready: "[data-testid=proof]" },
  { name: "query-groups", path: "/queries/freight-by-island", ready: "[data-testid=proof]", click: [button("is not")] },
  { name: "queries", path: "/queries", ready: "h1" },
  { name: "report", path: "/reports/freight-statement", ready: "svg", click: [button("Great Brindle")] },
  { name: "schedules", path: "/schedules", ready: "[data-schedule]", click: [button("Run now")], wait: 6000 },
  { name: "outbox", path: "/outbox", ready: "h1" },
  { name: "table", path: "/tables/consignment", ready: "[data-testid=status]" },
];

await installPackages();
await installTestTools();
await buildApplication();
const data = mkdtempSync(join(tmpdir(), "next-ledger-"));
await run("node", ["dist/make-demo.mjs", data], { quiet: true });
const server = await serve({ data, port: await freePort(0), env: { NEXT_LEDGER_NOW: "2026-11-23T08:00:00Z" } });
const browser = await openBrowser();
for (const { name, path, ready, click = [], wait = 1200 } of VIEWS) {
  const page = await browser.newPage();
  await page.goto(server.address + path);
  await page.waitForSelector(ready);
  await new Promise((done) => setTimeout(done, 800));
  for (const selector of click) await page.locator(selector).click();
  await new Promise((done) => setTimeout(done, wait));
  await page.screenshot({ path: `docs/screenshots/${name}.png` });
  await page.close();
}
await browser.close();
await server.stop();
rmSync(data, { recursive: true, force: true });
