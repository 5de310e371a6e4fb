import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { openBrowser } from "../test/support/browser.mjs";
import { cookieOf, enter } from "./enter.mjs";
import { buildApplication, installPackages, installTestTools } from "./install.mjs";
import { freePort } from "./ports.mjs";
import { run } from "./run.mjs";
import { serve } from "./serve.mjs";

/** Makes docs/screenshots anew from the demo company, one picture of each main view at 1280 × 800. */
const button = (words) => `:is(button, [role=button]) ::-p-text(${words})`;
const VIEWS = [
  { name: "desk", path: "/", ready: "h1", wait: 3500 },
  { name: "query", path: "/queries/freight-by-shipper", ready: "[data-testid=proof]" },
  { name: "compare", path: "/queries/new?compare=query%20freight-by-shipper", ready: "[aria-label='Find a table']", type: "agent", wait: 4000 },
  { name: "report", path: "/reports/monthly-statement", ready: "svg", click: ["[role=tab] ::-p-text(Related)", button("Account entries")], wait: 2500 },
  { name: "letter", path: "/letters/statement-of-account", ready: "[role=toolbar]", wait: 2500 },
  { name: "people", path: "/people", ready: "h1", click: ["[role=tab] ::-p-text(Row rules)"] },
  { name: "page", path: "/pages/find-consignment", ready: "[data-testid=found]" },
  { name: "pivot", path: "/pivots/islands-and-quarters", ready: "aside ::-p-text(Proved.)" },
  { name: "chart", path: "/charts/months-by-trade", ready: "canvas" },
  { name: "dashboard", path: "/dashboards/morning-view", ready: "canvas", wait: 2500 },
  { name: "schedules", path: "/schedules", ready: "[data-schedule]", click: [button("Run now")], wait: 6000 },
  { name: "outbox", path: "/outbox", ready: "h1", wait: 4000 },
  { name: "table", path: "/tables/consignment", ready: "[data-testid=status]" },
  { name: "table-map", path: "/tables", ready: "h1", click: [button("Map")] },
  {
    name: "shape",
    path: "/tables/agent_manifest/shape",
    ready: "[aria-label='Type of Sender']",
    select: [
      ["[aria-label='Type of Sender']", "link:shipper"],
      ["[aria-label='Type of Lodged']", "date"],
    ],
    click: ["[aria-label='Remove Addr2']"],
    wait: 3000,
  },
  { name: "import", path: "/tables", ready: "h1", upload: { name: "inspections.csv", content: inspections() }, wait: 4000 },
  { name: "derived", path: "/tables/vessel", ready: "[data-testid=status]", click: [button("Add derived field"), "aside button ::-p-text(rollup)"] },
  { name: "folio", path: "/tables/shipper/folio?k=3", ready: "section table" },
  { name: "posting", path: "/postings/agent-manifest", ready: "[data-testid=posting-proof]", wait: 2500 },
];

/** An invented inspector's file, with a day that does not exist. */
function inspections() {
  const lines = Array.from({ length: 40 }, (_, i) => `${i + 1};${(i % 6) + 1};${(i % 27) + 1}/10/2026;${20 + i};${100 + i},50;${i % 3 === 0 ? "no" : "yes"}`);
  return ["inspection;vessel;inspected;minutes;cost;passed", ...lines, "41;2;30/02/2026;10;5,00;yes"].join("\r\n");
}

await installPackages();
await installTestTools();
await buildApplication();
const data = mkdtempSync(join(tmpdir(), "next-ledger-"));
const env = { NEXT_LEDGER_NOW: "2026-11-23T08:00:00Z" };
await run("node", ["dist/make-demo.mjs", data], { quiet: true, env });
const server = await serve({ data, port: await freePort(0), env });
const browser = await openBrowser({ scrollbars: true });
await browser.setCookie(cookieOf(server.address, await enter(server.address)));
for (const { name, path, ready, select = [], click = [], type, upload, wait = 1200 } of VIEWS) {
  const page = await browser.newPage();
  // As somebody has it who knows the words.
  await page.evaluateOnNewDocument(() => localStorage.setItem("known words", JSON.stringify(["brief", "folio", "posting", "pivot"])));
  await page.goto(server.address + path);
  await page.waitForSelector(ready);
  await new Promise((done) => setTimeout(done, 800));
  for (const [selector, value] of select) await page.select(selector, value);
  if (upload) {
    const file = join(data, upload.name);
    writeFileSync(file, upload.content);
    await (await page.$("input[type=file]")).uploadFile(file);
  }
  for (const selector of click) await page.locator(selector).click();
  if (type) {
    await page.keyboard.type(type);
    await page.keyboard.press("Enter");
  }
  await new Promise((done) => setTimeout(done, wait));
  await page.screenshot({ path: `docs/screenshots/${name}.png` });
  await page.close();
}
await browser.close();
await server.stop();
rmSync(data, { recursive: true, force: true });
