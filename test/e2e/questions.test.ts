import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { brief, euros, proved, written } from "../support/question";
import { type Application, type Desk, openApplication } from "../support/server";

/* What a query can ask, by mouse and by keyboard: joins, nested conditions, figures over figures, queries over queries, stacks, parameters. */

let app: Application;
beforeAll(async () => {
  app = await openApplication();
});
afterAll(() => app?.close());

/** Types a formula into the field that has come up. */
async function writeFormula(desk: Desk, formula: string): Promise<void> {
  await desk.page.waitForFunction(() => document.activeElement?.classList.contains("cm-content"));
  await desk.page.keyboard.type(formula);
}

const OCTOBER = "lodged_on BETWEEN '2026-10-01' AND '2026-10-31' AND status <> 'void'";

describe("a join", () => {
  it("keeps rows of the other side, or both, and says how many came in", async () => {
    const desk = await app.sheet("/queries/freight-by-island");
    await desk.click("if any");
    await desk.click("Keep every row of shippers");
    await brief(desk, "every one of the shippers, with or without a match");
    const [without] = app.one("SELECT COUNT(*) FROM shipper WHERE id NOT IN (SELECT shipper_id FROM consignment WHERE shipper_id IS NOT NULL)");
    await desk.reads("[data-testid=proof]", `shipper without a match, added ${written(without)}`);
    await proved(desk);
    await desk.click("every one of the shippers, with or without a match");
    await desk.click("Keep every row of both, consignments and shippers");
    await brief(desk, "all consignments and all shippers, matched or not");
    await proved(desk);
    expect(desk.complaints).toEqual([]);
  });

  it("asks only for those that have none, with a condition on what matches", async () => {
    const desk = await app.sheet("/queries/freight-by-island");
    await desk.click("+ only those that…");
    await desk.click("no surcharges");
    const have = "EXISTS (SELECT 1 FROM surcharge WHERE surcharge.consignment_id = consignment.id)";
    const [none, cents] = app.one(`SELECT COUNT(*), SUM(freight_charge) FROM consignment WHERE ${OCTOBER} AND NOT ${have}`);
    await desk.reads("[data-testid=proof]", new RegExp(`groups ${written(none)} ${euros(cents)}`));
    await desk.reads("[data-testid=proof]", `have surcharges ${written(app.one(`SELECT COUNT(*) FROM consignment WHERE ${have}`)[0])}`);
    await proved(desk);
    // The same by the keyboard: a condition on the surcharges, typed.
    await desk.page.focus("p [role=button] ::-p-text(surcharges)");
    await desk.key("Enter");
    await desk.click("kind");
    await desk.page.waitForSelector("[aria-label=Value]");
    await desk.page.keyboard.type("late lodging");
    await desk.key("Enter");
    const [late] = app.one(
      `SELECT COUNT(*) FROM consignment WHERE ${OCTOBER} AND id NOT IN (SELECT consignment_id FROM surcharge WHERE kind = 'late lodging' AND consignment_id IS NOT NULL)`,
    );
    await desk.reads("[data-testid=proof]", new RegExp(`groups ${written(late)} `));
    await proved(desk);
    expect(desk.complaints).toEqual([]);
  });

  it("asks for what is among the rows of a query, by the keyboard", async () => {
    const desk = await app.sheet("/queries/freight-by-island");
    await desk.click("status", "p [role=button]");
    await desk.click("shipper id", ".popover button");
    await desk.click("is not", "p [role=button]");
    await desk.click("is among", ".popover button");
    await desk.page.waitForSelector(".popover input");
    await desk.page.keyboard.type("ids of shippers");
    await desk.key("Enter");
    await brief(desk, "shipper id is among the ids of shippers.");
    const known = "lodged_on BETWEEN '2026-10-01' AND '2026-10-31' AND shipper_id IN (SELECT id FROM shipper)";
    const [rows, cents] = app.one(`SELECT COUNT(*), SUM(freight_charge) FROM consignment WHERE ${known}`);
    await desk.reads("[data-testid=proof]", new RegExp(`groups ${written(rows)} ${euros(cents)}`));
    await proved(desk);
    expect(desk.complaints).toEqual([]);
  });

  it("compares what a person chooses, and gives no result before", async () => {
    const desk = await app.sheet("/queries/freight-by-island");
    await desk.click("+ table…");
    await desk.page.waitForSelector("[aria-label='Find a table']");
    await desk.page.keyboard.type("rate");
    await desk.key("Enter");
    await brief(desk, "rate (if any; no comparison yet)");
    const [all] = app.one("SELECT (SELECT COUNT(*) FROM consignment) * (SELECT COUNT(*) FROM rate)");
    await desk.reads("section", `every pair would be ${Number(all).toLocaleString("en")} rows`);
    await desk.click("no comparison yet");
    await desk.click("class", ".menu-item");
    await desk.choose("or another field", JSON.stringify({ kind: "field", join: "", column: "consignment-class" }));
    await desk.key("Escape");
    await brief(desk, /rate › class is (consignment › )?class of goods/);
    await desk.page.focus("::-p-xpath(//p//*[*[@role='button' and normalize-space()='rate › class']]/following-sibling::*[1]//*[@role='button'])");
    await desk.key("Enter");
    await desk.reads(".popover", /Examples of matching rows rate › class .*general general/);
    await desk.key("Escape");
    const pairs = `FROM consignment JOIN commodity ON commodity.id = commodity_id JOIN rate ON rate.class = commodity.class WHERE ${OCTOBER}`;
    const [joined] = app.one(`SELECT COUNT(*) ${pairs}`);
    const [kept] = app.one(`SELECT COUNT(*) FROM consignment WHERE ${OCTOBER} AND id NOT IN (SELECT consignment.id ${pairs})`);
    await desk.reads("[data-testid=proof]", new RegExp(`groups ${written(Number(joined) + Number(kept))} `));
    await proved(desk);
    expect(desk.complaints).toEqual([]);
  });
});

describe("conditions", () => {
  it("hold all, any or none, and one is added beside another", async () => {
    const desk = await app.sheet("/queries/freight-by-island");
    await desk.click("status", "p [role=button]");
    await desk.click("Add alternative (or)");
    await desk.page.waitForSelector("[aria-label='Find a field']");
    await desk.page.keyboard.type("weight");
    await desk.key("Enter");
    await brief(desk, "any of (status is not void (or is empty), weight is …");
    await desk.page.waitForSelector("[aria-label=Value]");
    await desk.page.keyboard.type("100");
    await desk.key("Enter");
    const dates = "lodged_on BETWEEN '2026-10-01' AND '2026-10-31'";
    const [any] = app.one(`SELECT COUNT(*) FROM consignment WHERE ${dates} AND (COALESCE(status, '') <> 'void' OR weight = 1000)`);
    await desk.reads("[data-testid=proof]", new RegExp(`groups ${written(any)} `));
    await proved(desk);
    await desk.click("any of");
    await desk.click("None holds");
    await brief(desk, "none of (status");
    const [none] = app.one(`SELECT COUNT(*) FROM consignment WHERE ${dates} AND status = 'void' AND NOT COALESCE(weight = 1000, 0)`);
    await desk.reads("[data-testid=proof]", new RegExp(`groups? ${written(none)} `));
    await proved(desk);
    expect(desk.complaints).toEqual([]);
  });
});

describe("formulas", () => {
  it("are compared in conditions and make groups", async () => {
    const desk = await app.sheet("/queries/freight-by-island");
    await desk.click("+ condition");
    await desk.click("Formula…");
    await writeFormula(desk, "freight_charge * 2 + shipper.naem");
    await desk.reads(".popover", "The formula uses “shipper.naem”, which is not a column here.");
    for (let i = 0; i < " + shipper.naem".length; i++) await desk.key("Backspace");
    await desk.reads(".popover", "Result: decimal.");
    await desk.click("Add", "button.button-primary");
    await desk.click("is", "p [role=button]");
    await desk.click("is at least", ".menu-item");
    await desk.page.waitForSelector("[aria-label=Value]");
    await desk.page.keyboard.type("500");
    await desk.key("Enter");
    const [dear] = app.one(`SELECT COUNT(*) FROM consignment WHERE ${OCTOBER} AND freight_charge >= 25000`);
    await desk.reads("[data-testid=proof]", new RegExp(`groups? ${written(dear)} `));
    await desk.click("+ one row per…");
    await desk.click("Formula…");
    await writeFormula(desk, "CASE WHEN weight > 500 THEN 'heavy' ELSE 'light' END");
    await desk.click("Add", "button.button-primary");
    await desk.reads("[role=grid]", "light");
    await proved(desk);
    expect(desk.complaints).toEqual([]);
  });
});

describe("groups", () => {
  it("are bands by limits, typed", async () => {
    const desk = await app.sheet("/queries/freight-by-island");
    await desk.click("+ one row per…");
    await desk.click("weight", ".popover button");
    await desk.click("weight", "p [role=button]");
    await desk.page.waitForSelector("::-p-xpath(//label[starts-with(., 'Or your own limits')]/input)");
    await desk.page.focus("::-p-xpath(//label[starts-with(., 'Or your own limits')]/input)");
    await desk.page.keyboard.type("10; 100");
    await desk.key("Enter");
    await desk.reads("[role=grid]", /100.0 and more/);
    await desk.reads("[role=grid]", "10.0 to under 100.0");
    const [groups] = app.one(
      `SELECT COUNT(DISTINCT COALESCE(island, '') || CASE WHEN weight >= 1000 THEN 3 WHEN weight >= 100 THEN 2 WHEN weight IS NULL THEN 0 ELSE 1 END)
       FROM consignment LEFT JOIN shipper ON shipper.id = shipper_id WHERE ${OCTOBER.replace("status", "consignment.status")}`,
    );
    await desk.reads("[data-testid=proof]", `in ${written(groups)} groups`);
    await proved(desk);
    expect(desk.complaints).toEqual([]);
  });
});

describe("figures over figures", () => {
  it("are a ratio of totals, worked out anew in the footing, with a condition on the groups", async () => {
    const desk = await app.sheet("/queries/freight-by-island");
    await desk.click("count of rows, Freight, Average");
    await desk.click("Add figure");
    await desk.choose("Figure", "formula");
    await writeFormula(desk, "Freight / SUM(weight)");
    await desk.click("Add", "[role=dialog] button, .popover button, button.button-primary");
    await desk.key("Escape");
    const [ratio] = app.one(`SELECT SUM(freight_charge) / 100.0 / (SUM(weight) / 10.0) FROM consignment WHERE ${OCTOBER}`);
    await desk.reads("[role=grid]", Number(ratio).toFixed(3).slice(0, -1));
    await proved(desk);
    await desk.click("+ only groups where…");
    await desk.click("count of rows");
    await desk.page.waitForSelector("[aria-label=Value]");
    await desk.page.keyboard.type("100");
    await desk.key("Enter");
    await brief(desk, "Only groups where count of rows is at least 100");
    const large = `SELECT COALESCE(island, '') AS island, COUNT(*) AS n, SUM(freight_charge) AS freight FROM consignment LEFT JOIN shipper ON shipper.id = shipper_id WHERE ${OCTOBER.replace("status", "consignment.status")} GROUP BY 1 HAVING n >= 100`;
    const [groups, freight] = app.one(`SELECT COUNT(*), SUM(freight) FROM (${large})`);
    await desk.reads("[data-testid=proof]", new RegExp(`in ${groups} groups [\\d,]+ ${euros(freight)}`));
    await proved(desk);
    expect(desk.complaints).toEqual([]);
  });
});

describe("queries over queries", () => {
  it("start from a saved query, ask for its parameters, and are put together with another's rows", async () => {
    const desk = await app.sheet("/queries/freight-by-island");
    await desk.click("More ▾");
    await desk.click("New query from this");
    await desk.page.waitForFunction(() => location.search.includes("query+") || location.search.includes("query%20"));
    await desk.reads("[role=grid]", "Great Brindle");
    await brief(desk, "From Freight by island");
    await desk.reads("form", /start .*end/);
    await proved(desk);
    await desk.click("Freight by island", "p [role=button]");
    await desk.click("Add rows of another table or query");
    await desk.click("Freight by island", ".menu-item");
    await brief(desk, "From Freight by island and Freight by island (all rows)");
    await desk.reads("[data-testid=status]", "18 rows");
    await proved(desk);
    await desk.click("Freight by island and Freight by island (all rows)");
    await desk.choose("Rows", "different");
    await desk.key("Escape");
    await desk.reads("[data-testid=status]", "9 rows");
    await proved(desk);
    expect(desk.complaints).toEqual([]);
  });
});

describe("parameters", () => {
  it("come from the address and stand in a form above the sheet", async () => {
    const desk = await app.sheet("/queries/freight-by-island?start=2026-09-01&end=2026-09-30");
    const september = OCTOBER.replaceAll("2026-10-31", "2026-09-30").replaceAll("2026-10-01", "2026-09-01");
    const [count] = app.one(`SELECT COUNT(*) FROM consignment WHERE ${september}`);
    await desk.reads("[data-testid=proof]", new RegExp(`groups ${written(count)} `));
    await app.browser.defaultBrowserContext().overridePermissions(app.address, ["clipboard-read", "clipboard-sanitized-write"]);
    await desk.click("More ▾");
    await desk.click("Copy link");
    await desk.reads("body", "Link copied");
    expect(await desk.page.evaluate(() => navigator.clipboard.readText())).toBe(`${app.address}/queries/freight-by-island?start=2026-09-01&end=2026-09-30`);
    await desk.type("start", "15/09/2026");
    await desk.key("Enter");
    const [fewer] = app.one(`SELECT COUNT(*) FROM consignment WHERE ${september.replace("2026-09-01", "2026-09-15")}`);
    await desk.reads("[data-testid=proof]", new RegExp(`groups ${written(fewer)} `));
    expect(desk.complaints).toEqual([]);
  });
});

describe("a parameter chosen from a column", () => {
  it("offers what is there, is any until it is chosen, and is remembered", async () => {
    const spec = {
      version: 2,
      source: "consignment",
      joins: [],
      conditions: [{ id: "w1", left: { kind: "field", join: "", column: "status" }, operator: "is", values: [{ kind: "parameter", name: "state" }] }],
      grouped: false,
      columns: [{ id: "c1", value: { kind: "field", join: "", column: "waybill_no" } }],
      order: [],
      limit: null,
      parameters: [{ name: "state", type: "choice", optional: true, from: { table: "consignment", column: "status" } }],
    };
    const body = JSON.stringify({ kind: "query", name: "By state", spec });
    const made = await app.fetch("/api/objects", { method: "POST", body, headers: { "content-type": "application/json" } });
    const { id } = (await made.json()) as { id: string };
    const desk = await app.sheet(`/queries/${id}`);
    await brief(desk, "status is state (any)");
    await desk.reads("select[aria-label=state]", "void");
    const kept = desk.page.waitForResponse((r) => r.url().endsWith("/api/query/values"));
    await desk.choose("state", "void");
    const [rows] = app.one("SELECT COUNT(*) FROM consignment WHERE status = 'void'");
    await desk.reads("[data-testid=status]", `${written(rows)} rows`);
    await kept;
    const again = await app.sheet(`/queries/${id}`);
    await again.reads("[data-testid=status]", `${written(rows)} rows`);
    expect(await again.page.$eval("select[aria-label=state]", (e) => (e as HTMLSelectElement).value)).toBe("void");
    expect([...desk.complaints, ...again.complaints]).toEqual([]);
  });
});

describe("columns over the rows shown", () => {
  it("share, rank and follow the period before", async () => {
    const desk = await app.sheet("/queries/freight-by-island");
    await desk.click("count of rows, Freight, Average");
    await desk.click("Add figure");
    await desk.choose("Figure", "window share");
    await desk.click("Freight", ".menu-item");
    await desk.key("Escape");
    const [first] = app.one(
      `SELECT 100.0 * MAX(f) / SUM(f) FROM (SELECT SUM(freight_charge) AS f FROM consignment LEFT JOIN shipper ON shipper.id = shipper_id WHERE ${OCTOBER.replace("status", "consignment.status")} GROUP BY island)`,
    );
    await desk.reads("[role=grid]", `${Number(first).toFixed(1)}%`);
    await brief(desk, "share of total of Freight");
    // Its settings show what it is, and make another of it.
    await desk.click("Menu of Share of total of Freight");
    await desk.click("Format…");
    const kind = "xpath/.//label[starts-with(normalize-space(.), 'Figure')]/select";
    expect(await (await desk.page.waitForSelector(kind))?.evaluate((e) => (e as HTMLSelectElement).selectedOptions[0]?.text)).toBe("share of total");
    await (await desk.page.waitForSelector(kind))?.select("rank");
    await brief(desk, "rank of Freight");
    await proved(desk);
    expect(desk.complaints).toEqual([]);
  });
});

describe("what is worked out from the rows beside", () => {
  /** Quarters of a shipper whose freight fell by more than a fifth, by joining each quarter to the one before. */
  const FELL = `WITH q AS (SELECT shipper_id AS s, CAST(strftime('%Y', lodged_on) AS INTEGER) * 4 + (CAST(strftime('%m', lodged_on) AS INTEGER) + 2) / 3 AS n,
    SUM(freight_charge) AS t, COUNT(*) AS rows FROM consignment GROUP BY 1, 2)
    SELECT COUNT(*), SUM(q.rows), SUM(q.t) FROM q JOIN q AS p ON p.s IS q.s AND p.n = q.n - 1 WHERE (q.t - p.t) * 5 < -p.t`;

  it("is asked of from a table on, in eleven actions and without a field of its own", async () => {
    const desk = await app.sheet("/queries/new?from=consignment");
    const pick = async (words: string) => {
      await desk.click("+ one row per…");
      await desk.page.waitForSelector(".popover input");
      await desk.page.keyboard.type(words);
      await desk.key("Enter");
    };
    await pick("shipper id");
    await pick("quarter lodged");
    await brief(desk, "One row per shipper id and quarter of lodged on");
    await desk.click("Menu of Freight charge");
    await desk.click("Add figure beside it…");
    await desk.press(".popover ::-p-text(Change)");
    await desk.click("Menu of Change of Freight charge on the previous period");
    await desk.click("Only groups where…");
    await desk.choose("comparison", "less");
    await desk.type("Value", "-20");
    await desk.key("Enter");
    await brief(desk, "Then only groups where change of total of freight charge on the previous period is less than -20%.");
    const [groups, rows, cents] = app.one(FELL);
    await desk.reads("[data-testid=status]", `${written(groups)} rows`);
    await desk.reads("[data-testid=proof]", `in ${written(groups)} groups ${written(rows)}`);
    await desk.reads("[role=gridcell]", euros(cents));
    await desk.reads("aside", /Proved\..*same values in every row/);
    expect(desk.complaints).toEqual([]);
  });
});

describe("the first rows of each", () => {
  it("are asked for by the keyboard alone, and proved", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    await desk.page.focus("::-p-xpath(//button[normalize-space()='+ limit'])");
    await desk.key("Enter");
    await desk.page.keyboard.type("2");
    await desk.key("Tab");
    await brief(desk, "First 2 rows only");
    await desk.page.waitForFunction(() => document.activeElement?.tagName === "SELECT");
    // A list that opens by a space is gone down by its first letters.
    await desk.page.keyboard.type("each");
    await desk.key("Escape");
    await brief(desk, "First 2 rows per Waybill");
    await desk.reads("aside", /Proved\..*same values in every row/);
    await desk.reads("aside", "The sheet shows the first 2 rows of each Waybill");
    expect(desk.complaints).toEqual([]);
  });

  it("are not lost for a letter where a number is asked for", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    await desk.click("+ limit");
    await desk.page.keyboard.type("3");
    await desk.key("Enter");
    await brief(desk, "First 3 rows only");
    await desk.click("3 rows", "p [role=button]");
    await desk.page.keyboard.type("e");
    await desk.key("Enter");
    await desk.reads("[data-testid=status]", "3 rows");
    await brief(desk, "First 3 rows only");
    expect(desk.complaints).toEqual([]);
  });
});
