import { existsSync, readdirSync, readFileSync, statSync } from "node:fs";
import { join } from "node:path";
import Database from "better-sqlite3";
import ExcelJS from "exceljs";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { newChart } from "@/core/chart/newChart";
import { dashboardSpecSchema } from "@/core/dashboard/spec";
import { emptyDashboard } from "@/core/dashboard/tiles";
import { emptyPivot, newAxis } from "@/core/pivot/empty";
import { emptyQuery } from "@/core/query/empty";
import { firstReport } from "@/core/report/plan";
import type { EachSpec } from "@/core/schedule/eachSpec";
import { type ScheduleSpec, scheduleSpecSchema } from "@/core/schedule/spec";
import type { Job } from "@/server/engine/protocol";
import { planOf } from "@/server/services/queries/service";
import { lookAtEach, pagesOfEach } from "@/server/services/scheduler/each";
import { Scheduler } from "@/server/services/scheduler/scheduler";
import { itemsOfRun, schedulesState } from "@/server/services/scheduler/state";
import type { Workspace } from "@/server/services/workspace/workspace";
import { JobFailure } from "@/server/source/failures";
import { makeDatabase, openLedger, temporaryFolder } from "../support/ledger";
import { smtpServer } from "../support/smtp";

/* A report made once for each of many: its files, its messages, and a run that is killed over it. */

const PLACES: [string, string | null, number][] = [
  ["Colm Ness", "colm@ness.example", 2],
  ["Mirrin", "mirrin@isles.example", 1],
  ["Oat Holm", null, 3],
  ["Pell", "a@pell.example, b@pell.example", 1],
  ["Skarrow", "skarrow@isles.example", 2],
  ["Tarn Holm", "tarn@isles.example\r\nBcc: all@isles.example", 1],
  ["Wester Fend", "fend@isles.example", 0],
];

let place: ReturnType<typeof temporaryFolder>;
let ws: Workspace;
let file: string;
let clock = new Date("2026-11-20T06:00:05Z");
beforeEach(async () => {
  place = temporaryFolder();
  clock = new Date("2026-11-20T06:00:05Z");
  file = join(place.folder, "b.sqlite");
  const quoted = (text: string | null) => (text === null ? "NULL" : `'${text}'`);
  const sales = PLACES.flatMap(([name, , n]) => Array.from({ length: n }, (_, i) => `('${name}', ${i + 1}.50)`));
  makeDatabase(
    file,
    `CREATE TABLE place (id INTEGER PRIMARY KEY, name TEXT, mail TEXT);
     INSERT INTO place (name, mail) VALUES ${PLACES.map(([name, mail]) => `('${name}', ${quoted(mail)})`).join(", ")};
     CREATE TABLE sale (id INTEGER PRIMARY KEY, place TEXT, amount DECIMAL(9,2));
     INSERT INTO sale (place, amount) VALUES ${sales.join(", ")};`,
  );
  ws = openLedger(place.folder, file, () => clock);
  ws.catalogue.create("query", "Sales", sold, "q");
  ws.catalogue.create("query", "Places", places, "p");
  ws.catalogue.create("report", "Statement", firstReport("q", "Statement", await planOf(ws, sold, {})), "r");
});
afterEach(() => {
  delete process.env.NEXT_LEDGER_SMTP;
  ws.close();
  place.remove();
});

const field = (column: string) => ({ kind: "field" as const, join: "", column });
const sold = {
  ...emptyQuery("sale"),
  columns: ["place", "amount"].map((c) => ({ id: c, value: field(c) })),
  order: [{ column: "amount", direction: "up" as const }],
};
const places = {
  ...emptyQuery("place"),
  columns: ["name", "mail"].map((c) => ({ id: c, value: field(c) })),
  order: [{ column: "name", direction: "up" as const }],
};
const ofValues: EachSpec = { query: null, match: [{ from: "place", to: { kind: "column", column: "place" } }], fileName: "", to: null, skipEmpty: true };
const ofRows: EachSpec = {
  query: "p",
  match: [{ from: "name", to: { kind: "column", column: "place" } }],
  fileName: "UPPER(name)",
  to: "mail",
  skipEmpty: true,
};
const schedule = (each: EachSpec, more: Partial<ScheduleSpec> = {}) =>
  scheduleSpecSchema.parse({
    version: 1,
    subject: { kind: "report", id: "r" },
    rule: { kind: "daily" },
    time: "07:00",
    zone: "Europe/Paris",
    since: "2026-11-20T00:00:00Z",
    bindings: {},
    formats: ["pdf"],
    folder: "desk",
    paused: false,
    each,
    ...more,
  });
const message = { to: [], subject: "Statement of {day}", text: "Dear {name}: {rows} rows on {day}.", attach: true };
const files = () => (existsSync(join(place.folder, "outbox/desk")) ? readdirSync(join(place.folder, "outbox/desk")).sort() : []);
const states = () => ws.catalogue.runs.items(ws.catalogue.runs.all()[0]?.id ?? "").map((i) => [i.item.words, i.state, i.rows]);

/** Fails some jobs of one kind, as an engine that is killed does. @param fails which of them, from 1 */
function failing(kind: Job["kind"], fails: (n: number) => boolean, before: (n: number) => void = () => {}): () => number {
  const real = ws.engine.run.bind(ws.engine) as typeof ws.engine.run;
  let n = 0;
  ws.engine.run = ((job: Job, options: never) => {
    if (job.kind === kind) before(++n);
    return job.kind === kind && fails(n) ? Promise.reject(new JobFailure("crashed")) : real(job as never, options);
  }) as typeof ws.engine.run;
  return () => n;
}

describe("one file for each", () => {
  it("value of a column: each has its own rows, and together they are the whole", async () => {
    ws.catalogue.create("schedule", "S", schedule(ofValues, { formats: ["pdf", "csv"] }), "s");
    await new Scheduler(ws).tick();
    expect(ws.catalogue.runs.all()[0]).toMatchObject({ state: "done", rows: 10, error: null });
    expect(states()).toEqual(PLACES.filter(([, , n]) => n > 0).map(([name, , n]) => [name, "made", n]));
    expect(files()).toHaveLength(12);
    expect(readFileSync(join(place.folder, "outbox/desk", "Skarrow · S 2026-11-20 0700.csv"), "utf8")).toBe("Place,Amount\r\nSkarrow,1.50\r\nSkarrow,2.50\r\n");
  });

  it("value, of a pivot and of a chart too: each over its own rows, looked at on its own pages; none of no rows", async () => {
    const figures = [{ id: "f", value: field("amount"), figure: "total" as const, showAs: "asIs" as const }];
    const pivot = { ...emptyPivot("q"), down: [newAxis("a", field("amount"))], figures };
    ws.catalogue.create("pivot", "Amounts", pivot, "v");
    ws.catalogue.create("chart", "Bars", newChart({ ...pivot, down: [], across: pivot.down }, "bars"), "c");
    ws.catalogue.create("schedule", "V", schedule(ofRows, { subject: { kind: "pivot", id: "v" }, formats: ["csv"] }), "s");
    ws.catalogue.create("schedule", "C", schedule(ofRows, { subject: { kind: "chart", id: "c" }, formats: ["csv"], folder: "bars" }), "t");
    await new Scheduler(ws).tick();
    for (const run of ws.catalogue.runs.all()) {
      expect(run).toMatchObject({ state: "done", rows: 10, error: null });
      expect(ws.catalogue.runs.items(run.id).map((i) => [i.item.words, i.state, i.rows])).toEqual(
        PLACES.map(([name, , n]) => [name, n > 0 ? "made" : "empty", n]),
      );
    }
    const totals = (folder: string) => {
      const all = readdirSync(join(place.folder, "outbox", folder));
      return all.map(
        (name) =>
          readFileSync(join(place.folder, "outbox", folder, name), "utf8")
            .trim()
            .split("\r\n")
            .slice(1).length,
      );
    };
    // A line for each amount and the total under them, of the place's own rows alone.
    expect(totals("desk")).toHaveLength(6);
    expect(readFileSync(join(place.folder, "outbox/desk", "SKARROW · V 2026-11-20 0700.csv"), "utf8")).toMatch(/1\.50.*\r\n.*2\.50.*\r\n.*4\.00/);
    expect(totals("bars")).toHaveLength(6);
    const bars = readFileSync(join(place.folder, "outbox/bars", "MIRRIN · C 2026-11-20 0700.csv"), "utf8");
    expect([bars.includes("1.50"), bars.includes("2.50")]).toEqual([true, false]);
    const question = { bindings: {}, each: ofRows, key: JSON.stringify(["Skarrow"]) };
    for (const subject of [
      { kind: "pivot" as const, id: "v" },
      { kind: "chart" as const, id: "c" },
    ]) {
      const { items } = await lookAtEach(ws, { ...question, subject });
      const key = items.find((i) => i.words === "Skarrow")?.key ?? "";
      const { pages, count } = await pagesOfEach(ws, { ...question, subject, key });
      expect([pages.length, count]).toEqual([1, 1]);
      const texts = pages.flatMap((p) => p.items.flatMap((i) => (i.kind === "text" ? [i.text] : ["picture"])));
      if (subject.kind === "pivot") expect([texts.includes("4.00"), texts.includes("3.50")]).toEqual([true, false]);
      else expect(texts).toContain("picture");
    }
  });

  it("row, of a dashboard by one of its filters: each shows its own figures, and who has no value for it gets none", async () => {
    const figure = { id: "f", value: field("amount"), figure: "total" as const, showAs: "asIs" as const };
    const tile = { id: "t", title: "Sold", note: "", kind: "figure" as const, query: "q", figure, compare: null, lessIsBetter: false };
    const filter = { id: "f1", label: "place", table: "sale", column: "place", meets: { t: { steps: [] }, u: null }, default: null };
    // Of every place: it makes no dashboard anybody’s.
    const every = { ...tile, id: "u", title: "Sold in all" };
    const spec = {
      ...emptyDashboard(),
      filters: [filter],
      tiles: [tile, every],
      wide: [
        { tile: "t", x: 0, y: 0, w: 4, h: 4 },
        { tile: "u", x: 4, y: 0, w: 4, h: 4 },
      ],
      narrow: ["t", "u"],
    };
    ws.catalogue.create("dashboard", "Sold", dashboardSpecSchema.parse(spec), "d");
    const db = new Database(file);
    db.exec("INSERT INTO place (name, mail) VALUES (NULL, 'who@isles.example')");
    db.close();
    const subject = { kind: "dashboard" as const, id: "d" };
    const each: EachSpec = { ...ofRows, match: [{ from: "name", to: { kind: "filter", filter: "f1" } }], to: null };
    ws.catalogue.create("schedule", "S", schedule(each, { subject, formats: ["xlsx"] }), "s");
    await new Scheduler(ws).tick();
    expect(ws.catalogue.runs.all()[0]).toMatchObject({ state: "done", error: null });
    expect(states().flatMap(([name, state]) => (state === "made" ? [] : [[name, state]]))).toEqual([
      ["(empty)", "empty"],
      ["Wester Fend", "empty"],
    ]);
    const sold = async (name: string) => {
      const book = new ExcelJS.Workbook();
      await book.xlsx.readFile(join(place.folder, "outbox/desk", name));
      return book.worksheets.flatMap((sheet) => (sheet.getSheetValues() as unknown[]).flat()).filter((v) => typeof v === "number");
    };
    expect(await sold("SKARROW · S 2026-11-20 0700.xlsx")).toContain(4);
    expect(await sold("MIRRIN · S 2026-11-20 0700.xlsx")).toContain(1.5);
    expect(await sold("MIRRIN · S 2026-11-20 0700.xlsx")).not.toContain(4);
    const { items } = await lookAtEach(ws, { subject, bindings: {}, each });
    expect(items.filter((i) => i.rows === 0).map((i) => i.words)).toEqual(["(empty)"]);
    await expect(pagesOfEach(ws, { subject, bindings: {}, each, key: JSON.stringify([null]) })).rejects.toThrow(/no value for the filter/);
    const look = await pagesOfEach(ws, { subject, bindings: {}, each, key: items.find((i) => i.words === "Skarrow")?.key ?? "" });
    expect(look.pages[0]?.items.map((i) => i.kind)).toEqual(["picture"]);
    expect(readdirSync(join(place.folder, "tmp")).filter((f) => f.startsWith("look-"))).toEqual([]);
  });

  it("row of a query: named by a formula, those without rows left out, counted before", async () => {
    const look = await lookAtEach(ws, { subject: { kind: "report", id: "r" }, bindings: {}, each: ofRows });
    expect(look.items.map((i) => [i.words, i.fileName, i.rows, i.wrong])).toEqual([
      ["Colm Ness", "COLM NESS", 2, null],
      ["Mirrin", "MIRRIN", 1, null],
      ["Oat Holm", "OAT HOLM", 3, ""],
      ["Pell", "PELL", 1, "There is more than one address. Write one."],
      ["Skarrow", "SKARROW", 2, null],
      ["Tarn Holm", "TARN HOLM", 1, "The address has a line break in it. Write one address on one line."],
      ["Wester Fend", "WESTER FEND", 0, null],
    ]);
    expect([look.count, look.parted, look.whole]).toEqual([7, 10, 10]);
    const pages = await pagesOfEach(ws, { subject: { kind: "report", id: "r" }, bindings: {}, each: ofRows, key: look.items[0]?.key ?? "" });
    const texts = pages.pages.flatMap((p) => p.items.flatMap((i) => (i.kind === "text" ? [i.text] : [])));
    expect(texts.filter((t) => t === "Colm Ness")).toHaveLength(2);
    expect(texts).not.toContain("Mirrin");
    ws.catalogue.create("schedule", "S", schedule(ofRows), "s");
    await new Scheduler(ws).tick();
    expect(files()).toEqual(["COLM NESS", "MIRRIN", "OAT HOLM", "PELL", "SKARROW", "TARN HOLM"].map((n) => `${n} · S 2026-11-20 0700.pdf`));
    expect(schedulesState(ws).runs[0]?.each).toEqual({ all: 7, made: 6, sent: 0, empty: 1, noAddress: 1, troubled: 2 });
  });

  it("value that a parameter takes", async () => {
    const asked = {
      ...sold,
      conditions: [{ id: "w", left: field("place"), operator: "is" as const, values: [{ kind: "parameter" as const, name: "where" }] }],
      parameters: [{ name: "where", type: "text" as const }],
    };
    ws.catalogue.create("query", "Asked", asked, "a");
    const each: EachSpec = { ...ofRows, match: [{ from: "name", to: { kind: "parameter", name: "where" } }], to: null };
    ws.catalogue.create("schedule", "S", schedule(each, { subject: { kind: "query", id: "a" }, formats: ["csv"] }), "s");
    await new Scheduler(ws).tick();
    expect(ws.catalogue.runs.all()[0]).toMatchObject({ state: "done", rows: 10 });
    expect(states().map(([name, state, n]) => [name, state, n])).toEqual(PLACES.map(([name, , n]) => [name, n === 0 ? "empty" : "made", n]));
  });

  it("is seen by nobody to whom its schedule is not shared", async () => {
    const person = async (login: string) => ws.as(await ws.people.create({ login, name: login, role: "analyst", password: null }));
    const [owner, other] = [await person("una"), await person("bert")];
    const id = owner.signedIn?.id ?? "";
    for (const object of ["q", "p", "r"]) ws.catalogue.give(object, id);
    ws.catalogue.create("schedule", "S", schedule(ofRows), "s", id);
    await new Scheduler(ws).tick();
    const run = ws.catalogue.runs.all()[0]?.id ?? "";
    expect(itemsOfRun(owner, run)).toHaveLength(7);
    expect(() => itemsOfRun(other, run)).toThrow("not shared with you");
    expect(() => itemsOfRun(owner, "gone")).toThrow("does not exist any more");
  });

  it("is refused in a sentence where its column or its query has gone", async () => {
    ws.catalogue.create("schedule", "S", schedule({ ...ofRows, to: "email" }), "s");
    await new Scheduler(ws).tick();
    expect(ws.catalogue.runs.all()[0]).toMatchObject({ state: "failed", error: expect.stringContaining("“email”") });
    await expect(lookAtEach(ws, { subject: { kind: "report", id: "r" }, bindings: {}, each: { ...ofRows, query: "gone" } })).rejects.toThrow("Choose another");
  });
});

describe("a message for each", () => {
  it("goes to each one's address alone, with its own words and file; who has none or a wrong one gets none, and it is said why", async () => {
    const server = await smtpServer("skarrow@isles.example");
    process.env.NEXT_LEDGER_SMTP = server.url;
    ws.catalogue.create("schedule", "S", schedule(ofRows, { message: { ...message, subject: "{name}: {mail}" } }), "s");
    await new Scheduler(ws).tick();
    await server.close();
    expect(server.delivered.map((m) => m.to)).toEqual([["colm@ness.example"], ["mirrin@isles.example"]]);
    expect(server.delivered[0]?.data).toContain("Subject: Colm Ness: colm@ness.example");
    expect(server.delivered[0]?.data).toMatch(/filename.*COLM%20NESS/);
    expect(server.delivered[1]?.data).toContain("1 rows on");
    const run = ws.catalogue.runs.all()[0];
    const items = itemsOfRun(ws, run?.id ?? "");
    expect(items.map((i) => [i.words, i.state, i.error])).toEqual([
      ["Colm Ness", "sent", null],
      ["Mirrin", "sent", null],
      ["Oat Holm", "made", null],
      ["Pell", "made", "There is more than one address. Write one."],
      ["Skarrow", "made", expect.stringContaining("refused")],
      ["Tarn Holm", "made", expect.stringContaining("line break")],
      ["Wester Fend", "empty", null],
    ]);
  });

  it("reaches nobody twice where the run is killed and resumed, and files that were made stay as they are", async () => {
    const server = await smtpServer();
    process.env.NEXT_LEDGER_SMTP = server.url;
    ws.catalogue.create("schedule", "S", schedule(ofRows, { message }), "s");
    const made = failing("reportFile", (n) => n === 4);
    await new Scheduler(ws).tick();
    expect(ws.catalogue.runs.all()[0]).toMatchObject({ state: "queued", error: expect.stringContaining("tried again") });
    expect(files()).toHaveLength(3);
    expect(server.delivered).toEqual([]);
    const before = files().map((f) => statSync(join(place.folder, "outbox/desk", f)).ino);
    clock = new Date("2026-11-20T06:01:00Z");
    await new Scheduler(ws).tick();
    await new Scheduler(ws).tick();
    expect(ws.catalogue.runs.all()[0]).toMatchObject({ state: "done", attempt: 2 });
    // Three before it was killed, the fourth twice, and the seven in all.
    expect(made()).toBe(8);
    expect(
      files()
        .filter((f) => f.endsWith(".pdf"))
        .slice(0, 3)
        .map((f) => statSync(join(place.folder, "outbox/desk", f)).ino),
    ).toEqual(before);
    await server.close();
    expect(server.delivered.flatMap((m) => m.to)).toEqual(["colm@ness.example", "mirrin@isles.example", "skarrow@isles.example"]);
  });

  it("is not made final by a process that another has taken over from", async () => {
    ws.catalogue.create("schedule", "S", schedule(ofRows), "s");
    failing(
      "reportFile",
      () => false,
      (n) => {
        if (n !== 3) return;
        clock = new Date("2026-11-20T07:00:00Z");
        expect(ws.catalogue.leases.take("scheduler", "another process", 60_000)).not.toBeNull();
      },
    );
    await new Scheduler(ws).tick();
    expect(files()).toHaveLength(2);
    expect(states().map(([, state]) => state)).toEqual(["made", "made", "waiting", "waiting", "waiting", "waiting", "waiting"]);
    expect(readdirSync(join(place.folder, "tmp"))).toEqual([]);
  });

  it("is not sent again where a process died while it was being sent: it may have arrived", async () => {
    const server = await smtpServer();
    process.env.NEXT_LEDGER_SMTP = server.url;
    ws.catalogue.create("schedule", "S", schedule(ofRows, { message }), "s");
    failing("reportFile", (n) => n === 7);
    await new Scheduler(ws).tick();
    const run = ws.catalogue.runs.all()[0]?.id ?? "";
    ws.catalogue.runs.updateItem({ run, place: 1 }, { state: "sending" });
    clock = new Date("2026-11-20T06:01:00Z");
    await new Scheduler(ws).tick();
    await server.close();
    expect(server.delivered.flatMap((m) => m.to)).toEqual(["colm@ness.example", "skarrow@isles.example"]);
    expect(itemsOfRun(ws, run)[1]).toMatchObject({ state: "sending", error: expect.stringContaining("not sent again") });
  });

  it("is sent to nobody where the parts do not add up to the whole", async () => {
    const server = await smtpServer();
    process.env.NEXT_LEDGER_SMTP = server.url;
    const mailed = {
      ...sold,
      columns: [
        ...sold.columns,
        { id: "mail", value: { kind: "formula" as const, text: "REPLACE(LOWER(place), ' ', '.') || '@isles.example'" }, label: "mail" },
      ],
    };
    ws.catalogue.create("query", "Mailed", mailed, "m");
    ws.catalogue.create("schedule", "S", schedule({ ...ofValues, to: "mail" }, { subject: { kind: "query", id: "m" }, formats: ["csv"], message }), "s");
    failing(
      "export",
      () => false,
      (n) => {
        if (n !== 4) return;
        const db = new Database(file);
        db.exec("INSERT INTO sale (place, amount) VALUES ('Colm Ness', 9)");
        db.close();
      },
    );
    await new Scheduler(ws).tick();
    await server.close();
    expect(ws.catalogue.runs.all()[0]).toMatchObject({
      state: "failed",
      error: expect.stringMatching(/hold 10 rows together, the whole has 11\. Nothing was sent/),
    });
    expect(server.delivered).toEqual([]);
  });
});
