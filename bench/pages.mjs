import { readFileSync, writeFileSync } from "node:fs";
import { cookieOf } from "../scripts/enter.mjs";
import { openBrowser } from "../test/support/browser.mjs";

/** Each page of the demo with the first thing on it that was worked out from data: a text with a digit, or a picture that is drawn. */
const PAGES = [
  { name: "desk", path: "/", figure: "[data-testid=tile-figure], [role=gridcell], main [data-figure]" },
  { name: "table", path: "/tables/consignment", figure: "[role=gridcell]" },
  { name: "query", path: "/queries/freight-by-shipper", figure: "[role=gridcell]" },
  { name: "query’s proof", path: "/queries/freight-by-shipper", figure: "[data-testid=proof]" },
  { name: "pivot", path: "/pivots/islands-and-quarters", figure: "[role=gridcell]" },
  { name: "chart", path: "/charts/months-by-trade", figure: "canvas" },
  { name: "dashboard", path: "/dashboards/morning-view", figure: "[data-tile] .figure, [data-tile] td, [data-tile] canvas" },
  { name: "folio", path: "/tables/shipper/folio?k=3", figure: "section table td" },
  { name: "report", path: "/reports/freight-statement", figure: "svg text" },
  { name: "letter", path: "/letters/statement-of-account", figure: "svg text" },
  { name: "published page", path: "/pages/find-consignment", figure: "[data-testid=found]" },
];

/** In the page: notes when it was first painted and when the figure stood, in milliseconds since it was asked for. */
function watch(selector) {
  const stands = (at) => {
    if (at instanceof HTMLCanvasElement) {
      if (at.width === 0 || at.height === 0) return false;
      return at
        .getContext("2d")
        .getImageData(0, 0, at.width, at.height)
        .data.some((byte) => byte !== 0);
    }
    return /\d/.test(at.textContent);
  };
  const look = () => {
    if (![...document.querySelectorAll(selector)].some(stands)) return requestAnimationFrame(look);
    window.firstFigure = performance.now();
  };
  requestAnimationFrame(look);
}

/** @returns milliseconds to the first paint and to the first figure */
async function visit(context, address, { path, figure }) {
  const page = await context.newPage();
  await page.setViewport({ width: 1280, height: 800 });
  await page.evaluateOnNewDocument(watch, figure);
  await page.goto(address + path, { waitUntil: "domcontentloaded" });
  const stood = await page
    .waitForFunction("window.firstFigure", { timeout: 15000 })
    .then((h) => h.jsonValue())
    .catch(() => null);
  await new Promise((d) => setTimeout(d, 400));
  const painted = await page.evaluate(() => performance.getEntriesByName("first-contentful-paint")[0]?.startTime ?? null);
  await page.close();
  return { painted, stood };
}
const at = JSON.parse(readFileSync("/tmp/look/at.json"));
const median = (l) => [...l].sort((a, b) => a - b)[Math.floor(l.length / 2)];
const browser = await openBrowser();
const only = process.argv[2];
for (const p of PAGES.filter((p) => !only || p.name === only)) {
  const cold = [],
    warm = [];
  for (let i = 0; i < 4; i++) {
    const context = await browser.createBrowserContext();
    await context.setCookie(cookieOf(at.address, at.session));
    const c = await visit(context, at.address, p);
    const w = await visit(context, at.address, p);
    if (i > 0) {
      cold.push(c);
      warm.push(w);
    }
    await context.close();
  }
  const f = (l, k) => Math.round(median(l.map((x) => x[k] ?? 99999)));
  console.log(p.name.padEnd(16), "warm", f(warm, "painted"), f(warm, "stood"), "cold", f(cold, "painted"), f(cold, "stood"));
}
await browser.close();
