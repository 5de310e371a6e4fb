import { mkdirSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { strFromU8, unzipSync, zipSync } from "fflate";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { firstSchedule } from "@/core/schedule/first";
import type { Catalogue } from "@/server/catalogue/catalogue";
import type { People, Person } from "@/server/catalogue/people";
import type { Run } from "@/server/catalogue/runs";
import { allFiles } from "@/server/http/outboxFiles";
import { bareLedger } from "../../../../test/support/ledger";
import { keepFor, keepSchema, keptDays, removeOld } from "./keep";
import { makeMessage } from "./message";
import { outboxGroups, outboxPath } from "./outbox";
import { previewOf } from "./preview";

let bare: ReturnType<typeof bareLedger>;
let catalogue: Catalogue;
let people: People;
let now: Date;
beforeEach(() => {
  now = new Date("2026-11-23T08:00:00Z");
  bare = bareLedger(() => now);
  ({ catalogue, people } = bare);
});
afterEach(() => bare.close());
const ledger = (person: Person | null = null) => bare.as(person);

const DAY = 86_400_000;
const lay = (path: string, content: string | Uint8Array = path): string => {
  const at = join(bare.folder, "outbox", path);
  mkdirSync(dirname(at), { recursive: true });
  writeFileSync(at, content);
  return at;
};

/** A run of a schedule so many days ago, with its files laid out. */
function ran(schedule: string, daysAgo: number, names: string[], change: Partial<Run> = {}): Run {
  const dueAt = new Date(now.getTime() - daysAgo * DAY);
  const run = catalogue.runs.claim({ schedule, dueAt, late: false, manual: false });
  if (!run) throw new Error("the run was claimed before");
  for (const name of names) lay(name);
  catalogue.runs.update(run.id, { state: "done", finishedAt: dueAt, files: names.map((path) => ({ path, bytes: 1 })), ...change });
  return run;
}
const schedule = (name: string, owner: string | null = null) =>
  catalogue.create("schedule", name, firstSchedule({ kind: "report", id: "statement" }, "UTC", now), name, owner);

describe("the groups of the outbox", () => {
  it("are the runs that made the files, the latest first, with what made them and whose it is; then files of no run", async () => {
    const ada = await people.create({ name: "Ada", login: "ada", role: "analyst", password: "a long enough one" });
    catalogue.create("report", "Statement", {}, "statement");
    schedule("daily", ada.id);
    ran("daily", 2, ["desk/old.pdf"]);
    ran("daily", 1, ["desk/new.pdf", "desk/new.csv"], { rows: 12, pages: 3, controls: [{ source: "the agent", figure: "freight", value: "12.00" }] });
    lay("by hand.txt");
    lay("desk/half.csv.part");
    const groups = outboxGroups(ledger());
    expect(groups.map((g) => g.files.map((f) => f.path))).toEqual([["desk/new.pdf", "desk/new.csv"], ["desk/old.pdf"], ["by hand.txt"]]);
    expect(groups[0]?.maker).toMatchObject({
      schedule: "daily",
      owner: "Ada",
      subject: { kind: "report", id: "statement", name: "Statement" },
      dueAt: "2026-11-22T08:00:00.000Z",
      rows: 12,
      pages: 3,
      controls: [{ source: "the agent", figure: "freight", value: "12.00" }],
      message: "none",
    });
    expect(groups[2]?.maker).toBeNull();
  });
  it("say what became of a message", () => {
    schedule("daily");
    ran("daily", 3, ["a.eml"], { sentAt: now });
    ran("daily", 2, ["b.eml"]);
    ran("daily", 1, ["c.eml"], { state: "failed" });
    expect(outboxGroups(ledger()).map((g) => g.maker?.message)).toEqual(["refused", "noServer", "sent"]);
  });
  it("show only what schedules made that one may see; owners see all", async () => {
    const ada = await people.create({ name: "Ada", login: "ada", role: "analyst", password: "a long enough one" });
    const bo = await people.create({ name: "Bo", login: "bo", role: "analyst", password: "a long enough one" });
    schedule("of Ada", ada.id);
    ran("of Ada", 1, ["ada.csv"]);
    lay("loose.csv");
    const seen = (person: Person | null) => outboxGroups(ledger(person)).flatMap((g) => g.files.map((f) => f.path));
    expect([seen(ada), seen(bo), seen(null)]).toEqual([["ada.csv"], [], ["ada.csv", "loose.csv"]]);
    expect([outboxPath(ledger(ada), "ada.csv") !== null, outboxPath(ledger(bo), "ada.csv"), outboxPath(ledger(), "../catalogue.sqlite")]).toEqual([
      true,
      null,
      null,
    ]);
    await expect(allFiles(ledger(bo), null)).rejects.toThrow("no longer in the outbox");
  });
});

it("all files, or those of one run, come in one archive, byte for byte, in their folders", async () => {
  schedule("daily");
  const run = ran("daily", 1, ["desk/a.csv", "desk/b.pdf"]);
  ran("daily", 2, ["c.csv"]);
  const large = new Uint8Array(3_000_000).map((_, i) => (i * 7919) % 251);
  lay("desk/a.csv", large);
  const inside = async (of: string | null) => unzipSync(new Uint8Array(await (await allFiles(ledger(), of)).arrayBuffer()));
  const some = await inside(run.id);
  expect(Object.keys(some).sort()).toEqual(["desk/a.csv", "desk/b.pdf"]);
  expect(Buffer.compare(Buffer.from(some["desk/a.csv"] ?? []), Buffer.from(large))).toBe(0);
  expect(strFromU8(some["desk/b.pdf"] ?? new Uint8Array())).toBe("desk/b.pdf");
  expect(Object.keys(await inside(null)).sort()).toEqual(["c.csv", "desk/a.csv", "desk/b.pdf"]);
  await expect(allFiles(ledger(), "no such run")).rejects.toThrow("no longer in the outbox");
});

describe("how long files are kept", () => {
  it("is for good until it is said; then files older than that go, to the instant, and their runs say so", () => {
    schedule("daily");
    const old = ran("daily", 31, ["old.csv"]);
    const edge = ran("daily", 30, ["edge.csv"]);
    const young = ran("daily", 29, ["young.csv"]);
    const ws = ledger();
    removeOld(ws);
    expect(keptDays(ws)).toBeNull();
    expect(outboxGroups(ws)).toHaveLength(3);
    keepFor(ws, 30);
    expect(keptDays(ws)).toBe(30);
    expect(outboxGroups(ws).map((g) => g.maker?.run)).toEqual([young.id, edge.id]);
    const kept = catalogue.runs.of("daily").find((r) => r.id === old.id);
    expect([kept?.files, kept?.removedAt, kept?.state]).toEqual([null, now, "done"]);
    now = new Date(now.getTime() + 1);
    removeOld(ws);
    expect(outboxGroups(ws).map((g) => g.maker?.run)).toEqual([young.id]);
    keepFor(ws, null);
    now = new Date(now.getTime() + 900 * DAY);
    removeOld(ws);
    expect([keptDays(ws), outboxGroups(ws).length]).toEqual([null, 1]);
    expect(people.logLines().map((l) => [l.action, l.about])).toEqual([
      ["set how long the outbox keeps files", "for good"],
      ["set how long the outbox keeps files", "30 days"],
    ]);
  });
  it("leaves alone what a run is still making, and files of no run", () => {
    schedule("daily");
    ran("daily", 99, ["being made.csv"], { state: "running", finishedAt: null });
    lay("by hand.txt");
    keepFor(ledger(), 7);
    expect(outboxGroups(ledger()).flatMap((g) => g.files.map((f) => f.path))).toEqual(["being made.csv", "by hand.txt"]);
    expect(keepSchema.safeParse({ days: 1 }).success).toBe(false);
  });
});

describe("previews", () => {
  it("show the first rows, and say where there are more", async () => {
    const lines = (rows: number) => ["mark,price", ...Array.from({ length: rows }, (_, i) => `"a, ${i}",${i}.50`)].join("\r\n");
    expect(await previewOf(lay("a.csv", lines(2)))).toEqual({
      kind: "rows",
      heading: ["mark", "price"],
      rows: [
        ["a, 0", "0.50"],
        ["a, 1", "1.50"],
      ],
      more: false,
    });
    const sizes = [50, 51, 5000].map((rows) => previewOf(lay(`${rows}.csv`, lines(rows))));
    expect((await Promise.all(sizes)).map((p) => p.kind === "rows" && [p.rows.length, p.more])).toEqual([
      [50, false],
      [50, true],
      [50, true],
    ]);
    const rows = { kind: "rows", heading: ["a", "b"], rows: [["1", "x;y"]], more: false };
    expect(await previewOf(lay("a.json", '[{"a":1,"b":"x;y"}]'))).toEqual(rows);
    expect(await previewOf(lay("a.ndjson", '{"a":1,"b":"x;y"}\n'))).toEqual(rows);
    expect(await previewOf(lay("b.csv", "a,b\n1,x;y\n"))).toEqual(rows);
    expect(await previewOf(lay("empty.csv", ""))).toEqual({ kind: "rows", heading: [], rows: [], more: false });
  });
  it("name the files of an archive, read a message, and leave pages and pictures to the browser", async () => {
    const archive = zipSync({ "a.pdf": new Uint8Array(3), "b.pdf": new Uint8Array(3) });
    expect(await previewOf(lay("letters.zip", archive))).toEqual({ kind: "names", names: ["a.pdf", "b.pdf"], more: false });
    const many = zipSync(Object.fromEntries(Array.from({ length: 201 }, (_, i) => [`${i}.pdf`, new Uint8Array(1)])));
    expect(await previewOf(lay("many.zip", many))).toMatchObject({ kind: "names", more: true });
    const { content } = await makeMessage(
      ledger(),
      { to: ["a@example.org"], subject: "Freight", text: "Herewith {rows}", attach: true },
      { rows: "3" },
      [],
      "m",
    );
    expect(await previewOf(lay("m.eml", content))).toMatchObject({
      kind: "message",
      message: { subject: "Freight", to: ["a@example.org"], text: "Herewith 3\n" },
    });
    expect(await Promise.all(["a.pdf", "a.png", "a.exe"].map((name) => previewOf(lay(name))))).toEqual([
      { kind: "pages" },
      { kind: "picture" },
      { kind: "none", why: "unknown" },
    ]);
  });
  it("are refused for what would have to be read whole and is too large", async () => {
    const large = new Uint8Array(10_000_001);
    expect(await Promise.all(["a.json", "a.xlsx", "a.eml"].map((name) => previewOf(lay(name, large))))).toEqual(
      Array.from({ length: 3 }, () => ({ kind: "none", why: "large" })),
    );
  });
});
