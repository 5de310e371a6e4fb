import { execFileSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { emptyQuery } from "@/core/query/empty";
import { type Application, type Desk, openApplication, post } from "../support/server";

let app: Application;
beforeAll(async () => {
  app = await openApplication();
});
afterAll(() => app?.close());

const MONTHS = `SELECT substr(lodged_on, 1, 7), SUM(freight_charge) FROM consignment
  WHERE lodged_on BETWEEN '2025-10-01' AND '2026-09-30' AND (status <> 'void' OR status IS NULL) GROUP BY 1 ORDER BY 1`;
const QUARTER = `SELECT COUNT(*) FROM consignment WHERE lodged_on BETWEEN '2025-10-01' AND '2025-12-31' AND (status <> 'void' OR status IS NULL)`;
const amount = (cents: unknown) => new Intl.NumberFormat("en-GB", { minimumFractionDigits: 2 }).format(Number(cents) / 100);
const chart = '[role=application][aria-roledescription="chart"]';

async function newChart(): Promise<Desk> {
  const desk = await app.page("/charts");
  await desk.click("Freight lodged", "button");
  await desk.page.waitForSelector(chart);
  return desk;
}

describe("a chart", () => {
  it("is drawn from a pivot, said mark by mark, tabled with one key, and opens its rows", async () => {
    const desk = await app.page("/pivots/islands-and-quarters");
    await desk.page.waitForSelector("[role=gridcell]");
    await desk.click("More ▾");
    await desk.click("New chart", "[role=menuitem]");
    await desk.page.waitForSelector(chart);
    await desk.reads("[role=group][aria-label=Axis]", "lodged on quarter");
    await desk.page.focus(chart);
    await desk.key("ArrowRight");
    const [island, sum] = app.sql(`SELECT s.island, SUM(c.freight_charge) FROM consignment c JOIN shipper s ON s.id = c.shipper_id
      WHERE c.lodged_on BETWEEN '2025-10-01' AND '2025-12-31' AND (c.status <> 'void' OR c.status IS NULL) AND s.island = 'Skarrow' GROUP BY 1`)[0] as [
      string,
      bigint,
    ];
    await desk.reads("[data-testid=mark]", `Q4 2025, ${island}: ${amount(sum)}`);
    await desk.key("Enter");
    await desk.reads("[role=status]", "Rows behind Q4 2025 · Skarrow");
    await desk.click("Back");
    await desk.page.waitForSelector(chart);
    await desk.page.focus(chart);
    await desk.key("t");
    await desk.reads("table td", amount(sum));
    expect(desk.complaints).toEqual([]);
    await desk.page.close();
  });

  it("changes its kind with a click; bands, boxes and points are of the rows; what does not fit is said", async () => {
    const desk = await newChart();
    for (const kind of ["lines", "areas", "steps", "bars", "histogram", "boxes"]) {
      await desk.click(kind, "[role=group] button");
      await desk.page.waitForSelector(`${chart} canvas`);
      expect(await desk.page.$("[role=alert]")).toBe(null);
    }
    // Boxes and bands are said too, and open their rows.
    await desk.page.waitForSelector("[data-kind=box] canvas");
    await desk.page.focus(chart);
    await desk.key("ArrowRight");
    await desk.reads("[data-testid=mark]", /Q4 2025: median .* half of .* between/);
    await desk.key("Enter");
    await desk.reads("[role=status]", "Rows behind");
    await desk.reads("[data-testid=status]", String(new Intl.NumberFormat("en-GB").format(Number((app.sql(QUARTER)[0] as [bigint])[0]))));
    await desk.click("Back");
    await desk.click("histogram", "[role=group] button");
    await desk.page.waitForSelector("[data-kind=histogram] canvas");
    await desk.page.focus(chart);
    await desk.key("ArrowRight", "Enter");
    await desk.reads("[role=status]", /behind .* to under/);
    await desk.click("Back");
    await desk.click("points", "[role=group] button");
    await desk.reads("[role=alert]", "needs 2 numeric fields");
    await desk.click("Undo");
    await desk.click("lines", "[role=group] button");
    await desk.type("Target", "1,00");
    await desk.reads("aside", "“1,00” is not a number. Write it like 1234.5.");
    await desk.type("Target", "1000.5");
    await desk.page.waitForFunction(() => !document.querySelector("aside")?.textContent?.includes("not a number"));
    await desk.click("Table");
    // The whole of the first quarter drawn, by hand over the same rows.
    const quarter = app
      .sql(MONTHS)
      .slice(0, 3)
      .map(([, cents]) => Number(cents));
    const chip = await desk.text("[role=group][aria-label=Values]");
    if (chip.includes("freight")) await desk.reads("table td", amount(quarter.reduce((a, b) => a + b, 0)));
    await desk.page.close();
  });

  it("keeps the colour chosen for a value in every chart", async () => {
    const desk = await app.page("/charts/months-by-trade");
    await desk.page.waitForSelector(chart);
    await desk.click("Timber: colour 5");
    await desk.page.waitForSelector('[aria-label="Timber: colour 5"][aria-pressed=true]');
    await desk.open("/charts/months-by-trade");
    await desk.page.waitForSelector('[aria-label="Timber: colour 5"][aria-pressed=true]');
    await desk.page.close();
  });

  it("is drawn on the server too: a picture, a page with its table, the table as CSV", async () => {
    const saved = (await (await app.fetch(`/api/objects?kind=chart`)).json()) as { id: string; spec: object }[];
    const { spec } = saved.find((c) => c.id === "months-by-trade") ?? {};
    const file = async (format: string) => {
      const answer = await app.fetch(`/api/charts/export`, {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify({ spec, values: {}, name: "p", format }),
      });
      expect(answer.status).toBe(200);
      return Buffer.from(await answer.arrayBuffer());
    };
    const png = await file("png");
    expect(png.subarray(1, 4).toString()).toBe("PNG");
    expect([png.readUInt32BE(16), png.readUInt32BE(20)]).toEqual([1600, 900]);
    const pdf = join(mkdtempSync(join(tmpdir(), "nl-chart-")), "chart.pdf");
    writeFileSync(pdf, await file("pdf"));
    const printed = execFileSync("pdftotext", ["-layout", pdf, "-"]).toString();
    const [, first] = app.sql(MONTHS)[0] as [string, bigint];
    expect(printed).toContain(amount(first));
    expect((await file("csv")).toString()).toContain("Oct 2025");
  });

  it("stands small in a sheet's row, through every number of its list in the order asked for", async () => {
    const field = (column: string, join = "") => ({ kind: "field", join, column });
    const freight = { id: "f", value: field("freight_charge"), figure: "list", by: field("id"), direction: "up", separator: "; ", format: { spark: true } };
    const conditions = [{ id: "w", left: field("waybill_no"), operator: "beginsWith", values: [{ kind: "value", text: "BW-4781" }] }];
    const spec = { ...emptyQuery("consignment"), grouped: true, columns: [{ id: "s", value: field("status") }, freight], conditions };
    const { id } = (await (await app.fetch("/api/objects", post({ kind: "query", name: "Small lines", spec }))).json()) as { id: string };
    const wanted = (app.sql(`SELECT freight_charge FROM consignment WHERE waybill_no LIKE 'BW-4781%' AND status = 'delivered' ORDER BY id`) as [bigint][]).map(
      ([cents]) => Number(cents) / 100,
    );
    expect(wanted.length).toBeGreaterThan(2);
    const desk = await app.page(`/queries/${id}`);
    await desk.page.waitForSelector("[role=gridcell] svg[role=img]");
    const drawn = await desk.page.$$eval("[role=gridcell] svg[role=img]", (all) =>
      all.map((svg) => ({
        said: (svg.getAttribute("aria-label") ?? "").split("; ").map(Number),
        heights: [...(svg.querySelector("polyline")?.points ?? [])].map((p) => p.y),
      })),
    );
    const line = drawn.find((d) => d.said.length === wanted.length);
    expect(line?.said).toEqual(wanted);
    // The higher the number, the nearer to the top.
    expect(line?.heights).toHaveLength(wanted.length);
    expect(line?.heights.indexOf(Math.min(...line.heights))).toBe(wanted.indexOf(Math.max(...wanted)));
    expect(line?.heights.indexOf(Math.max(...line.heights))).toBe(wanted.indexOf(Math.min(...wanted)));
    expect(desk.complaints).toEqual([]);
    await desk.page.close();
  });
});
