import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import { layoutFindings } from "../support/layout";
import { makeDatabase, temporaryFolder } from "../support/ledger";
import { odd } from "../support/oddWords";
import { type Application, Desk, openApplication, post } from "../support/server";

/* By keyboard, under assistive technology's rules, at other sizes, and with files and input that are wrong. */

let app: Application;
beforeAll(async () => {
  app = await openApplication();
});
afterAll(() => app?.close());

const axeSource = readFileSync(createRequire(import.meta.url).resolve("axe-core/axe.min.js"), "utf8");
/** The popover library's own focus sentinels are left out: they are meant to be hidden and focusable. */
async function axeFindings(desk: Desk, rules = ["wcag2a", "wcag2aa", "wcag21aa", "wcag22aa"]): Promise<string[]> {
  await desk.page.evaluate(axeSource);
  return desk.page.evaluate(async (runOnly) => {
    const { axe } = window as unknown as {
      axe: { run: (where: object, options: object) => Promise<{ violations: { id: string; nodes: { html: string }[] }[] }> };
    };
    const { violations } = await axe.run({ exclude: [["[data-headlessui-focus-guard]"]] }, { runOnly, resultTypes: ["violations"] });
    return violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.html.slice(0, 160)).join(" ¦ ")}`);
  }, rules);
}

/** What stands out too little on a dark screen, and words that must not come back: both are looked for wherever a page is. */
async function darkAndOddFindings(desk: Desk): Promise<string[]> {
  const words = await desk.page.evaluate(() => [
    document.body.innerText,
    ...[...document.querySelectorAll("[aria-label], [title], [placeholder]")].flatMap((e) =>
      ["aria-label", "title", "placeholder"].map((a) => e.getAttribute(a) ?? ""),
    ),
  ]);
  await desk.page.emulateMediaFeatures([{ name: "prefers-color-scheme", value: "dark" }]);
  const faint = await axeFindings(desk, ["color-contrast"]);
  await desk.page.emulateMediaFeatures([]);
  return [...faint.map((f) => `dark: ${f}`), ...words.flatMap((w) => (odd.test(w) ? [`odd: ${odd.exec(w)?.[0]}`] : []))];
}

/** As drawn for, and with type at 130%; narrower; 1280 × 800 at 200%; a phone. */
const SIZES = [
  [1280, 800, "100%"],
  [1280, 800, "130%"],
  [1024, 768, "100%"],
  [640, 400, "100%"],
  [390, 800, "100%"],
] as const;

/** However long a page takes to be drawn at another size, it stands well at last. */
const standsAtLast = (desk: Desk, width: number, where: string) =>
  vi.waitFor(
    async () => {
      expect(await desk.page.evaluate(() => document.documentElement.scrollWidth), where).toBeLessThanOrEqual(width);
      expect(await layoutFindings(desk.page), where).toEqual([]);
    },
    { timeout: 20_000, interval: 150 },
  );

describe("accessibility (axe-core, WCAG 2.2 AA)", () => {
  it.each([
    ["/queries", "h1"],
    ["/queries/freight-by-shipper", "[data-testid=proof]"],
    ["/tables", "h1"],
    ["/tables/consignment", "[data-testid=status]"],
    ["/tables/shipper/folio?k=3", "section table"],
    ["/postings", "h1"],
    ["/postings/agent-manifest", "[data-testid=posting-proof]"],
    ["/pivots", "h1"],
    ["/pivots/islands-and-quarters", "[role=gridcell]"],
    ["/charts", "h1"],
    ["/charts/months-by-trade", "canvas"],
    ["/dashboards", "h1"],
    ["/dashboards/morning-view", "canvas"],
    ["/reports", "h1"],
    ["/reports/freight-statement", "svg"],
    ["/letters", "h1"],
    ["/letters/statement-of-account", "[role=toolbar]"],
    ["/pages", "h1"],
    ["/pages/find-consignment", "[data-testid=found]"],
    ["/pages/find-consignment?inside=1", "[data-testid=found]"],
    ["/people", "h1"],
    ["/me", "h1"],
    ["/bin", "h1"],
    ["/broken", "h1"],
    ["/", "h1"],
    ["/settings", "h1"],
    ["/schedules", "[data-schedule]"],
    ["/outbox", "h1"],
  ])(
    "finds nothing on %s, of which nothing is cut off, covered or scrolled sideways either: with large type, narrower, at 200%%, on a phone",
    async (path, ready) => {
      const desk = await app.page(path);
      await desk.page.waitForSelector(ready);
      await new Promise((done) => setTimeout(done, 300));
      expect(await axeFindings(desk)).toEqual([]);
      expect(await darkAndOddFindings(desk)).toEqual([]);
      for (const [width, height, type] of SIZES) {
        await desk.page.setViewport({ width, height });
        await desk.page.evaluate((size) => {
          document.documentElement.style.fontSize = size;
        }, type);
        await new Promise((done) => setTimeout(done, 150));
        await standsAtLast(desk, width, `${path} at ${width}, ${type}`);
      }
      await desk.page.close();
    },
  );
  it("finds nothing on the page for signing in", async () => {
    const context = await app.browserOf(null);
    const desk = await new Desk(await context.newPage(), app.address).open("/sign-in");
    await desk.page.waitForSelector("form");
    expect(await axeFindings(desk)).toEqual([]);
    await context.close();
  });
  it("finds nothing on a published page, for somebody without an account", async () => {
    const { address } = (await (await app.fetch("/api/pages/find-consignment/publish")).json()) as { address: string };
    const context = await app.browserOf(null);
    const desk = await new Desk(await context.newPage(), app.address).open(`/p/${address}`);
    await desk.page.waitForSelector("[data-testid=found] tbody button");
    expect(await axeFindings(desk)).toEqual([]);
    await desk.press("[data-testid=found] tbody button");
    await desk.page.waitForSelector("[data-testid=details]");
    expect(await axeFindings(desk)).toEqual([]);
    await context.close();
  });
  it("finds nothing where several items are shared", async () => {
    const desk = await app.page("/queries");
    await desk.press("[aria-label='Select Freight lodged by shipper']");
    await desk.click("Share", "[role=toolbar] button");
    await desk.page.waitForSelector("[aria-label='They can']");
    await new Promise((done) => setTimeout(done, 300));
    expect(await axeFindings(desk)).toEqual([]);
  });
  it.each([
    ["/queries/freight-by-shipper", ["+ condition"], '[aria-label="Find a field"]'],
    // A query without parameters: a popover that half covers their fields would make targets of what is left of them.
    ["/queries/all-called-off", ["called off"], ".popover [aria-label=comparison]"],
    ["/queries/freight-by-shipper", ["compare with…"], "[aria-label='Paste rows here, headings first']"],
    ["/dashboards/morning-view", ["every island"], '[aria-label="Find a value of island"]'],
    ["/dashboards/morning-view", ["Edit layout", "Filters"], "aside fieldset"],
    ["/pivots/islands-and-quarters", ["Share ▾"], ".popover"],
    ["/charts/months-by-trade", ["Settings"], "aside [type=checkbox]"],
    ["/schedules", ["+ once for each"], ".popover select"],
    ["/reports/monthly-statement", ["Related", "▸Account entries"], "aside [type=checkbox]"],
    ["/reports/monthly-statement", ["Columns", "▸Freight"], "aside [type=number]"],
    ["/letters/statement-of-account", ["Field ▾"], ".popover"],
    ["/pages/find-consignment", ["Ask"], "aside select"],
    ["/people", ["Row rules"], "main p [role=button]"],
  ])("finds nothing on %s with %s open", async (path, clicks, ready) => {
    const desk = await app.page(path);
    for (const words of clicks) await desk.click(words, "button, [role=tab]");
    await desk.page.waitForSelector(ready);
    await new Promise((done) => setTimeout(done, 300));
    expect(await axeFindings(desk)).toEqual([]);
    expect(await darkAndOddFindings(desk)).toEqual([]);
    await desk.page.close();
  });
  it.each([
    ["the menu of a heading", ["Home", "Alt+ArrowDown"], "[data-testid=profile]"],
    ["the menu of a cell", ["ArrowDown", "Shift+F10"], ".popover"],
    ["a condition's values", ["Home", "ArrowRight", "ArrowRight", "f"], "[aria-label='Values that occur'] li"],
  ])("finds nothing in %s, opened by keys", async (_, keys, ready) => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    await desk.page.focus("[role=grid]");
    await desk.key(...keys);
    await desk.page.waitForSelector(ready);
    expect([...(await axeFindings(desk)), ...(await darkAndOddFindings(desk))]).toEqual([]);
    expect(desk.complaints).toEqual([]);
  });
  it("finds nothing on a comparison", async () => {
    const desk = await app.page("/queries/new?compare=agent_manifest");
    await desk.page.waitForSelector(".popover input");
    await desk.page.keyboard.type("consignment");
    await desk.key("Enter");
    await desk.reads("fieldset", /only there \d/);
    await desk.reads("[data-testid=reconciliation]", "consignment");
    expect([...(await axeFindings(desk)), ...(await darkAndOddFindings(desk))]).toEqual([]);
  });
  it("finds nothing in the panel of history and use", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    await desk.click("More ▾");
    await desk.click("History and use");
    await desk.reads("[role=dialog]", "Freight statement");
    expect([...(await axeFindings(desk)), ...(await darkAndOddFindings(desk))]).toEqual([]);
  });
});

describe("the keyboard alone", () => {
  it("walks the brief, edits a phrase, closes it with focus given back, and deletes one", async () => {
    const desk = await app.page("/queries/freight-by-shipper");
    await desk.reads("[data-testid=status]", /rows/);
    const focusOn = (words: string) =>
      desk.page.evaluate((w) => [...document.querySelectorAll<HTMLElement>("p [role=button]")].find((b) => b.textContent === w)?.focus(), words);
    const focused = () => desk.page.evaluate(() => document.activeElement?.textContent);
    await focusOn("lodged on");
    await desk.key("Tab");
    expect(await focused()).toBe("is from");
    await desk.key("Tab", "Tab", "Tab", "Tab", "Tab");
    expect(await focused()).toBe("void");
    await desk.key("Enter");
    await desk.page.waitForSelector('[aria-label="Value"]');
    await desk.key("Control+a");
    await desk.page.keyboard.type("credited");
    await desk.key("Escape");
    await desk.reads("p", "is not credited");
    expect(await focused()).toBe("credited");
    await desk.key("Delete");
    await desk.reads("p", /start to end\. Show/);
    await desk.page.evaluate(() => (document.activeElement as HTMLElement)?.blur());
    await desk.key("Control+z", "Control+z");
    await desk.reads("p", "is not");
    await desk.page.close();
  });

  it("groups by a date's month with one Enter, which does not open the popover again", async () => {
    const desk = await app.page("/queries/new?from=sailing");
    await desk.reads("[data-testid=status]", /rows/);
    await desk.click("+ one row per…");
    await desk.type("Find a field", "departs");
    await desk.key("Enter");
    await desk.reads("p", "One row per month of departs at: count of rows, total of delay minutes, total of passengers.");
    await desk.reads("[data-testid=status]", "36 rows");
    expect(await desk.page.$('[aria-label="Find a field"]')).toBeNull();
    await desk.page.close();
  });

  it("moves about the sheet, selects, sorts and copies", async () => {
    const desk = await app.page("/queries/freight-by-shipper");
    await desk.reads("[role=grid]", /BW-/);
    await app.browser.defaultBrowserContext().overridePermissions(app.address, ["clipboard-read", "clipboard-write", "clipboard-sanitized-write"]);
    await desk.page.focus("[role=grid]");
    await desk.key("ArrowRight", "ArrowRight", "ArrowRight", "ArrowRight", "ArrowRight", "ArrowDown", "Shift+ArrowDown", "Shift+ArrowDown");
    await desk.reads("[data-testid=status]", /selected 3 · total [\d,.]+ · average [\d,.]+/);
    const status = await desk.text("[data-testid=status]");
    await desk.key("Control+c");
    await desk.reads("body", "3 rows copied.");
    const copied = await desk.page.evaluate(() => navigator.clipboard.readText());
    const cents = copied.split("\n").map((line) => Math.round(Number(line.replaceAll(",", "")) * 100));
    expect(cents).toHaveLength(3);
    const total = new Intl.NumberFormat("en-GB", { minimumFractionDigits: 2 }).format(cents.reduce((a, b) => a + b, 0) / 100);
    expect(status).toContain(`total ${total}`);
    await desk.key("Control+Home", "ArrowUp", "Enter");
    await desk.reads("p", "sorted by Waybill (A to Z)");
    await desk.key("Control+End");
    await desk.page.waitForFunction(() => document.activeElement?.getAttribute("aria-activedescendant")?.match(/-1\d\d\d-/));
    await desk.page.close();
  });

  it("finds or does (Ctrl K)", async () => {
    const desk = await app.page("/queries");
    await desk.page.waitForSelector("h1");
    await desk.key("Control+k");
    await desk.page.waitForSelector('input[aria-label="Find or do"]');
    await desk.page.keyboard.type("statement rep");
    await desk.key("Control+a");
    await desk.page.keyboard.type("called off");
    await desk.reads("[role=option]", "Sailings called off");
    await desk.key("Enter");
    await desk.page.waitForFunction(() => location.pathname === "/queries/sailings-called-off");
    await desk.page.close();
  });
});

describe("sizes", () => {
  it.each(["morning-view", "find-consignment"])("shows the published %s whole on a phone, in an order of its own", async (id) => {
    let page = id;
    if (id === "morning-view") {
      const made = (await (await app.fetch("/api/pages/new", post({ id }))).json()) as { id: string; spec: object; revision: number };
      page = made.id;
      const open = { spec: { ...made.spec, open: true }, revision: made.revision };
      await app.fetch(`/api/objects/${page}`, { method: "PATCH", body: JSON.stringify(open) });
    }
    const { address } = (await (await app.fetch(`/api/pages/${page}/publish`)).json()) as { address: string };
    const context = await app.browserOf(null);
    const desk = new Desk(await context.newPage(), app.address);
    await desk.page.setViewport({ width: 390, height: 800 });
    await desk.open(`/p/${address}`);
    await desk.page.waitForSelector(id === "morning-view" ? "[data-tile] canvas" : "[data-testid=found]");
    const { wide, tiles } = await desk.page.evaluate(() => ({
      wide: document.documentElement.scrollWidth,
      tiles: [...document.querySelectorAll<HTMLElement>("[data-tile]")].map((t) => ({ id: t.dataset.tile, right: t.getBoundingClientRect().right })),
    }));
    expect([wide, ...tiles.map((t) => t.right)].filter((x) => x > 390)).toEqual([]);
    if (id === "morning-view") expect(tiles.map((t) => t.id)).toEqual(["freight", "waybills", "off", "weight", "by-trade", "by-day", "desk"]);
    await context.close();
  });
});

describe("what is wrong is said in its place", () => {
  it("keeps a query that a change of the database broke, and says where", async () => {
    const place = temporaryFolder();
    const database = makeDatabase(
      join(place.folder, "small.sqlite"),
      `CREATE TABLE "odd ""name"" 🦭" (word TEXT, n INTEGER); INSERT INTO "odd ""name"" 🦭" VALUES ('a', 1), ('b', 'two'); CREATE TABLE empty (id INTEGER PRIMARY KEY, word TEXT);`,
    );
    const other = await openApplication({ database });
    try {
      const desk = await other.page("/queries");
      await desk.click('odd "name" 🦭');
      await desk.reads("[data-testid=status]", "2 rows 2 columns 1 value not of the column’s type");
      await desk.type("Name", "Odd one");
      await desk.key("Enter");
      await desk.click("Save");
      await desk.reads("body", "saved.");
      makeDatabase(database, `ALTER TABLE "odd ""name"" 🦭" RENAME COLUMN n TO m;`);
      await desk.page.reload();
      await desk.reads("[role=alert]", "has no column “n” any more. Choose another column, or remove this one.");
      await desk.open("/queries/new?from=empty");
      await desk.reads("[role=grid]", "No rows meet all conditions.");
      await desk.open("/queries/nothing-here");
      await desk.reads("[role=alert]", "This query does not exist any more.");
    } finally {
      await other.close();
      place.remove();
    }
  });

  it("answers only this machine, and nothing outside the outbox", async () => {
    const foreign = await app.fetch(`/api/objects`, {
      method: "POST",
      headers: { "content-type": "application/json", origin: "https://elsewhere.example" },
      body: "{}",
    });
    expect(foreign.status).toBe(403);
    for (const path of ["../catalogue.sqlite", "/etc/passwd", "..%2f..%2fetc%2fpasswd", ""])
      expect((await app.fetch(`/api/outbox/file?path=${path}`)).status).toBe(404);
    // Browsers ask for it by habit; a 404 stands in their console as the page's own.
    expect((await app.fetch("/favicon.ico", {}, null)).headers.get("content-type")).toBe("image/svg+xml");
    const shapeless = await app.fetch(`/api/query/rows`, { method: "POST", headers: { "content-type": "application/json" }, body: '{"spec": 1}' });
    expect(shapeless.status).toBe(400);
  });
});
