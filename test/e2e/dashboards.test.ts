import ExcelJS from "exceljs";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type Application, Desk, openApplication, post } from "../support/server";

let app: Application;
beforeAll(async () => {
  app = await openApplication();
});
afterAll(() => app?.close());

const amount = (cents: unknown) => new Intl.NumberFormat("en-GB", { minimumFractionDigits: 2 }).format(Number(cents) / 100);
const sum = (more = "", from = "2026-09-01", to = "2026-09-30") =>
  amount(
    (
      app.sql(`SELECT SUM(c.freight_charge) FROM consignment c LEFT JOIN shipper s ON s.id = c.shipper_id
      WHERE c.lodged_on BETWEEN '${from}' AND '${to}' AND (c.status <> 'void' OR c.status IS NULL) ${more}`)[0] as [bigint]
    )[0],
  );
const tile = (id: string) => `[data-tile=${id}]`;

describe("a dashboard", () => {
  it("is built from empty: tiles, a filter over tiles of different queries, arranged by keys and by mouse", async () => {
    const desk = await app.page("/dashboards");
    await desk.click("Empty dashboard", "button");
    await desk.click("+ figure", "button");
    await desk.page.waitForSelector(tile("t1"));
    await desk.choose("Source", "freight-lodged");
    await desk.choose("Of", "freight");
    await desk.reads(tile("t1"), sum("", "2025-10-01", "2026-09-30"));
    await desk.click("+ chart", "button");
    await desk.page.waitForSelector(`${tile("t2")} canvas`);
    await desk.click("+ table", "button");
    await desk.choose("Source", "sailings-called-off");
    await desk.reads(tile("t3"), "Open all");
    // A filter on the shippers' island: it meets what links lead from, and not the sailings.
    await desk.click("Filters", "[role=tab]");
    await desk.click("+ filter by a field of consignment", "button");
    await desk.type("Find a field", "shipper › island");
    await desk.key("Enter");
    await desk.reads("aside li", "sailings called off: not linked".replace("sailings", "Sailings"));
    await desk.click("every island");
    await desk.click("Oat Holm", "label");
    await desk.key("Escape");
    await desk.reads(tile("t1"), sum("AND s.island = 'Oat Holm'", "2025-10-01", "2026-09-30"));
    // Chosen by hand, it meets the sailings too, in a field of their own.
    const off = (more: string) =>
      `of ${
        app.sql(`SELECT COUNT(*) FROM sailing s JOIN route r ON r.id = s.route_id JOIN harbour h ON h.id = r.from_harbour_id
        WHERE s.status = 'called off' AND date(s.departs_at) BETWEEN '2026-10-01' AND '2026-10-31' ${more}`)[0]?.[0]
      }`;
    await desk.reads(tile("t3"), off(""));
    await desk.press("[aria-label='The field of Sailings called off that island is']");
    await desk.type("Find a field", "from harbour › island");
    await desk.key("Enter");
    await desk.reads("aside li", "Sailings called off: route › from harbour › island");
    await desk.reads(tile("t3"), off("AND h.island = 'Oat Holm'"));
    // By keys: two columns to the right, then a column wider.
    await desk.page.focus(tile("t1"));
    await desk.key("Alt+ArrowRight", "Alt+ArrowRight", "Alt+Shift+ArrowRight");
    await desk.reads("[aria-live=polite]", /column 3, row \d+, 4 wide/);
    // By mouse: the chart is dragged down past the table.
    const handle = await (await desk.page.$(`${tile("t2")} .tile-handle`))?.boundingBox();
    if (!handle) throw new Error("no handle");
    await desk.page.mouse.move(handle.x + 8, handle.y + 8);
    await desk.page.mouse.down();
    await desk.page.mouse.move(handle.x - 60, handle.y + 60, { steps: 8 });
    await desk.page.mouse.up();
    await desk.click("Save", "button.button-primary");
    await desk.reads("li", "saved.");
    const saved = (await (await app.fetch(`/api/objects?kind=dashboard`)).json()) as {
      name: string;
      spec: { wide: { tile: string; x: number; w: number }[]; tiles: unknown[] };
    }[];
    const mine = saved.find((d) => d.name === "New dashboard")?.spec;
    expect(mine?.tiles.length).toBe(3);
    expect(mine?.wide.find((p) => p.tile === "t1")).toMatchObject({ x: 2, w: 4 });
    expect(desk.complaints).toEqual([]);
    await desk.page.close();
  });

  it("shows each of two browsers its own filters, keeps them, and clears them at one click", async () => {
    const other = await app.browserOf("demo-analyst");
    const [a, b] = [await app.page("/dashboards/morning-view"), await new Desk(await other.newPage(), app.address).open("/dashboards/morning-view")];
    for (const desk of [a, b]) await desk.reads(tile("freight"), sum());
    await a.click("every island");
    await a.click("Pell", "label");
    await a.key("Escape");
    await a.reads(tile("freight"), sum("AND s.island = 'Pell'"));
    await a.click("every trade");
    await a.click("Dairy", "label");
    await a.key("Escape");
    await a.reads(tile("off"), "not filtered by trade");
    expect(await a.text(tile("freight"))).not.toContain("not filtered");
    await a.click("trade Dairy");
    await a.click("Every trade");
    await a.reads(tile("freight"), sum("AND s.island = 'Pell'"));
    await b.click("every trade");
    await b.click("Timber", "label");
    await b.key("Escape");
    await b.reads(tile("freight"), sum("AND s.trade = 'Timber'"));
    await new Promise((done) => setTimeout(done, 900));
    for (const [desk, own] of [
      [a, "AND s.island = 'Pell'"],
      [b, "AND s.trade = 'Timber'"],
    ] as const) {
      await desk.open("/dashboards/morning-view");
      await desk.reads(tile("freight"), sum(own));
    }
    await a.click("Clear filters");
    await a.reads("p", "Showing every shipper, every island, lodged on any day and every trade.");
    await a.reads(tile("freight"), sum("", "2025-10-01", "2026-09-30"));
    await a.click("Reset filters");
    await a.reads(tile("freight"), sum());
    expect(await a.page.$$eval("button.chip", (all) => all.map((b) => b.textContent))).not.toContain("Reset filters");
    await b.reads(tile("freight"), sum("AND s.trade = 'Timber'"));
    await a.page.close();
    await other.close();
  });

  it("lays its tiles on whole pixels, whatever its width: a chart between two of them is blurred", async () => {
    const desk = await app.page("/dashboards/morning-view");
    await desk.page.waitForSelector("[data-testid=tiles] canvas");
    for (const width of [1270, 1111]) {
      await desk.page.setViewport({ width, height: 800 });
      const lefts = await desk.page.$$eval("[data-testid=tiles] > section", (tiles) => tiles.map((t) => t.getBoundingClientRect().left));
      expect(
        lefts.filter((x) => !Number.isInteger(x)),
        String(width),
      ).toEqual([]);
    }
  });

  it("meets sailings and consignments under one brief, each in fields of their own", async () => {
    const off = (more: string) =>
      app.sql(`SELECT COUNT(*) FROM sailing s JOIN route r ON r.id = s.route_id JOIN harbour h ON h.id = r.from_harbour_id
        WHERE s.status = 'called off' AND ${more}`)[0]?.[0];
    const now = async (values: object) =>
      ((await (await app.fetch("/api/dashboards/tile", post({ object: "morning-view", tile: "off", values }))).json()) as { now: number }).now;
    expect(await now({})).toBe(off("date(s.departs_at) BETWEEN '2026-09-01' AND '2026-09-30'"));
    const pell = { island: { kind: "set", not: false, values: ["Pell"] }, lodged: { kind: "span", from: "2026-01-01", to: "" } };
    expect(off("h.island = 'Pell' AND s.departs_at >= '2026-01-01'")).toBeGreaterThan(0);
    expect(await now(pell)).toBe(off("h.island = 'Pell' AND s.departs_at >= '2026-01-01'"));
    // A filter offers what occurs among the rows of its tiles: islands with neither shippers nor harbours are none of its values.
    const offered = (await (await app.fetch("/api/dashboards/choices", post({ object: "morning-view", filter: "island" }))).json()) as string[];
    const occurring = app.sql(`SELECT DISTINCT island FROM (SELECT s.island FROM consignment c JOIN shipper s ON s.id = c.shipper_id
        WHERE c.lodged_on BETWEEN '2025-10-01' AND '2026-09-30' AND (c.status <> 'void' OR c.status IS NULL)
      UNION SELECT h.island FROM sailing s JOIN route r ON r.id = s.route_id JOIN harbour h ON h.id = r.from_harbour_id WHERE s.status = 'called off')
      WHERE island IS NOT NULL`);
    expect(offered.toSorted()).toEqual(occurring.flat().toSorted());
  });

  it("begins with what is the viewer’s own, which they may leave and come back to", async () => {
    type Board = { id: string; spec: { filters: { id: string }[] } };
    const board = ((await (await app.fetch("/api/objects?kind=dashboard")).json()) as Board[]).find((o) => o.id === "morning-view");
    const island = board?.spec.filters.find((f) => f.id === "island");
    const mine = { ...island, id: "officer", label: "desk", column: "desk_officer_id", default: { kind: "person" } };
    const spec = { ...board?.spec, filters: [...(board?.spec.filters ?? []), mine] };
    const { id } = (await (await app.fetch("/api/objects", post({ kind: "dashboard", name: "My desk", spec }))).json()) as { id: string };
    await app.fetch(`/api/objects/${id}/shares`, { method: "PUT", body: JSON.stringify({ person: "", level: "see" }) });
    await app.fetch("/api/people/demo-analyst-2", { method: "PATCH", body: JSON.stringify({ knownAs: "130" }) });
    const context = await app.browserOf("demo-analyst-2");
    const desk = await new Desk(await context.newPage(), app.address).open(`/dashboards/${id}`);
    await desk.reads("p", "every trade and my desk.");
    await desk.reads(tile("freight"), sum("AND s.desk_officer_id = 130"));
    await desk.click("my desk");
    await desk.click("Every desk");
    await desk.reads(tile("freight"), sum());
    await desk.click("any desk");
    await desk.click("My desk", ".popover button");
    await desk.reads(tile("freight"), sum("AND s.desk_officer_id = 130"));
    expect(desk.complaints).toEqual([]);
    await context.close();
  });

  it("goes out with the filters of who has it made", async () => {
    const file = await app.fetch(
      "/api/dashboards/export",
      post({ object: "morning-view", values: { island: { kind: "set", not: false, values: ["Pell"] } }, name: "Pell", format: "xlsx" }),
    );
    const workbook = await new ExcelJS.Workbook().xlsx.load(await file.arrayBuffer());
    const figures = workbook.getWorksheet("Figures");
    expect(figures?.getCell("A2").value).toContain("island Pell");
    expect([figures?.getCell("A6").value, amount(Number(figures?.getCell("B6").value) * 100)]).toEqual(["Freight lodged", sum("AND s.island = 'Pell'")]);
  });

  it("narrows the other tiles by the mark that is chosen, and opens the rows behind a figure", async () => {
    const context = await app.browserOf("demo-analyst-2");
    const desk = await new Desk(await context.newPage(), app.address).open("/dashboards/morning-view");
    await desk.page.waitForSelector(`${tile("by-trade")} canvas`);
    await desk.click("More ▾");
    await desk.click("Export XLSX", "[role=menuitem]");
    await desk.reads("li", "The XLSX file is ready.");
    await desk.page.focus(`${tile("by-trade")} [role=application]`);
    await desk.key("ArrowRight", "Enter");
    await desk.reads("p", "trade Building");
    await desk.reads(tile("freight"), sum("AND s.trade = 'Building'"));
    await desk.click("Freight lodged", `${tile("freight")} button, ${tile("freight")} h2`).catch(() => {});
    await desk.press(`${tile("freight")} button`);
    await desk.reads("[role=status]", "Rows behind Freight lodged");
    await desk.reads("[role=row]", sum("AND s.trade = 'Building'"));
    await context.close();
  });

  it("loads each tile by itself: one whose chart is gone says so, the others stand", async () => {
    const saved = (await (await app.fetch(`/api/objects?kind=chart`)).json()) as { id: string }[];
    expect(saved.some((c) => c.id === "freight-by-day")).toBe(true);
    await app.fetch(`/api/objects/freight-by-day?anyway`, { method: "DELETE" });
    const desk = await app.page("/dashboards/morning-view");
    await desk.reads(`${tile("by-day")} [role=alert]`, "The chart of this tile was deleted.");
    await desk.page.waitForSelector(`${tile("by-trade")} canvas`);
    await desk.reads(tile("weight"), /\d/);
    await desk.page.close();
  });
});
