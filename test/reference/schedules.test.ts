import { execFileSync } from "node:child_process";
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { newChart } from "@/core/chart/newChart";
import type { PlainTile } from "@/core/dashboard/spec";
import { emptyDashboard } from "@/core/dashboard/tiles";
import { emptyPivot, newAxis } from "@/core/pivot/empty";
import { emptyQuery } from "@/core/query/empty";
import { newLevel } from "@/core/report/plan";
import type { ReportSpec } from "@/core/report/spec";
import { type ScheduleSpec, scheduleSpecSchema } from "@/core/schedule/spec";
import type { Job } from "@/server/engine/protocol";
import { Scheduler } from "@/server/services/scheduler/scheduler";
import type { Workspace } from "@/server/services/workspace/workspace";
import { JobFailure } from "@/server/source/failures";
import { makeDatabase, openLedger, temporaryFolder } from "../support/ledger";

let place: ReturnType<typeof temporaryFolder>;
let clock: Date;
const opened: Workspace[] = [];
beforeEach(() => {
  place = temporaryFolder();
  clock = new Date("2026-11-20T05:00:00Z");
  makeDatabase(
    join(place.folder, "b.sqlite"),
    `CREATE TABLE sale (id INTEGER PRIMARY KEY, day DATE, amount DECIMAL(9,2), place TEXT);
    INSERT INTO sale VALUES (1, '2026-10-05', 10.10, 'Pell'), (2, '2026-10-31', 20.20, 'Mirrin'), (3, '2026-11-01', 40.40, 'Pell'), (4, '2026-11-19', 80.80, 'Pell');`,
  );
});
afterEach(() => {
  for (const ws of opened.splice(0)) ws.close();
  place.remove();
});

const open = () => {
  const ws = openLedger(place.folder, join(place.folder, "b.sqlite"), () => clock);
  opened.push(ws);
  return ws;
};
const field = (column: string) => ({ kind: "field" as const, join: "", column });
const query = {
  ...emptyQuery("sale"),
  columns: [
    { id: "day", value: field("day") },
    { id: "place", value: field("place") },
    { id: "amount", value: field("amount") },
  ],
  conditions: [
    {
      id: "w",
      left: field("day"),
      operator: "between" as const,
      values: [
        { kind: "parameter" as const, name: "start" },
        { kind: "parameter" as const, name: "end" },
      ],
    },
  ],
  parameters: [
    { name: "start", type: "date" as const },
    { name: "end", type: "date" as const },
  ],
};
const report: ReportSpec = {
  version: 2,
  query: "q",
  title: "Sales by place",
  showBrief: true,
  levels: [{ ...newLevel("place"), heading: "At {}", keepRows: 1 }],
  columns: ["day", "amount"].map((id) => ({ id, value: { kind: "field", column: id }, widthMm: null })),
  lines: [{ id: "footing", text: "", cells: { amount: { kind: "figure", figure: "total" } } }],
  shape: { kind: "table" },
  page: { paper: "A4", landscape: false, margins: { top: 16, right: 16, bottom: 16, left: 16 } },
  header: { left: "", center: "", right: "" },
  footer: { left: "{printed}", center: "", right: "page {page} of {pages}" },
  parameters: {},
};
const schedule = (change: Partial<ScheduleSpec> = {}): ScheduleSpec => ({
  version: 1,
  subject: { kind: "report", id: "r" },
  rule: { kind: "workingDays" },
  time: "07:00",
  zone: "Europe/Paris",
  since: "2026-11-20T00:00:00Z",
  bindings: { start: { kind: "relative", date: "firstOfLastMonth" }, end: { kind: "relative", date: "lastOfLastMonth" } },
  formats: ["pdf", "csv"],
  folder: "desk",
  paused: false,
  ...change,
});
function fill(ws: Workspace, change: Partial<ScheduleSpec> = {}): void {
  ws.catalogue.create("query", "Sales", query, "q");
  ws.catalogue.create("report", "Sales by place", report, "r");
  ws.catalogue.create("schedule", "Sales", schedule(change), "s");
}
const at = (iso: string) => {
  clock = new Date(iso);
};
const files = () => (existsSync(join(place.folder, "outbox/desk")) ? readdirSync(join(place.folder, "outbox/desk")).sort() : []);

describe("schedules, on a clock that the test moves", () => {
  it("make nothing before they are due, each due time once, and bind periods to the day of the run", async () => {
    const ws = open();
    fill(ws);
    const scheduler = new Scheduler(ws);
    await scheduler.tick();
    expect(files()).toEqual([]);
    at("2026-11-20T06:00:05Z");
    await scheduler.tick();
    await scheduler.tick();
    expect(files()).toEqual(["Sales 2026-11-20 0700.csv", "Sales 2026-11-20 0700.pdf"]);
    expect(readFileSync(join(place.folder, "outbox/desk", "Sales 2026-11-20 0700.csv"), "utf8")).toBe(
      // The columns of the pages: the group's, then those that are printed.
      "Place,Day,Amount\r\nMirrin,2026-10-31,20.20\r\nPell,2026-10-05,10.10\r\n",
    );
    expect(ws.catalogue.runs.all()).toMatchObject([{ state: "done", rows: 2, pages: 1, late: false, attempt: 1 }]);
    const pdf = readFileSync(join(place.folder, "outbox/desk", "Sales 2026-11-20 0700.pdf"));
    expect(pdf.subarray(0, 8).toString()).toBe("%PDF-1.7");
  });

  it("take pivots and charts too, about the period of the run", async () => {
    const ws = open();
    fill(ws);
    const pivot = {
      ...emptyPivot("q"),
      down: [newAxis("place", field("place"))],
      across: [newAxis("month", { ...field("day"), part: "month" as const })],
      figures: [{ id: "f", value: field("amount"), figure: "total" as const, showAs: "asIs" as const }],
    };
    ws.catalogue.create("pivot", "Places", pivot, "pv");
    ws.catalogue.create("chart", "Places drawn", newChart({ ...pivot, across: pivot.down, down: [] }, "bars"), "ch");
    ws.catalogue.create("schedule", "Places", schedule({ subject: { kind: "pivot", id: "pv" }, formats: ["csv", "xlsx", "pdf"] }), "p");
    ws.catalogue.create("schedule", "Drawn", schedule({ subject: { kind: "chart", id: "ch" }, formats: ["pdf", "png", "csv"] }), "c");
    at("2026-11-20T06:00:05Z");
    await new Scheduler(ws).tick();
    expect(ws.catalogue.runs.all().map((r) => [r.state, r.error])).toEqual([1, 2, 3].map(() => ["done", null]));
    const made = (name: string) => readFileSync(join(place.folder, "outbox/desk", name));
    expect(made("Places 2026-11-20 0700.csv").toString()).toBe(
      "Place,Oct 2026,All months\r\nMirrin,20.20,20.20\r\nPell,10.10,10.10\r\nAll places,30.30,30.30\r\n",
    );
    expect(made("Drawn 2026-11-20 0700.png").subarray(1, 4).toString()).toBe("PNG");
    expect(made("Places 2026-11-20 0700.xlsx").subarray(0, 2).toString()).toBe("PK");
    expect(made("Drawn 2026-11-20 0700.pdf").subarray(0, 5).toString()).toBe("%PDF-");
    // Its shape refuses a file that a chart cannot be made into.
    expect(scheduleSpecSchema.safeParse(schedule({ subject: { kind: "chart", id: "ch" }, formats: ["xlsx"] })).success).toBe(false);
  });

  it("hold a run whose query does not agree with its control totals, and send it all the same when told to", async () => {
    const ws = open();
    fill(ws);
    const saved = ws.catalogue.get("q");
    const controls = [
      { id: "k1", source: "the bank", column: "amount", value: "30.30" },
      { id: "k2", source: "the ledger", column: null, value: "3" },
    ];
    ws.catalogue.save("q", { spec: { ...query, controls } }, saved?.revision ?? 1);
    const scheduler = new Scheduler(ws);
    at("2026-11-20T06:00:05Z");
    await scheduler.tick();
    expect(files()).toEqual([]);
    const [held] = ws.catalogue.runs.all();
    expect(held).toMatchObject({ state: "held", error: "The control total of the ledger for rows is 3; the query shows 2: (1) out." });
    await scheduler.tick();
    expect(ws.catalogue.runs.all(), "it is not tried again by itself").toMatchObject([{ state: "held" }]);
    ws.catalogue.runs.update(held?.id ?? "", { state: "queued", forced: true, attempt: 0, error: null });
    await scheduler.tick();
    expect(ws.catalogue.runs.all()).toMatchObject([{ state: "done", forced: true }]);
    expect(files()).toHaveLength(2);
    // Once they agree, nothing is held.
    ws.catalogue.save("q", { spec: { ...query, controls: controls.slice(0, 1) } }, (saved?.revision ?? 1) + 1);
    at("2026-11-23T06:00:05Z");
    await scheduler.tick();
    expect(
      ws.catalogue.runs
        .all()
        .map((r) => r.state)
        .sort(),
    ).toEqual(["done", "done"]);
  });

  it("hold a dashboard, and a report, for a query of any of their parts", async () => {
    const ws = open();
    fill(ws);
    const all = { ...emptyQuery("sale"), columns: query.columns, controls: [{ id: "k", source: "the bank", column: "amount", value: "151.49" }] };
    ws.catalogue.create("query", "All sales", all, "all");
    const count = { id: "n", value: null, figure: "count" as const, showAs: "asIs" as const };
    const titled = { title: "Sales", note: "", query: "all" };
    const figure: PlainTile = { ...titled, id: "t1", kind: "figure", figure: count, compare: null, lessIsBetter: false };
    const place = { tile: "t1", x: 0, y: 0, w: 4, h: 4 };
    ws.catalogue.create("dashboard", "Board", { ...emptyDashboard(), tiles: [figure], wide: [place], narrow: ["t1"] }, "board");
    ws.catalogue.create("pivot", "Counted", { ...emptyPivot("all"), figures: [count] }, "counted");
    ws.catalogue.create("report", "With a pivot", { ...report, closing: [{ kind: "pivot", id: "counted" }] }, "r2");
    ws.catalogue.create("schedule", "Boards", schedule({ subject: { kind: "dashboard", id: "board" }, bindings: {}, formats: ["pdf"] }), "boards");
    ws.catalogue.create("schedule", "Reports", schedule({ subject: { kind: "report", id: "r2" }, formats: ["pdf"] }), "reports");
    at("2026-11-20T06:00:05Z");
    const scheduler = new Scheduler(ws);
    await scheduler.tick();
    const states = () => Object.fromEntries(ws.catalogue.runs.all().map((r) => [r.schedule, [r.state, r.error]]));
    const words = "The control total of the bank for Amount is 151.49; the query shows 151.50: 0.01 out.";
    expect(states()).toMatchObject({ boards: ["held", words], reports: ["held", `“All sales”: ${words}`] });
    // Once they agree, nothing is held.
    ws.catalogue.save("all", { spec: { ...all, controls: [{ ...all.controls[0], value: "151.50" }] } }, ws.catalogue.get("all")?.revision ?? 1);
    for (const run of ws.catalogue.runs.all()) if (run.state === "held") ws.catalogue.runs.update(run.id, { state: "queued", attempt: 0, error: null });
    await scheduler.tick();
    expect(states()).toMatchObject({ boards: ["done", null], reports: ["done", null] });
  });

  it("make a run missed while off once, marked late; a paused one not at all", async () => {
    const ws = open();
    fill(ws);
    ws.catalogue.create("schedule", "Paused", schedule({ paused: true }), "p");
    at("2026-11-27T12:00:00Z");
    await new Scheduler(ws).tick();
    expect(ws.catalogue.runs.all().map((r) => [r.schedule, r.dueAt.toISOString(), r.late, r.state])).toEqual([["s", "2026-11-27T06:00:00.000Z", true, "done"]]);
    at("2026-11-30T05:59:50Z");
    await new Scheduler(ws).tick();
    at("2026-11-30T06:00:10Z");
    await new Scheduler(ws).tick();
    expect(ws.catalogue.runs.all(), "another scheduler waits for the lease").toHaveLength(1);
    at("2026-11-30T06:00:50Z");
    await new Scheduler(ws).tick();
    expect(ws.catalogue.runs.all()).toHaveLength(2);
  });

  it("make a run again that a process died over, with no half file left", async () => {
    const ws = open();
    fill(ws);
    at("2026-11-20T06:00:05Z");
    const run = ws.catalogue.runs.claim({ schedule: "s", dueAt: new Date("2026-11-20T06:00:00Z"), late: false, manual: false });
    ws.catalogue.runs.update(run?.id ?? "", { attempt: 1 });
    mkdirSync(join(place.folder, "tmp"), { recursive: true });
    writeFileSync(join(place.folder, "tmp", `run-${run?.id}.pdf.part`), "half");
    await new Scheduler(ws).tick();
    expect(ws.catalogue.runs.all()).toMatchObject([{ state: "done", attempt: 2 }]);
    expect([files().length, readdirSync(join(place.folder, "tmp"))]).toEqual([2, []]);
  });

  it("of one name, folder and time have files of their own", async () => {
    const ws = open();
    fill(ws);
    ws.catalogue.create(
      "schedule",
      "Sales",
      schedule({ bindings: { start: { kind: "fixed", text: "2026-11-01" }, end: { kind: "fixed", text: "2026-11-30" } } }),
      "s2",
    );
    at("2026-11-20T06:00:05Z");
    await new Scheduler(ws).tick();
    const made = ws.catalogue.runs.all().flatMap((r) => (r.files ?? []).map((f) => f.path.replace("desk/", "")));
    expect([...made].sort()).toEqual(files());
    expect(new Set(made).size).toBe(4);
    const amounts = files().flatMap((f) => (f.endsWith(".csv") ? [readFileSync(join(place.folder, "outbox/desk", f), "utf8").match(/\d+\.\d+/g)] : []));
    expect(amounts).toEqual(
      expect.arrayContaining([
        ["20.20", "10.10"],
        ["40.40", "80.80"],
      ]),
    );
  });

  it("are tried again, later, where a process of the engine ended, and fail after the last try", async () => {
    const ws = open();
    fill(ws);
    const real = ws.engine.run.bind(ws.engine) as typeof ws.engine.run;
    let failures = 1;
    ws.engine.run = ((job: Job, options: never) =>
      job.kind === "reportFile" && failures-- > 0 ? Promise.reject(new JobFailure("crashed")) : real(job as never, options)) as typeof ws.engine.run;
    const scheduler = new Scheduler(ws);
    at("2026-11-20T06:00:05Z");
    await scheduler.tick();
    expect(ws.catalogue.runs.all()).toMatchObject([{ state: "queued", attempt: 1, files: null, error: expect.stringContaining("attempt 1 of 3") }]);
    await scheduler.tick();
    expect(ws.catalogue.runs.all()).toMatchObject([{ state: "queued", attempt: 1 }]);
    at("2026-11-20T06:00:45Z");
    await scheduler.tick();
    expect(ws.catalogue.runs.all()).toMatchObject([{ state: "done", attempt: 2, error: null }]);
    failures = 9;
    at("2026-11-23T06:00:05Z");
    for (const second of [5, 45, 59]) {
      await scheduler.tick();
      at(`2026-11-23T06:0${second === 45 ? 2 : 1}:${second}Z`.replace(":5Z", ":05Z"));
    }
    at("2026-11-23T06:09:00Z");
    await scheduler.tick();
    expect(ws.catalogue.runs.all()[0]).toMatchObject({ state: "failed", attempt: 3, files: null });
  });

  it("are made once by two processes on one data folder", async () => {
    const [one, two] = [open(), open()];
    fill(one);
    at("2026-11-20T06:00:05Z");
    const schedulers = [new Scheduler(one), new Scheduler(two), new Scheduler(two)];
    await Promise.all(schedulers.flatMap((s) => [s.tick(), s.tick()]));
    expect(one.catalogue.runs.all()).toMatchObject([{ state: "done", attempt: 1 }]);
    expect(files()).toHaveLength(2);
  });

  it("keep nothing of a process that lost its lease while it worked", async () => {
    const ws = open();
    fill(ws);
    at("2026-11-20T06:00:05Z");
    const slow = new Scheduler(ws).tick();
    at("2026-11-20T06:05:00Z");
    ws.catalogue.leases.take("scheduler", "another process", 60_000);
    await slow;
    expect([files(), ws.catalogue.runs.all()[0]?.state]).toEqual([[], "running"]);
  });

  it("are made all the same where the lease cannot be renewed, as on a full disk, and nobody else took it", async () => {
    const ws = open();
    fill(ws);
    at("2026-11-20T06:00:05Z");
    const timers = vi.spyOn(globalThis, "setInterval");
    const slow = new Scheduler(ws).tick();
    const renew = timers.mock.calls.find(([, ms]) => ms === 10_000)?.[0] as () => void;
    timers.mockRestore();
    ws.catalogue.leases.take = () => {
      throw Object.assign(new Error("database or disk is full"), { code: "SQLITE_FULL" });
    };
    // A timer that throws ends the server.
    expect(renew).not.toThrow();
    await slow;
    expect(ws.catalogue.runs.all()[0]?.state).toBe("done");
  });

  it("say in words why a run failed, and run by hand beside the plan", async () => {
    const ws = open();
    fill(ws, { subject: { kind: "query", id: "gone" } });
    at("2026-11-20T06:00:05Z");
    const scheduler = new Scheduler(ws);
    await scheduler.tick();
    expect(ws.catalogue.runs.all()).toMatchObject([{ state: "failed", error: "The query of this schedule was deleted. Choose another." }]);
    const saved = ws.catalogue.get("s");
    ws.catalogue.save(
      "s",
      {
        spec: schedule({
          subject: { kind: "query", id: "q" },
          bindings: { start: { kind: "fixed", text: "2026-11-01" }, end: { kind: "relative", date: "yesterday" } },
          formats: ["csv"],
        }),
      },
      saved?.revision ?? 0,
    );
    at("2026-11-20T07:30:00Z");
    ws.catalogue.runs.claim({ schedule: "s", dueAt: clock, late: false, manual: true });
    await scheduler.tick();
    expect(ws.catalogue.runs.all(1)).toMatchObject([{ state: "done", rows: 2, manual: true }]);
    expect(files()).toEqual(["Sales 2026-11-20 083000.csv"]);
  });

  it("print what they count: the text of the PDF holds the grand footing", async () => {
    const ws = open();
    fill(ws);
    at("2026-11-20T06:00:05Z");
    await new Scheduler(ws).tick();
    const text = execFileSync("pdftotext", ["-layout", join(place.folder, "outbox/desk", "Sales 2026-11-20 0700.pdf"), "-"], { encoding: "utf8" });
    expect(text).toContain("Sales by place");
    expect(text).toContain("At Mirrin");
    expect(text).toMatch(/All, 2 rows\s+30\.30/);
    expect(text).toContain("page 1 of 1");
  });
});
