import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { brief, proved, written } from "../support/question";
import { type Application, type Desk, openApplication } from "../support/server";

/* What a query's sheet offers from its headings and cells, by mouse and by keyboard, and how its columns stand. */

let app: Application;
beforeAll(async () => {
  app = await openApplication();
});
afterAll(() => app?.close());

const OCTOBER = "lodged_on BETWEEN '2026-10-01' AND '2026-10-31' AND (c.status <> 'void' OR c.status IS NULL)";
const FROM =
  "FROM consignment c LEFT JOIN shipper s ON s.id = c.shipper_id LEFT JOIN sailing v ON v.id = c.sailing_id LEFT JOIN vessel w ON w.id = v.vessel_id";
const rowsWhere = (where: string) => `${written(app.one(`SELECT COUNT(*) ${FROM} WHERE ${OCTOBER} AND ${where}`)[0])} rows`;
const status = (desk: Desk, words: string | RegExp) => desk.reads("[data-testid=status]", words);
const headings = (desk: Desk) =>
  desk.page.$$eval("[role=columnheader][id]", (all) => all.map((e) => e.querySelector("span.font-semibold")?.textContent?.replace(/ [▴▾]$/, "") ?? ""));
/** The cell of a row and a column of the sheet, by the heading. */
async function cell(desk: Desk, row: number, heading: string) {
  const column = (await headings(desk)).indexOf(heading);
  return desk.page.waitForSelector(`[role=row][aria-rowindex="${row + 2}"] [role=gridcell][aria-colindex="${column + 2}"]`);
}
const focusHeading = async (desk: Desk, heading: string) => {
  const column = (await headings(desk)).indexOf(heading);
  await desk.page.focus("[role=grid]");
  await desk.key("Home", ...Array.from({ length: column }, () => "ArrowRight"));
};

describe("from a heading", () => {
  it("the profile of its column is told, and values ticked there are kept", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    await focusHeading(desk, "Vessel");
    await desk.key("Alt+ArrowDown");
    const [filled, different] = app.one(`SELECT COUNT(w.name), COUNT(DISTINCT w.name) ${FROM} WHERE ${OCTOBER}`);
    await desk.reads("[data-testid=profile]", new RegExp(`${written(filled)} values · \\d+ empty · ${written(different)} different`));
    const top = app.sql(`SELECT w.name, COUNT(*) ${FROM} WHERE ${OCTOBER} AND w.name IS NOT NULL GROUP BY 1 ORDER BY 2 DESC, 1 LIMIT 2`);
    for (const [name, rows] of top) await desk.reads("[data-testid=profile] li", `${name} ${written(rows)}`);
    for (const [name] of top) await desk.click(String(name), "[data-testid=profile] label");
    await desk.click("Keep only these");
    await brief(desk, `sailing › vessel › name is one of ${top.map(([name]) => name).join(", ")}`);
    await status(desk, rowsWhere(`w.name IN (${top.map(([name]) => `'${name}'`).join(", ")})`));
    await proved(desk);
    expect(desk.complaints).toEqual([]);
  });

  it("a condition is added by one key: the sheet keeps its rows until it has a value, which is picked from the data", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    const before = rowsWhere("1");
    await status(desk, before);
    await focusHeading(desk, "Island");
    await desk.key("f");
    await brief(desk, "shipper › island is …");
    await desk.reads("[role=status]", "The condition on shipper › island has no value yet, so it is not applied.");
    await status(desk, before);
    await desk.click("Pell", ".popover label");
    await brief(desk, "shipper › island is Pell");
    await status(desk, rowsWhere("s.island = 'Pell'"));
    await desk.click("Skarrow", ".popover label");
    await brief(desk, "shipper › island is one of Pell, Skarrow");
    await status(desk, rowsWhere("s.island IN ('Pell', 'Skarrow')"));
    expect(desk.complaints).toEqual([]);
  });
});

describe("marks", () => {
  const marked = (desk: Desk, heading: string, sign: string) =>
    desk.page.$$eval(
      "[role=gridcell]",
      (all, column, wanted) => all.filter((e) => e.getAttribute("aria-colindex") === column && e.textContent?.startsWith(wanted)).length,
      heading,
      sign,
    );
  it("shade cells by a rule, with a sign and a legend; are changed there, and are saved with the query", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    const column = String((await headings(desk)).indexOf("Freight") + 2);
    await focusHeading(desk, "Freight");
    await desk.key("Alt+ArrowDown");
    await desk.click("Mark cells…", ".popover button");
    await desk.click("▲ good", ".popover label");
    await desk.type("value", "100");
    await desk.click("Mark", ".popover button");
    await desk.reads("[aria-label=Marks]", "▲ Freight is at least 100.00");
    await desk.page.waitForFunction(() => document.querySelector("[role=gridcell] [title='Freight is at least 100.00']") !== null);
    const shown = await desk.page.$$eval(`.absolute > [role=gridcell][aria-colindex="${column}"]`, (all) =>
      all.map((e) =>
        Number(
          e.textContent
            ?.replace(/[^0-9.()]/g, "")
            .replace("(", "-")
            .replace(")", ""),
        ),
      ),
    );
    expect(shown.length).toBeGreaterThan(3);
    expect(await marked(desk, column, "▲")).toBe(shown.filter((freight) => freight >= 100).length);
    // The rule is changed in the legend, by keyboard, and asks another column.
    await desk.page.focus("[aria-label=Marks] button");
    await desk.key("Enter");
    await desk.choose("where", "island");
    await desk.type("value", "Pell");
    await desk.key("Escape");
    await desk.reads("[aria-label=Marks]", "Freight: Island is Pell");
    const islands = String((await headings(desk)).indexOf("Island") + 2);
    const onPell = await desk.page.$$eval(`[role=gridcell][aria-colindex="${islands}"]`, (all) => all.filter((e) => e.textContent === "Pell").length);
    await desk.page.waitForFunction(
      (at, wanted) => [...document.querySelectorAll(`[role=gridcell][aria-colindex="${at}"]`)].filter((e) => e.textContent?.startsWith("▲")).length === wanted,
      {},
      column,
      onPell,
    );
    await desk.click("Save");
    await desk.reads("section", /saved ·/);
    const again = await app.sheet("/queries/freight-by-shipper");
    await again.reads("[aria-label=Marks]", "Freight: Island is Pell");
    await again.page.focus("[aria-label=Marks] button");
    await again.key("Enter");
    await again.click("Remove mark", ".popover button");
    await again.page.waitForFunction(() => !document.querySelector("[aria-label=Marks]"));
    await again.click("Save");
    expect([...desk.complaints, ...again.complaints]).toEqual([]);
  });

  it("draw a bar as long as a value's share of the largest there is", async () => {
    const desk = await app.sheet("/queries/freight-by-island");
    await focusHeading(desk, "Freight");
    await desk.key("Alt+ArrowDown");
    await desk.click("Mark cells…", ".popover button");
    await desk.reads(".popover", "Mark cells of Freight");
    await desk.click("bar", ".popover label");
    await desk.click("Mark", ".popover button");
    await desk.reads("[aria-label=Marks]", "bar: Freight, of the largest");
    const column = String((await headings(desk)).indexOf("Freight") + 2);
    await desk.page.waitForFunction((at) => document.querySelector(`[role=gridcell][aria-colindex="${at}"] [style*=width]`) !== null, {}, column);
    const bars = await desk.page.$$eval(`.absolute > [role=gridcell][aria-colindex="${column}"]`, (all) =>
      all.map(
        (e) =>
          [
            Number(e.textContent?.replaceAll(",", "")),
            Number.parseFloat((e.querySelector("[style*=width]") as HTMLElement | null)?.style.width ?? "0"),
          ] as const,
      ),
    );
    const most = Math.max(...bars.map(([freight]) => freight));
    expect(bars.length).toBeGreaterThan(3);
    for (const [freight, width] of bars) expect(width).toBeCloseTo((100 * freight) / most, 3);
    expect(desk.complaints).toEqual([]);
  });
});

describe("from a cell", () => {
  it("only rows like it are kept by a right click, and what it is left out by a key", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    const island = await (await cell(desk, 0, "Island"))?.evaluate((e) => e.textContent ?? "");
    await (await cell(desk, 0, "Island"))?.click({ button: "right" });
    await desk.click("Keep only this", ".popover button");
    await brief(desk, `shipper › island is ${island}`);
    await status(desk, rowsWhere(`s.island = '${island}'`));
    const shipper = await (await cell(desk, 0, "Shipper"))?.evaluate((e) => e.textContent ?? "");
    await (await cell(desk, 0, "Shipper"))?.click();
    await desk.key("l");
    await brief(desk, `shipper › name is not ${shipper} (or is empty)`);
    await status(desk, rowsWhere(`s.island = '${island}' AND s.name IS NOT '${shipper?.replaceAll("'", "''")}'`));
    await proved(desk);
    await desk.key("Control+z");
    await status(desk, rowsWhere(`s.island = '${island}'`));
    await (await cell(desk, 0, "Freight"))?.click({ button: "right" });
    await desk.click("Sort ascending", ".popover button");
    await brief(desk, "sorted by Freight (smallest first)");
    expect(desk.complaints).toEqual([]);
  });

  it("the row it links to is opened", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    const shipper = await (await cell(desk, 0, "Shipper"))?.evaluate((e) => e.textContent ?? "");
    await (await cell(desk, 0, "Shipper"))?.click();
    await desk.key("Shift+F10");
    await desk.click("Open shipper", ".popover button");
    await desk.reads("h1", shipper ?? "");
    expect(desk.complaints).toEqual([]);
  });

  it("a group opens its rows by Enter, a figure the rows it counts by its menu", async () => {
    const desk = await app.sheet("/queries/freight-by-island");
    const [island, rows] = [
      await (await cell(desk, 0, "Island"))?.evaluate((e) => e.textContent),
      await (await cell(desk, 0, "Consignments"))?.evaluate((e) => e.textContent),
    ];
    await (await cell(desk, 0, "Island"))?.click();
    await desk.key("Enter");
    await desk.reads("[role=status]", `Rows of the group ${island}.`);
    await status(desk, `${rows} rows`);
    await desk.click("Back to the query");
    await status(desk, /groups|\d rows/);
    await (await cell(desk, 0, "Freight"))?.click({ button: "right" });
    await desk.click("Rows this figure counts", ".popover button");
    await desk.reads("[role=status]", `counts in the group ${island}.`);
    expect(desk.complaints).toEqual([]);
  });
});

describe("finding", () => {
  it("goes to the next row that holds what is typed, whether it was in sight or not, and begins again at the end", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    await desk.page.focus("[role=grid]");
    await desk.key("Control+f");
    const [waybill] = app.one(`SELECT c.waybill_no ${FROM} WHERE ${OCTOBER} ORDER BY c.freight_charge, c.id LIMIT 1`);
    await desk.page.keyboard.type(String(waybill).toLowerCase());
    await desk.key("Enter");
    await desk.reads("[data-testid=found-rows]", "1 row");
    await desk.reads("[role=gridcell][aria-selected=true]", /\w/);
    await desk.reads("[role=grid]", String(waybill));
    await desk.type("Find in sheet", "merganser");
    await desk.key("Enter");
    await desk.reads("[data-testid=found-rows]", rowsWhere("w.name = 'Merganser'"));
    await desk.type("Find in sheet", "no such thing");
    await desk.key("Enter");
    await desk.reads("[data-testid=found-rows]", "No row has it.");
    expect(desk.complaints).toEqual([]);
  });
});

describe("what cannot be asked", () => {
  it("leaves the last rows in sight, says so, and is mended where it stands", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    const before = await desk.text("[data-testid=status]");
    await desk.click("6 columns", "p [role=button]");
    await desk.click("Add formula", ".popover button");
    await desk.page.waitForSelector(".popover .cm-content");
    await desk.page.keyboard.type("weight * 2");
    await desk.click("Add", ".popover button");
    await status(desk, "7 columns");
    await desk.click("weight * 2", ".popover button");
    await desk.page.waitForSelector(".popover .cm-content");
    await desk.press(".popover .cm-content");
    await desk.key("Control+End");
    await desk.page.keyboard.type(" +");
    await desk.reads("[role=alert]", "These are the rows from before the last change.");
    await status(desk, before.split(" rows")[0] as string);
    await desk.press(".popover .cm-content");
    await desk.key("Control+End");
    await desk.page.keyboard.type(" 1");
    await desk.page.waitForFunction(() => document.querySelector("[role=alert]") === null);
    expect(desk.complaints).toEqual([]);
  });
});

describe("how columns stand", () => {
  it("columns are renamed, resized, moved, frozen and hidden, and stand so when the query is opened again", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    await focusHeading(desk, "Lodged");
    await desk.key("F2");
    await desk.page.waitForSelector(".popover input");
    await desk.page.keyboard.type("Taken in");
    await desk.key("Enter");
    await desk.reads("[role=columnheader]", "Taken in");
    await focusHeading(desk, "Taken in");
    const width = async () => (await (await cell(desk, 0, "Taken in"))?.boundingBox())?.width ?? 0;
    const narrow = await width();
    await desk.key("Shift+ArrowRight", "Shift+ArrowRight");
    await desk.page.waitForFunction(
      (at, less) => (document.querySelector(at)?.getBoundingClientRect().width ?? 0) > less + 20,
      {},
      "[role=gridcell][aria-colindex='3']",
      narrow,
    );
    await desk.key("Control+Shift+ArrowLeft");
    await desk.page.waitForFunction(() => document.querySelector("[role=columnheader][id]")?.textContent?.includes("Taken in"));
    await desk.key("Alt+ArrowDown");
    await desk.click("Freeze up to here");
    await focusHeading(desk, "Vessel");
    await desk.key("h");
    await desk.reads("[data-testid=status]", "5 columns");
    await desk.click("Save");
    await desk.reads("section", "saved");
    const again = await app.sheet("/queries/freight-by-shipper");
    expect(await headings(again)).toEqual(["Taken in", "Waybill", "Shipper", "Island", "Freight"]);
    expect(await again.page.$eval("[role=columnheader][id]", (e) => getComputedStyle(e).position)).toBe("sticky");
    expect(Math.round(((await (await cell(again, 0, "Taken in"))?.boundingBox())?.width ?? 0) - narrow)).toBeGreaterThan(20);
    // Dragged by its edge.
    const edge = await (await again.page.$("[role=columnheader][id] .cursor-col-resize"))?.boundingBox();
    const [x, y] = [(edge?.x ?? 0) + 3, (edge?.y ?? 0) + 10];
    await again.page.mouse.move(x, y);
    await again.page.mouse.down();
    await again.page.mouse.move(x + 60, y, { steps: 4 });
    await again.page.mouse.up();
    await again.reads("section", "changed");
    expect([...desk.complaints, ...again.complaints]).toEqual([]);
  });
});
