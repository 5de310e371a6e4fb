import { createHash } from "node:crypto";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import { type Application, type Desk, openApplication } from "../support/server";

/* What an analyst does to data, in the browser: a file in, a link, derived fields, a posting and its way back, a folio, a cell. */

let app: Application;
beforeAll(async () => {
  app = await openApplication();
});
afterAll(() => app?.close());

/** What a click or a key brings about in the database. */
const settles = (what: () => boolean) => vi.waitFor(() => expect(what()).toBe(true), { timeout: 25_000, interval: 100 });
const write = (n: number) => new Intl.NumberFormat("en-GB").format(n);
const money = (cents: number) => new Intl.NumberFormat("en-GB", { minimumFractionDigits: 2 }).format(cents / 100);
const one = (text: string): number => Number(app.sql(text)[0]?.[0]);

/** An invented inspector's file: days as they are written there, a value that does not fit, a ship that is not ours. */
const INSPECTIONS = [
  "inspection;ship no;inspected;minutes;cost;passed",
  ...Array.from({ length: 40 }, (_, i) => `${i + 1};${(i % 7) + 1};${(i % 27) + 1}/10/2026;${20 + i};${100 + i},50;${i % 3 === 0 ? "no" : "yes"}`),
  "41;2;30/02/2026;10;5,00;yes",
].join("\r\n");

/** Drops a file on a page, as a hand does. */
const pick = async (desk: Desk, phrase: string, ...choices: string[]) => {
  await desk.click(phrase, "aside button, section button");
  for (const choice of choices) await desk.click(choice, "[id^=headlessui-popover-panel] button");
};

describe("a file of 50 MB", () => {
  it("arrives whole, or is refused", async () => {
    const content = Buffer.alloc(50_000_000, "abcdefghijklmnopqrstuvwxyz,0123456789\n");
    const sha256 = createHash("sha256").update(content).digest("hex");
    const send = (bytes: number) =>
      app.fetch(`/api/imports?name=large.csv&bytes=${bytes}&sha256=${sha256}`, { method: "POST", body: content, headers: { "content-type": "text/csv" } });
    const kept = (await (await send(content.length)).json()) as { id: string; bytes: number };
    expect(kept.bytes).toBe(content.length);
    expect(readFileSync(join(app.folder, "imports", kept.id, "file")).equals(content)).toBe(true);
    const refused = await send(content.length + 1);
    expect([refused.status, await refused.text()]).toEqual([400, expect.stringContaining("upload is incomplete")]);
    // What the proxy sees to elsewhere holds here too.
    const foreign = await app.fetch(`/api/imports?name=x&bytes=1`, { method: "POST", body: "x", headers: { origin: "https://elsewhere.example" } });
    expect(foreign.status).toBe(403);
  });
});

it("a file that cannot be read as it was found to be is read otherwise, as its refusal says", async () => {
  const desk = await app.page("/tables");
  await desk.reads("h1", "Tables");
  await desk.drop("pipes.csv", 'no,size\n1,"1/2" pipe\n2,"3/4"x pipe,"y\n3,4\n');
  await desk.reads("main", "a quoted value in row 1 contains a quote that is not doubled");
  await desk.reads("aside", "rows in the file —");
  await desk.page.select(`select:has(option[value="'"])`, "");
  await desk.reads("body", "First rows after import");
  await desk.reads("[role=grid]", '"1/2" pipe');
  await desk.reads("aside", "rows in the file 3");
  expect(await desk.text("main")).not.toContain("could not be read");
  expect(desk.complaints).toEqual([]);
});

describe("from a file to a report", () => {
  it("drops a file, types it, links it by suggestion, derives from it, groups and prints by what was derived", async () => {
    const desk = await app.page("/tables");
    await desk.reads("h1", "Tables");
    await desk.drop("inspections.csv", INSPECTIONS);
    await desk.reads("body", "First rows after import");
    await desk.reads("aside", /invalid values 1/);
    await desk.reads("body", "row 41: “30/02/2026”");
    await desk.reads("[role=grid]", /1 Oct 2026/);
    await desk.type("Name of column 2", "ship_no");
    await desk.choose("Key", "inspection");
    await desk.click("leave empty");
    await desk.click("Import");
    await desk.reads("[data-testid=status]", "41 rows");
    expect(one("SELECT SUM(cost) FROM inspections")).toBe(40 * 10_050 + (39 * 40 * 100) / 2 + 500);
    expect(one("SELECT COUNT(*) FROM inspections WHERE inspected IS NULL")).toBe(1);

    await desk.click("Links", "[role=tab]");
    await desk.reads("aside", "of values match");
    await desk.click("inspections.ship no = vessel.id", "aside button");
    await desk.reads("[data-testid=link-evidence]", /inspections 41 match a row of vessel 36 match none 7 5 match several 0/);
    await desk.click("Create link");
    await desk.reads("aside", "one ship");

    await desk.click("Add derived field");
    await desk.click("lookup", "aside button");
    await desk.type("Find a field to look up", "ship › n");
    await desk.reads("aside", "✓ ship › name");
    await desk.type("Derived field name", "vessel name");
    await desk.reads("[role=grid]", "Merganser");
    await desk.click("Save", "aside button");
    await desk.reads("body", "is now a column of");

    await desk.open("/tables/vessel");
    await desk.click("Add derived field");
    await desk.click("rollup", "aside button");
    await desk.reads("aside", "For each vessel, the count over");
    await pick(desk, "defects", "inspections by ship");
    await pick(desk, "count", "total The sum, exact for whole numbers and decimals; empty if there are no values: 4, 4, 7 → 15.");
    await pick(desk, "…", "cost");
    await pick(desk, "+ condition", "passed");
    await desk.reads("aside", "where passed is …");
    await desk.click("…", "aside button");
    await desk.choose("Value", "no");
    await desk.key("Escape");
    await desk.type("Derived field name", "cost of failures");
    const failures = app.sql(
      "SELECT v.name, (SELECT SUM(cost) FROM inspections i WHERE i.ship_no = v.id AND NOT i.passed) FROM vessel v WHERE v.id = 1",
    )[0] as [string, number];
    await desk.reads("[role=grid]", money(failures[1]));
    await desk.click("Save", "aside button");
    await desk.reads("body", "is now a column of");

    await desk.open("/queries/new?from=inspections");
    await desk.reads("[data-testid=status]", "41 rows");
    await desk.click("one ship");
    await desk.click("cost of failures");
    await desk.click("+ one row per…");
    await desk.type("Find a field", "vessel name");
    await desk.key("Enter");
    await desk.reads("p", "One row per vessel name:");
    await desk.reads("[data-testid=status]", "7 rows");
    await desk.reads("[role=grid]", money(one("SELECT SUM(cost) FROM inspections")));
    await desk.click("Proof", "[role=tab]");
    await desk.reads("aside", "✓ Proved.");
    await desk.type("Name", "Inspections by ship");
    await desk.key("Enter");
    await desk.click("Save");
    await desk.reads("body", "saved.");
    await desk.click("More ▾");
    await desk.click("New report");
    await desk.page.waitForFunction(() => location.pathname.startsWith("/reports/"));
    await desk.reads("svg", "Merganser");
    await desk.reads("svg", money(one("SELECT SUM(cost) FROM inspections WHERE ship_no = 1")));
    expect(desk.complaints).toEqual([]);
  });
});

/** Three invented files as people keep them: groups named once, names in several spellings, dates in several notations, amounts with their sign. */
const DEALERS = "Region;Dealer;Phone\r\nNorth;Pell & Sons;01\r\n;Oat Trading;02\r\nSouth;Rowan;n/a\r\n";
const SALES = `No;Dealer;Sold on;Amount\r\n${Array.from({ length: 30 }, (_, i) => `${i + 1};${["  pell & sons", "OAT  Trading", "Rowan ", "rowan"][i % 4]};${i % 3 === 0 ? `${(i % 9) + 1} Feb 2026` : `${(i % 9) + 1}/2/2026`};${i}${i % 2 === 0 ? ",50" : ""} €`).join("\r\n")}\r\n30;Rowan;1/2/2026;99 €\r\n`;
const TARGETS = "dealer,target\r\nPELL & SONS,100\r\nOat Trading,50\r\nRowan,70\r\nRowan,70\r\n";

/** Imports a file once it has been read as it is to be cleaned. */
async function bring(desk: Desk): Promise<void> {
  await desk.page.waitForFunction(() => [...document.querySelectorAll("button")].some((b) => b.textContent === "Import" && !b.disabled));
  await desk.click("Import");
}

describe("three messy files", () => {
  it("become linked tables with rollups and a report that foots, each cleaned as it comes in", async () => {
    const desk = await app.page("/tables");
    await desk.drop("dealers.csv", DEALERS);
    await desk.reads("body", "First rows after import");
    await desk.click("Clean up Region", "button");
    await desk.click("Fill down: an empty value takes the one above", "label");
    await desk.key("Escape");
    await desk.reads("tbody", "cleaned: filled down");
    await desk.click("Clean up Phone", "button");
    await desk.type("Value 1", "n/a");
    await desk.key("Escape");
    await desk.reads("tbody", "cleaned: 1 value replaced");
    await desk.reads("[role=grid]", /North.*North.*South/s);
    await bring(desk);
    await desk.reads("[data-testid=status]", "3 rows");
    expect(app.sql("SELECT Region, Dealer, Phone FROM dealers")).toEqual([
      ["North", "Pell & Sons", "01"],
      ["North", "Oat Trading", "02"],
      ["South", "Rowan", null],
    ]);
    // A key, by a number for each row.
    await desk.click("Change columns…");
    await desk.click("Number the rows");
    await desk.page.waitForSelector("span > .button-primary:not([disabled])");
    await desk.click("Change table…", "button");
    await desk.click("Change", ".popover button");
    await desk.reads("[data-testid=status]", "3 rows");

    await desk.open("/tables");
    await desk.drop("dealer sales.csv", SALES);
    await desk.reads("body", "First rows after import");
    await desk.click("Clean up Dealer", "button");
    await desk.click("Trim spaces", "label");
    await desk.key("Escape");
    await desk.choose("Key", "No");
    await desk.choose("If several rows have one value", "first");
    await bring(desk);
    await desk.reads("[data-testid=status]", "30 rows");
    expect(one("SELECT SUM(Amount) FROM dealer_sales")).toBe(100 * ((29 * 30) / 2) + 15 * 50);
    expect(app.sql('SELECT DISTINCT typeof("Sold on"), length("Sold on") FROM dealer_sales')).toEqual([["text", 10]]);

    // Its names become a link, past their spelling.
    await desk.click("Change columns…");
    await desk.choose("Type of Dealer", "link:dealers");
    await desk.page.waitForSelector("span > .button-primary:not([disabled])");
    await desk.click("Remove Dealer", "button");
    await desk.page.waitForSelector("span > .button-primary:not([disabled])");
    await desk.click("Change table…", "button");
    await desk.click("Change", ".popover button");
    await desk.reads("[data-testid=status]", "30 rows");
    expect(app.sql("SELECT dealers_id, COUNT(*) FROM dealer_sales GROUP BY 1")).toEqual([
      [1, 8],
      [2, 8],
      [3, 14],
    ]);

    await desk.open("/tables");
    await desk.drop("targets.csv", TARGETS);
    await desk.reads("body", "First rows after import");
    await desk.click("Skip rows that repeat an earlier row", "label");
    await bring(desk);
    await desk.reads("[data-testid=status]", "3 rows");

    // The rollup of one table over another, and a report of it.
    await desk.open("/tables/dealers");
    await desk.click("Add derived field");
    await desk.click("rollup", "aside button");
    await desk.reads("aside", "For each dealer");
    await pick(desk, "count", "total The sum, exact for whole numbers and decimals; empty if there are no values: 4, 4, 7 → 15.");
    await pick(desk, "…", "amount");
    await desk.type("Derived field name", "sold");
    const rowan = one("SELECT SUM(Amount) FROM dealer_sales WHERE dealers_id = 3");
    await desk.reads("[role=grid]", money(rowan));
    await desk.click("Save", "aside button");
    await desk.reads("body", "is now a column of");
    await desk.open("/queries/new?from=dealers");
    await desk.reads("[data-testid=status]", "3 rows");
    await desk.reads("[role=grid]", money(one("SELECT SUM(Amount) FROM dealer_sales")));
    await desk.click("Proof", "[role=tab]");
    await desk.reads("aside", "✓ Proved.");
    await desk.type("Name", "Sold by dealer");
    await desk.key("Enter");
    await desk.click("Save");
    await desk.reads("body", "saved.");
    await desk.click("More ▾");
    await desk.click("New report");
    await desk.page.waitForFunction(() => location.pathname.startsWith("/reports/"));
    await desk.reads("svg", money(rowan));
    expect(desk.complaints).toEqual([]);
  });
});

describe("a derived field that is changed", () => {
  it("stands beside what it is today, with how many rows differ, and says what uses it", async () => {
    const desk = await app.sheet("/tables/shipper?derived=shipper-balance");
    await desk.reads("[data-testid=derived-difference]", "The same as today in every row.");
    await pick(desk, "total", "maximum The largest value, or the latest date: 4, 4, 7 → 7.");
    const most = app.sql(
      "SELECT COUNT(*) FROM shipper s WHERE (SELECT MAX(amount) FROM account_entry WHERE shipper_id = s.id) IS NOT (SELECT SUM(amount) FROM account_entry WHERE shipper_id = s.id)",
    );
    await desk.reads("[data-testid=derived-difference]", `Differs from today in ${most[0]?.[0]} of 37 rows.`);
    await desk.reads("[role=grid]", /balance, changed.*balance/i);
    await desk.click("Where used");
    await desk.reads("aside", /(report|letter|query|derived|folio) /);
    await desk.click("Cancel");
    await desk.reads("[role=grid]", /^(?!.*changed)/);
    expect(desk.complaints).toEqual([]);
  });
});

describe("a link", () => {
  it("has a page with the rows of either side that find one, none or several; and a place on the map, where it is drawn and kept", async () => {
    const none = one("SELECT COUNT(*) FROM consignment WHERE shipper_id NOT IN (SELECT id FROM shipper)");
    const desk = await app.page("/links/consignment.shipper_id");
    await desk.reads("[data-testid=link-evidence]", `match none 38 · 39 · 40 ${write(none)}`);
    await desk.click(write(none), "[data-testid=link-evidence] a");
    await desk.reads("main", "From consignment, only those that have no shipper.");
    await desk.reads("[data-testid=footing], main", new RegExp(`${write(none)}`));

    await desk.open("/tables?view=map");
    const box = await desk.page.waitForSelector(".react-flow__node[data-id=rate]");
    const before = await box?.boundingBox();
    await desk.page.evaluate(() => (document.querySelector(".react-flow__node[data-id=rate]") as HTMLElement).focus());
    for (let i = 0; i < 5; i++) await desk.key("ArrowUp");
    await desk.reads("button", "Arrange again");
    expect((await box?.boundingBox())?.y).toBeLessThan(before?.y ?? 0);
    const moved = await box?.boundingBox();
    await desk.page.waitForResponse((r) => r.url().endsWith("/api/tables/map"));
    await desk.open("/tables?view=map");
    await desk.reads("button", "Arrange again");
    expect((await (await desk.page.waitForSelector(".react-flow__node[data-id=rate]"))?.boundingBox())?.y).toBeCloseTo(moved?.y ?? 0, -1);
    // Drawn from a column to a column, by mouse.
    await desk.press("[aria-label='Columns of rate']");
    await desk.press("[aria-label='Columns of commodity']");
    const middle = async (selector: string): Promise<[number, number]> => {
      const at = await (await desk.page.waitForSelector(selector))?.boundingBox();
      return [(at?.x ?? 0) + (at?.width ?? 0) / 2, (at?.y ?? 0) + (at?.height ?? 0) / 2];
    };
    await desk.page.mouse.move(...(await middle("[data-id=rate] .react-flow__handle.source[data-handleid='column per_tonne']")));
    await desk.page.mouse.down();
    const end = await middle("[data-id=commodity] .react-flow__handle.target[data-handleid='column id']");
    await desk.page.mouse.move(end[0] - 20, end[1], { steps: 5 });
    await desk.page.mouse.move(...end, { steps: 5 });
    await desk.page.mouse.up();
    await desk.reads("[role=dialog]", /From rate to/);
    expect(await desk.page.$eval("[aria-label='Column of rate']", (e) => (e as HTMLSelectElement).value)).toBe("per_tonne");
    expect(await desk.page.$eval("[aria-label='Column of commodity']", (e) => (e as HTMLSelectElement).value)).toBe("id");
    await desk.key("Escape");
    await desk.click("New link from rate");
    await desk.reads("[role=dialog]", /From rate to/);
    await desk.choose("Linked table", "shipper");
    await desk.reads("[role=dialog] [data-testid=link-evidence]", "match none");
  });
});

describe("a posting", () => {
  it("is looked at, posted, made again without harm, and taken back to the last value", async () => {
    const digest = () => JSON.stringify(app.sql("SELECT COUNT(*), SUM(id), SUM(weight), SUM(length(waybill_no)) FROM consignment"));
    const before = digest();
    const desk = await app.page("/postings/agent-manifest");
    await desk.reads("[data-testid=posting-proof]", /rows in the source 210 exists, different 4 repeated in the source 6 refused 20 to add 180/);
    expect(digest(), "a preview changes nothing").toBe(before);
    await desk.click("refused 20");
    await desk.reads("[role=grid]", "“LRCH”: no such code");
    await desk.click("Post 180 rows…");
    await desk.reads("[id^=headlessui-popover-panel]", "20 rows are refused");
    await desk.click("Post", ".popover button");
    await desk.reads("[data-testid=posting-proof]", /exists already \(posting #\d+\) 180 exists, different 4 repeated in the source 6 refused 20 to add 0/);
    expect(one("SELECT COUNT(*) FROM consignment WHERE waybill_no BETWEEN 'BW-70001' AND 'BW-70200'")).toBe(180);
    expect(one("SELECT weight FROM consignment WHERE waybill_no = 'BW-70001'")).toBe(51_390);
    await desk.reads("aside", "4 rows with other values will be left unchanged.");

    const number = one("SELECT MAX(number) FROM next_ledger_posting");
    await desk.reads("main", `Posted as #${number}: 180 rows added.`);
    await desk.reads("main h2", "If posted again");
    await desk.click("See the changes");
    await desk.reads("[role=grid]", "BW-70001");
    await desk.click("Reverse posting…");
    await desk.click("Reverse");
    await desk.reads("h1", `#${number + 1} · #${number} reversed`);
    expect(digest()).toBe(before);
    await desk.open("/postings");
    await desk.reads("section", `reversed by #${number + 1}`);
    expect(desk.complaints).toEqual([]);
  });
});

describe("a row", () => {
  const cellOf = (desk: Desk, row: number, column: number) => desk.page.waitForSelector(`[role=grid] [id$="-${row}-${column}"]`);
  it("is typed over with checks at the cell, and undone", async () => {
    const desk = await app.sheet("/tables/shipper");
    await desk.reads("[role=grid]", "Marram Boatworks");
    await (await cellOf(desk, 0, 6))?.click();
    await desk.key("F2", "Control+a");
    await desk.page.keyboard.type("a lot");
    await desk.key("Enter");
    await desk.reads("[role=alert]", "“a lot” is not a number");
    await desk.key("Control+a");
    await desk.page.keyboard.type("18000.5");
    await desk.key("Enter");
    await desk.reads("[role=grid]", "405,500.50");
    expect(one("SELECT credit_limit FROM shipper WHERE id = 1")).toBe(1_800_050);
    await desk.click("Undo");
    await desk.reads("[role=grid]", "405,000.00");
    expect(one("SELECT credit_limit FROM shipper WHERE id = 1")).toBe(1_750_000);
    // A day is chosen in a calendar beside the cell; the field keeps the keyboard meanwhile.
    const opened = app.sql("SELECT opened_on FROM shipper WHERE id = 1")[0]?.[0];
    await (await cellOf(desk, 0, 5))?.click();
    await desk.key("F2");
    await desk.reads(".popover", "April 2015");
    expect(await desk.page.evaluate(() => document.activeElement?.getAttribute("aria-label"))).toBe("Opened on");
    await desk.press(".popover [aria-label*='15 April 2015']");
    await settles(() => app.sql("SELECT opened_on FROM shipper WHERE id = 1")[0]?.[0] === "2015-04-15");
    await desk.click("Undo");
    await settles(() => app.sql("SELECT opened_on FROM shipper WHERE id = 1")[0]?.[0] === opened);
    // A shipper that consignments lead to stays.
    await (await cellOf(desk, 0, 1))?.click();
    await desk.key("Delete");
    await desk.reads("body", "lead to it");
    expect(one("SELECT COUNT(*) FROM shipper")).toBe(37);
  });
  it("is given values that are offered, pasted as a block and filled down, each one change; what cannot be written is said with its row", async () => {
    const desk = await app.sheet("/tables/shipper");
    await app.browser.defaultBrowserContext().overridePermissions(app.address, ["clipboard-read", "clipboard-write", "clipboard-sanitized-write"]);
    await desk.reads("[role=grid]", "Marram Boatworks");
    const trades = () => app.sql("SELECT trade, island FROM shipper WHERE id <= 3 ORDER BY id").flat();
    const before = trades();
    const paste = async (text: string) => {
      await desk.page.evaluate((t) => navigator.clipboard.writeText(t), text);
      await desk.page.keyboard.down("Control");
      await desk.page.keyboard.press("v", { commands: ["Paste"] });
      await desk.page.keyboard.up("Control");
    };
    // A text that stands in the column, chosen by the arrows; what is offered is in sight.
    await (await cellOf(desk, 0, 2))?.click();
    await desk.page.keyboard.type("gla");
    await desk.reads("[role=listbox]", "Glass");
    const offered = await desk.page.waitForSelector("[role=listbox] [role=option]");
    expect(await offered?.evaluate((e) => e.contains(document.elementFromPoint(e.getBoundingClientRect().x + 8, e.getBoundingClientRect().y + 8)))).toBe(true);
    await desk.key("ArrowDown", "Enter");
    await desk.page.waitForFunction(() => document.querySelector("[role=grid] [id$='-0-2']")?.textContent === "Glass");
    // Rows by their names: a linked row and a block, whole or not at all.
    const officer = one("SELECT MAX(id) FROM crew");
    await (await cellOf(desk, 2, 4))?.click();
    await paste("Voss");
    await desk.reads("body", "Row 3: Several rows of crew are called “Voss”.");
    await paste(`${officer}\t30/2/2020`);
    await desk.reads("body", /Row 3: “30\/2\/2020” is not a date/);
    await paste(`${officer}\t1 Feb 2020\n${officer}\t2 Feb 2020\n`);
    await desk.reads("body", "4 values changed.");
    const opened = () => app.sql("SELECT desk_officer_id, opened_on FROM shipper WHERE id IN (3, 4) ORDER BY id");
    expect(opened()).toEqual([
      [officer, "2020-02-01"],
      [officer, "2020-02-02"],
    ]);
    await (await cellOf(desk, 0, 2))?.click();
    await desk.key("Shift+ArrowDown", "Shift+ArrowDown", "Shift+ArrowRight", "Control+d");
    const filled = JSON.stringify(["Glass", before[1], "Glass", before[1], "Glass", before[1]]);
    await settles(() => JSON.stringify(trades()) === filled);
    for (let i = 0; i < 3; i++) {
      const left = one("SELECT COUNT(*) FROM next_ledger_posting");
      await desk.click("Undo");
      await settles(() => one("SELECT COUNT(*) FROM next_ledger_posting") > left);
    }
    expect(trades()).toEqual(before);
    expect(opened()[0]?.[1]).not.toBe("2020-02-01");
    await paste("a\tb\tc\td\te\tf\tg\th\ti\tj\tk\tl\tm");
    await desk.reads("body", "too wide from here");
    expect(desk.complaints).toEqual([]);
  });
  it("shows the one who comes later what somebody else has written meanwhile, and writes theirs only if it is said twice", async () => {
    const [desk, other] = [await app.sheet("/tables/shipper"), await app.sheet("/tables/shipper")];
    for (const d of [desk, other]) await d.reads("[role=grid]", "Marram Boatworks");
    const typeOver = async (d: Desk, words: string) => {
      await (await cellOf(d, 3, 1))?.click();
      await d.key("F2", "Control+a");
      await d.page.keyboard.type(words);
      await d.key("Enter");
    };
    await other.page.bringToFront();
    await typeOver(other, "Mirrin Wool & Felt");
    await settles(() => app.one("SELECT name FROM shipper WHERE id = 4")[0] === "Mirrin Wool & Felt");
    await desk.page.bringToFront();
    await typeOver(desk, "Mirrin Woollens");
    await desk.reads("[role=alert]", "Somebody else changed it to “Mirrin Wool & Felt” meanwhile.");
    expect(app.one("SELECT name FROM shipper WHERE id = 4")).toEqual(["Mirrin Wool & Felt"]);
    await desk.key("Enter");
    await settles(() => app.one("SELECT name FROM shipper WHERE id = 4")[0] === "Mirrin Woollens");
    await desk.page.waitForFunction(() => document.querySelector("[role=grid] [id$='-3-1']")?.textContent === "Mirrin Woollens");
    await desk.click("Undo");
    await settles(() => app.one("SELECT name FROM shipper WHERE id = 4")[0] === "Mirrin Wool & Felt");
    await other.page.bringToFront();
    await other.click("Undo");
    await settles(() => app.one("SELECT name FROM shipper WHERE id = 4")[0] === "Mirrin Wool");
    await other.page.close();
    await desk.page.bringToFront();
  });
  it("gets related rows on its folio, that lead to it; rows they lead to are found by their names", async () => {
    const other = one("SELECT s.consignment_id FROM surcharge s GROUP BY 1 HAVING COUNT(*) > 1 ORDER BY 1 LIMIT 1");
    const desk = await app.page(`/tables/consignment/folio?k=${other}`);
    const had = one(`SELECT COUNT(*) FROM surcharge WHERE consignment_id = ${other}`);
    await desk.click("Add row: Surcharges");
    await desk.type("New kind", "handling");
    await desk.type("New amount", "7.5");
    await desk.click("Add row", "[role=dialog] button");
    await settles(() => one(`SELECT COUNT(*) FROM surcharge WHERE consignment_id = ${other}`) === had + 1);
    expect(one(`SELECT amount FROM surcharge WHERE consignment_id = ${other} AND kind = 'handling' ORDER BY id DESC`)).toBe(750);
    await desk.reads("main", `${had + 1} rows`);
    await desk.open("/tables/account_entry");
    await desk.click("Add row");
    await desk.type("New shipper id", "Marram");
    await desk.click("Marram Boatworks 1", "aside [role=option]");
    expect(await desk.page.$eval("aside [aria-label='New shipper id']", (e) => (e as HTMLInputElement).value)).toBe("Marram Boatworks");
    await desk.click("Cancel");
    await desk.open("/tables/commodity");
    const commodities = one("SELECT COUNT(*) FROM commodity");
    await desk.click("Add row");
    await desk.click("Paste rows", "summary");
    await desk.page.focus("textarea[aria-label='Paste rows']");
    await desk.page.keyboard.sendCharacter("code\tname\tclass\tdangerous\nNEW-A\tNew goods\tgeneral\tno\nNEW-B\tOther goods\tgeneral\tyes\n");
    await desk.click("Add 2 rows");
    await settles(() => one("SELECT COUNT(*) FROM commodity") === commodities + 2);
    await desk.click("Undo");
    await settles(() => one("SELECT COUNT(*) FROM commodity") === commodities);
    expect(desk.complaints).toEqual([]);
  });
  it("has a folio: what belongs to it between two days of the viewer’s own, and the next row in the sheet’s order", async () => {
    const desk = await app.sheet("/tables/shipper");
    await desk.reads("[role=grid]", "Marram Boatworks");
    await (await cellOf(desk, 2, 1))?.click();
    await desk.key("Enter");
    await desk.reads("h1", "Skarrow Timber");
    // A field is typed over where it stands, by keyboard alone; what is wrong is said there, and the notice undoes it.
    await desk.page.focus("[aria-label='Edit Credit limit']");
    await desk.key("Enter", "Control+a");
    await desk.page.keyboard.type("a lot");
    await desk.key("Enter");
    await desk.reads("dd [role=alert]", "“a lot” is not a number");
    await desk.key("Control+a");
    await desk.page.keyboard.type("31000");
    await desk.key("Enter");
    await desk.reads("dl", "31,000.00");
    expect(one("SELECT credit_limit FROM shipper WHERE id = 3")).toBe(3_100_000);
    await desk.click("Undo", "[data-sonner-toast] button");
    await desk.reads("dl", "30,000.00");
    expect(await desk.page.$("[aria-label='Edit Id']")).toBe(null);
    const all = one("SELECT COUNT(*) FROM consignment WHERE shipper_id = 3");
    await desk.reads("section", `Consignments ${write(all)} rows`);
    const panel = await desk.page.waitForSelector("::-p-xpath(//section[h2='Consignments' or .//h2[text()='Consignments']])");
    const change = await panel?.$("button[aria-expanded]");
    await change?.click();
    await desk.click("+ condition");
    await desk.type("Find a field", "lodged on");
    await desk.key("Enter");
    for (let i = 0; i < 2; i++) {
      await desk.click("…", "section button");
      await desk.click("Ask when run");
    }
    await desk.type("start of Consignments", "2026-09-01");
    await desk.type("end of Consignments", "2026-09-30");
    const some = one("SELECT COUNT(*) FROM consignment WHERE shipper_id = 3 AND lodged_on BETWEEN '2026-09-01' AND '2026-09-30'");
    await desk.reads("section", `Consignments ${write(some)} rows`);
    // Left by a link before it is saved, and opened again.
    await desk.click("Reports", "nav a");
    await desk.page.waitForFunction(() => location.pathname === "/reports");
    await desk.page.goBack();
    await desk.reads("body", "Your unsaved changes are still here.");
    await desk.reads("section", `Consignments ${write(some)} rows`);
    await desk.click("Save");
    await desk.reads("body", "The folio of shipper saved.");
    await desk.click("Next row");
    await desk.reads("h1", "Mirrin Wool");
    // The dates are the viewer's: they stand for the next row too, and are in no saved object.
    const next = one("SELECT COUNT(*) FROM consignment WHERE shipper_id = 4 AND lodged_on BETWEEN '2026-09-01' AND '2026-09-30'");
    await desk.reads("section", `Consignments ${write(next)} rows`);
    expect(desk.complaints).toEqual([]);
  });
});
