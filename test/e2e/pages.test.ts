import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { PageSpec } from "@/core/page/spec";
import type { About, Details, Found } from "@/server/services/pages/answer";
import { type Application, Desk, failUntilWaiting, openApplication, post } from "../support/server";

/* Pages for people without an account: what they find, what they never find, and who may change something inside. */

let app: Application;
let address: string;
beforeAll(async () => {
  app = await openApplication();
  address = ((await (await app.fetch("/api/pages/find-consignment/publish")).json()) as { address: string }).address;
});
afterAll(() => app?.close());

const visit = (body: object, at = address) => app.fetch(`/api/p/${at}`, post(body), null);
const ask = async <T>(question: object, at = address): Promise<T> => (await (await visit({ question }, at)).json()) as T;
const saved = async (): Promise<{ spec: PageSpec; revision: number }> =>
  ((await (await app.fetch("/api/objects?kind=page")).json()) as { id: string; spec: PageSpec; revision: number }[]).find(
    (o) => o.id === "find-consignment",
  ) as never;
const change = async (set: Partial<PageSpec>): Promise<void> => {
  const { spec, revision } = await saved();
  const done = await app.fetch("/api/objects/find-consignment", { method: "PATCH", body: JSON.stringify({ spec: { ...spec, ...set }, revision }) });
  if (!done.ok) throw new Error(await done.text());
};
/** The rows of the page's query, by hand. */
const ROWS = `FROM consignment c LEFT JOIN shipper s ON s.id = c.shipper_id WHERE c.lodged_on BETWEEN '2025-10-01' AND '2026-09-30' AND (c.status <> 'void' OR c.status IS NULL)`;
const count = (more: string) => Number(app.sql(`SELECT COUNT(*) ${ROWS} ${more}`)[0]?.[0]);

describe("a published search", () => {
  it("is used by somebody who is not signed in: asked in several ways, ordered, turned, opened", async () => {
    const context = await app.browserOf(null);
    const desk = await new Desk(await context.newPage(), app.address).open(`/p/${address}`);
    await desk.reads("h1", "Find a consignment");
    const whole = new Intl.NumberFormat("en-GB").format(count(""));
    await desk.reads("nav[aria-label='Result pages']", `1 to 20 of ${whole}`);
    await desk.click("Next ›", "button");
    await desk.reads("nav[aria-label='Result pages']", `21 to 40 of ${whole}`);
    await desk.page.waitForSelector("form select option:nth-child(5)");
    const shipper = String(app.sql("SELECT name FROM shipper WHERE id = 3")[0]?.[0]);
    await desk.page.select("form label select", shipper);
    await desk.click("credited", "label");
    await desk.click("Search", "button");
    const credited = count(`AND s.id = 3 AND c.status = 'credited'`);
    expect(credited).toBeGreaterThan(0);
    await desk.reads("main", credited === 1 ? "1 row found." : credited <= 20 ? `${credited} rows found.` : `of ${credited}`);
    await desk.click("Lodged on", "th button");
    await desk.click("Lodged on ▲", "th button");
    const [latest] = app.sql(`SELECT c.waybill_no ${ROWS} AND s.id = 3 AND c.status = 'credited' ORDER BY c.lodged_on DESC, c.id LIMIT 1`)[0] as [string];
    await desk.reads("[data-testid=found] tbody tr:first-child", latest);
    await desk.press("[data-testid=found] tbody tr:first-child button");
    await desk.reads("[data-testid=details]", latest);
    expect(await desk.page.$("[data-testid=details] input")).toBeNull();
    await desk.click("Back to the results");
    await desk.page.waitForSelector("form");
    await desk.type("Waybill", latest.slice(-5));
    await desk.key("Enter");
    await desk.reads("main", "1 row found.");
    expect(desk.complaints).toEqual([]);
    await context.close();
  });

  it("never reaches a column, a row or a table that was not chosen, whatever is typed or sent", async () => {
    const html = await (await app.fetch(`/p/${address}?columns=freight&table=crew&sort=freight&object=freight-lodged`, {}, null)).text();
    const about = JSON.stringify(await ask<About>({ ask: "about" }));
    const search = {
      ask: "search",
      asked: { fields: [], sort: null, columns: ["freight"], conditions: [] },
      page: 0,
      columns: ["freight"],
      spec: {},
      query: "freight-by-island",
    };
    const found = await ask<Found>(search);
    const [first] = app.sql(
      `SELECT c.waybill_no, c.lodged_on, s.name, (SELECT name FROM commodity k WHERE k.id = c.commodity_id), (SELECT v.name FROM sailing x JOIN vessel v ON v.id = x.vessel_id WHERE x.id = c.sailing_id), c.status ${ROWS} ORDER BY c.lodged_on, c.id LIMIT 1`,
    );
    expect(found.rows[0]).toEqual(first);
    for (const text of [html, about, JSON.stringify(found)])
      for (const word of ["freight_charge", "Freight", "credit_limit", "last_name", "insurance"]) expect(text).not.toContain(word);
    const sorted = await ask<Found>({ ...search, asked: { fields: [], sort: { column: "freight", direction: "down" } } });
    expect(sorted.rows).toEqual(found.rows);
    // A shipper's name outside the page's rows, an order by what is hidden, a row past the last: nothing.
    const none = await ask<Found>({ ask: "search", asked: { fields: [{ values: ["BW-20001"] }], sort: null }, page: 0 });
    expect([none.count, count("AND c.waybill_no = 'BW-20001'")]).toEqual([0, 0]);
    for (const question of [
      { ask: "details", asked: { fields: [], sort: null }, at: count("") },
      { ask: "details", asked: { fields: [{ values: ["BW-20001"] }], sort: null }, at: 0 },
      { ask: "tile", tile: "freight", values: {} },
      { ask: "pages", at: 0 },
      { ask: "choices", field: "0" },
      { ask: "choices", field: "freight" },
    ])
      expect([question, (await visit({ question })).status]).toEqual([question, 404]);
    const details = await ask<Details>({ ask: "details", asked: { fields: [], sort: null }, at: 0 });
    expect(details.columns.map((c) => c.id)).toEqual(["waybill_no", "lodged_on", "collect_from", "status"]);
    expect(details.panels.every((p) => p.columns.every((c) => c.id === "kind"))).toBe(true);
    expect((await visit({ question: { ask: "search", asked: { fields: [{}, {}, {}, { values: ["soon", ""] }], sort: null }, page: 0 } })).status).toBe(400);
    expect(
      (
        await visit({
          question: { ask: "search", asked: { fields: [{ values: [] }, { values: [] }, { values: [] }, { values: ["soon", ""] }], sort: null }, page: 0 },
        })
      ).status,
    ).toBe(422);
    // A page that shows nothing until it is asked opens no row either.
    const pages = (await (await app.fetch("/api/objects?kind=page")).json()) as { id: string; revision: number; spec: { subject: object } }[];
    const page = pages.find((p) => p.id === "find-consignment");
    const keep = (subject: object, revision: number | undefined) =>
      app.fetch("/api/objects/find-consignment", { method: "PATCH", body: JSON.stringify({ spec: { ...page?.spec, subject }, revision }) });
    const { revision } = (await (await keep({ ...page?.spec.subject, atOnce: false }, page?.revision)).json()) as { revision: number };
    for (const at of [0, 7]) expect((await visit({ question: { ask: "details", asked: { fields: [], sort: null }, at } })).status).toBe(404);
    const byWaybill = { fields: [{ values: [String(first?.[0])] }], sort: null };
    expect((await visit({ question: { ask: "details", asked: byWaybill, at: 0 } })).status).toBe(200);
    await keep(page?.spec.subject ?? {}, revision);
    expect((await app.fetch("/api/pages/find-consignment", post({ question: { ask: "about" } }), null)).status).toBe(401);
    expect((await app.fetch("/api/query/rows", post({}), null)).status).toBe(401);
  });

  it("is off at once, over after its last day, elsewhere at another address, and embedded only where it may be", async () => {
    const status = async (at = address) => (await visit({ question: { ask: "about" } }, at)).status;
    const frames = async (at = address) =>
      /frame-ancestors [^;]*$/.exec((await app.fetch(`/p/${at}`, {}, null)).headers.get("content-security-policy") ?? "")?.[0];
    expect([await status(), await frames()]).toEqual([200, "frame-ancestors 'none'"]);
    await change({ embed: ["https://www.brindle.example"] });
    expect(await frames()).toBe("frame-ancestors https://www.brindle.example");
    await change({ open: false });
    expect([await status(), await frames()]).toEqual([404, "frame-ancestors 'none'"]);
    await change({ open: true, ends: "2026-10-04" });
    expect(await status()).toBe(404);
    await change({ ends: "2026-10-05" });
    expect(await status()).toBe(200);
    await change({ ends: null });
    const log = await (await app.fetch("/people")).text();
    for (const done of ["unpublished a page", "published a page"]) expect(log).toContain(done);
    const views = ((await (await app.fetch("/api/pages/find-consignment/publish")).json()) as { views: number }).views;
    await app.fetch(`/p/${address}`, {}, null);
    expect(((await (await app.fetch("/api/pages/find-consignment/publish")).json()) as { views: number }).views).toBe(views + 1);
    const old = address;
    address = ((await (await app.fetch("/api/pages/find-consignment/publish", post({ newAddress: true }))).json()) as { address: string }).address;
    expect([await status(old), await status()]).toEqual([404, 200]);
    expect(await status("x".repeat(24))).toBe(404);
    expect((await app.fetch("/api/pages/find-consignment/publish", post({ newAddress: true }), "demo-analyst-2")).status).toBe(403);
    await app.fetch("/api/people/demo-analyst", { method: "PATCH", body: '{"blocked":true}' });
    expect(await status()).toBe(404);
    await app.fetch("/api/people/demo-analyst", { method: "PATCH", body: '{"blocked":false}' });
    expect(await status()).toBe(200);
  });

  it("tells nothing before its passcode, and lets in nobody who tries a hundred", async () => {
    await app.fetch("/api/pages/find-consignment/publish", post({ passcode: "island tea" }));
    expect(await (await app.fetch(`/p/${address}`, {}, null)).text()).not.toContain("consignment");
    expect((await visit({ question: { ask: "about" } })).status).toBe(401);
    const { pass } = (await (await visit({ passcode: "island tea" })).json()) as { pass: string };
    expect((await visit({ pass, question: { ask: "about" } })).status).toBe(200);
    const other = pass.at(-5) === "A" ? "B" : "A";
    for (const forged of ["", `${pass.slice(0, -5)}${other}${pass.slice(-4)}`, "find-consignment"])
      expect((await visit({ pass: forged, question: { ask: "about" } })).status).toBe(401);
    const context = await app.browserOf(null);
    const desk = await new Desk(await context.newPage(), app.address).open(`/p/${address}`);
    await desk.page.waitForSelector("input[type=password]");
    await desk.page.type("input[type=password]", "island tea");
    await desk.key("Enter");
    await desk.reads("h1", "Find a consignment");
    await context.close();
    const statuses: number[] = [];
    for (let n = 0; n < 100; n++) statuses.push((await visit({ passcode: `wrong ${n}` })).status);
    expect(new Set(statuses)).toEqual(new Set([401, 429]));
    await failUntilWaiting(async () => (await visit({ passcode: "wrong again" })).status);
    expect((await visit({ passcode: "island tea" })).status).toBe(429);
    // Who was in stays in, until the passcode is another.
    expect((await visit({ pass, question: { ask: "about" } })).status).toBe(200);
    await app.fetch("/api/pages/find-consignment/publish", post({ passcode: "other tea" }));
    expect((await visit({ pass, question: { ask: "about" } })).status).toBe(401);
    await app.fetch("/api/pages/find-consignment/publish", post({ passcode: null }));
  });
});

describe("a published report, dashboard, chart and pivot", () => {
  it("show what they show inside, without the names of anything else", async () => {
    const open = async (id: string): Promise<string> => {
      const made = (await (await app.fetch("/api/pages/new", post({ id }))).json()) as { id: string; spec: PageSpec; revision: number };
      await app.fetch(`/api/objects/${made.id}`, { method: "PATCH", body: JSON.stringify({ spec: { ...made.spec, open: true }, revision: made.revision }) });
      return ((await (await app.fetch(`/api/pages/${made.id}/publish`)).json()) as { address: string }).address;
    };
    const board = await open("morning-view");
    const tile = await ask<{ now: number; query: object; pivot: { query: string } }>({ ask: "tile", tile: "waybills", values: { nothing: null } }, board);
    const sept = `AND c.lodged_on BETWEEN '2026-09-01' AND '2026-09-30'`;
    expect([tile.now, tile.pivot.query]).toEqual([count(sept), ""]);
    // What is not shown is not searched: no visitor learns of it by trying words.
    const rows = async (search: string) => (await ask<{ count: number }>({ ask: "tile", tile: "consignments", values: {}, search }, board)).count;
    const [shown, unshown] = [count(`${sept} AND s.name LIKE '%Creamery%'`), count(`${sept} AND s.island = 'Skarrow'`)];
    expect([shown > 0, unshown > 0, await rows("creamery"), await rows("Skarrow")]).toEqual([true, true, shown, count(`${sept} AND s.name LIKE '%Skarrow%'`)]);
    const chart = JSON.stringify(await ask({ ask: "tile", tile: "by-day", values: {} }, board));
    expect(chart).not.toContain("freight_charge");
    expect(chart).not.toContain("void");
    expect((await visit({ question: { ask: "choices", field: "credit_limit" } }, board)).status).toBe(404);
    expect((await ask<string[]>({ ask: "choices", field: "island" }, board)).length).toBeGreaterThan(3);
    const context = await app.browserOf(null);
    const desk = await new Desk(await context.newPage(), app.address).open(`/p/${board}`);
    await desk.reads("[data-tile=waybills]", new Intl.NumberFormat("en-GB").format(count(sept)));
    await desk.click("every island");
    await desk.click("Pell", "label");
    await desk.key("Escape");
    await desk.reads("[data-tile=waybills]", new Intl.NumberFormat("en-GB").format(count(`${sept} AND s.island = 'Pell'`)));
    expect(await desk.page.$$eval("button", (all) => all.map((b) => b.textContent))).not.toContain("rows");
    await desk.open(`/p/${await open("freight-statement")}`);
    await desk.reads("svg[data-page]", "Freight statement by island and trade");
    await desk.click("Next page");
    await desk.reads("nav[aria-label=pages]", "page 2 of");
    await desk.open(`/p/${await open("islands-and-quarters")}`);
    await desk.page.waitForSelector("[role=gridcell]");
    await desk.open(`/p/${await open("months-by-trade")}`);
    await desk.page.waitForSelector("canvas");
    expect(desk.complaints).toEqual([]);
    await context.close();
  });
});

describe("inside, for people who are signed in", () => {
  const own = { fields: [{ values: [] }], sort: null };
  const search = async (person: string) =>
    (await (await app.fetch("/api/pages/find-consignment", post({ question: { ask: "search", asked: own, page: 0 } }), person)).json()) as Found;
  it("chosen roles change chosen fields of rows they find, with the table's checks and an entry in the journal", async () => {
    const found = await search("demo-una");
    const send = (change: object, person: string | null, at = 0, mark = found.marks[0]) =>
      app.fetch("/api/pages/find-consignment/change", post({ asked: own, at, mark, change }), person);
    expect(found.count).toBe(count("AND s.desk_officer_id = 129"));
    const waybill = String(found.rows[0]?.[0]);
    const [was] = app.sql(`SELECT collect_from FROM consignment WHERE waybill_no = '${waybill}'`)[0] as [string | null];
    const to = { kind: "set", column: "collect_from", text: "The new quay", was };
    expect((await send(to, null)).status).toBe(401);
    expect((await send({ ...to, column: "freight_charge" }, "demo-una")).status).toBe(403);
    expect((await send({ kind: "remove" }, "demo-una")).status).toBe(403);
    expect((await send({ ...to, was: "something else" }, "demo-una")).status).not.toBe(200);
    // Another row has come to stand where the one looked at stood: it is left alone.
    expect((await send(to, "demo-una", 0, found.marks[1])).status).toBe(409);
    expect((await send(to, "demo-una", 1)).status).toBe(409);
    expect((await send(to, "demo-una")).status).toBe(200);
    expect(app.sql(`SELECT collect_from FROM consignment WHERE waybill_no = '${waybill}'`)).toEqual([["The new quay"]]);
    const journal = await (await app.fetch("/postings")).text();
    expect(journal).toContain("Una Holm");
    expect((await send(to, "demo-una", found.count)).status).toBe(404);
  });
  it("in the browser, where a viewer finds the field to type over and others only read it", async () => {
    const context = await app.browserOf("demo-jorn");
    const desk = await new Desk(await context.newPage(), app.address).open("/pages/find-consignment");
    await desk.page.waitForSelector("[data-testid=found] tbody button");
    await desk.press("[data-testid=found] tbody tr:first-child button");
    await desk.page.waitForSelector("[data-testid=details] input");
    await desk.page.$eval("[data-testid=details] input", (e) => (e as HTMLInputElement).select());
    await desk.page.type("[data-testid=details] input", "Jorn’s quay");
    await desk.key("Enter");
    await desk.reads("body", "changed.");
    expect(app.sql("SELECT COUNT(*) FROM consignment WHERE collect_from = 'Jorn’s quay'")).toEqual([[1]]);
    await desk.open("/queries/freight-by-shipper");
    await desk.type("start", "2026-10-01");
    await desk.click("Search", "button");
    await desk.reads("[data-testid=found]", "BW-");
    expect(desk.complaints).toEqual([]);
    await context.close();
  });
});

describe("a page being built", () => {
  it("asks, shows and publishes what is chosen", async () => {
    const desk = await app.page("/pages");
    await desk.click("Shippers and their desks (search)", "button");
    await desk.page.waitForSelector("[data-testid=found]");
    await desk.click("Sheet", "[role=tab]");
    await desk.click("Credit limit", "label");
    await desk.page.waitForFunction(() => ![...document.querySelectorAll("th")].some((h) => h.textContent?.includes("Credit limit")));
    await desk.click("Ask", "[role=tab]");
    await desk.click("Add field ▾");
    await desk.click("Trade", "button");
    await desk.page.waitForSelector('[aria-label="Input for Trade"]');
    await desk.choose("Input for Trade", "choice");
    await desk.reads("form", "Trade any");
    await desk.click("Published", "[role=tab]");
    await desk.click("Publish", "button");
    await desk.key("Control+s");
    await desk.reads("[role=status]", "Published. Opened 0 times");
    const url = await desk.page.$eval("a[target=_blank]", (a) => (a as HTMLAnchorElement).pathname);
    const context = await app.browserOf(null);
    const visitor = await new Desk(await context.newPage(), app.address).open(url);
    await visitor.reads("h1", "Shippers and their desks");
    await visitor.page.waitForSelector("[data-testid=found] thead");
    expect(await visitor.text("[data-testid=found] thead")).not.toContain("Credit limit");
    await context.close();
    expect(desk.complaints).toEqual([]);
  });
});
