import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { emptyQuery } from "@/core/query/empty";
import { type Application, type Desk, openApplication, post } from "../support/server";

let app: Application;
beforeAll(async () => {
  app = await openApplication();
});
afterAll(() => app?.close());

const shelf = (name: string) => `[role=group][aria-label=${name}]`;

/** Drags a field of the list, or a chip, onto a shelf with the mouse. */
async function drag(desk: Desk, from: string, to: string): Promise<void> {
  const start = await (await desk.page.waitForSelector(from))?.boundingBox();
  const end = await (await desk.page.waitForSelector(to))?.boundingBox();
  if (!start || !end) throw new Error(`nothing to drag: ${from} to ${to}`);
  await desk.page.mouse.move(start.x + start.width / 2, start.y + start.height / 2);
  await desk.page.mouse.down();
  await desk.page.mouse.move(start.x + start.width / 2 + 12, start.y + 20, { steps: 4 });
  await desk.page.mouse.move(end.x + end.width - 20, end.y + end.height / 2, { steps: 12 });
  // A hand lets go a moment after it has arrived, and begins anew a moment later.
  await new Promise((done) => setTimeout(done, 200));
  await desk.page.mouse.up();
  await new Promise((done) => setTimeout(done, 100));
}

/** Totals by hand, over the very rows of the demo company's query. */
const HAND = `SELECT s.island, SUM(c.freight_charge), COUNT(*), COUNT(c.freight_charge) FROM consignment c LEFT JOIN shipper s ON s.id = c.shipper_id
  WHERE c.lodged_on BETWEEN '2025-10-01' AND '2026-09-30' AND (c.status <> 'void' OR c.status IS NULL) GROUP BY 1 ORDER BY 2 DESC`;
const amount = (cents: unknown) => new Intl.NumberFormat("en-GB", { minimumFractionDigits: 2 }).format(Number(cents) / 100);

describe("a pivot", () => {
  it("is built by mouse, cross-foots, opens the rows behind a figure, and goes out as it stands", async () => {
    const desk = await app.page("/pivots");
    await desk.click("Freight lodged", "button");
    await desk.page.waitForSelector("[data-chip]");
    for (const chip of ["p1", "p2", "p3"]) {
      await desk.page.focus(`[data-chip=${chip}]`);
      await desk.key("Delete");
    }
    await desk.reads(shelf("Down"), "drag a field here");
    const field = (words: string) => `nav[aria-label=Fields] button ::-p-text(${words})`;
    await drag(desk, field("island"), shelf("Down"));
    await drag(desk, field("quarter"), shelf("Across"));
    await drag(desk, field("freight"), shelf("Figures"));
    await desk.reads(shelf("Across"), "lodged on quarter");
    await desk.reads("[role=columnheader]", "Q4 2025");
    const [top] = app.sql(HAND) as [string, bigint, bigint][];
    await desk.reads("[role=row]", new RegExp(`${top?.[0]}.*${amount(top?.[1]).replaceAll(".", "\\.")}`));
    const proof = await desk.reads("aside", "0.00 out");
    const total = amount((app.sql(HAND) as [string, bigint][]).reduce((sum, [, c]) => sum + Number(c), 0));
    expect(proof.split(total).length - 1).toBe(3);
    // The line over all rows, in its last column: every row of the query.
    await desk.page.focus("[role=grid]");
    await desk.key("Control+End", "Enter");
    await desk.reads("[role=status]", /Rows behind/);
    const rows = (app.sql(HAND) as [string, bigint, bigint][]).reduce((sum, [, , n]) => sum + Number(n), 0);
    await desk.reads("[data-testid=status]", new Intl.NumberFormat("en-GB").format(rows));
    await desk.click("Back");
    // A chip dragged to the other shelf.
    await drag(desk, "[data-chip=p1]", shelf("Across"));
    await desk.reads(shelf("Across"), "lodged on quarter island");
    await desk.click("Undo");
    await desk.reads(shelf("Down"), "island");
    await desk.click("Save", "button.button-primary");
    await desk.reads("li", "saved.");
    expect(desk.complaints).toEqual([]);
    await desk.page.close();
  });

  it("is built by keyboard alone, with a first n and the rest, an average by the rows, and folded groups", async () => {
    const desk = await app.page("/pivots");
    await desk.click("Freight lodged", "button");
    await desk.page.waitForSelector("[data-chip]");
    const menu = async (words: string, item: string) => {
      await desk.page.evaluate(
        (w) => [...document.querySelectorAll<HTMLElement>("nav[aria-label=Fields] button")].find((b) => b.textContent?.replace("⠿", "").trim() === w)?.focus(),
        words,
      );
      await desk.key("Enter");
      await desk.page.waitForSelector(".popover .menu-item");
      for (let i = 0; i < ["Put down", "Put across", "Add as figure"].indexOf(item); i++) await desk.key("Tab");
      await desk.key("Enter");
    };
    await menu("trade", "Put down");
    await desk.reads(shelf("Down"), /island.*trade/);
    await desk.page.focus("[data-chip=p4]");
    await desk.key("Alt+ArrowLeft");
    await desk.reads(shelf("Down"), /trade.*island/);
    await desk.page.waitForSelector("[data-chip=p4]");
    await desk.page.focus("[data-chip=p4]");
    await desk.key("Alt+ArrowRight");
    await desk.reads(shelf("Down"), /island.*trade/);
    // The figure: an average, which no subtotal may add up.
    await menu("freight", "Add as figure");
    await desk.page.waitForSelector("[data-chip=p5]");
    await desk.page.focus("[data-chip=p5]");
    await desk.key("Enter");
    await desk.page.waitForSelector(".popover select");
    await desk.page.keyboard.type("average");
    await desk.key("Tab", "Escape");
    await desk.reads(shelf("Figures"), "average");
    const islands = (app.sql(HAND) as [string | null, bigint, bigint, bigint][]).filter(([name]) => name !== null);
    const [island, sum, , count] = islands.sort(([a], [b]) => ((a ?? "") < (b ?? "") ? -1 : 1))[0] ?? [];
    const average = amount(Math.round(Number(sum) / Number(count))).replaceAll(".", "\\.");
    // The totals stand last, out of sight until gone to.
    await desk.reads("[role=columnheader]", "Average of freight");
    await desk.page.focus("[role=grid]");
    await desk.key("Control+Home", "End");
    await desk.reads("[role=row]", new RegExp(`${island}.* ${average}`));
    // The first two trades of each island, the rest as one.
    await desk.page.focus("[data-chip=p4]");
    await desk.key("Enter");
    await desk.page.waitForSelector(".popover input[type=number]");
    await desk.page.focus(".popover input[type=number]");
    await desk.page.keyboard.type("2");
    await desk.key("Escape");
    await desk.reads("[role=row]", "others");
    // Folded by keyboard: the first island's trades go out of sight.
    await desk.page.focus("[role=grid]");
    await desk.key("Control+Home", "ArrowLeft", "Enter");
    await desk.page.waitForSelector("[role=rowheader][aria-expanded=false]");
    expect(desk.complaints).toEqual([]);
    await desk.page.close();
  });

  it("shows a figure in other ways, orders by hand, and shades with a legend", async () => {
    const desk = await app.page("/pivots/islands-and-quarters");
    await desk.page.waitForSelector("[role=gridcell]");
    const island = "s.island = 'Skarrow' AND (c.status <> 'void' OR c.status IS NULL)";
    const until = (day: string) =>
      app.sql(`SELECT SUM(c.freight_charge) FROM consignment c JOIN shipper s ON s.id = c.shipper_id
        WHERE c.lodged_on BETWEEN '2025-10-01' AND '${day}' AND ${island}`)[0]?.[0];
    const [first, second] = [until("2025-12-31"), until("2026-03-31")];
    const own = amount(Number(second) - Number(first));
    const row = (middle: string) => new RegExp(`Skarrow ${amount(first)} \\S+ ${middle}`.replaceAll(".", "\\."));
    const shown = async (words: string) => {
      await desk.page.focus("[data-chip=freight]");
      await desk.key("Enter");
      await desk.page.waitForSelector(".popover select");
      await desk.page.evaluate((wanted) => {
        const select = [...document.querySelectorAll<HTMLSelectElement>(".popover select")].find((s) => [...s.options].some((o) => o.text === wanted));
        select?.focus();
      }, words);
      await desk.page.keyboard.type(words);
      await desk.key("Tab", "Escape");
    };
    await desk.reads("[role=row]", row(own));
    await shown("running total");
    await desk.reads("[role=row]", row(amount(second)));
    await shown("as is");
    await desk.reads("[role=row]", row(own));
    // By hand: what stood first goes below the second.
    expect(await desk.text("[role=rowheader]")).toContain("Skarrow");
    await desk.page.focus("[data-chip=island]");
    await desk.key("Enter");
    await desk.page.waitForSelector(".popover select");
    await desk.page.select(".popover select", "hand");
    await desk.click("Move Skarrow down", "button");
    await desk.key("Escape");
    await desk.page.waitForFunction(() => document.querySelector("[role=rowheader]")?.textContent?.includes("Great Brindle"));
    await desk.click("Settings", "[role=tab]");
    await desk.page.evaluate(() => [...document.querySelectorAll<HTMLSelectElement>("aside select")].find((s) => s.options[0]?.text === "nothing")?.focus());
    await desk.page.keyboard.type("freight");
    await desk.reads("section", /Freight: 0\.00 [\d,.]+/);
    const shades = await desk.page.$$eval("[role=gridcell]", (all) => new Set(all.map((e) => (e as HTMLElement).style.background)).size);
    expect(shades).toBeGreaterThan(2);
    expect(desk.complaints).toEqual([]);
    await desk.page.close();
  });

  it("is made from a query that is found by typing, where there are more than are shown", async () => {
    const spec = { ...emptyQuery("shipper"), columns: [{ id: "n", value: { kind: "field", join: "", column: "name" } }] };
    const ids: string[] = [];
    for (let i = 100; i < 130; i++)
      ids.push(((await (await app.fetch("/api/objects", post({ kind: "query", name: `Another ${i}`, spec }))).json()) as { id: string }).id);
    const desk = await app.page("/pivots");
    await desk.reads("section", /Another 100.*\d+ more/);
    await desk.type("Find by name", "another 129");
    await desk.page.waitForFunction(() => !document.body.innerText.includes("Another 100"));
    await desk.click("Another 129", "button");
    await desk.page.waitForSelector("nav[aria-label=Fields]");
    await desk.reads("nav[aria-label=Fields]", "name");
    expect(desk.complaints).toEqual([]);
    expect((await app.fetch("/api/objects/several", post({ deed: "delete", ids, anyway: true }))).status).toBe(200);
    await desk.page.close();
  });

  it("says what is wrong with a field that is gone, and refuses what is too wide with a way on", async () => {
    const desk = await app.page("/pivots");
    await desk.click("Freight lodged", "button");
    await desk.page.waitForSelector("[data-chip]");
    await drag(desk, "nav[aria-label=Fields] button ::-p-text(waybill)", shelf("Across"));
    await desk.reads("[role=alert]", /columns; the limit is 1000/);
    await desk.click("Show the first 50, the rest as one");
    await desk.reads("[role=columnheader]", "Q4 2025");
    await desk.page.close();
  });
});

describe("a pivot in a report", () => {
  it("stands after its rows, in the contents, the preview and the PDF, its pages counted", async () => {
    const desk = await app.page("/pivots/islands-and-quarters");
    await desk.page.waitForSelector("[role=gridcell]");
    await desk.click("More ▾");
    await desk.click("Add to report", "[role=menuitem]");
    await desk.page.waitForSelector("svg[data-page]");
    await desk.click("Freight by island and quarter", "nav[aria-label=Contents] button");
    await desk.reads("svg[data-page]", /Q4 2025 .*Skarrow 46,115\.99/);
    const counted = await desk.text("nav[aria-label=pages]");
    const [, at, of] = /page (\d+) of (\d+)/.exec(counted) ?? [];
    expect(Number(of) - Number(at)).toBe(1);
    await desk.reads("svg[data-page]", `page ${at} of ${of}`);
    expect(desk.complaints).toEqual([]);
    await desk.page.close();
  });
});

describe("a pivot's files", () => {
  it("have the headings as they stand", async () => {
    const saved = (await (await app.fetch(`/api/objects?kind=pivot`)).json()) as { id: string; spec: object }[];
    const { spec } = saved.find((p) => p.id === "islands-and-quarters") ?? {};
    const file = async (format: string) => {
      const answer = await app.fetch(`/api/pivots/export`, {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify({ spec, values: {}, name: "p", format }),
      });
      expect(answer.status).toBe(200);
      return Buffer.from(await answer.arrayBuffer());
    };
    const csv = (await file("csv")).toString();
    const lines = csv.split("\r\n");
    expect(lines[0]).toBe(",,Q4 2025,Q4 2025,Q1 2026,Q1 2026,Q2 2026,Q2 2026,Q3 2026,Q3 2026,All quarters,All quarters");
    expect(lines[1]).toBe("Island,Trade,Freight,share,Freight,share,Freight,share,Freight,share,Freight,share");
    expect(lines[2]).toMatch(/^Skarrow,total,/);
    expect(lines.at(-2)).toMatch(/^All islands,,.*1\.000000$/);
    expect((await file("pdf")).subarray(0, 5).toString()).toBe("%PDF-");
    expect((await file("xlsx")).subarray(0, 2).toString()).toBe("PK");
  });
});
