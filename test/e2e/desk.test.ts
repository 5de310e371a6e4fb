import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { makeDatabase, temporaryFolder } from "../support/ledger";
import { type Application, openApplication } from "../support/server";

let app: Application;
beforeAll(async () => {
  app = await openApplication({ life: true });
});
afterAll(() => app?.close());

const count = async (kind: string) => (await app.page("/")).page.$$eval(`[data-need=${kind}]`, (lines) => lines.length);

describe("the desk of a company that works", () => {
  it("says what needs a look, each with its remedy, and what is mended is gone", async () => {
    const desk = await app.page("/");
    await desk.reads("[data-need=held]", "is 81,306.37; the query shows 81,239.11: (67.26) out.");
    await desk.reads("[data-need=broken]", "The database has no table “tariff”.");
    await desk.reads("[data-need=flagged]", "1 value in “inspected” not of the column’s type.");
    await desk.reads("[data-need=draft]", "Agent manifest, November");
    await desk.reads("[data-need=noKey]", "agent manifest");
    await desk.reads("nav[aria-label=Sections]", "Desk1");
    await desk.reads("aside", "(67.26) out");
    await desk.click("Send anyway");
    await desk.reads("body", "It runs in a moment.");
    await desk.page.waitForFunction(() => !document.querySelector("[data-need=held]"));
    await desk.click("Repair", "[data-need=broken] a");
    await desk.reads("[role=alert]", "The database has no table “tariff”.");
    await app.fetch(`/api/objects/${new URL(desk.page.url()).pathname.split("/").at(-1)}?anyway`, { method: "DELETE" });
    expect([await count("held"), await count("broken"), await count("flagged")]).toEqual([0, 0, 1]);
    expect(desk.complaints).toEqual([]);
  });

  it("goes on with what was pinned and opened, and with what was left unsaved in the tab", async () => {
    const desk = await app.page("/queries/freight-by-island");
    await desk.reads("[role=grid]", "Great Brindle");
    await desk.click("+ limit");
    await desk.page.waitForSelector(".popover input");
    await desk.page.keyboard.type("3");
    await desk.key("Enter");
    await desk.reads("p", "First 3 rows only.");
    await desk.click("Desk", "nav a");
    await desk.reads("section[aria-label=Continue] li", "Freight by island unsaved changes in this tab");
    await desk.click("Discard", "section[aria-label=Continue] button");
    await desk.page.waitForFunction(() => !document.querySelector("section[aria-label=Continue]")?.textContent?.includes("unsaved"));
    await desk.click("Pin Freight by island");
    await desk.reads("section[aria-label=Continue] li", /Freight by island pinned/);
    await desk.click("Unpin Freight by island");
    await desk.page.waitForFunction(() => !document.querySelector("section[aria-label=Continue]")?.textContent?.includes("pinned ·"));
  });

  it("walks a newcomer to the reason why two figures differ, and is closed for good", async () => {
    const context = await app.browserOf("demo-analyst");
    const { Desk } = await import("../support/server");
    const desk = await new Desk(await context.newPage(), app.address).open("/");
    const done = async (steps: string) => {
      await desk.open("/");
      await desk.reads("section[aria-label='Five minutes with the demo']", `${steps} of 5`);
    };
    await done("0");
    await desk.click("Open October’s freight", "li a");
    await desk.reads("[data-testid=proof]", "shipper missing");
    await done("1");
    await desk.click("See the consignments without a shipper", "li a");
    await desk.reads("aside", "23 consignments have no shipper.");
    await desk.click("See the 23");
    await desk.reads("[data-testid=status]", "23 rows");
    await done("2");
    await desk.click("Add the agent’s figure", "li a");
    await desk.click("Add control total");
    await desk.choose("Compare with", "freight");
    await desk.type("Control total", "79,750.33");
    await desk.reads("[aria-label='Control totals']", "The query shows 81,239.11: 1,488.78 out.");
    await desk.click("Leave them out");
    await desk.reads("[aria-label='Control totals']", "✓ agrees");
    await desk.click("Desk", "nav a");
    await desk.reads("section[aria-label='Five minutes with the demo']", "4 of 5");
    await desk.click("Open the statement by island", "li a");
    await desk.reads("svg", "Freight statement by island and trade");
    await done("5");
    await desk.reads("section[aria-label='Five minutes with the demo']", "leaves out the consignments without a shipper");
    await desk.click("Close", "section[aria-label='Five minutes with the demo'] button");
    await desk.open("/");
    await desk.reads("h1", "October");
    expect(await desk.page.$("section[aria-label='Five minutes with the demo']")).toBe(null);
    expect(desk.complaints).toEqual([]);
    await context.close();
  });
});

describe("what an owner puts on the desk, and how one begins", () => {
  it("has a dashboard for everyone under it, and stays the desk by name", async () => {
    const desk = await app.page("/");
    await desk.page.waitForSelector("main select");
    await desk.page.select("main select", "morning-view");
    await desk.reads("[data-testid=tiles]", "Freight lodged");
    expect(await desk.page.title()).toBe("Desk · Next Ledger");
    expect(await desk.page.$$eval("h1", (all) => all.length)).toBe(1);
    const context = await app.browserOf("demo-analyst");
    const { Desk } = await import("../support/server");
    const other = await new Desk(await context.newPage(), app.address).open("/");
    await other.reads("[data-testid=tiles]", "Freight lodged");
    expect(await other.page.$("main select")).toBe(null);
    await context.close();
    await desk.page.select("main select", "");
    await desk.page.waitForFunction(() => !document.querySelector("[data-testid=tiles]"));
    expect(desk.complaints).toEqual([]);
  });

  it("begins a query from a table, and a report from a query", async () => {
    const desk = await app.page("/");
    await desk.click("New query from a table ▾", "button");
    await desk.click("vessel", "[role=menuitem]");
    await desk.page.waitForFunction(() => location.pathname === "/queries/new");
    await desk.reads("p", "From vessel");
    await desk.open("/");
    await desk.click("New report ▾", "button");
    await desk.click("Freight by island", "[role=menuitem]");
    await desk.page.waitForFunction(() => location.pathname.startsWith("/reports/"));
    await desk.reads("svg", "Great Brindle");
  });

  it("shows the three first steps where there is no table yet", async () => {
    const place = temporaryFolder();
    const empty = await openApplication({ database: makeDatabase(join(place.folder, "empty.sqlite"), "") });
    const desk = await empty.page("/");
    await desk.reads("main", "✓ Nothing needs a look.");
    for (const step of ["1. Import your data", "2. Link the tables", "3. Build a query"]) await desk.reads("main li", step);
    await desk.click("1. Import your data", "main a");
    await desk.page.waitForFunction(() => location.pathname === "/tables");
    expect(desk.complaints).toEqual([]);
    await empty.close();
    place.remove();
  });
});

describe("the outbox", () => {
  it("shows what it holds: the first rows, the pages, who and what made them; all of a run in one archive", async () => {
    const desk = await app.page("/outbox");
    const choose = (extension: string) => desk.press(`button[aria-label^="Preview of Freight statement"][aria-label$=".${extension}"]`);
    await desk.page.waitForSelector("main li button");
    await choose("csv");
    await desk.reads("aside[aria-label=Preview] th", "Waybill");
    await desk.reads("aside[aria-label=Preview]", /Created by ?Freight statement each working day \(Tomas Reed\)/);
    await desk.reads("aside[aria-label=Preview]", "The first 50 rows.");
    const asked = desk.page.waitForResponse((r) => r.url().includes("/api/outbox/file") && r.url().includes("show"));
    await choose("pdf");
    const { headers, status } = await asked.then((r) => ({ headers: r.headers(), status: r.status() }));
    expect([status, headers["content-type"], headers["content-disposition"]]).toEqual([200, "application/pdf", "inline"]);
    expect(headers["content-security-policy"]).toBe("script-src 'none'; frame-ancestors 'self'");
    // The address leads to the file that is looked at, whoever it is given to.
    const given = await app.page(new URL(desk.page.url()).pathname + new URL(desk.page.url()).search);
    await given.reads("aside[aria-label=Preview] h2", ".pdf");
    expect(given.complaints).toEqual([]);
    const all = await desk.page.$eval("main li a[href*='/api/outbox/all']", (a) => a.getAttribute("href") ?? "");
    const archive = Buffer.from(await (await app.fetch(all)).arrayBuffer());
    expect(archive.subarray(0, 2).toString()).toBe("PK");
    expect([archive.includes(".csv"), archive.includes(".pdf")]).toEqual([true, true]);
    await desk.page.select("main select", "90");
    await desk.reads("body", "Saved. Older files are removed.");
    const later = await app.page("/outbox");
    expect(await later.page.$eval("main select", (s) => (s as HTMLSelectElement).value)).toBe("90");
    expect(desk.complaints).toEqual([]);
  });
});

describe("the workspace's settings", () => {
  const labelled = (words: string, kind: string) => `::-p-xpath(//label[starts-with(normalize-space(.), "${words}")]//${kind})`;
  it("change how dates and numbers are written and typed, for everyone", async () => {
    const desk = await app.page("/settings");
    const type = async (words: string, text: string) => {
      const field = await desk.page.waitForSelector(labelled(words, "input"));
      await field?.click({ count: 3 });
      await desk.page.keyboard.type(text);
    };
    await type("Company", "Sound Ferries");
    await type("Numbers and dates", "de-DE");
    await desk.reads("form", "12.345,60 · 30.09.2026");
    await desk.page.select("[aria-label='Business year starts on, month']", "07");
    await desk.type("Holidays, one per line", "24.12.2026");
    await desk.click("Save", "form button");
    await desk.reads("body", "Settings saved.");
    await desk.open("/queries/freight-by-shipper");
    await desk.reads("[role=grid]", /\d\. Okt\. 2026/);
    await desk.click("Parameters", "[role=tab]");
    await desk.type("start", "30.10.2026");
    await desk.key("Enter");
    await desk.page.waitForFunction(() => (document.querySelector("[aria-label=start]") as HTMLInputElement | null)?.value === "30. Okt. 2026");
    await desk.reads("[data-testid=status]", /^\d{2} rows/);
    await desk.type("end", "gestern");
    await desk.key("Tab");
    await desk.reads("[role=alert]", "“gestern” is not a date. Write it like 5. Okt. 2026.");
    await desk.click("Calendar of end", "button");
    await desk.page.waitForSelector("[role=grid][aria-label='Oktober 2026']");
    await desk.key("ArrowUp", "Enter");
    await desk.page.waitForFunction(() => (document.querySelector("[aria-label=end]") as HTMLInputElement | null)?.value === "24. Okt. 2026");
    await desk.open("/settings");
    await desk.reads("h1", "Settings");
    expect(await desk.page.$eval("[aria-label='Holidays, one per line']", (t) => (t as HTMLTextAreaElement).value)).toContain("24. Dez. 2026");
    await type("Numbers and dates", "xx");
    await desk.click("Save", "form button");
    await desk.reads("body", "Unknown locale. Write it like en-GB.");
    await type("Numbers and dates", "en-GB");
    await desk.click("Save", "form button");
    await desk.page.waitForFunction(() => document.body.textContent?.includes("Settings saved."));
    await desk.open("/");
    await desk.reads("h1", "Sound Ferries");
    expect(await desk.page.$eval("h1 img", (i) => (i as HTMLImageElement).naturalWidth)).toBe(160);
  });
});

describe("getting about", () => {
  it("finds an object with a typing error, a column, and a row by its name, and does what the page offers", async () => {
    const desk = await app.page("/queries/freight-by-shipper");
    await desk.reads("[role=grid]", "Skarrow Timber");
    const find = async (words: string, found: string) => {
      // Typed at once: what comes before the field is there is kept for it.
      await desk.key("Control+k");
      await desk.page.keyboard.type(words);
      await desk.click(found, "[role=option]");
    };
    await find("freigth statment", "Freight statement");
    await desk.page.waitForFunction(() => location.pathname === "/reports/freight-statement");
    await find("Skarrow Tim", "Skarrow Timber");
    await desk.page.waitForFunction(() => location.pathname === "/tables/shipper/folio");
    await desk.open("/queries/freight-by-shipper");
    await desk.reads("[role=grid]", "Skarrow Timber");
    await find("hide fields", "Hide fields");
    await desk.page.waitForFunction(() => !document.querySelector("nav[aria-label=Fields]"));
  });

  it("says where one came from, and goes back to the place one was at", async () => {
    const desk = await app.page("/queries/freight-by-shipper");
    await desk.reads("[role=grid]", "Skarrow Timber");
    expect(await desk.page.title()).toBe("Freight lodged by shipper · Next Ledger");
    expect(await desk.page.$("nav[aria-label='Way back']")).toBe(null);
    await desk.page.$eval("[role=grid]", (grid) => grid.scrollTo(0, 9000));
    await desk.page.waitForFunction(() => (document.querySelector("[role=grid]")?.scrollTop ?? 0) === 9000);
    await desk.click("More ▾", "button");
    await desk.click("New chart", "[role=menuitem]");
    await desk.page.waitForFunction(() => location.pathname.startsWith("/charts/"));
    await desk.click("‹ Freight lodged by shipper", "nav a");
    await desk.page.waitForFunction(() => (document.querySelector("[role=grid]")?.scrollTop ?? 0) === 9000);
    expect(await desk.page.$("nav[aria-label='Way back']")).toBe(null);
    // Choosing a section begins anew.
    await desk.click("Letters", "nav a");
    await desk.page.waitForFunction(() => document.title === "Letters · Next Ledger");
    expect(await desk.page.$("nav[aria-label='Way back']")).toBe(null);
  });

  it("stops a file that is being made where it says so", async () => {
    const desk = await app.page("/queries/freight-by-shipper");
    await desk.reads("[role=grid]", "Skarrow Timber");
    await desk.page.setRequestInterception(true);
    const failed: unknown[] = [];
    desk.page.on("requestfailed", (r) => r.url().includes("/api/query/export") && failed.push(r.failure()?.errorText));
    // The file is never made: what is asked for stays unanswered.
    desk.page.on("request", (r) => (r.url().includes("/api/query/export") ? undefined : void r.continue()));
    await desk.click("More ▾", "button");
    await desk.click("Export CSV", "[role=menuitem]");
    await desk.reads("body", "Making the CSV file…");
    await desk.click("Stop", "[data-sonner-toast] button");
    await desk.page.waitForFunction(() => !document.body.textContent?.includes("Making the CSV file…"));
    expect(failed).toEqual(["net::ERR_ABORTED"]);
  });

  it("opens the guide for the screen with ?, walks its links, and leaves what is typed alone", async () => {
    const desk = await app.page("/queries/freight-by-shipper");
    await desk.reads("[role=grid]", "Skarrow Timber");
    await desk.page.keyboard.press("?");
    await desk.reads("aside[aria-label=Help]", "Build a query");
    await desk.reads("aside[aria-label=Help]", "Ctrl K");
    await desk.click("All pages of the guide");
    await desk.click("Prove a figure", "aside[aria-label=Help] button");
    await desk.reads("aside[aria-label=Help]", "What a total counts");
    await desk.key("Escape");
    await desk.page.waitForFunction(() => !document.querySelector("aside[aria-label=Help]"));
    await desk.click("+ condition");
    await desk.type("Find a field", "?");
    expect(await desk.page.$("aside[aria-label=Help]")).toBe(null);
  });

  it("is dark, larger and compact where somebody chose so in this browser, before the page is drawn", async () => {
    const desk = await app.page("/settings");
    await desk.reads("h1", "Settings");
    for (const [words, value] of [
      ["Theme", "dark"],
      ["Text size", "115"],
      ["Rows of sheets", "compact"],
    ] as const) {
      const select = await desk.page.waitForSelector(`label ::-p-xpath(//label[starts-with(normalize-space(.), "${words}")]//select)`);
      await select?.select(value);
    }
    await desk.open("/queries/freight-by-shipper");
    await desk.reads("[role=grid]", "Skarrow Timber");
    const look = await desk.page.evaluate(() => ({
      paper: getComputedStyle(document.body).color,
      text: document.documentElement.style.fontSize,
      row: Math.round(document.querySelector("[role=grid] [aria-rowindex='3']")?.getBoundingClientRect().height ?? 0),
    }));
    expect(look).toEqual({ paper: "rgb(231, 228, 218)", text: "115%", row: 28 });
    await desk.page.evaluate(() => localStorage.clear());
  });

  it("has the sections behind one button on a phone", async () => {
    const desk = await app.page("/");
    await desk.page.setViewport({ width: 390, height: 800 });
    await desk.click("Desk", "header button");
    await desk.click("Pivots", "[role=menuitem], a");
    await desk.page.waitForFunction(() => location.pathname === "/pivots");
    expect(await desk.page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  });
});
