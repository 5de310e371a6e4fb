import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import ExcelJS from "exceljs";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type Application, type Desk, openApplication, post } from "../support/server";

/*
 * A report built on its page, by mouse and again by keyboard: a monthly statement for each shipper, with what it lodged and
 * the entries in its account; its figures against SQL of the test's own.
 */

let app: Application;
beforeAll(async () => {
  app = await openApplication();
});
afterAll(() => app.close());

const MARGIN = "aside[aria-label=Margin]";
const PAGE = "svg[data-page]";
const OCTOBER = "c.lodged_on BETWEEN '2026-10-01' AND '2026-10-31' AND c.status IS NOT 'void'";
const shippers = () =>
  app.sql(
    `SELECT s.name, COUNT(*), SUM(c.freight_charge) FROM consignment c JOIN shipper s ON s.id = c.shipper_id WHERE ${OCTOBER} GROUP BY s.name ORDER BY s.name`,
  ) as [string, number, number][];
const money = (cents: number) => (cents / 100).toLocaleString("en-GB", { minimumFractionDigits: 2 });

async function newReport(): Promise<Desk> {
  const made = (await (await app.fetch("/api/report/new", post({ query: "freight-by-shipper", values: {} }))).json()) as { id: string };
  const desk = await app.page(`/reports/${made.id}`);
  await desk.reads(`${MARGIN}`, /Foots/);
  return desk;
}

/** The middle of an element, where a mouse takes hold of it, once it has come to stand: the page follows each change. */
async function middle(desk: Desk, selector: string): Promise<{ x: number; y: number }> {
  for (let before = ""; ; ) {
    const box = await (await desk.page.waitForSelector(selector, { visible: true }))?.boundingBox();
    const now = JSON.stringify(box);
    if (box && now === before) return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
    before = now;
    await new Promise((done) => setTimeout(done, 500));
  }
}

async function drag(desk: Desk, from: { x: number; y: number }, to: { x: number; y: number }): Promise<void> {
  await desk.page.mouse.move(from.x, from.y);
  await desk.page.mouse.down();
  await desk.page.mouse.move((from.x + to.x) / 2, (from.y + to.y) / 2, { steps: 4 });
  await desk.page.mouse.move(to.x, to.y, { steps: 4 });
  await desk.page.mouse.up();
}

const heading = (name: string) => `[data-part=columnHeading][aria-label="Column ${name}"]`;
const columnsOn = (desk: Desk) =>
  desk.page.$$eval("[data-part=columnHeading]", (all) =>
    all.sort((a, b) => a.getBoundingClientRect().x - b.getBoundingClientRect().x).map((e) => e.getAttribute("aria-label")?.replace("Column ", "")),
  );

describe("a report is built on its page", () => {
  it("by mouse: groups, widths, order, carried totals, related rows; every figure opens its rows", async () => {
    const desk = await newReport();
    // A column dropped over the page groups by it.
    const top = await middle(desk, PAGE);
    const name = await middle(desk, heading("Shipper"));
    const box = await (await desk.page.$(PAGE))?.boundingBox();
    await drag(desk, name, { x: top.x, y: (box?.y ?? 0) - 30 });
    const [first, second] = shippers();
    await desk.reads("nav[aria-label=Contents]", new RegExp(`${first?.[0]}.*${second?.[0]}`));
    // Its heading on the page leads to its settings.
    await desk.press(`[data-part=heading]`);
    await desk.click("Start on a new page", "label");
    await desk.click("Number pages from 1", "label");
    // A column's edge is dragged wider; the page follows.
    const edge = await middle(desk, "[data-edge=lodged]");
    const before = await (await desk.page.$(heading("Lodged")))?.boundingBox();
    await drag(desk, edge, { x: edge.x + 60, y: edge.y });
    await desk.page.waitForFunction(
      (selector, width) => (document.querySelector(selector)?.getBoundingClientRect().width ?? 0) > width + 40,
      {},
      heading("Lodged"),
      before?.width ?? 0,
    );
    // Another is put before it.
    const waybill = await middle(desk, heading("Waybill"));
    const freight = await middle(desk, heading("Freight"));
    await drag(desk, waybill, { x: freight.x + 30, y: freight.y });
    await desk.page.waitForFunction(() => {
      const all = [...document.querySelectorAll("[data-part=columnHeading]")].sort((a, b) => a.getBoundingClientRect().x - b.getBoundingClientRect().x);
      return all.at(-1)?.getAttribute("aria-label") === "Column Waybill";
    });
    expect((await columnsOn(desk)).at(-1)).toBe("Waybill");
    await desk.press(heading("Freight"));
    await desk.click("Carry forward", "label");
    await desk.click("Related", "[role=tab]");
    await desk.page.select(
      "select[aria-label='Add table of related rows']",
      await optionOf(desk, "Add table of related rows", /account entries of the shipper/),
    );
    await desk.reads(MARGIN, /Account entries/);
    await desk.reads(PAGE, /./);
    // What closes each statement: its freight less the entries in its account.
    await desk.press("[data-part=heading]");
    await desk.choose("Add a line to the summary", "formula");
    await desk.press("input[placeholder='SUM(freight)']");
    await desk.page.keyboard.type("SUM(freight)");
    await desk.key("Tab");
    await desk.page.select("select[aria-label='Add a line to the summary']", await optionOf(desk, "Add a line to the summary", /Account entries: Amount/));
    await desk.choose("Add a line to the summary", "sum");
    await desk.reads(MARGIN, /Line 3/);
    await desk.click("Proof", "[role=tab]");
    await desk.reads(MARGIN, /carried = brought forward \d+ ✓/);
    const proof = await desk.text(MARGIN);
    const all = shippers();
    expect(proof).toMatch(/Foots\. \d+ group footings/);
    expect(proof).not.toContain("differ");
    expect(proof).toContain(`tables ${all.length}`);
    // A figure opens its rows.
    const [shipper = "", rows = 0, sum = 0] = all.find(([, n]) => n > 5 && n < 30) ?? [];
    await desk.click(shipper, "nav button");
    await desk.reads(PAGE, new RegExp(`${shipper}, ${rows} rows`));
    const footing = `[data-part=footing][aria-label="Footing of Freight"]`;
    await desk.press(footing);
    await desk.click("Show its rows");
    await desk.reads("[data-testid=status]", `${rows} rows`);
    await desk.reads("main", money(sum));
    await desk.click("Back");
    await desk.reads(PAGE, shipper);
    // One step back at a time, and forward again.
    await desk.press("[data-part=heading]");
    const summary = (lines: number) =>
      desk.page.waitForFunction((n) => document.querySelectorAll("select[aria-label^='Figure of summary line']").length === n, {}, lines);
    await summary(3);
    await desk.click("Undo");
    await summary(2);
    await desk.click("Redo");
    await summary(3);
    await desk.click("Save");
    await desk.reads("main", "saved");
    expect(desk.complaints).toEqual([]);
  });

  it("by keyboard alone", async () => {
    const desk = await newReport();
    await desk.click("Groups", "[role=tab]");
    await desk.page.focus("select[aria-label='Group by']");
    await desk.page.keyboard.type("Shi");
    await desk.reads("nav[aria-label=Contents]", shippers()[0]?.[0] ?? "");
    // The parts of the page are one stop; arrows go through them.
    await desk.page.focus("[data-part][tabindex='0']");
    for (let i = 0; i < 12; i++) {
      if ((await focused(desk)) === "Column Waybill") break;
      await desk.key("ArrowDown");
    }
    expect(await focused(desk)).toBe("Column Waybill");
    const width = async () => (await (await desk.page.$(heading("Waybill")))?.boundingBox())?.width ?? 0;
    const before = await width();
    for (let i = 0; i < 10; i++) await desk.key("Shift+ArrowRight");
    await desk.page.waitForFunction((s, w) => (document.querySelector(s)?.getBoundingClientRect().width ?? 0) > w, {}, heading("Waybill"), before);
    await desk.key("Alt+ArrowRight");
    await desk.page.waitForFunction(() => {
      const x = (name: string) => document.querySelector(`[aria-label="Column ${name}"]`)?.getBoundingClientRect().x ?? 0;
      return x("Waybill") > x("Lodged");
    });
    await desk.key("Enter");
    await desk.reads(MARGIN, /Waybill.*Width, mm/);
    await desk.page.keyboard.down("Control");
    await desk.page.keyboard.press("z");
    await desk.page.keyboard.up("Control");
    await desk.page.waitForFunction(() => {
      const x = (name: string) => document.querySelector(`[aria-label="Column ${name}"]`)?.getBoundingClientRect().x ?? 0;
      return x("Waybill") < x("Lodged");
    });
    expect(desk.complaints).toEqual([]);
  });

  it("is found in, looked at small, in pairs and larger", async () => {
    const desk = await app.page("/reports/monthly-statement");
    await desk.reads(`${MARGIN}`, /Foots/);
    const last = shippers().at(-1)?.[0] ?? "";
    await desk.type("Find in the report", last.toUpperCase());
    await desk.key("Enter");
    await desk.reads(PAGE, last);
    await desk.reads("main output", /1 of \d+/);
    await desk.click("Two pages", "label");
    await desk.page.waitForFunction(() => document.querySelectorAll("main svg[data-page], section svg[data-page]").length === 2);
    await desk.choose("Zoom", "150");
    await desk.click("Pages", "nav button");
    await desk.page.waitForSelector("nav ol svg");
    expect(desk.complaints).toEqual([]);
  });

  it("says what its query does not have any more, with a choice for each", async () => {
    const desk = await newReport();
    await desk.click("Page", "[role=tab]");
    await desk.page.select(`${MARGIN} select`, "q freight-by-island");
    await desk.reads("main", /columns are missing/);
    await desk.reads("main", /Waybill a column/);
    await desk.page.select("select[aria-label='Replace Waybill']", await optionOf(desk, "Replace Waybill", /Island/));
    await desk.page.waitForFunction(() => !document.querySelector("select[aria-label='Replace Waybill']"));
    for (;;) {
      const left = await desk.page.$$("select[aria-label^=Replace]");
      if (left.length === 0) break;
      await desk.click("Remove", "main button");
      await desk.page.waitForFunction((n) => document.querySelectorAll("select[aria-label^=Replace]").length < n, {}, left.length);
    }
    await desk.reads(MARGIN, /Source/);
    expect(desk.complaints).toEqual([]);
  });
});

describe("a report made once for each", () => {
  it("is set up in the sentence of its schedule, counted and looked at before, and made", async () => {
    const count = shippers().length;
    const desk = await app.page("/schedules?new=1&of=monthly-statement");
    await desk.click("Create schedule");
    const item = "[data-schedule='Monthly statement']";
    await desk.reads(item, /run the report Monthly statement/);
    await desk.press(`${item} ::-p-text(+ once for each)`);
    await desk.page.waitForSelector(".popover option[value='c shipper']");
    await desk.page.select(".popover select", "c shipper");
    await desk.reads(item, /once for each shipper, save PDF/);
    await desk.reads("[data-testid=each]", `${count} files`);
    // The file's name and the address are chosen in the same place.
    await desk.click("Skip those without rows", ".popover label");
    await desk.page.waitForSelector(".popover [type=checkbox]:not(:checked)");
    await desk.key("Escape");
    await desk.page.waitForFunction((i) => !document.querySelector(i)?.textContent?.includes("+ once for each"), {}, item);
    await desk.press(`${item} ::-p-text(Preview each)`);
    const [, second] = shippers();
    await desk.type("Find in the list", second?.[0] ?? "");
    await desk.page.waitForFunction((n) => document.querySelectorAll("[role=dialog] li").length === n, {}, 1);
    await desk.press("[role=dialog] li button");
    await desk.reads("[role=dialog] section", new RegExp(`${second?.[0]}, ${second?.[1]} rows`));
    await desk.click("Close", "[role=dialog] button");
    await desk.press(`${item} ::-p-text(Run now)`);
    await desk.reads("aside", `${count} of ${count} made`);
    await desk.click("Show each");
    await desk.reads("aside li li", /made/);
    expect(desk.complaints).toEqual([]);
  });
});

const focused = (desk: Desk) => desk.page.evaluate(() => document.activeElement?.getAttribute("aria-label"));

async function optionOf(desk: Desk, label: string, words: RegExp): Promise<string> {
  await desk.page.waitForSelector(`select[aria-label="${label}"]`);
  const found = await desk.page.$$eval(
    `select[aria-label="${label}"] option`,
    (all, source) => all.find((o) => new RegExp(source).test(o.textContent ?? ""))?.getAttribute("value"),
    words.source,
  );
  if (!found) throw new Error(`${label} does not offer ${words}`);
  return found;
}

describe("a chart and a pivot in each group", () => {
  it("are chosen where the group is set, stand under its heading and its footing, and are of its rows", async () => {
    const { id } = (await (
      await app.fetch("/api/report/new", post({ query: "freight-lodged", values: { start: "2026-09-01", end: "2026-09-30" } }))
    ).json()) as { id: string };
    const desk = await app.page(`/reports/${id}`);
    await desk.reads(MARGIN, /Foots/);
    await desk.choose("Group by", ".trade");
    await desk.choose("Add a pivot or chart to each group", "freight-by-trade");
    await desk.choose("Add a pivot or chart to each group", "islands-and-quarters");
    await desk.page.waitForSelector(`${PAGE} image`);
    const trades = app.sql(
      `SELECT s.trade, COUNT(*), SUM(c.freight_charge) FROM consignment c LEFT JOIN shipper s ON s.id = c.shipper_id
       WHERE c.lodged_on BETWEEN '2026-09-01' AND '2026-09-30' AND c.status IS NOT 'void' GROUP BY s.trade ORDER BY s.trade`,
    ) as [string | null, number, number][];
    await desk.click("Proof", "[role=tab]");
    await desk.reads(MARGIN, new RegExp(`rows of charts and pivots = rows of groups ${2 * trades.length} ✓`));
    const spec = ((await (await app.fetch("/api/objects?kind=report")).json()) as { id: string; spec: { inserts?: object[] } }[]).find(
      (o) => o.id === id,
    )?.spec;
    expect(spec?.inserts).toBeUndefined();
    await desk.click("Save");
    await desk.reads("section", "saved");
    const saved = ((await (await app.fetch("/api/objects?kind=report")).json()) as { id: string; spec: object }[]).find((o) => o.id === id)?.spec;
    const pdf = Buffer.from(await (await app.fetch("/api/report/export", post({ spec: saved, name: "Trades", format: "pdf" }))).arrayBuffer());
    const folder = mkdtempSync(join(tmpdir(), "nl-report-"));
    writeFileSync(join(folder, "r.pdf"), pdf);
    const text = execFileSync("pdftotext", ["-layout", join(folder, "r.pdf"), "-"], { encoding: "utf8", maxBuffer: 1e9 });
    const crosses = text.split("Freight by island and quarter").slice(1);
    expect(crosses.filter((t) => !t.startsWith(", continued") && !t.startsWith(", more columns")).length).toBe(trades.length);
    for (const [, , freight] of trades) expect(crosses.some((t) => t.includes(money(freight)))).toBe(true);
    expect(execFileSync("pdfimages", ["-list", join(folder, "r.pdf")], { encoding: "utf8" }).match(/ image /g)?.length).toBeGreaterThanOrEqual(trades.length);
    rmSync(folder, { recursive: true });
    // The one that is deleted is said to be gone at its place; one over another query is refused.
    const charts = (await (await app.fetch("/api/objects?kind=chart")).json()) as { id: string; spec: object }[];
    const byTrade = charts.find((c) => c.id === "freight-by-trade")?.spec;
    const made = async (name: string, more: object) =>
      ((await (await app.fetch("/api/objects", post({ kind: "chart", name, spec: { ...byTrade, ...more } }))).json()) as { id: string }).id;
    for (const [kind, of, words] of [
      ["pivot", "gone", "The pivot of each group was deleted."],
      ["chart", await made("Elsewhere", { query: "freight-by-shipper" }), "is made from another query than this report"],
      ["chart", await made("A year ago", { earlier: "year" }), "compares with an earlier time"],
    ] as const) {
      const inserts = [{ id: "x", kind, of, under: "trade", at: "foot", heightMm: 60 }];
      const refused = await app.fetch("/api/report/pages", post({ spec: { ...saved, inserts }, from: 1, to: 1 }));
      expect(JSON.stringify(await refused.json())).toContain(words);
    }
    expect(desk.complaints).toEqual([]);
  });
});

describe("the files of a report", () => {
  const folder = mkdtempSync(join(tmpdir(), "next-ledger-"));
  afterAll(() => rmSync(folder, { recursive: true, force: true }));
  async function file(format: string): Promise<string> {
    const answer = await app.fetch("/api/report/export", post({ object: "monthly-statement", name: "Statements", format }));
    expect(answer.status).toBe(200);
    const path = join(folder, `report.${format}`);
    writeFileSync(path, Buffer.from(await answer.arrayBuffer()));
    return path;
  }

  it("have the same figures: pages tagged with headings and tables, HTML, a workbook with formulas, totals", async () => {
    const all = shippers();
    const total = all.reduce((sum, [, , freight]) => sum + freight, 0);
    const pdf = await file("pdf");
    expect(execFileSync("pdfinfo", [pdf], { encoding: "utf8" })).toMatch(/Tagged:\s+yes/);
    const structure = execFileSync("pdfinfo", ["-struct", pdf], { encoding: "utf8", stdio: ["ignore", "pipe", "ignore"] });
    expect(structure).toMatch(/^Document[^\n]*\n\s+H1/);
    expect(structure.match(/\bH2\b/g)?.length ?? 0).toBeGreaterThanOrEqual(all.length);
    expect(structure.match(/TH:\n\s+\/Scope \/Column/g)?.length ?? 0).toBeGreaterThanOrEqual(all.length * 6);
    const text = execFileSync("pdftotext", ["-layout", pdf, "-"], { encoding: "utf8" });
    expect(text).toContain(money(total));
    for (const [name, rows, freight] of all) expect(text).toMatch(new RegExp(`${name}, ${rows} rows? .*${money(freight).replace(".", "\\.")}`));
    // Each statement ends with what its account and its freight come to.
    const balances = Object.fromEntries(
      app.sql("SELECT s.name, SUM(e.amount) FROM shipper s JOIN account_entry e ON e.shipper_id = s.id GROUP BY s.name") as [string, number][],
    );
    const ends = [...text.matchAll(/Account with this freight\s+(\S+)/g)].map((m) => m[1]);
    const due = (cents: number) => (cents < 0 ? `(${money(-cents)})` : money(cents));
    expect(ends).toEqual(all.map(([name, , freight]) => due((balances[name] ?? 0) + freight)));
    const html = readFileSync(await file("html"), "utf8");
    expect(html).toContain("@page{size:");
    expect(html).toContain(`>${money(total)}</text>`);
    expect(html).not.toContain("http");
    const book = new ExcelJS.Workbook();
    await book.xlsx.readFile(await file("xlsx"));
    const sheet = book.getWorksheet("report");
    const last = sheet?.lastRow;
    expect(last?.getCell(5).value).toMatchObject({ formula: expect.stringMatching(/^SUBTOTAL\(9,E\d+:E\d+\)$/), result: total / 100 });
    expect(sheet?.getRow(3).outlineLevel).toBe(2);
    expect(book.getWorksheet("Account entries")?.rowCount).toBeGreaterThan(all.length);
    const totals = readFileSync(await file("totals"), "utf8")
      .trim()
      .split("\r\n");
    expect(totals).toHaveLength(all.length + 2);
    expect(totals.at(-1)).toContain((total / 100).toFixed(2));
  });
});
