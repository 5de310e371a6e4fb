import { join } from "node:path";
import Database from "better-sqlite3";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { emptyPivot, newAxis } from "@/core/pivot/empty";
import { emptyQuery } from "@/core/query/empty";
import type { QuerySpec } from "@/core/query/spec";
import type { ScheduleSpec } from "@/core/schedule/spec";
import type { Person } from "@/server/catalogue/people";
import { controlsNow } from "@/server/services/desk/controls";
import { deskOf } from "@/server/services/desk/desk";
import { needsOf } from "@/server/services/desk/needs";
import { todayOf } from "@/server/services/desk/today";
import { noteVisit, openOnPage, pin, tableVisit } from "@/server/services/desk/visits";
import { closeWalk, walkOf, walkStep } from "@/server/services/desk/walk";
import type { Workspace } from "@/server/services/workspace/workspace";
import { makeDatabase, openLedger, temporaryFolder } from "../support/ledger";

/* The desk: each fault is made, stands there, its remedy mends it, it is gone. */

let place: ReturnType<typeof temporaryFolder>;
let ws: Workspace;
let file: string;
let clock: Date;
beforeEach(() => {
  place = temporaryFolder();
  clock = new Date("2026-11-20T05:00:00Z");
  file = makeDatabase(
    join(place.folder, "b.sqlite"),
    `CREATE TABLE sale (id INTEGER PRIMARY KEY, day DATE, amount DECIMAL(9,2));
    INSERT INTO sale VALUES (1, '2026-10-05', 10.10), (2, '2026-10-31', 20.20);`,
  );
  ws = openLedger(place.folder, file, () => clock);
  ws.catalogue.setSetting("locale", { locale: "en-GB", zone: "Europe/Paris" });
});
afterEach(() => {
  ws.close();
  place.remove();
});

const caller = { client: "test" };
const change = (script: string) => new Database(file).exec(script).close();
const field = (column: string) => ({ kind: "field" as const, join: "", column });
const sales: QuerySpec = { ...emptyQuery("sale"), columns: ["day", "amount"].map((id) => ({ id, value: field(id) })) };
const daily: ScheduleSpec = {
  version: 1,
  subject: { kind: "query", id: "q" },
  rule: { kind: "daily" },
  time: "07:00",
  zone: "Europe/Paris",
  since: "2026-11-01T00:00:00Z",
  bindings: {},
  formats: ["csv"],
  folder: "desk",
  paused: false,
};
const told = async (as = ws) => (await needsOf(as)).map((n) => n.need);

describe("what needs a look", () => {
  it("is nothing where nothing is wrong", async () => {
    ws.catalogue.create("query", "Sales", sales, "q");
    expect(await told()).toEqual([]);
  });
  it("is a run that was held back or failed, until it is sent or runs again", async () => {
    ws.catalogue.create("query", "Sales", sales, "q");
    ws.catalogue.create("schedule", "Daily sales", daily, "s");
    const run = ws.catalogue.runs.claim({ schedule: "s", dueAt: clock, late: false, manual: false });
    ws.catalogue.runs.update(run?.id ?? "", { state: "held", error: "Out by 1.00." });
    expect(await needsOf(ws)).toEqual([
      { need: "held", schedule: "s", run: run?.id, name: "Daily sales", words: "Out by 1.00.", subject: { kind: "query", id: "q" } },
    ]);
    ws.catalogue.runs.update(run?.id ?? "", { state: "queued", forced: true });
    expect(await told()).toEqual([]);
    ws.catalogue.runs.update(run?.id ?? "", { state: "failed", error: "No room." });
    expect(await told()).toEqual(["failed"]);
    clock = new Date("2026-11-21T06:00:00Z");
    const next = ws.catalogue.runs.claim({ schedule: "s", dueAt: clock, late: false, manual: true });
    ws.catalogue.runs.update(next?.id ?? "", { state: "done" });
    expect(await told(), "only the last run counts").toEqual([]);
  });
  it("is an object that a change broke, with how many use it, until it is mended", async () => {
    ws.catalogue.create("query", "Sales", sales, "q");
    ws.catalogue.create("pivot", "By day", { ...emptyPivot("q"), down: [newAxis("a", field("day"))] }, "p");
    expect(await told()).toEqual([]);
    change("ALTER TABLE sale RENAME COLUMN amount TO sum");
    expect(await needsOf(ws)).toMatchObject([{ need: "broken", kind: "query", id: "q", usedBy: 1, words: expect.stringContaining("no column “amount”") }]);
    const mended = { ...sales, columns: ["day", "sum"].map((id) => ({ id, value: field(id) })) };
    ws.catalogue.save("q", { spec: mended }, 1);
    expect(await told()).toEqual([]);
    // The pivot is told of once its query works and lacks its column; and once its query is deleted.
    ws.catalogue.save("q", { spec: { ...mended, columns: mended.columns.slice(1) } }, 2);
    expect(await needsOf(ws)).toMatchObject([{ need: "broken", kind: "pivot", id: "p" }]);
    ws.catalogue.remove("q");
    expect(await needsOf(ws)).toMatchObject([{ need: "broken", kind: "pivot", words: "The source query was deleted. Choose another query." }]);
  });
  it("is a link and a derived field that do not hold, values that do not fit, a draft, and a table without a key", async () => {
    change("CREATE TABLE place (code TEXT PRIMARY KEY); INSERT INTO place VALUES ('a')");
    const link = {
      version: 1,
      a: { table: "sale", columns: ["day"], name: "sales" },
      b: { table: "place", columns: ["code"], name: "place" },
      operators: ["is"],
    };
    ws.catalogue.create("link", "sale – place", link, "l");
    ws.catalogue.create("derived", "double", { version: 1, table: "sale", definition: { kind: "formula", text: "amount * 2" } }, "d");
    expect(await told()).toEqual([]);
    change(
      "DROP TABLE place; ALTER TABLE sale RENAME COLUMN amount TO sum; CREATE TABLE loose (a TEXT, day DATE); INSERT INTO loose VALUES ('x', '2026-01-01')",
    );
    expect((await told()).sort()).toEqual(["derived", "link", "noKey"]);
    for (const id of ["l", "d"]) ws.catalogue.remove(id);
    change("DROP TABLE loose");
    expect(await told()).toEqual([]);
    change("INSERT INTO sale SELECT id + 10, '2026-11-01', 1 FROM (SELECT 1 AS id UNION SELECT 2 UNION SELECT 3); UPDATE sale SET day = 'soon' WHERE id = 1");
    expect(await needsOf(ws)).toEqual([{ need: "flagged", table: "sale", name: "sale", column: "day", count: 1 }]);
    change("UPDATE sale SET day = '2026-11-02' WHERE id = 1");
    ws.catalogue.create("posting", "Manifest", {}, "draft");
    expect(await needsOf(ws)).toEqual([{ need: "draft", id: "draft", name: "Manifest" }]);
  });
});

describe("whose desk it is", () => {
  const person = async (login: string, role: Person["role"]) => ws.as(await ws.people.create({ login, name: login, role, password: null }));
  it("decides what is told: owners of all, analysts of what they may change, viewers of nothing", async () => {
    const owner = await person("ingrid", "owner");
    const analyst = await person("tomas", "analyst");
    const viewer = await person("una", "viewer");
    owner.objects.create("query", "Gone", { ...sales, source: "none" }, "q");
    expect([await told(owner), await told(analyst), await told(viewer)]).toEqual([["broken"], [], []]);
    ws.people.share("q", "", "see");
    expect(await told(analyst), "who may not change it cannot mend it").toEqual([]);
    ws.people.share("q", "", "edit");
    change("CREATE TABLE loose (a TEXT)");
    expect([await told(analyst), await told(viewer)]).toEqual([["broken", "noKey"], []]);
    expect((await deskOf(viewer)).recents).toMatchObject([{ id: "q", sharedBy: "ingrid" }]);
    expect((await deskOf(owner)).recents, "not what is one's own").toEqual([]);
    expect((await deskOf(viewer)).dashboards).toEqual([]);
  });
  it("goes on with what one pinned, then what one opened last, as far as it is there and for them", async () => {
    const owner = await person("ingrid", "owner");
    const analyst = await person("tomas", "analyst");
    for (const id of ["one", "two", "three"]) owner.objects.create("query", id, sales, id);
    const stamp = ws.catalogue.stamp();
    for (const id of ["one", "two"]) {
      clock = new Date(clock.getTime() + 1000);
      expect(openOnPage(owner, id, "query")?.id).toBe(id);
    }
    clock = new Date(clock.getTime() + 1000);
    noteVisit(owner, tableVisit("sale"));
    pin(owner, "three", true);
    expect(ws.catalogue.stamp(), "what is opened changes nothing that others read").toBe(stamp);
    const names = async (as: Workspace) => (await deskOf(as)).recents.map((r) => `${r.kind} ${r.name}${r.pinned ? " pinned" : ""}`);
    expect(await names(owner)).toEqual(["query three pinned", "table sale", "query two", "query one"]);
    expect(await names(analyst)).toEqual([]);
    expect(openOnPage(analyst, "one", "query"), "nor is what is not theirs noted").toBe(undefined);
    pin(owner, "three", false);
    ws.catalogue.remove("two");
    expect(await names(owner)).toEqual(expect.arrayContaining(["query three", "table sale", "query one"]));
    expect(await names(owner)).toHaveLength(3);
  });
});

describe("today", () => {
  it("has what ran and what will, by the workspace's clock and day", () => {
    ws.catalogue.create("query", "Sales", sales, "q");
    ws.catalogue.create("schedule", "Early", { ...daily, message: { to: ["a@example.org"], subject: "s", text: "", attach: false } }, "early");
    ws.catalogue.create("schedule", "Late", { ...daily, time: "23:30" }, "late");
    ws.catalogue.create("schedule", "Paused", { ...daily, paused: true }, "paused");
    // 23:30 in Paris is still this day; a run of the day before is not.
    clock = new Date("2026-11-20T07:00:00Z");
    const run = (iso: string) => ws.catalogue.runs.claim({ schedule: "early", dueAt: new Date(iso), late: false, manual: false })?.id ?? "";
    ws.catalogue.runs.update(run("2026-11-19T06:00:00Z"), { state: "failed" });
    ws.catalogue.runs.update(run("2026-11-20T06:00:00Z"), { state: "done", files: [{ path: "desk/a.csv", bytes: 3 }] });
    expect(todayOf(ws)).toEqual([
      { at: "2026-11-20T06:00:00.000Z", schedule: "early", name: "Early", state: "done", files: 1, addresses: 1, mailed: false },
      { at: "2026-11-20T22:30:00.000Z", schedule: "late", name: "Late", state: "planned", files: 0, addresses: 0, mailed: false },
    ]);
  });
});

it("control totals are compared with what the queries show now", async () => {
  const controls = [
    { id: "k1", source: "the bank", column: "amount", value: "30.30" },
    { id: "k2", source: "", column: null, value: "3" },
  ];
  ws.catalogue.create("query", "Sales", { ...sales, controls }, "q");
  ws.catalogue.create("query", "Broken", { ...sales, source: "none", controls }, "b");
  expect(await controlsNow(ws, caller)).toMatchObject([
    { query: "q", words: "the bank, amount", agrees: true },
    { query: "q", words: "Sales, rows", agrees: false, is: 2 },
  ]);
});

it("the demo's walk is shown in the demo alone, to those who build, until it is closed", async () => {
  expect(walkOf(ws)).toBe(null);
  ws.catalogue.setSetting("demo", true);
  walkStep(ws, "missing");
  expect(walkOf(ws)).toEqual(["missing"]);
  noteVisit(ws, "freight-by-shipper");
  expect(walkOf(ws)).toEqual(["open", "missing"]);
  const viewer = ws.as(
    await ws.people
      .create({ login: "una", name: "Una", role: "viewer", password: null })
      .catch(() => ws.people.create({ login: "o", name: "O", role: "owner", password: null })),
  );
  expect(walkOf(viewer)).toEqual(viewer.signedIn?.role === "viewer" ? null : []);
  closeWalk(ws);
  expect(walkOf(ws)).toBe(null);
});
