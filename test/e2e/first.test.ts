import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { euros, written } from "../support/question";
import { type Application, type Desk, openApplication, post } from "../support/server";

/* The first figures of a page come with the page itself: they stand in it before a script has run, and are not asked for again. */

let app: Application;
beforeAll(async () => {
  app = await openApplication();
});
afterAll(() => app?.close());

const SEPTEMBER = "c.lodged_on BETWEEN '2026-09-01' AND '2026-09-30' AND (c.status <> 'void' OR c.status IS NULL)";
const FROM = "FROM consignment c LEFT JOIN shipper s ON s.id = c.shipper_id";
/**
 * The text of a page as it comes, its marks taken out, once it has some words: on a slow machine an answer may be late for
 * one page, and is at hand for the next.
 */
async function page(path: string, words: string | RegExp, person?: string): Promise<string> {
  for (let tries = 1; ; tries++) {
    const html = await (await app.fetch(path, {}, person)).text();
    const text = html
      .replace(/<script.*?<\/script>/gs, "")
      .replace(/<[^>]*>/g, " ")
      .replace(/\s+/g, " ");
    if (new RegExp(words).test(text)) return text;
    if (tries === 20) throw new Error(`${path} should come with ${words}, and is: ${text.slice(0, 3000)}`);
  }
}

describe("a page as it comes from the server", () => {
  it("has the rows, the footing and the proof of a query", async () => {
    const [rows, freight] = app.one(`SELECT COUNT(*), SUM(c.freight_charge) ${FROM} WHERE ${SEPTEMBER}`);
    const text = await page("/queries/freight-by-shipper?start=2026-09-01&end=2026-09-30", /Proved\./);
    const [first] = app.one(`SELECT c.waybill_no ${FROM} WHERE ${SEPTEMBER} ORDER BY c.freight_charge DESC, c.id LIMIT 1`);
    for (const words of [String(first), `${written(rows)} rows`, euros(freight)]) expect(text).toContain(words);
  });
  it("has a table’s rows, a folio’s row and what belongs to it, a pivot’s figures, a dashboard’s figures, a report’s page", async () => {
    await page("/tables/shipper", `${written(app.one("SELECT COUNT(*) FROM shipper")[0])} rows`);
    const folio = await page("/tables/shipper/folio?k=3", `${written(app.one("SELECT COUNT(*) FROM consignment WHERE shipper_id = 3")[0])} rows`);
    expect(folio).toContain(app.one("SELECT name FROM shipper WHERE id = 3")[0]);
    await page("/pivots/islands-and-quarters", /Great Brindle .* \d{1,3},\d{3}/);
    await page("/dashboards/morning-view", written(app.one(`SELECT COUNT(*) ${FROM} WHERE ${SEPTEMBER}`)[0]));
    await page("/reports/freight-statement", "Great Brindle");
  });
  it("has only the rows that are shown to the one who asks", async () => {
    const own = app.one(`SELECT COUNT(*) ${FROM} WHERE ${SEPTEMBER} AND s.desk_officer_id = 129`)[0];
    const all = app.one(`SELECT COUNT(*) ${FROM} WHERE ${SEPTEMBER}`)[0];
    expect(await page("/dashboards/morning-view", ` ${written(own)} `, "demo-una")).not.toContain(` ${written(all)} `);
  });
  it("says by the browser what stands in the way of a figure that cannot be worked out", async () => {
    const spec = {
      version: 2,
      source: "shipper",
      joins: [],
      conditions: [],
      grouped: false,
      columns: [{ id: "a", value: { kind: "field", join: "", column: "gone" } }],
      order: [],
      limit: null,
      parameters: [],
    };
    const made = await app.fetch("/api/objects?anyway", post({ kind: "query", name: "Broken at first sight", spec }));
    const { id } = (await made.json()) as { id: string };
    const desk = await app.page(`/queries/${id}`);
    await desk.reads("[role=alert]", "has no column “gone”");
  });
});

/** A page whose first figures came with it, with what it asks of the server noted. */
async function watched(path: string, words: string | RegExp): Promise<{ desk: Desk; asked: () => string[] }> {
  const desk = await app.page("/bin");
  const asked: string[] = [];
  desk.page.on("request", (r) => {
    const { pathname } = new URL(r.url());
    if (r.method() === "POST" && pathname.startsWith("/api/")) asked.push(pathname);
  });
  await page(path, words);
  await desk.open(path);
  return { desk, asked: () => asked.splice(0) };
}

describe("a browser that has a page", () => {
  it("does not ask for what came with it, and asks for what changes", async () => {
    const { desk, asked } = await watched("/queries/freight-by-shipper", /Proved\./);
    await desk.reads("[data-testid=status]", /\d rows/);
    await desk.reads("aside", "Proved.");
    const first = asked();
    expect(first).not.toContain("/api/query/rows");
    expect(first).not.toContain("/api/query/footing");
    await desk.page.focus("[role=grid]");
    await desk.key("Home", "s");
    await desk.reads("section p", /sorted by Waybill/i);
    await desk.page.waitForFunction(() => performance.getEntriesByType("resource").some((e) => e.name.endsWith("/api/query/rows")));
    expect(asked()).toContain("/api/query/rows");
    expect(desk.complaints).toEqual([]);
  });
  it("asks anew where it goes back to a page, or refreshes a dashboard", async () => {
    const { desk, asked } = await watched("/tables/shipper/folio?k=3", /\d rows/);
    await desk.reads("h1", String(app.one("SELECT name FROM shipper WHERE id = 3")[0]));
    expect(asked()).toEqual([]);
    await desk.click("Reports", "nav a");
    await desk.page.waitForFunction(() => location.pathname === "/reports");
    await app.fetch(
      "/api/tables/edit",
      post({
        table: "shipper",
        change: { kind: "change", key: ["3"], column: "name", text: "Renamed Wool", was: app.one("SELECT name FROM shipper WHERE id = 3")[0] },
      }),
    );
    expect(app.one("SELECT name FROM shipper WHERE id = 3")[0]).toBe("Renamed Wool");
    await desk.page.goBack();
    await desk.reads("h1", "Renamed Wool");
    await page("/dashboards/morning-view", written(app.one(`SELECT COUNT(*) ${FROM} WHERE ${SEPTEMBER}`)[0]));
    await desk.open("/dashboards/morning-view");
    await desk.reads("[data-tile=waybills]", /\d/);
    expect(asked()).not.toContain("/api/dashboards/tile");
    await desk.click("Refresh");
    await desk.page.waitForFunction(() => performance.getEntriesByType("resource").some((e) => e.name.endsWith("/api/dashboards/tile")));
    expect(desk.complaints).toEqual([]);
  });
});
