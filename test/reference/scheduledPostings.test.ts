import { mkdirSync, readdirSync, readFileSync, utimesSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { PostingSpec } from "@/core/posting/spec";
import { emptyQuery } from "@/core/query/empty";
import type { ScheduleSpec } from "@/core/schedule/spec";
import { importOf, keepFile } from "@/server/services/import/service";
import { reverseOf } from "@/server/services/posting/service";
import { Scheduler } from "@/server/services/scheduler/scheduler";
import type { Workspace } from "@/server/services/workspace/workspace";
import { makeDatabase, openLedger, temporaryFolder } from "../support/ledger";

/* Postings that schedules make: an archive of what has grown old, and files that come again. */

const caller = { client: "test" };
let place: ReturnType<typeof temporaryFolder>;
let clock: Date;
let ws: Workspace;
beforeEach(() => {
  place = temporaryFolder();
  clock = new Date("2026-11-20T05:00:00Z");
  const file = join(place.folder, "b.sqlite");
  makeDatabase(
    file,
    `CREATE TABLE sale (id INTEGER PRIMARY KEY, day DATE, amount DECIMAL(9,2), place TEXT);
    INSERT INTO sale VALUES (1, '2023-10-05', 10.10, 'Pell'), (2, '2023-10-31', 20.20, 'Mirrin'), (3, '2026-11-01', 40.40, 'Pell');
    CREATE TABLE sale_archive (id INTEGER PRIMARY KEY, day DATE, amount DECIMAL(9,2), place TEXT);`,
  );
  ws = openLedger(place.folder, file, () => clock);
});
afterEach(() => {
  ws.close();
  place.remove();
});

const field = (column: string, name = column) => ({ column, value: { kind: "field" as const, name } });
const scheduled = (change: Partial<ScheduleSpec> = {}): ScheduleSpec => ({
  version: 1,
  subject: { kind: "posting", id: "p" },
  rule: { kind: "daily" },
  time: "07:00",
  zone: "UTC",
  since: "2026-11-20T00:00:00Z",
  bindings: {},
  formats: ["csv"],
  folder: "postings",
  paused: false,
  ...change,
});
/** Runs what is due at seven on a day. @returns how that run ended */
async function runOn(day: string) {
  clock = new Date(`${day}T07:00:01Z`);
  await new Scheduler(ws).tick();
  const [run] = ws.catalogue.runs.all();
  return { state: run?.state, rows: run?.rows, error: run?.error ?? null, files: run?.files?.map((f) => f.path) ?? [] };
}
const rowsIn = async (table: string) => (await ws.schema()) && ids(table);
async function ids(table: string): Promise<number[]> {
  const { default: Database } = await import("better-sqlite3");
  const db = new Database(ws.database, { readonly: true });
  const found = db.prepare(`SELECT id FROM ${table} ORDER BY id`).pluck().all() as number[];
  db.close();
  return found;
}
const saved = (name: string) => readFileSync(join(place.folder, "outbox", name), "utf8");

describe("an archive that a schedule runs", () => {
  const old = {
    ...emptyQuery("sale"),
    columns: ["day", "amount", "place"].map((c) => ({ id: c, value: { kind: "field" as const, join: "", column: c } })),
    conditions: [
      {
        id: "w",
        left: { kind: "field" as const, join: "", column: "day" },
        operator: "less" as const,
        values: [{ kind: "parameter" as const, name: "limit" }],
      },
    ],
    parameters: [{ name: "limit", type: "date" as const }],
  };
  const archive: PostingSpec = {
    version: 1,
    source: { kind: "query", id: "q", values: {} },
    action: "move",
    target: "sale_archive",
    same: ["id"],
    present: "leave",
    breaking: "refuse",
    pairs: [field("id", "Id"), field("day", "Day"), field("amount", "Amount"), field("place", "Place")],
  };
  const fill = (posting: Partial<PostingSpec> = {}, schedule: Partial<ScheduleSpec> = {}) => {
    ws.catalogue.create("query", "Old sales", old, "q");
    ws.catalogue.create("posting", "Archive", { ...archive, ...posting }, "p");
    ws.catalogue.create("schedule", "Archive", scheduled({ bindings: { limit: { kind: "fixed", text: "2024-01-01" } }, ...schedule }), "s");
  };

  it("moves what its query finds, says what became of each row, and finds nothing to move the day after", async () => {
    fill();
    expect(await runOn("2026-11-20")).toEqual({ state: "done", rows: 2, error: null, files: ["postings/Archive 2026-11-20 0700.csv"] });
    expect([await rowsIn("sale"), await rowsIn("sale_archive")]).toEqual([[3], [1, 2]]);
    expect(saved("postings/Archive 2026-11-20 0700.csv")).toBe(
      "table,row,outcome,reason,id,day,amount,place\r\nsale archive,1,move,,1,2023-10-05,10.10,Pell\r\nsale archive,2,move,,2,2023-10-31,20.20,Mirrin\r\n",
    );
    expect(await runOn("2026-11-21")).toMatchObject({ state: "done", rows: 0 });
    await reverseOf(ws, 1, false, null, caller);
    expect([await rowsIn("sale"), await rowsIn("sale_archive")]).toEqual([[1, 2, 3], []]);
  });
  it("is held by a control total that does not agree, and nothing is moved", async () => {
    fill({ controls: [{ step: 0, figure: "move", compare: "atMost", value: "1" }] });
    expect(await runOn("2026-11-20")).toEqual({
      state: "held",
      rows: null,
      error: "Rows moved must be at most 1, but it is 2. Nothing was posted.",
      files: [],
    });
    expect([await rowsIn("sale"), await rowsIn("sale_archive")]).toEqual([[1, 2, 3], []]);
  });
  it("is held by a control total of the query its rows come from", async () => {
    fill();
    ws.catalogue.save("q", { spec: { ...old, controls: [{ id: "k", source: "the ledger", column: null, value: "3" }] } }, 1);
    expect((await runOn("2026-11-20")).state).toBe("held");
    expect(await rowsIn("sale_archive")).toEqual([]);
  });
  it("is not made by somebody who may not change rows any more", async () => {
    fill();
    const author = await ws.people.create({ login: "a", name: "A", role: "viewer", knownAs: "", password: "a long password" });
    ws.catalogue.give("s", author.id);
    const run = await runOn("2026-11-20");
    expect(run).toMatchObject({ state: "failed", error: expect.stringContaining("may not change rows any more") });
    expect(await rowsIn("sale_archive")).toEqual([]);
  });
});

describe("a file that comes again", () => {
  const inbox = () => {
    const folder = join(place.folder, "inbox");
    mkdirSync(folder, { recursive: true });
    return folder;
  };
  const put = (name: string, content: string, at: string) => {
    writeFileSync(join(inbox(), name), content);
    utimesSync(join(inbox(), name), new Date(at), new Date(at));
  };
  /** A file that a person imports into a posting, which is then to take the newest one of the inbox. */
  async function fill(posting: Partial<PostingSpec> = {}, like = "sales-*.csv"): Promise<void> {
    const content = "No;When;Fee;Remark\n10;19/11/2026;1,50;x\n";
    const file = await keepFile(ws, { name: "sales-19.csv", bytes: content.length }, new Response(content).body);
    const columns = [
      { name: "No", type: { kind: "whole" as const }, dates: "ymd" as const, left: false },
      { name: "When", type: { kind: "date" as const }, dates: "dmy" as const, left: false },
      { name: "Fee", type: { kind: "decimal" as const, scale: 2 }, dates: "ymd" as const, left: false },
      { name: "Remark", type: { kind: "text" as const }, dates: "ymd" as const, left: true },
    ];
    const format = { kind: "delimited" as const, delimiter: ";", quote: '"' as const, encoding: "utf-8" as const, heading: true, comma: true };
    await importOf(ws, file.id, { format, columns, misfits: "keep", into: { kind: "posting", target: "sale" } }, caller);
    const spec: PostingSpec = {
      version: 1,
      source: { kind: "inbox", like, as: file.id },
      action: "add",
      target: "sale",
      same: ["id"],
      present: "leave",
      breaking: "refuse",
      pairs: [field("id", "No"), field("day", "When"), field("amount", "Fee")],
      ...posting,
    };
    ws.catalogue.create("posting", "Sales", spec, "p");
    ws.catalogue.create("schedule", "Sales", scheduled(), "s");
  }

  it("is read as the one before it was, its columns found by their headings; the newest one counts", async () => {
    await fill({}, "sales-*");
    put("sales-18.csv", "No;When;Fee\n11;18/11/2026;9,99\n", "2026-11-18T00:00:00Z");
    put("sales-20.csv", "Fee;Extra;No;When\n2,50;?;12;20/11/2026\nmuch;?;13;20/11/2026\n", "2026-11-20T00:00:00Z");
    put("sales-21.csv.part", "No", "2026-11-20T01:00:00Z");
    put("other.csv", "No", "2026-11-20T02:00:00Z");
    expect(await runOn("2026-11-20")).toMatchObject({ state: "done", rows: 1, error: null });
    expect(saved("postings/Sales 2026-11-20 0700.csv")).toContain("sale,2,refused,");
    expect(await rowsIn("sale")).toEqual([1, 2, 3, 12]);
    const { default: Database } = await import("better-sqlite3");
    const db = new Database(ws.database, { readonly: true });
    expect(db.prepare("SELECT day, amount FROM sale WHERE id = 12").get()).toEqual({ day: "2026-11-20", amount: 2.5 });
    db.close();
  });
  it("that is yesterday's is not posted again, not even where its posting was reversed", async () => {
    await fill({ same: [], present: "add" });
    put("sales-20.csv", "No;When;Fee\n12;20/11/2026;2,50\n", "2026-11-20T00:00:00Z");
    expect((await runOn("2026-11-20")).state).toBe("done");
    const again = await runOn("2026-11-21");
    expect(again).toMatchObject({
      state: "held",
      error: expect.stringMatching(/^The very same rows were posted as #1 on .*2026\. No new rows have come since/),
    });
    await reverseOf(ws, 1, false, null, caller);
    expect((await runOn("2026-11-22")).error).toContain(", which #2 reversed.");
    expect(await rowsIn("sale")).toEqual([1, 2, 3]);
    put("sales-23.csv", "No;When;Fee\n14;23/11/2026;2,50\n", "2026-11-23T00:00:00Z");
    expect((await runOn("2026-11-23")).state).toBe("done");
    expect(await rowsIn("sale")).toEqual([1, 2, 3, 14]);
  });
  it("that is missing, or has other columns, stops the run with what is there", async () => {
    await fill();
    expect(await runOn("2026-11-20")).toMatchObject({ state: "failed", error: "No file named like “sales-*.csv” is in the inbox. It is empty." });
    put("Other.csv", "x", "2026-11-20T00:00:00Z");
    expect((await runOn("2026-11-21")).error).toBe("No file named like “sales-*.csv” is in the inbox. It has: “Other.csv”.");
    put("SALES-22.CSV", "No;Amount\n1;2\n", "2026-11-22T00:00:00Z");
    expect((await runOn("2026-11-22")).error).toBe("“SALES-22.CSV” has no column “When”, “Fee”. It has: “No”, “Amount”. Nothing was posted.");
    expect(readdirSync(inbox()).length).toBe(2);
    expect(await rowsIn("sale")).toEqual([1, 2, 3]);
  });
});
