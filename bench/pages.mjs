import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { cookieOf, enter } from "../scripts/enter.mjs";
import { freePort } from "../scripts/ports.mjs";
import { run } from "../scripts/run.mjs";
import { serve } from "../scripts/serve.mjs";
import { openBrowser } from "../test/support/browser.mjs";

/** Each page of the demo with the first thing on it that was worked out from data: a text with a digit, or a chart that is drawn. */
const PAGES = [
  { name: "desk", path: "/", figure: "aside section:nth-of-type(2) li" },
  { name: "table", path: "/tables/consignment", figure: "[role=gridcell]" },
  { name: "query", path: "/queries/freight-by-shipper", figure: "[role=gridcell]" },
  { name: "query, its proof", path: "/queries/freight-by-shipper", figure: "[data-testid=proof]" },
  { name: "pivot", path: "/pivots/islands-and-quarters", figure: "[role=gridcell]" },
  { name: "chart", path: "/charts/months-by-trade", figure: "canvas" },
  { name: "dashboard", path: "/dashboards/morning-view", figure: "[data-tile] button" },
  { name: "dashboard, its first chart", path: "/dashboards/morning-view", figure: "[data-tile] canvas" },
  { name: "folio", path: "/tables/shipper/folio?k=3", figure: "section table td" },
  { name: "report", path: "/reports/freight-statement", figure: "svg text" },
  { name: "letter, its proof", path: "/letters/statement-of-account", figure: "aside td, aside dd, aside li" },
  { name: "page of a search", path: "/pages/find-consignment?inside=1", figure: "[data-testid=found] td" },
];
const VISITS = 5;
const AIMS = { warm: 500, cold: 800 };

/** In the page: notes when the figure stood, in milliseconds since the page was asked for. */
function watch(selector) {
  const stands = (at) => {
    if (!(at instanceof HTMLCanvasElement)) return /\d/.test(at.textContent);
    // The library that draws makes it a block first; where its axis is written is read, as reading all of it takes a frame.
    if (at.style.display !== "block" || at.width === 0) return false;
    return at
      .getContext("2d")
      .getImageData(0, 0, 60, at.height)
      .data.some((byte) => byte !== 0);
  };
  const look = () => {
    if (![...document.querySelectorAll(selector)].some(stands)) return requestAnimationFrame(look);
    window.firstFigure = performance.now();
  };
  requestAnimationFrame(look);
}

/** @returns {Promise<number>} milliseconds to the first figure that is painted */
async function visit(context, address, { path, figure }) {
  const page = await context.newPage();
  await page.evaluateOnNewDocument(watch, figure);
  await page.goto(address + path, { waitUntil: "domcontentloaded" });
  await page.waitForFunction("window.firstFigure && performance.getEntriesByName('first-contentful-paint').length", { timeout: 20_000 });
  const at = await page.evaluate("Math.max(window.firstFigure, performance.getEntriesByName('first-contentful-paint')[0].startTime)");
  await new Promise((done) => setTimeout(done, 300));
  await page.close();
  return at;
}

const median = (times) => [...times].sort((a, b) => a - b)[Math.floor(times.length / 2)];

/** Measures how long it takes from asking for a page until its first figures are painted: with an empty cache, and again. */
export async function measurePages() {
  const data = mkdtempSync(join(tmpdir(), "next-ledger-pages-"));
  await run("node", ["dist/make-demo.mjs", data], { quiet: true });
  const server = await serve({ data, port: await freePort(0) });
  const browser = await openBrowser();
  try {
    const session = await enter(server.address);
    const headers = { "content-type": "application/json", cookie: `session=${session}` };
    let turn = 0;
    // Something saved changes before each visit, so that no answer is still at hand from the one before.
    const change = () => fetch(`${server.address}/api/charts/colours`, { method: "POST", headers, body: JSON.stringify({ key: "bench", place: turn++ % 7 }) });
    for (const page of PAGES) {
      const times = { cold: [], warm: [] };
      for (let i = 0; i <= VISITS; i++) {
        const context = await browser.createBrowserContext();
        await context.setCookie(cookieOf(server.address, session));
        for (const kind of ["cold", "warm"]) {
          await change();
          const time = await visit(context, server.address, page);
          // The first round warms the server.
          if (i > 0) times[kind].push(time);
        }
        await context.close();
      }
      const told = ["warm", "cold"].map((kind) => `${Math.round(median(times[kind]))} ms`).join(" / ");
      console.log(`${`First figures of a page, warm / cold: ${page.name}`.padEnd(70)} ${told.padStart(22)}   aim ${AIMS.warm} / ${AIMS.cold} ms`);
    }
  } finally {
    await browser.close();
    await server.stop();
    rmSync(data, { recursive: true, force: true });
  }
}
