import { existsSync, readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import Database from "better-sqlite3";
import { parse } from "csv-parse/sync";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type Application, openApplication, post } from "../support/server";

/* What is kept: names, copies, what was deleted, files saved from the browser, and two windows on one query. */

let app: Application;
beforeAll(async () => {
  app = await openApplication();
});
afterAll(() => app?.close());

const until = async (test: () => boolean): Promise<void> => {
  for (let i = 0; i < 200 && !test(); i++) await new Promise((done) => setTimeout(done, 50));
  expect(test()).toBe(true);
};

describe("a saved query", () => {
  it("is renamed, duplicated, deleted and brought back", async () => {
    const desk = await app.page("/queries/freight-by-island");
    await desk.reads("[data-testid=status]", /\d rows/);
    await desk.type("Name", "Freight, island by island");
    const renamed = desk.page.waitForResponse((r) => r.request().method() === "PATCH");
    await desk.key("Enter");
    expect((await renamed).ok()).toBe(true);
    await desk.click("More ▾");
    await desk.click("Duplicate");
    await desk.page.waitForFunction(() => !location.pathname.endsWith("freight-by-island"));
    await desk.reads("[role=grid]", "Great Brindle");
    await desk.click("More ▾");
    await desk.click("Delete");
    await desk.reads("main", "New query from a table");
    await desk.click("Restore");
    await desk.reads("main", "Freight, island by island, copy");
    await desk.reads("main", /Freight, island by island (?:[\w ]+ · )?saved [\w ]+ From/);
    expect(desk.complaints).toEqual([]);
  });

  it("shows its SQL with the bound values apart, and is saved as CSV with the sheet's total", async () => {
    const desk = await app.page("/queries/freight-by-shipper");
    await desk.reads("[data-testid=status]", /\d rows/);
    await desk.click("SQL", "[role=tab]");
    await desk.reads("aside pre", 'LEFT JOIN "shipper" AS "shipper" ON "shipper"."id" = "consignment"."shipper_id"');
    await desk.reads("aside pre", 'AS "Waybill"');
    await desk.reads("aside table", "@p1 2026-10-01 start @p2 2026-10-31 end @p3 void");
    await app.browser.defaultBrowserContext().overridePermissions(app.address, ["clipboard-read", "clipboard-sanitized-write"]);
    await desk.click("Copy", "aside button");
    await desk.reads("body", "SQL copied, with its values.");
    expect(await desk.page.evaluate(() => navigator.clipboard.readText())).toContain("'2026-10-31'");
    const session = await app.browser.target().createCDPSession();
    await session.send("Browser.setDownloadBehavior", { behavior: "allow", downloadPath: app.folder });
    await desk.click("More ▾");
    await desk.click("Export CSV");
    const path = join(app.folder, "Freight lodged by shipper.csv");
    await until(() => existsSync(path));
    await desk.reads("body", "The CSV file is ready.");
    const lines = parse(readFileSync(path, "utf8"), { columns: true }) as Record<string, string>[];
    const [[count, cents] = []] = app.sql(
      "SELECT COUNT(*), SUM(freight_charge) FROM consignment WHERE lodged_on BETWEEN '2026-10-01' AND '2026-10-31' AND status <> 'void'",
    );
    expect([lines.length, lines.reduce((sum, l) => sum + Math.round(Number(l.Freight) * 100), 0)]).toEqual([count, cents]);
    expect(Object.keys(lines[0] ?? {})).toEqual(["Waybill", "Lodged", "Shipper", "Island", "Vessel", "Freight"]);
  });

  it("is not overwritten by an older window", async () => {
    const [one, two] = [await app.page("/queries/sailings-called-off"), await app.page("/queries/sailings-called-off")];
    for (const [desk, column] of [
      [one, "To"],
      [two, "From"],
    ] as const) {
      await desk.page.bringToFront();
      await desk.reads("[data-testid=status]", /\d rows/);
      await desk.click(column, "[role=columnheader]");
      await desk.reads("p", `sorted by ${column} (A to Z)`);
    }
    await one.page.bringToFront();
    await one.click("Save");
    await one.reads("body", "saved.");
    await two.page.bringToFront();
    await two.click("Save");
    await two.reads("body", "saved elsewhere");
  });

  it("keeps what was changed when its page is left by a link, and lets it be discarded", async () => {
    const desk = await app.page("/queries/freight-by-shipper");
    await desk.reads("[data-testid=status]", /\d rows/);
    await desk.click("Waybill", "[role=columnheader]");
    await desk.reads("p", "sorted by Waybill (A to Z)");
    await desk.click("Reports", "nav a");
    await desk.page.waitForFunction(() => location.pathname === "/reports");
    await desk.page.goBack();
    await desk.reads("p", "sorted by Waybill (A to Z)");
    await desk.reads("body", "Your unsaved changes are still here.");
    await desk.click("Discard");
    await desk.page.waitForFunction(() => ![...document.querySelectorAll("p")].some((p) => p.textContent?.includes("sorted by Waybill (A to Z)")));
    expect(desk.complaints).toEqual([]);
  });

  it("is built in its brief: a limit of several digits, an order of two columns, groups that are named and moved; the focus stays", async () => {
    const desk = await app.page("/queries/new?from=consignment");
    await desk.reads("[data-testid=status]", /\d rows/);
    const focused = () => desk.page.evaluate(() => document.activeElement?.textContent);
    const seen = (words: string) => desk.page.$$eval("button", (all, w) => all.some((b) => b.textContent === w && b.offsetWidth > 1), words);
    await desk.click("+ limit");
    await desk.page.waitForSelector(".popover input");
    await desk.page.keyboard.type("125");
    await desk.key("Enter");
    await desk.reads("p", "First 125 rows only.");
    expect(await focused()).toBe("+ limit");
    await desk.key("Tab");
    expect(await seen("+ limit")).toBe(false);
    await desk.click("+ order");
    await desk.click("status", ".popover button");
    await desk.click("waybill no", ".popover button");
    await desk.reads("p", "sorted by status (A to Z), then waybill no (A to Z).");
    await desk.key("Escape");
    expect(await focused()).toBe("+ order");

    for (const wanted of ["lodged on", "status"]) {
      await desk.click("+ one row per…");
      await desk.type("Find a field", wanted);
      await desk.key("Enter");
    }
    await desk.reads("p", /One row per month of lodged on and status:/);
    await desk.click("status", "p [role=button]");
    await desk.click("Move before month of lodged on", ".popover button");
    await desk.reads("p", /One row per status and month of lodged on:/);
    await desk.key("Escape");
    await desk.click("status", "p [role=button]");
    await desk.page.waitForSelector(".popover input");
    await desk.page.keyboard.type("State");
    await desk.key("Escape");
    await desk.reads("[role=columnheader]", "State");

    await desk.click("count of rows, total of weight, total of freight charge, total of insurance", "p [role=button]");
    await desk.click("Add figure");
    await desk.choose("Figure", "count");
    await desk.click("of rows", ".popover button");
    await desk.page.waitForFunction(() => document.activeElement?.textContent === "Add figure");
    expect(desk.complaints).toEqual([]);
  });

  it("is not deleted without a word where others are made from it", async () => {
    const response = await app.fetch("/api/objects/freight-by-shipper", { method: "DELETE" });
    const { error } = (await response.json()) as { error: { sentence: string; code: string } };
    expect([response.status, error.code]).toEqual([409, "used"]);
    expect(error.sentence).toMatch(/is used by .*report “Freight statement”/);
    expect((await app.fetch("/api/objects/sailings-called-off?anyway", { method: "DELETE" })).status).toBe(200);
  });

  it("shows the answer to the last change, however fast the changes come", async () => {
    const desk = await app.page("/queries/freight-by-shipper");
    await desk.reads("[data-testid=status]", /\d rows/);
    for (const column of ["Waybill", "Lodged", "Shipper", "Island", "Vessel", "Waybill", "Waybill"]) await desk.click(column, "[role=columnheader]");
    await desk.reads("p", "sorted by Waybill (Z to A)");
    const [[last] = []] = app.sql("SELECT MAX(waybill_no) FROM consignment WHERE lodged_on BETWEEN '2026-10-01' AND '2026-10-31' AND status <> 'void'");
    await desk.reads('[role=grid] [aria-rowindex="2"]', String(last));
  });
});

describe("a log that can take nothing", () => {
  /** The catalogue, in which nothing can be logged while a test works. */
  const inCatalogue = <T>(work: (db: Database.Database) => T): T => {
    const db = new Database(join(app.folder, "catalogue.sqlite"));
    try {
      return work(db);
    } finally {
      db.close();
    }
  };
  beforeAll(() => inCatalogue((db) => db.exec("CREATE TRIGGER full BEFORE INSERT ON log BEGIN SELECT RAISE(ABORT, 'no room'); END")));
  afterAll(() => inCatalogue((db) => db.exec("DROP TRIGGER full")));
  const kept = () => inCatalogue((db) => JSON.stringify(["object", "share", "published", "person"].map((table) => db.prepare(`SELECT * FROM ${table}`).all())));
  const put = (body: object): RequestInit => ({ method: "PUT", body: JSON.stringify(body) });
  const patch = (body: object): RequestInit => ({ method: "PATCH", body: JSON.stringify(body) });
  const page = () =>
    inCatalogue((db) => db.prepare("SELECT spec, revision FROM object WHERE id = 'find-consignment'").get()) as { spec: string; revision: number };
  const account = { login: "vera", name: "Vera", role: "analyst", knownAs: "", password: "a longer password" };
  const question = () => ({ spec: specOf("freight-by-island"), values: {}, name: "x", format: "csv" });
  const specOf = (id: string) => JSON.parse(inCatalogue((db) => db.prepare("SELECT spec FROM object WHERE id = ?").pluck().get(id)) as string);

  it.each<[string, string, () => RequestInit]>([
    ["a share", "/api/objects/freight-by-island/shares", () => put({ person: "demo-una", level: "edit" })],
    ["a page shown no more", "/api/objects/find-consignment", () => patch({ spec: { ...JSON.parse(page().spec), open: false }, revision: page().revision })],
    ["a page deleted", "/api/objects/find-consignment?anyway", () => ({ method: "DELETE" })],
    ["a passcode and an address", "/api/pages/find-consignment/publish", () => post({ passcode: "a passcode", newAddress: true })],
    ["an account made", "/api/people", () => post(account)],
    ["an account changed", "/api/people/demo-una", () => patch({ knownAs: "somebody else" })],
    ["a file taken away", "/api/query/export", () => post(question())],
  ])("keeps nothing of %s, which is answered as not done", async (_, path, init) => {
    const before = kept();
    expect((await app.fetch(path, init())).status).toBe(500);
    expect(kept() === before).toBe(true);
    expect(existsSync(join(app.folder, "tmp")) && readdirSync(join(app.folder, "tmp")).filter((f) => f.endsWith(".csv"))).toEqual([]);
  });
  it("does not make a posting look undone, which the journal has whole", async () => {
    const spec = specOf("agent-manifest");
    const { tally } = (await (await app.fetch("/api/postings/preview", post({ spec }))).json()) as { tally: { digest: string; rowsAfter: number } };
    const posted = await app.fetch("/api/postings/post", post({ spec, name: "m", digest: tally.digest }));
    expect(posted.status).toBe(200);
    expect(app.sql("SELECT COUNT(*) FROM consignment")).toEqual([[tally.rowsAfter]]);
    const { number } = (await posted.json()) as { number: number };
    const previews = () => readdirSync(join(app.folder, "tmp")).filter((f) => f.startsWith("preview-")).length;
    const looked = previews();
    expect((await app.fetch("/api/postings/reverse", post({ number, force: false }))).status).toBe(200);
    // What nobody looks at is not kept.
    expect(previews()).toBe(looked);
  });
});
