import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { emptyQuery } from "@/core/query/empty";
import type { QuerySpec } from "@/core/query/spec";
import { brief, euros, proved, written } from "../support/question";
import { type Application, type Desk, openApplication, post } from "../support/server";

/* What stands around a question: groups without rows and subtotals, related rows totalled first, periods, suggested comparisons, a query of its own. */

let app: Application;
beforeAll(async () => {
  app = await openApplication();
});
afterAll(() => app?.close());

/** Takes a choice of a popover by the keyboard: what is typed finds it. */
async function pick(desk: Desk, field: string, words: string): Promise<void> {
  await desk.page.waitForSelector(`[aria-label='${field}']`);
  await desk.page.keyboard.type(words);
  await desk.key("Enter");
}

const OCTOBER = "lodged_on BETWEEN '2026-10-01' AND '2026-10-31' AND (status <> 'void' OR status IS NULL)";
const SEPTEMBER = "lodged_on BETWEEN '2026-09-01' AND '2026-09-30' AND (status <> 'void' OR status IS NULL)";

/** Opens the surcharges in the tree of fields. */
const openBranch = async (desk: Desk): Promise<void> => (await desk.page.waitForSelector("::-p-xpath(//nav//button[contains(., 'surcharges')])"))?.click();

describe("a sheet of groups", () => {
  it("shows islands without rows and subtotals when asked to, each line proved", async () => {
    const desk = await app.sheet("/queries/freight-by-island");
    await desk.click("+ one row per…");
    await pick(desk, "Find a field", "commodity › class");
    await brief(desk, /shipper › island and commodity › class/);
    await desk.click("shipper › island", "p [role=button]");
    await desk.click("Subtotal of each", "label");
    await desk.click("Show groups without rows", "label");
    await desk.key("Escape");
    await brief(desk, "shipper › island (including those without rows, with subtotals)");
    const [island, rows] = app.one(
      `SELECT island, COUNT(*) FROM consignment c JOIN shipper s ON s.id = shipper_id WHERE ${OCTOBER.replaceAll("status", "c.status")} AND island IS NOT NULL GROUP BY 1 ORDER BY 1`,
    );
    await desk.reads("[role=grid]", new RegExp(`${island} Subtotal ${written(rows)} `));
    await desk.reads("aside", /Proved\..*same values in every row/);
    expect(desk.complaints).toEqual([]);
  });
});

describe("rows that a link repeats", () => {
  it("are totalled first, from the proof; the total is what it was", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    await openBranch(desk);
    await desk.page.waitForSelector("[aria-label^='Add total of surcharges']");
    const box = "::-p-xpath((//nav//li[.//button[contains(., 'surcharges')]]//label[starts-with(normalize-space(), 'amount')])[last()])";
    await (await desk.page.waitForSelector(box))?.click();
    await desk.reads("aside", "Joining surcharges repeats rows.");
    await desk.click("Total surcharges first", "aside button");
    await desk.reads("[data-testid=status]", `${written(app.one(`SELECT COUNT(*) FROM consignment WHERE ${OCTOBER}`)[0])} rows`);
    const [total] = app.one(`SELECT SUM(amount) FROM surcharge WHERE consignment_id IN (SELECT id FROM consignment WHERE ${OCTOBER})`);
    await desk.reads("[role=grid]", euros(total));
    await proved(desk);
    await desk.reads("[data-testid=proof]", /^(?!.*repeated by).*in the sheet 1,/);
    expect(desk.complaints).toEqual([]);
  });

  it("are counted from the tree, one figure to a row, and only those that meet a condition", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    await openBranch(desk);
    await desk.click("Add their count", "nav button");
    const [all] = app.one(`SELECT COUNT(*) FROM surcharge WHERE consignment_id IN (SELECT id FROM consignment WHERE ${OCTOBER})`);
    await desk.reads("[role=grid]", new RegExp(`${written(all)}$`));
    await desk.click("7 columns", "p [role=button]");
    await desk.click("count of surcharges", ".popover button");
    await desk.click("Only count rows where…", ".popover button");
    await pick(desk, "Find a field", "kind");
    await desk.click("…", ".popover p button");
    await desk.page.waitForSelector("[aria-label=Value]");
    await desk.page.keyboard.type("late lodging");
    await desk.key("Enter");
    const [late] = app.one(`SELECT COUNT(*) FROM surcharge WHERE kind = 'late lodging' AND consignment_id IN (SELECT id FROM consignment WHERE ${OCTOBER})`);
    await desk.reads("[role=grid]", new RegExp(`${written(late)}$`));
    await proved(desk);
    expect(desk.complaints).toEqual([]);
  });

  it("on the other side of a join that nothing matches open from the proof", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    const [none] = app.one(`SELECT COUNT(*) FROM sailing WHERE id NOT IN (SELECT sailing_id FROM consignment WHERE ${OCTOBER} AND sailing_id IS NOT NULL)`);
    await desk.reads("[data-testid=proof]", `sailing without a match ${written(none)}`);
    await desk.click(written(none), "aside button");
    await desk.reads("[data-testid=status]", `${written(none)} rows`);
    expect(desk.complaints).toEqual([]);
  });
});

describe("a period", () => {
  it("is one parameter: asked for above the sheet, taken from the address, and said in the sentence", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    await desk.click("is from", "p [role=button]");
    await desk.click("is within", ".popover button");
    await desk.choose("Value", "lastMonth");
    await desk.key("Escape");
    await brief(desk, "lodged on is within last month");
    const [rows] = app.one(`SELECT COUNT(*) FROM consignment WHERE ${SEPTEMBER}`);
    await desk.reads("[data-testid=status]", `${written(rows)} rows`);
    await desk.click("last month", "p [role=button]");
    await desk.click("Ask when run", ".popover button");
    await desk.choose("period", "lastYear");
    const [year] = app.one("SELECT COUNT(*) FROM consignment WHERE lodged_on LIKE '2025-%' AND (status <> 'void' OR status IS NULL)");
    await desk.reads("[data-testid=status]", `${written(year)} rows`);
    await proved(desk);
    // Nothing asks for start and end any more: they are not asked for.
    expect(await desk.page.$$eval("form input[aria-label=start]", (found) => found.length)).toBe(0);
    await desk.click("Save");
    await desk.reads("section", "saved");
    const again = await app.sheet("/queries/freight-by-shipper?period=2026-09-01/2026-09-30");
    await again.reads("[data-testid=status]", `${written(rows)} rows`);
    await again.type("Last day of period", "15 Sep 2026");
    await again.key("Enter");
    const [half] = app.one(`SELECT COUNT(*) FROM consignment WHERE ${SEPTEMBER.replace("09-30", "09-15")}`);
    await again.reads("[data-testid=status]", `${written(half)} rows`);
    expect([...desk.complaints, ...again.complaints]).toEqual([]);
  });
});

describe("a row that is asked for", () => {
  it("is found by its name, and its number is what the query asks for", async () => {
    const field = (column: string) => ({ kind: "field", join: "", column });
    const spec = {
      version: 2,
      source: "consignment",
      joins: [],
      conditions: [{ id: "w", left: field("shipper_id"), operator: "is", values: [{ kind: "parameter", name: "shipper" }] }],
      grouped: false,
      columns: [{ id: "c", value: field("waybill_no") }],
      order: [],
      limit: null,
      parameters: [{ name: "shipper", type: "choice", from: { table: "shipper", column: "id", shown: "name" } }],
    };
    const body = { kind: "query", name: "Of one shipper", spec };
    const { id } = (await (await app.fetch("/api/objects", { method: "POST", body: JSON.stringify(body) })).json()) as { id: string };
    const [name, rows] = app.one("SELECT s.name, COUNT(*) FROM consignment JOIN shipper s ON s.id = shipper_id GROUP BY s.id ORDER BY 2 DESC LIMIT 1");
    const desk = await app.page(`/queries/${id}`);
    await desk.page.waitForSelector("form [role=combobox]");
    await desk.page.focus("form [role=combobox]");
    await desk.page.keyboard.type(String(name).slice(0, 8).toLowerCase());
    await desk.reads("form [role=listbox]", String(name));
    await desk.key("Enter");
    await desk.reads("[data-testid=status]", `${written(rows)} rows`);
    await desk.click("Proof", "[role=tab]");
    expect(await desk.page.$eval("form [role=combobox]", (e) => (e as HTMLInputElement).value)).toBe(name);
    await proved(desk);
    expect(desk.complaints).toEqual([]);
  });
});

describe("a table that no link leads to", () => {
  it("is matched by a comparison that the data suggests: shippers that agents name", async () => {
    const desk = await app.sheet("/queries/new?from=shipper");
    await desk.click("+ only those that…");
    await desk.click("rows of another table or query, by comparisons …", ".menu-item");
    await pick(desk, "Find a table", "agent");
    await brief(desk, "some agent manifests (no comparison yet)");
    await desk.click("agent manifests", "p [role=button]");
    await desk.reads(
      ".popover",
      /Suggested comparisons .*agent manifest › sender = shipper › name [\d.]+% of shippers and [\d.]+% of agent manifests match, [\d,]+ pairs/,
    );
    const suggested =
      "::-p-xpath(//button[contains(@class, 'menu-item')][starts-with(translate(normalize-space(), 'S', 's'), 'agent manifest › sender = shipper › name')])";
    await (await desk.page.waitForSelector(suggested))?.click();
    await desk.key("Escape");
    const [known] = app.one("SELECT COUNT(*) FROM shipper WHERE name IN (SELECT Sender FROM agent_manifest)");
    expect(Number(known)).toBeGreaterThan(0);
    await desk.reads("[data-testid=status]", `${written(known)} rows`);
    await proved(desk);
    expect(desk.complaints).toEqual([]);
  });
});

describe("a query of its own", () => {
  it("is made with a pivot of a table, stands in no list, and does once it has a name", async () => {
    const desk = await app.page("/pivots");
    await desk.click("Or from a table", "summary");
    await desk.click("consignment", "details button");
    await desk.reads("h2", "Fields of “its own query”");
    const pivot = desk.page.url();
    await desk.click("Open query");
    await desk.page.waitForSelector("input[placeholder='Query without a name']");
    const queries = await (await app.fetch("/api/objects?kind=query")).json();
    expect((queries as { name: string }[]).filter((q) => q.name === "")).toEqual([]);
    await desk.page.waitForFunction(() => location.pathname.startsWith("/queries/"));
    const own = desk.page.url();
    await desk.page.goto(new URL("/pivots", pivot).href);
    await desk.reads("li", /Consignments, pivot saved .* from a query of its own/);
    await desk.page.goto(own);
    await desk.reads("[data-testid=status]", /\d rows/);
    await desk.type("Name", "Everything lodged");
    await desk.key("Enter");
    await desk.page.waitForFunction(async () =>
      (await (await fetch("/api/objects?kind=query")).json()).some((q: { name: string }) => q.name === "Everything lodged"),
    );
    await desk.page.goto(new URL("/pivots", pivot).href);
    await desk.reads("li", /Consignments, pivot saved .* from Everything lodged/);
    expect(desk.complaints).toEqual([]);
  });

  it("is made for one tile of a dashboard", async () => {
    const desk = await app.page("/dashboards");
    await desk.click("Empty dashboard", "button");
    await desk.click("+ figure", "button");
    await desk.choose("Source", "table shipper");
    await desk.page.waitForFunction(() => document.querySelector<HTMLSelectElement>("select[aria-label=Source]")?.selectedOptions[0]?.text === "its own query");
    await desk.reads("main", new RegExp(`\\b${written(app.one("SELECT COUNT(*) FROM shipper")[0])}\\b`));
    const kept = desk.page.waitForResponse((r) => r.request().method() === "PATCH" && r.ok());
    await desk.click("Save");
    await kept;
    const again = await app.page(new URL(desk.page.url()).pathname);
    await again.reads("main", new RegExp(`\\b${written(app.one("SELECT COUNT(*) FROM shipper")[0])}\\b`));
    expect(again.complaints).toEqual([]);
    expect(desk.complaints).toEqual([]);
  });
});

describe("parameters", () => {
  it("are given values that occur, with how many rows have them: one by mouse, several by keyboard", async () => {
    const field = (column: string) => ({ kind: "field" as const, join: "", column });
    const compared = (id: string, column: string, operator: "is" | "oneOf", name: string) => ({
      id,
      left: field(column),
      operator,
      values: [{ kind: "parameter" as const, name }],
    });
    const spec: QuerySpec = {
      ...emptyQuery("shipper"),
      columns: [{ id: "name", value: field("name") }],
      conditions: [compared("a", "island", "is", "where"), compared("b", "trade", "oneOf", "trades")],
      parameters: [
        { name: "where", type: "text", optional: true },
        { name: "trades", type: "several", optional: true },
      ],
    };
    const { id } = (await (await app.fetch("/api/objects", post({ kind: "query", name: "Shippers by island and trade", spec }))).json()) as { id: string };
    const desk = await app.sheet(`/queries/${id}`);
    const count = (where: string) => `${written(app.one(`SELECT COUNT(*) FROM shipper WHERE ${where}`)[0])} rows`;
    await desk.reads("[data-testid=status]", count("1"));
    const [island, shippers] = app.one("SELECT island, COUNT(*) FROM shipper WHERE island IS NOT NULL GROUP BY 1 ORDER BY 2 DESC, 1 LIMIT 1");
    await desk.click("Values for where");
    await desk.reads(".popover", `${island} ${shippers}`);
    await desk.click(String(island), ".popover label");
    await desk.reads("[data-testid=status]", count(`island = '${island}'`));
    // Only trades on that island are offered.
    const trades = app.sql(`SELECT trade, COUNT(*) FROM shipper WHERE island = '${island}' GROUP BY 1 ORDER BY 2 DESC, 1`);
    await desk.page.focus("form [aria-label=trades]");
    await desk.key("Enter");
    await desk.reads(".popover", `${trades[0]?.[0]} ${trades[0]?.[1]}`);
    expect(await desk.page.$$eval(".popover li", (all) => all.length)).toBe(trades.length);
    await desk.key("Space", "Tab", "Space", "Escape");
    await desk.reads("[data-testid=status]", count(`island = '${island}' AND trade IN ('${trades[0]?.[0]}', '${trades[1]?.[0]}')`));
    await proved(desk);
    expect(desk.complaints).toEqual([]);
  });
});
