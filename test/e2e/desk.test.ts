import { afterAll, beforeAll, describe, expect, it } from "vitest";
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

describe("getting about", () => {
  it("finds an object with a typing error, a column, and a row by its name, and does what the page offers", async () => {
    const desk = await app.page("/queries/freight-by-shipper");
    await desk.reads("[role=grid]", "Skarrow Timber");
    const find = async (words: string, found: string) => {
      await desk.key("Control+k");
      await desk.type("Find or do", words);
      await desk.click(found, "[role=option]");
    };
    await find("freigth statment", "Freight statement");
    await desk.reads("h1, input", /Freight statement/).catch(() => undefined);
    await desk.page.waitForFunction(() => location.pathname === "/reports/freight-statement");
    await find("Skarrow Tim", "Skarrow Timber");
    await desk.page.waitForFunction(() => location.pathname === "/tables/shipper/folio");
    await desk.open("/queries/freight-by-shipper");
    await desk.reads("[role=grid]", "Skarrow Timber");
    await find("hide fields", "Hide fields");
    await desk.page.waitForFunction(() => !document.querySelector("nav[aria-label=Fields]"));
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
    expect(look).toEqual({ paper: "rgb(231, 228, 218)", text: "115%", row: 24 });
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
