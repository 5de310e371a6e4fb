import { mkdirSync, readFileSync, utimesSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import { type Application, type Desk, openApplication } from "../support/server";

/* Postings of several steps, an archive that a schedule runs, files that come again, and the journal, as an analyst has them. */

let app: Application;
beforeAll(async () => {
  app = await openApplication();
});
afterAll(() => app?.close());

const one = (text: string): number => Number(app.sql(text)[0]?.[0]);
const settles = (what: () => boolean) => vi.waitFor(() => expect(what()).toBe(true), { timeout: 25_000, interval: 100 });
/** While a posting is put together it cannot be previewed at times, and says why. */
const unexpected = (desk: Desk) => desk.complaints.filter((c) => !c.includes("422"));
const pick = async (desk: Desk, phrase: string, choice: string) => {
  await desk.click(phrase, "section button");
  await desk.click(choice, "[id^=headlessui-popover-panel] button");
};
const formula = async (desk: Desk, column: string, text: string) => {
  await desk.click(`Source of ${column}`, "section button");
  await desk.type(`Formula for ${column}`, text);
  await desk.key("Enter");
};

describe("a document with its lines", () => {
  it("is put together, stopped by a control total, posted under one number, and taken back in one", async () => {
    const before = [one("SELECT COUNT(*) FROM consignment"), one("SELECT COUNT(*) FROM surcharge")];
    const desk = await app.page("/postings/agent-manifest");
    await desk.reads("[data-testid=posting-proof]", /to add 180/);
    await pick(desk, "Add step…", "surcharge");
    await desk.reads("section", "surcharge: “amount” is required.");
    await formula(desk, "kind", "'handling'");
    await formula(desk, "amount", "12.5");
    await desk.reads("[data-testid=posting-proof]", /rows in the source 210 refused \d+ to add \d+/);
    await desk.click("Add control total");
    await desk.reads("aside", /Rows refused must be at most 0, but it is \d+\./);
    await desk.reads("section", "Nothing can be posted until the control totals agree.");
    await desk.choose("Figure", "total amount");
    await desk.choose("Comparison", "atLeast");
    await desk.type("Expected", "1000");
    await desk.key("Enter");
    await desk.reads("aside", "Agrees");
    await desk.click("1 · consignment", "[role=tab]");
    await desk.reads("[data-testid=posting-proof]", /to add 180/);
    await desk.click("Post 370 rows…");
    await desk.reads("[id^=headlessui-popover-panel]", /consignment has .* rows now .* surcharge has .* rows now/);
    await desk.click("Post", ".popover button");
    await settles(() => one("SELECT COUNT(*) FROM consignment") === (before[0] ?? 0) + 180);
    const lines = one("SELECT COUNT(*) FROM surcharge WHERE kind = 'handling' AND amount = 1250 AND consignment_id IN (SELECT id FROM consignment)");
    expect(lines).toBe(one("SELECT COUNT(*) FROM surcharge") - (before[1] ?? 0));
    expect(lines).toBeGreaterThanOrEqual(180);
    // Each line would be a new one again: that they were posted is said, and asked.
    await desk.reads("section", /The very same rows were posted as #\d+ on/);
    await desk.click("See the changes");
    await desk.reads("[role=grid]", "BW-70001");
    await desk.click("surcharge 190", "[role=tab]");
    await desk.reads("[role=grid]", "handling");
    await desk.click("Reverse posting…");
    await desk.click("Reverse");
    await desk.reads("h1", "reversed");
    expect([one("SELECT COUNT(*) FROM consignment"), one("SELECT COUNT(*) FROM surcharge")]).toEqual(before);
    expect(unexpected(desk)).toEqual([]);
  });
});

describe("an archive", () => {
  it("is made for a query’s rows, which a schedule moves into it", async () => {
    const query = {
      version: 2,
      source: "fuel",
      joins: [],
      conditions: [{ id: "w", left: { kind: "field", join: "", column: "id" }, operator: "atMost", values: [{ kind: "value", text: "40" }] }],
      grouped: false,
      columns: [{ id: "n", value: { kind: "field", join: "", column: "id" } }],
      order: [],
      limit: null,
      parameters: [],
    };
    const fuel = app.sql("SELECT * FROM fuel WHERE id <= 40 ORDER BY id");
    expect(fuel.length).toBe(40);
    const made = await app.fetch("/api/objects?anyway", {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ kind: "query", name: "Old fuel", spec: query }),
    });
    const { id } = (await made.json()) as { id: string };
    const desk = await app.page("/postings");
    await desk.choose("Take rows from", `query ${id}`);
    await desk.click("New posting");
    await desk.reads("section", "the rows of Old fuel to");
    await pick(desk, "Add", "rows of the source, out of their table");
    await desk.click("account entry", "section button");
    await desk.click("with the columns of fuel", "[id^=headlessui-popover-panel] button");
    await desk.reads("section", /Move the rows of Old fuel to fuel archive\. Match rows by id/);
    await desk.reads("[data-testid=posting-proof]", /rows in the source 40 to move 40/);
    await desk.reads("[role=grid]", "move");
    await desk.click("Save draft");
    await desk.page.waitForFunction(() => [...document.querySelectorAll("button")].some((b) => b.textContent === "Save draft" && b.disabled));
    await desk.click("More ▾");
    await desk.click("Schedule…");
    await desk.click("Create schedule");
    const item = "[data-schedule='Old fuel into account entry']";
    await desk.reads(item, /make the posting Old fuel into account entry, save what became of each row as CSV/);
    await desk.click("Run now", `${item} button`);
    await settles(() => one("SELECT COUNT(*) FROM fuel_archive") === 40);
    expect(one("SELECT COUNT(*) FROM fuel WHERE id <= 40")).toBe(0);
    expect(app.sql("SELECT * FROM fuel_archive ORDER BY id")).toEqual(fuel);
    await desk.reads("aside", /40 rows/);
    // A run that a control total holds back posts nothing, and is not forced from the list.
    type Saved = { id: string; name: string; spec: { subject?: { id: string } }; revision: number };
    const objects = async (kind: string) => (await (await app.fetch(`/api/objects?kind=${kind}`)).json()) as Saved[];
    const posting = (await objects("posting")).find((o) => o.name.startsWith("Old fuel"));
    const controls = [{ step: 0, figure: "source", compare: "atLeast", value: "1" }];
    const json = (method: string, body: object) => ({ method, headers: { "content-type": "application/json" }, body: JSON.stringify(body) });
    await app.fetch(`/api/objects/${posting?.id}`, json("PATCH", { spec: { ...posting?.spec, controls }, revision: posting?.revision }));
    await desk.click("Run now", `${item} button`);
    await desk.reads(item, "Rows in the source must be at least 1, but it is 0. Nothing was posted.");
    await desk.reads(item, "Open posting");
    const schedule = (await objects("schedule")).find((o) => o.spec.subject?.id === posting?.id);
    const { runs } = (await (await app.fetch("/api/schedules/state")).json()) as { runs: { id: string; state: string }[] };
    expect((await app.fetch(`/api/schedules/${schedule?.id}/send`, json("POST", { run: runs.find((r) => r.state === "held")?.id }))).status).toBe(409);
    expect(unexpected(desk)).toEqual([]);
  });
});

describe("a file that comes again", () => {
  const days = (name: string, rows: string[]): string => {
    const path = join(app.folder, name);
    writeFileSync(path, rows.join("\r\n"));
    return path;
  };
  const choose = async (desk: Desk, path: string) => {
    const input = await desk.page.waitForSelector(".popover input[type=file]");
    await (input as unknown as { uploadFile: (path: string) => Promise<void> }).uploadFile(path);
  };
  it("is read as the one before it was; one with other columns is refused, and nothing is lost", async () => {
    const first = days("ranks 1.csv", ["no;title", "901;Purser", "902;Cook"]);
    const kept = (await (
      await app.fetch(`/api/imports?name=ranks%201.csv&bytes=${readFileSync(first).length}`, {
        method: "POST",
        body: readFileSync(first),
        headers: { "content-type": "text/csv" },
      })
    ).json()) as { id: string };
    const desk = await app.page(`/tables/import/${kept.id}`);
    await desk.click("existing table (reviewed as a posting)", "label");
    await desk.choose("Existing table", "commodity");
    await desk.click("Prepare posting", "button");
    await desk.reads("section", "ranks 1.csv");
    await desk.click("ranks 1.csv", "section button");
    await choose(desk, days("ranks 2.csv", ["number;name", "903;Mate"]));
    await desk.reads(".popover", "“ranks 2.csv” has no column “no”, “title”. It has: “number”, “name”.");
    await choose(desk, days("ranks 3.csv", ["title;extra;no", "Mate;x;903"]));
    await desk.reads("section", "ranks 3.csv");
    mkdirSync(join(app.folder, "inbox"), { recursive: true });
    const newest = join(app.folder, "inbox", "ranks 12.csv");
    writeFileSync(newest, "no;title\r\n904;Greaser");
    utimesSync(newest, new Date("2026-10-01T00:00:00Z"), new Date("2026-10-01T00:00:00Z"));
    await desk.click("ranks 3.csv", "section button");
    await desk.click("Use newest file", ".popover button");
    await desk.reads("section", "ranks 12.csv");
    expect(unexpected(desk)).toEqual([]);
  });
});

describe("the journal", () => {
  it("is searched by a value, a table, a person and a day, and exported as it is found", async () => {
    const desk = await app.page("/postings");
    const listed = () => desk.page.$$eval("section[aria-label=Journal] tbody tr td:first-child", (cells) => cells.map((c) => c.textContent));
    const all = (await listed()).length;
    await desk.type("Find in journal", "BW-70001");
    await vi.waitFor(async () => expect((await listed()).length).toBe(2), { timeout: 25_000 });
    await desk.choose("Table", "fuel");
    await desk.reads("section", "No entry matches.");
    await desk.click("Clear filters");
    await vi.waitFor(async () => expect((await listed()).length).toBe(all), { timeout: 25_000 });
    await desk.choose("Table", "fuel");
    await vi.waitFor(async () => expect((await listed()).length).toBe(1), { timeout: 25_000 });
    const find = { table: "fuel", by: null, from: null, to: null, text: "" };
    const file = await app.fetch("/api/postings/journal/export", {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ find, what: "changes", name: "journal", format: "csv" }),
    });
    const lines = (await file.text()).trim().split("\r\n");
    expect(lines[0]).toBe("number,at,by,name,table,change,row,column,before,after");
    expect(lines.filter((l) => l.includes(",fuel,remove,1,")).length).toBeGreaterThan(3);
  });
});
