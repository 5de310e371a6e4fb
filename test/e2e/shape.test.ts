import { join } from "node:path";
import Database from "better-sqlite3";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import { type Application, openApplication, post } from "../support/server";

/* A table made, reshaped, deleted and brought back in the browser, as the database itself tells. */

let app: Application;
beforeAll(async () => {
  app = await openApplication();
});
afterAll(() => app?.close());

const settles = (what: () => boolean) => vi.waitFor(() => expect(what()).toBe(true), { timeout: 25_000, interval: 100 });
const sqlOf = (table: string): string | undefined => app.sql(`SELECT sql FROM sqlite_schema WHERE name = '${table}'`)[0]?.[0] as string | undefined;

describe("a table's columns", () => {
  it("are retyped, removed and numbered after each value was looked at, and are as before once that is reversed", async () => {
    const before = sqlOf("agent_manifest");
    new Database(join(app.folder, "business.sqlite")).exec(`UPDATE agent_manifest SET "Lodged" = '31/09/2026' WHERE rowid = 3`).close();
    const mass = app.sql('SELECT CAST(ROUND(SUM("Mass (t)") * 1000) AS INTEGER) FROM agent_manifest');
    const odd = app.sql("SELECT * FROM agent_manifest");
    const desk = await app.sheet("/tables/agent_manifest");
    await desk.click("Change columns…");
    await desk.choose("Type of Lodged", "date");
    await desk.choose("Type of Mass (t)", "decimal");
    await desk.type("Decimal places of Mass (t)", "3");
    await desk.click("Remove Addr2");
    await desk.click("Number the rows");
    await desk.reads(
      "p",
      "In agent manifest: add id, numbered; make Mass (t) a decimal with 3 decimal places; make Lodged a date; remove Addr2; with id as key.",
    );
    await desk.reads("aside", "lodged: invalid rows 1");
    expect(await desk.page.$eval("button.button-primary", (e) => (e as HTMLButtonElement).disabled)).toBe(true);
    // Left and come back to: what was begun is there. Then the one value is given, by keyboard.
    await desk.page.goto(desk.page.url().replace(/\/shape$/, ""));
    await desk.page.goBack();
    await desk.reads("aside", "lodged: invalid rows 1");
    await (await desk.page.waitForSelector("td button ::-p-text(See 1 value)"))?.focus();
    await desk.key("Enter");
    await desk.page.waitForSelector("[aria-label='Read “31/09/2026” as']");
    await desk.page.keyboard.type("30/9/2026");
    await desk.key("Escape");
    await desk.page.waitForSelector("span > .button-primary:not([disabled])");
    await desk.click("Change table…", "button");
    await desk.reads(".popover", "210 rows in the table. The journal can reverse it.");
    await desk.click("Change", ".popover button");
    await desk.reads("[data-testid=status]", "210 rows");
    expect(sqlOf("agent_manifest")).toBe(
      'CREATE TABLE agent_manifest ("id" INTEGER PRIMARY KEY, "Waybill" TEXT, "Goods code" TEXT, "Sender" TEXT, "Addr1" TEXT, "Mass (t)" INTEGER_SCALED(3), "Lodged" DATE)',
    );
    expect(app.sql('SELECT id, "Lodged" FROM agent_manifest WHERE id = 3')).toEqual([[3, "2026-09-30"]]);
    expect(app.sql('SELECT SUM("Mass (t)") FROM agent_manifest')).toEqual(mass);
    // A row can be written now that it has a key.
    await desk.click("Add row");
    await desk.type("New waybill", "BW-99999");
    await desk.click("Add row", "aside button");
    await settles(() => app.sql("SELECT COUNT(*) FROM agent_manifest")[0]?.[0] === 211);
    await desk.page.goto(new URL("/postings", desk.page.url()).href);
    await desk.click("agent manifest: columns changed", "a");
    await desk.click("Reverse posting…");
    await desk.click("Reverse", ".popover button");
    await settles(() => sqlOf("agent_manifest") === before);
    expect(app.sql("SELECT * FROM agent_manifest WHERE \"Waybill\" <> 'BW-99999'")).toEqual(odd);
    expect(desk.complaints).toEqual([]);
  });

  it("are made of a query's rows, whose footing they have", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    // The first hundred are there before all of them are counted.
    const counted = await desk.reads("[data-testid=status]", /\d,\d{3} rows/);
    const rows = Number(counted.match(/([\d,]+) rows/)?.[1]?.replaceAll(",", ""));
    await desk.click("More ▾", "button");
    await desk.click("Save rows as table…");
    await desk.type("Table name", "shipper");
    await desk.click("Create table");
    await desk.reads("[role=dialog]", "the name “shipper” is already used or reserved");
    await desk.type("Table name", "october freight");
    await desk.click("Create table");
    await desk.reads("h1", "october freight");
    await desk.reads("section", "Add a key");
    expect(app.sql('SELECT COUNT(*) FROM "october freight"')).toEqual([[rows]]);
    expect(desk.complaints.filter((c) => !c.includes("422"))).toEqual([]);
  });

  it("say what would stop working, by name", async () => {
    const desk = await app.page("/tables/consignment/shape");
    await desk.click("Remove freight_charge");
    await desk.reads("aside", /\d+ items would stop working.*Freight lodged by shipper/s);
    await desk.click("Undo");
    await desk.click("Remove lodged_on");
    await desk.page.waitForFunction(() => !document.querySelector("aside")?.textContent?.includes("freight_charge"));
    expect(desk.complaints).toEqual([]);
  });
});

describe("a column", () => {
  it("is split from its heading, and joined again; both are seen before anything is changed", async () => {
    const before = sqlOf("agent_manifest");
    const desk = await app.sheet("/tables/agent_manifest");
    await desk.page.evaluate(() => (document.querySelectorAll("[role=columnheader] button")[2] as HTMLElement).click());
    await desk.click("Split into columns…");
    await desk.type("Separator", " ");
    await desk.key("Enter");
    await desk.reads("p", "add Sender 1 as NULLIF(TRIM(SPLIT_PART(sender, ' ', 1)), '')");
    await desk.page.waitForSelector("span > .button-primary:not([disabled])");
    // A formula that cannot be read says so where it is written, and nothing can be changed until it is.
    await desk.click("Formula of Sender 2", "button");
    await desk.press(".popover .cm-content");
    await desk.key("End");
    await desk.page.keyboard.type(" || (");
    await desk.page.waitForSelector("span > .button-primary[disabled]");
    await desk.page.keyboard.down("Control");
    await desk.key("z");
    await desk.page.keyboard.up("Control");
    await desk.key("Escape");
    await desk.page.waitForSelector("span > .button-primary:not([disabled])");
    await desk.click("Change table…", "button");
    await desk.click("Change", ".popover button");
    await desk.reads("[data-testid=status]", /rows/);
    expect(app.sql(`SELECT COUNT(*) FROM agent_manifest WHERE "Sender 1" || COALESCE(' ' || "Sender 2", '') = "Sender"`)).toEqual(
      app.sql(`SELECT COUNT(*) FROM agent_manifest WHERE "Sender" <> ''`),
    );
    await desk.page.goto(new URL("/postings", desk.page.url()).href);
    await desk.click("agent manifest: columns changed", "a");
    await desk.click("Reverse posting…");
    await desk.click("Reverse", ".popover button");
    await settles(() => sqlOf("agent_manifest") === before);
    expect(desk.complaints).toEqual([]);
  });

  it("that repeats becomes a table of its own with what belongs to it, once it is said which values are taken; and comes back", async () => {
    const before = app.sql("SELECT * FROM agent_manifest");
    const senders = app.sql(`SELECT COUNT(DISTINCT "Sender") FROM agent_manifest WHERE "Sender" <> ''`)[0]?.[0];
    const desk = await app.page("/tables/agent_manifest/shape");
    await desk.click("Split off a table…", "button");
    await desk.choose("One row for each", "Sender");
    for (const name of ["addr1", "addr2"]) await desk.click(name, ".popover label");
    await desk.type("Name of the new table", "sender");
    await desk.key("Enter");
    await desk.reads("tbody", `new table sender, ${senders} rows`);
    expect(await desk.page.$("span > .button-primary:not([disabled])")).toBeNull();
    await desk.choose("What is taken where values differ: sender_id", "most");
    await desk.page.waitForSelector("span > .button-primary:not([disabled])");
    await desk.reads("aside", `rows added to sender ${senders}`);
    await desk.click("Change table…", "button");
    await desk.click("Change", ".popover button");
    await desk.reads("[data-testid=status]", /rows/);
    expect(app.sql('SELECT m."Waybill", s."Sender" FROM agent_manifest m LEFT JOIN sender s ON s.id = m.sender_id')).toEqual(
      before.map(([waybill, , sender]) => [waybill, sender || null]),
    );
    for (const [name, gone] of [
      ["agent manifest: columns changed", () => app.sql("SELECT * FROM agent_manifest").length === before.length && sqlOf("agent_manifest")?.includes("Addr2")],
      ["sender: created", () => sqlOf("sender") === undefined],
    ] as const) {
      await desk.page.goto(new URL("/postings", desk.page.url()).href);
      await desk.click(name, "a");
      await desk.click("Reverse posting…");
      await desk.click("Reverse", ".popover button");
      await settles(() => gone() === true);
    }
    expect(app.sql("SELECT * FROM agent_manifest")).toEqual(before);
    expect(desk.complaints).toEqual([]);
  });

  it("is tidied by a posting that shows each row before", async () => {
    const desk = await app.sheet("/tables/shipper");
    const before = app.sql("SELECT trade FROM shipper ORDER BY id");
    const menus = await desk.page.$$("[role=columnheader] button");
    await menus[2]?.click();
    await desk.click("Find and replace…");
    await desk.type("Find", "ool");
    await desk.type("Replace with", "OOL");
    await desk.key("Enter");
    const rows = before.filter(([trade]) => String(trade).includes("ool")).length;
    await desk.reads("aside", `can edit ${rows}`);
    expect(rows).toBeGreaterThan(0);
    await desk.click(`Post ${rows} rows…`);
    await desk.click("Post", ".popover button");
    await settles(() => app.sql("SELECT COUNT(*) FROM shipper WHERE trade LIKE '%OOL%' AND trade GLOB '*OOL*'")[0]?.[0] === rows);
    expect(app.sql("SELECT trade FROM shipper ORDER BY id")).toEqual(before.map(([trade]) => [String(trade).replaceAll("ool", "OOL")]));
    expect(desk.complaints).toEqual([]);
  });
});

describe("duplicates", () => {
  it("are found from a heading, chosen by keyboard, and merged with the rows that lead to them", async () => {
    const db = new Database(join(app.folder, "business.sqlite"));
    const like = (id: number, name: string) =>
      `INSERT INTO shipper SELECT ${id}, '${name}', trade, NULL, NULL, opened_on, credit_limit, on_hold FROM shipper WHERE name = 'Mirrin Wool';`;
    db.exec(`${like(901, "WOOL, mirrin")} ${like(902, "Mirrin Wol")}
      UPDATE consignment SET shipper_id = 901 WHERE id IN (SELECT id FROM consignment WHERE shipper_id = (SELECT id FROM shipper WHERE name = 'Mirrin Wool') LIMIT 7)`);
    db.close();
    const wool = "SELECT COUNT(*) FROM consignment WHERE shipper_id IN (SELECT id FROM shipper WHERE name IN ('Mirrin Wool', 'WOOL, mirrin', 'Mirrin Wol'))";
    const [before, shippers] = [app.sql(wool), Number(app.sql("SELECT COUNT(*) FROM shipper")[0]?.[0])];
    const desk = await app.sheet("/tables/shipper");
    await desk.page.evaluate(() => (document.querySelectorAll("[role=columnheader] button")[1] as HTMLElement).click());
    await desk.click("Find duplicates…");
    await desk.reads("h1", "Duplicates in shipper");
    await desk.reads("aside", `rows now ${shippers} removed 1 rows after ${shippers - 1}`);
    await desk.reads("aside", "consignment linked to the row kept 7");
    await desk.click("One letter different", "label");
    // A name that is only near is not chosen by itself: a person says so.
    await desk.reads("tbody", /Mirrin Wol/);
    await desk.page.focus("input[aria-label='Keep 901']");
    await desk.key("Space");
    await desk.reads("aside", `removed 2 rows after ${shippers - 2}`);
    await desk.page.waitForFunction(() => [...document.querySelectorAll("button")].some((b) => b.textContent === "Merge 1 group…" && !b.disabled));
    await (await desk.page.waitForSelector("button ::-p-text(Merge 1 group…)"))?.focus();
    await desk.key("Enter");
    await desk.reads(".popover", "Merge 1 group: 2 rows removed. The journal can reverse it.");
    await desk.click("Merge", ".popover button");
    await settles(() => app.sql("SELECT island IS NOT NULL FROM shipper WHERE id = 901")[0]?.[0] === 1);
    expect(app.sql(wool)).toEqual(before);
    await desk.page.goto(new URL("/postings", desk.page.url()).href);
    await desk.click("shipper: duplicates merged", "a");
    await desk.click("Reverse posting…");
    await desk.click("Reverse", ".popover button");
    await settles(() => app.sql("SELECT COUNT(*) FROM shipper")[0]?.[0] === shippers);
    expect(app.sql(wool)).toEqual(before);
    expect(app.sql("SELECT COUNT(*) FROM consignment WHERE shipper_id = 901")).toEqual([[7]]);
    expect(desk.complaints).toEqual([]);
  });
});

describe("a table", () => {
  it("is made with its checks, which hold for what is typed; deleted, and restored with its rows", async () => {
    const desk = await app.page("/tables");
    await desk.click("New table", "a");
    await desk.type("Table name", "shipper");
    await desk.reads("section", "The name “shipper” is already used by a table, a view or an index.");
    await desk.type("Table name", "berth fee");
    await desk.type("Name of new", "grade");
    await desk.click("Check of grade", "button");
    await desk.choose("Values must be", "oneOf");
    await desk.page.type(".popover textarea", "A\nB");
    await desk.key("Escape");
    await desk.page.waitForSelector("span > .button-primary:not([disabled])");
    await desk.click("Create table…", "button");
    await desk.click("Create", ".popover button");
    await settles(
      () =>
        sqlOf("berth fee") ===
        `CREATE TABLE "berth fee" ("id" INTEGER PRIMARY KEY, "grade" TEXT CONSTRAINT "grade must be one of A, B" CHECK ("grade" IN ('A', 'B')))`,
    );
    // What is allowed is offered; nothing else is taken.
    await desk.click("Add row");
    await desk.choose("New grade", "B");
    await desk.click("Add row", "aside button");
    await settles(() => app.sql('SELECT COUNT(*) FROM "berth fee"')[0]?.[0] === 1);
    const add = { table: "berth fee", change: { kind: "add", values: { grade: "C" } } };
    const refused = await app.fetch("/api/tables/edit", post(add));
    expect([refused.status, await refused.text()]).toEqual([422, expect.stringContaining("grade must be one of A, B")]);
    await desk.click("Columns", "aside [role=tab], aside button");
    await desk.click("Delete table…");
    await desk.reads(".popover", "Nothing saved here stops working.");
    await desk.click("Delete", ".popover button");
    await settles(() => sqlOf("berth fee") === undefined);
    await desk.click("Reverse posting…");
    await desk.click("Reverse", ".popover button");
    await settles(() => sqlOf("berth fee") !== undefined);
    expect(app.sql('SELECT * FROM "berth fee"')).toEqual([[1, "B"]]);
    expect(desk.complaints).toEqual([]);
  });
});
