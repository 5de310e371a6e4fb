import { strFromU8, unzipSync } from "fflate";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { newChart } from "@/core/chart/newChart";
import { emptyDashboard } from "@/core/dashboard/tiles";
import { emptyPivot, newAxis } from "@/core/pivot/empty";
import type { Pivot } from "@/core/pivot/pivot";
import type { PivotSpec } from "@/core/pivot/spec";
import { brief, proved, written } from "../support/question";
import { type Application, Desk, openApplication, post } from "../support/server";

/* A column that holds the key of a row elsewhere is read by what that row is called; exports can have both, and what they are of. */

let app: Application;
beforeAll(async () => {
  app = await openApplication();
});
afterAll(() => app?.close());

const field = (column: string) => ({ kind: "field", join: "", column });
const spec = {
  version: 2,
  source: "consignment",
  joins: [],
  conditions: [],
  grouped: false,
  columns: ["waybill_no", "shipper_id", "freight_charge"].map((c) => ({ id: c, value: field(c) })),
  order: [],
  limit: null,
  parameters: [],
};
/** A saved query of waybills by their shippers' numbers. */
async function saved(name: string, more: object = {}): Promise<Desk> {
  const made = await app.fetch("/api/objects?anyway", post({ kind: "query", name, spec: { ...spec, ...more } }));
  return app.sheet(`/queries/${((await made.json()) as { id: string }).id}`);
}
const column = (desk: Desk, at: number) =>
  desk.page.$$eval(`[role=gridcell][aria-colindex="${at + 2}"]`, (all) => all.slice(0, 8).map((e) => e.textContent?.trim() ?? ""));
const names = (rows: unknown[][]) => rows.map(([name]) => String(name));
const BY_NAME = "FROM consignment c JOIN shipper s ON s.id = c.shipper_id ORDER BY s.name COLLATE NOCASE DESC, c.shipper_id DESC, c.id LIMIT 8";

describe("a table on a dashboard", () => {
  it("shows the names, and so do the rows behind it to those who only look", async () => {
    const made = async (kind: string, name: string, of: object) =>
      ((await (await app.fetch("/api/objects?anyway", post({ kind, name, spec: of }))).json()) as { id: string }).id;
    const query = await made("query", "Lodged", { ...spec, order: [{ column: "waybill_no", direction: "up" }] });
    const tile = { id: "t", title: "Lodged", note: "", kind: "table", query, first: 5, columns: [], order: null, search: false };
    const board = await made("dashboard", "Board", { ...emptyDashboard(), tiles: [tile], wide: [{ tile: "t", x: 0, y: 0, w: 12, h: 12 }], narrow: ["t"] });
    const first = names(app.sql("SELECT s.name FROM consignment c LEFT JOIN shipper s ON s.id = c.shipper_id ORDER BY c.waybill_no LIMIT 5"));
    const desk = await app.page(`/dashboards/${board}`);
    await desk.reads("[data-tile=t] td", String(first[0]));
    expect((await desk.page.$$eval("[data-tile=t] td:nth-child(2)", (all) => all.map((e) => e.textContent?.trim()))).slice(0, 5)).toEqual(first);
    await app.fetch(`/api/objects/${board}/shares`, { method: "PUT", body: JSON.stringify({ person: "", level: "see" }) });
    const context = await app.browserOf("demo-una");
    const looking = await new Desk(await context.newPage(), app.address).open(`/dashboards/${board}`);
    await looking.click("Open all", "[data-tile=t] button");
    // They see the consignments of their own desk.
    const [own] = app.one("SELECT s.name FROM consignment c JOIN shipper s ON s.id = c.shipper_id WHERE s.desk_officer_id = 129 ORDER BY c.waybill_no LIMIT 1");
    await looking.reads("[role=gridcell]", String(own));
    await context.close();
    expect([...desk.complaints, ...looking.complaints]).toEqual([]);
  });
});

describe("a column that leads to rows with names", () => {
  it("shows the names, in their order where it is sorted; numbers on request", async () => {
    const desk = await saved("By shipper", { order: [{ column: "shipper_id", direction: "down" }] });
    await desk.reads("[role=grid]", String(app.one(`SELECT s.name ${BY_NAME}`)[0]));
    expect(await column(desk, 1)).toEqual(names(app.sql(`SELECT s.name ${BY_NAME}`)));
    await proved(desk);
    await desk.page.focus("[role=grid]");
    await desk.key("Home", "ArrowRight", "Alt+ArrowDown");
    await desk.click("Show numbers", ".popover button");
    const greatest = String(app.one("SELECT MAX(shipper_id) FROM consignment")[0]);
    await desk.page.waitForFunction((n) => document.querySelector('[role=gridcell][aria-colindex="3"]')?.textContent?.trim() === n, {}, greatest);
    expect(await column(desk, 1)).toEqual(Array(8).fill(greatest));
    await desk.key("Control+z");
    await desk.reads("[role=grid]", String(app.one(`SELECT s.name ${BY_NAME}`)[0]));
    expect(desk.complaints).toEqual([]);
  });

  it("is asked for by name, and the sentence says it", async () => {
    const desk = await saved("Of one shipper");
    await desk.page.focus("[role=grid]");
    await desk.key("Home", "ArrowRight", "f");
    await brief(desk, "shipper id is …");
    await desk.type("Find a value", "weav");
    const [id, name] = app.one("SELECT id, name FROM shipper WHERE name LIKE '%weav%'");
    await desk.click(String(name), ".popover label span");
    await brief(desk, `shipper id is ${name}`);
    await desk.reads("[data-testid=status]", `${written(app.one(`SELECT COUNT(*) FROM consignment WHERE shipper_id = ${id}`)[0])} rows`);
    expect(desk.complaints).toEqual([]);
  });

  it("shows what a person chose for the table, in sheets and on the page of a row", async () => {
    const desk = await app.sheet("/tables/consignment");
    const [name, trade] = app.one("SELECT s.name, s.trade FROM consignment c JOIN shipper s ON s.id = c.shipper_id ORDER BY c.id LIMIT 1");
    await desk.reads("[role=grid]", String(name));
    const choose = async (words: string) => {
      await desk.open("/tables/shipper");
      await desk.page.waitForSelector("aside select");
      await desk.page.select("aside select", words);
      await desk.page.waitForFunction((w) => (document.querySelector("aside select") as HTMLSelectElement).value === w, {}, words);
    };
    await choose("trade");
    await desk.open("/tables/consignment/folio?k=1");
    await desk.reads("dl", `Shipper id ${trade}`);
    await choose("");
    await desk.open("/tables/consignment/folio?k=1");
    await desk.reads("dl", `Shipper id ${app.one("SELECT shipper_id FROM consignment WHERE id = 1")[0]} `);
    await choose("name");
    await desk.open("/tables/consignment/folio?k=1");
    await desk.reads("dl", `Shipper id ${name}`);
    expect(desk.complaints).toEqual([]);
  });
});

describe("an export with options", () => {
  it("has names beside the numbers, and brief and proof beside the rows", async () => {
    const asked = { ...spec, limit: 3, order: [{ column: "waybill_no", direction: "up" }] };
    const response = await app.fetch("/api/query/export", post({ spec: asked, values: {}, name: "Waybills", format: "csv", names: true, about: true }));
    expect(response.headers.get("content-type")).toBe("application/zip");
    const files = unzipSync(new Uint8Array(await response.arrayBuffer()));
    const [first] = app.sql("SELECT c.waybill_no, c.shipper_id, s.name FROM consignment c LEFT JOIN shipper s ON s.id = c.shipper_id ORDER BY 1 LIMIT 1");
    const lines = strFromU8(files["Waybills.csv"] as Uint8Array).split("\r\n");
    expect(lines[0]).toBe('Waybill no,Shipper id,"Shipper id, name",Freight charge');
    expect(lines[1]?.startsWith((first as unknown[]).join(","))).toBe(true);
    expect(strFromU8(files["Waybills, about.txt"] as Uint8Array)).toContain("Proved.");
    expect(await app.status("/api/query/export", post({ spec: asked, values: {}, name: "x", format: "csv", about: true }), "demo-una")).toBe(403);
  });

  it("says meanwhile how many rows are written, to the one who waits for it alone", async () => {
    const body = {
      spec: { ...spec, columns: [...spec.columns, { id: "sailing_id", value: field("sailing_id") }] },
      values: {},
      name: "Waybills",
      format: "xlsx",
    };
    const asked = app.fetch("/api/query/export", { ...post(body), headers: { "content-type": "application/json", "x-work": "abc1" } });
    const done = async (person?: string) => ((await (await app.fetch("/api/progress?work=abc1", {}, person)).json()) as { done: number | null }).done;
    await expect.poll(() => done(), { timeout: 20_000, interval: 50 }).toBeGreaterThan(0);
    expect(await done("demo-analyst")).toBeNull();
    expect((await asked).status).toBe(200);
    expect(await done()).toBeNull();
    expect(((await (await app.fetch("/api/progress?work=%20")).json()) as { done: number | null }).done).toBeNull();
  });

  it("is chosen in a panel, which Escape closes", async () => {
    const desk = await saved("To export");
    await desk.click("More ▾");
    await desk.click("Export with options…", "[role=menuitem]");
    await desk.reads("[role=dialog]", "Names beside numbers A column more for each that links to rows with names.");
    await desk.page.select("[role=dialog] select", "csv");
    await desk.reads("[role=dialog]", "In a text beside the file; both come as a ZIP.");
    await desk.key("Escape");
    await desk.page.waitForSelector("[role=dialog]", { hidden: true });
    expect(desk.complaints).toEqual([]);
  });
});

describe("what is made from such a query", () => {
  const numbers = (text: string): string[] => text.match(/"name":"[^"]*"/g) ?? [];
  it("shows the names too: pivots, in their order, charts and files of them, reports", async () => {
    const { id } = (await (await app.fetch("/api/objects?anyway", post({ kind: "query", name: "To be pivoted", spec }))).json()) as { id: string };
    const figure = { id: "f", value: field("freight_charge"), figure: "total" as const, showAs: "asIs" as const };
    const pivot = { ...emptyPivot(id), down: [newAxis("s", { kind: "field", join: "", column: "shipper_id" })], figures: [figure] } as PivotSpec;
    const asked = async (path: string, body: object, person?: string) => app.fetch(path, post(body), person);
    const made = (await (await asked("/api/pivots", { spec: pivot, values: {} })).json()) as Pivot;
    const sorted = names(app.sql("SELECT DISTINCT s.name FROM consignment c JOIN shipper s ON s.id = c.shipper_id ORDER BY s.name COLLATE NOCASE"));
    const lost = Number(app.one("SELECT COUNT(DISTINCT shipper_id) FROM consignment WHERE shipper_id NOT IN (SELECT id FROM shipper)")[0]);
    expect(lost).toBeGreaterThan(0);
    // Shippers that are gone have no name, and stand after those that have.
    expect(made.down.slice(1).map((h) => h.name)).toEqual([...sorted, ...Array(lost).fill(undefined)]);
    const [, total] = app.one(
      `SELECT s.name, SUM(c.freight_charge) FROM consignment c JOIN shipper s ON s.id = c.shipper_id WHERE s.name = '${sorted[0]?.replaceAll("'", "''")}'`,
    );
    expect(String(made.cells[0]?.[1])).toBe(String(total));
    const csv = await (await asked("/api/pivots/export", { spec: pivot, values: {}, name: "p", format: "csv" })).text();
    for (const name of sorted.slice(0, 5)) expect(csv).toContain(name);
    const chart = newChart({ ...pivot, across: pivot.down, down: [] }, "bars");
    const drawn = numbers(await (await asked("/api/charts", { spec: chart, values: {} })).text());
    expect(drawn).toHaveLength(sorted.length);
    // On the screen, by rows and by the keyboard's place.
    const { id: kept } = (await (await asked("/api/objects?anyway", { kind: "pivot", name: "By shipper", spec: pivot })).json()) as { id: string };
    const desk = await app.page(`/pivots/${kept}`);
    await desk.reads("[role=grid]", String(sorted[0]));
    const report = (await (await asked("/api/report/new", { query: id, values: {} })).json()) as { id: string };
    const pages = await app.page(`/reports/${report.id}`);
    await pages.reads("svg", String(app.one("SELECT s.name FROM consignment c JOIN shipper s ON s.id = c.shipper_id ORDER BY c.id LIMIT 1")[0]));
    expect([...desk.complaints, ...pages.complaints]).toEqual([]);
  });
});

describe("by single keys and from a heading", () => {
  it("the next issue of the proof is gone to, from anywhere on the page", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    await proved(desk);
    await desk.click("SQL", "[role=tab]");
    await desk.page.focus("[role=grid]");
    const issue = async () => {
      await desk.key("i");
      await desk.page.waitForFunction(() => document.activeElement?.hasAttribute("data-issue"));
      return desk.page.evaluate(() => document.activeElement?.closest("tr")?.querySelector("th")?.textContent);
    };
    const found = [await issue()];
    await desk.page.waitForSelector("aside [data-issue]");
    const count = (await desk.page.$$("aside [data-issue]")).length;
    for (let i = 1; i <= count; i++) {
      await desk.key("i");
      const row = "document.activeElement?.closest('tr')?.querySelector('th')?.textContent";
      await desk.page.waitForFunction(`${row} !== ${JSON.stringify(found.at(-1))}`);
      found.push((await desk.page.evaluate(row)) as string);
    }
    expect(found[0]).toBe("shipper missing");
    expect(new Set(found).size).toBe(count);
    expect(found.at(-1)).toBe(found[0]);
    expect(desk.complaints).toEqual([]);
  });

  it("a column is given a unit", async () => {
    const desk = await saved("With a unit");
    await desk.page.focus("[role=grid]");
    await desk.key("Home", "ArrowRight", "ArrowRight", "Alt+ArrowDown");
    await desk.click("Unit…", ".popover button");
    await desk.type("Unit", "GBP");
    await desk.key("Enter");
    await desk.reads("[role=columnheader]", "freight charge, £");
    expect(desk.complaints).toEqual([]);
  });
});
