import { execFileSync } from "node:child_process";
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { createCanvas, loadImage } from "@napi-rs/canvas";
import Database from "better-sqlite3";
import ExcelJS from "exceljs";
import { unzipSync } from "fflate";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { newChart } from "@/core/chart/newChart";
import type { DashboardSpec } from "@/core/dashboard/spec";
import { emptyDashboard } from "@/core/dashboard/tiles";
import { docOf, fieldOf, firstLetter } from "@/core/letter/spec";
import { emptyPivot, newAxis } from "@/core/pivot/empty";
import { emptyQuery } from "@/core/query/empty";
import type { Page } from "@/core/report/page";
import { firstReport, newLevel } from "@/core/report/plan";
import { type ScheduleMessage, type ScheduleSpec, scheduleSpecSchema } from "@/core/schedule/spec";
import { readMessage } from "@/server/services/outbox/message";
import { listOutbox, outboxPath } from "@/server/services/outbox/outbox";
import { planOf } from "@/server/services/queries/service";
import { reportJob } from "@/server/services/reports/service";
import { Scheduler } from "@/server/services/scheduler/scheduler";
import type { Workspace } from "@/server/services/workspace/workspace";
import { makeDatabase, openLedger, temporaryFolder } from "../support/ledger";
import { smtpServer } from "../support/smtp";

/* What schedules send: dashboards and letters printed, messages in the outbox and over SMTP, and whose rows they are of. */

let place: ReturnType<typeof temporaryFolder>;
let ws: Workspace;
const NOW = new Date("2026-11-20T06:00:05Z");
beforeEach(() => {
  place = temporaryFolder();
  makeDatabase(
    join(place.folder, "b.sqlite"),
    `CREATE TABLE sale (id INTEGER PRIMARY KEY, day DATE, amount DECIMAL(9,2), place TEXT);
    INSERT INTO sale VALUES (1, '2026-10-05', 10.10, 'Pell'), (2, '2026-10-31', 20.20, 'Mirrin'), (3, '2026-11-01', 40.40, 'Pell'), (4, '2026-11-19', -80.80, 'Pell');`,
  );
  ws = openLedger(place.folder, join(place.folder, "b.sqlite"), () => NOW);
  ws.catalogue.create("query", "Sales", query, "q");
});
afterEach(() => {
  delete process.env.NEXT_LEDGER_SMTP;
  delete process.env.NEXT_LEDGER_MAIL_FROM;
  ws.close();
  place.remove();
});

const field = (column: string) => ({ kind: "field" as const, join: "", column });
const query = {
  ...emptyQuery("sale"),
  columns: ["id", "day", "place", "amount"].map((c) => ({ id: c, value: field(c) })),
  order: [{ column: "id", direction: "up" as const }],
};
const schedule = (change: Partial<ScheduleSpec>): ScheduleSpec => ({
  version: 1,
  subject: { kind: "query", id: "q" },
  rule: { kind: "daily" },
  time: "07:00",
  zone: "Europe/Paris",
  since: "2026-11-20T00:00:00Z",
  bindings: {},
  formats: ["csv"],
  folder: "desk",
  paused: false,
  ...change,
});
async function run(change: Partial<ScheduleSpec>, owner: string | null = null): Promise<Scheduler> {
  ws.catalogue.create("schedule", "S", scheduleSpecSchema.parse(schedule(change)), "s", owner);
  const scheduler = new Scheduler(ws);
  await scheduler.tick();
  return scheduler;
}
const made = (extension: string) => readFileSync(join(place.folder, "outbox/desk", `S 2026-11-20 0700.${extension}`));
const files = () => readdirSync(join(place.folder, "outbox/desk")).sort();
const printed = (extension = "pdf") => execFileSync("pdftotext", ["-layout", "-", "-"], { input: made(extension), encoding: "utf8" });

describe("a dashboard on paper", () => {
  const figure = (id: string, title: string, column: string | null) => ({
    id,
    title,
    note: "",
    kind: "figure" as const,
    query: "q",
    figure: { id: "f", value: column ? field(column) : null, figure: column ? ("total" as const) : ("count" as const), showAs: "asIs" as const },
    compare: { kind: "target" as const, value: "8" },
    lessIsBetter: false,
  });
  const spec: DashboardSpec = {
    ...emptyDashboard(),
    tiles: [
      figure("n", "Sales made", null),
      figure("t", "Taken", "amount"),
      { id: "w", title: "Words", note: "", kind: "text", text: "In all {sales made}, for {viewer}." },
      { id: "c", title: "By place", note: "a note", kind: "chart", chart: "ch" },
      {
        id: "r",
        title: "Latest",
        note: "",
        kind: "table",
        query: "q",
        columns: ["day", "amount"],
        order: { column: "day", direction: "down" },
        first: 3,
        search: true,
      },
      { id: "p", title: "Places by month", note: "", kind: "pivot", pivot: "pv" },
    ],
    wide: [
      { tile: "n", x: 0, y: 0, w: 3, h: 4 },
      { tile: "t", x: 3, y: 0, w: 3, h: 4 },
      { tile: "w", x: 6, y: 0, w: 6, h: 4 },
      { tile: "c", x: 0, y: 4, w: 6, h: 12 },
      { tile: "r", x: 6, y: 4, w: 6, h: 12 },
      { tile: "p", x: 0, y: 16, w: 12, h: 30 },
    ],
  };
  beforeEach(() => {
    const pivot = {
      ...emptyPivot("q"),
      down: [newAxis("p", field("place"))],
      across: [newAxis("m", { ...field("day"), part: "month" as const })],
      figures: [{ id: "f", value: field("amount"), figure: "total" as const, showAs: "asIs" as const }],
    };
    ws.catalogue.create("pivot", "Places", pivot, "pv");
    ws.catalogue.create("chart", "Places drawn", newChart({ ...pivot, across: pivot.down, down: [] }, "bars"), "ch");
    ws.catalogue.create("dashboard", "Desk", spec, "d");
  });
  it("has its figures, words, pictures and rows where they stand, and its pivots whole on pages of their own", async () => {
    await run({ subject: { kind: "dashboard", id: "d" }, formats: ["pdf"] });
    expect(ws.catalogue.runs.all()).toMatchObject([{ state: "done", error: null, pages: 3 }]);
    const text = printed();
    for (const words of [
      "Sales made",
      "50%",
      "of 8",
      "(10.10)",
      "In all 4, for the owner.",
      "By place",
      "a note",
      "19 Nov 2026",
      "(80.80)",
      "3 of 4 rows",
      "Oct 2026",
      "(30.30)",
    ])
      expect(text).toContain(words);
    expect(text).not.toContain("5 Oct 2026");
    expect(text.match(/page \d of \d/g)).toContain("page 2 of 2");
  });
  it("is a workbook of its figures and of what stands behind each tile, with numbers as numbers", async () => {
    await run({ subject: { kind: "dashboard", id: "d" }, formats: ["xlsx"] });
    const workbook = await new ExcelJS.Workbook().xlsx.load(made("xlsx") as unknown as ArrayBuffer);
    const rows = (sheet: string) =>
      workbook
        .getWorksheet(sheet)
        ?.getSheetValues()
        .slice(1)
        .map((row) => (row as unknown[]).slice(1)) ?? [];
    expect(workbook.worksheets.map((w) => w.name)).toEqual(["Figures", "By place", "Latest", "Places by month"]);
    expect(rows("Figures").slice(4)).toEqual([
      ["Figure", "Value", "Compared with", "Rows"],
      ["Sales made", 4, 8, 4],
      ["Taken", -10.1, 8, 4],
    ]);
    expect(rows("Latest")).toEqual([
      ["Day", "Amount"],
      [new Date("2026-11-19T00:00:00Z"), -80.8],
      [new Date("2026-11-01T00:00:00Z"), 40.4],
      [new Date("2026-10-31T00:00:00Z"), 20.2],
    ]);
    expect(rows("Places by month").map((row) => Array.from(row, (cell) => cell ?? ""))).toEqual([
      ["Place", "Oct 2026", "Nov 2026", "All months"],
      ["Mirrin", 20.2, "", 20.2],
      ["Pell", 10.1, -40.4, -30.3],
      ["All places", 30.3, -40.4, -10.1],
    ]);
  });
  it("is not made where one of its tiles cannot be, which is named", async () => {
    ws.catalogue.remove("ch");
    await run({ subject: { kind: "dashboard", id: "d" }, formats: ["png"] });
    const error = "The tile “By place” failed. The chart of this tile was deleted.";
    expect(ws.catalogue.runs.all()).toMatchObject([{ state: "failed", error: expect.stringContaining(error) }]);
  });
  it("is one picture, as tall as its grid", async () => {
    await run({ subject: { kind: "dashboard", id: "d" }, formats: ["png"] });
    expect(ws.catalogue.runs.all()).toMatchObject([{ state: "done", error: null, pages: null }]);
    const { width, height } = await loadImage(made("png"));
    // A4 across (ISO 216), at 2.4 pixels a point; 46 rows of 18 points and what stands around them.
    expect(width).toBe(Math.round(841.89 * 2.4));
    expect(height).toBeGreaterThan(46 * 18 * 2.4);
    expect(height).toBeLessThan((46 * 18 + 140) * 2.4);
  });
  it("is a picture of bounded height, however far down its tiles stand", async () => {
    const far = { ...spec, wide: spec.wide.map((p) => ({ ...p, y: p.y + (p.tile === "p" ? 1900 : 0) })) };
    ws.catalogue.create("dashboard", "Far", far, "far");
    await run({ subject: { kind: "dashboard", id: "far" }, formats: ["png"] });
    const { width, height } = await loadImage(made("png"));
    expect(height).toBe(16_000);
    // The sides keep their proportions: A4 across, and 1946 rows of 18 points with what stands around them.
    expect(width / height).toBeCloseTo(841.89 / (1946 * 18 + 130), 2);
  });
  it("prints a picture in its own proportions, of whatever kind", async () => {
    const canvas = createCanvas(60, 20);
    const source = `data:image/jpeg;base64,${canvas.toBuffer("image/jpeg").toString("base64")}`;
    const tile = { id: "i", title: "Sign", note: "", kind: "picture" as const, source, alt: "a sign" };
    ws.catalogue.create("dashboard", "Signs", { ...emptyDashboard(), tiles: [tile], wide: [{ tile: "i", x: 0, y: 0, w: 4, h: 8 }] }, "i");
    await run({ subject: { kind: "dashboard", id: "i" }, formats: ["pdf"] });
    const list = execFileSync("pdfimages", ["-list", "-"], { input: made("pdf"), encoding: "utf8" });
    expect(list).toMatch(/\b60 +20\b/);
  });
});

describe("a report looked at before its pages are counted", () => {
  it("has the rows of its first page, in the same words; only how many pages there are is left out", async () => {
    const db = new Database(ws.database);
    const insert = db.prepare("INSERT INTO sale VALUES (?, '2026-11-20', ?, ?)");
    // The widest values come after all that a glance reads.
    db.transaction(() => {
      for (let i = 5; i <= 3000; i++) insert.run(i, i / 4, i > 2500 ? `a place of many words ${i}` : `place ${i % 7}`);
    })();
    db.close();
    const plan = await planOf(ws, query, {});
    const job = await reportJob(ws, { ...firstReport("q", "Sales", plan), levels: [newLevel("place")] });
    const run = { database: ws.database, report: job };
    const [first] = await ws.engine.run<"reportGlance">({ kind: "reportGlance", ...run }, { client: "test" });
    const whole = await ws.engine.run<"reportPages">({ kind: "reportPages", ...run, from: 1, to: 1 }, { client: "test" });
    const texts = (page: Page | undefined) => page?.items.flatMap((i) => (i.kind === "text" ? [i.text] : [])) ?? [];
    expect(whole.outline.pages).toBeGreaterThan(40);
    expect(texts(whole.pages[0]).length).toBeGreaterThan(60);
    expect(texts(first)).toEqual(texts(whole.pages[0]).map((t) => t.replace(` of ${whole.outline.pages}`, " of …")));
  });
});

describe("letters by schedule", () => {
  it("are one PDF, and a ZIP of one each", async () => {
    const letter = {
      ...firstLetter("q", "The desk", []),
      body: docOf({ type: "paragraph" as const, content: [{ type: "text" as const, text: "Sold at " }, fieldOf("place")] }),
      fileName: "'sale ' || id",
    };
    ws.catalogue.create("letter", "Notes", letter, "l");
    await run({ subject: { kind: "letter", id: "l" }, formats: ["pdf", "zip"] });
    expect(ws.catalogue.runs.all()).toMatchObject([{ state: "done", error: null, rows: 4, pages: 4 }]);
    expect(printed().match(/Sold at (Pell|Mirrin)/g)).toEqual(["Sold at Pell", "Sold at Mirrin", "Sold at Pell", "Sold at Pell"]);
    expect(Object.keys(unzipSync(made("zip"))).sort()).toEqual(["sale 1.pdf", "sale 2.pdf", "sale 3.pdf", "sale 4.pdf"]);
  });
});

describe("a message of a schedule", () => {
  const message: ScheduleMessage = {
    to: ["desk@pell.example", "ruth@oat.example"],
    subject: "{name} – {day}: {rows} rows, Ærø",
    text: "Good morning,\n.\n{rows} rows.",
    attach: true,
  };
  it("lies in the outbox as RFC 5322 has it, with the files, and can be read there", async () => {
    await run({ message });
    expect(files()).toEqual(["S 2026-11-20 0700.csv", "S 2026-11-20 0700.eml"]);
    const raw = made("eml").toString("latin1");
    const [head = "", body = ""] = raw.split(/\r\n\r\n(.*)/s);
    expect(raw.replaceAll("\r\n", "")).not.toMatch(/[\r\n]/);
    // RFC 5322: 2.1.1 lines of at most 998 characters, 3.6 the header fields that must be there, 2.2 seven bits alone.
    expect(raw.split("\r\n").every((line) => line.length <= 998)).toBe(true);
    for (const name of ["From", "To", "Subject", "Date", "Message-ID", "MIME-Version"]) expect(head).toMatch(new RegExp(`^${name}: `, "m"));
    expect(head).toMatch(/^Date: Fri, 20 Nov 2026 06:00:05 \+0000$/m);
    expect(head).toMatch(/^[\x20-\x7e\r\n\t]*$/);
    expect(body).toContain("Content-Disposition: attachment");
    const read = await readMessage(made("eml"));
    expect(read).toMatchObject({
      from: "Our company <ledger@localhost>",
      to: message.to,
      subject: "S – 20 Nov 2026: 4 rows, Ærø",
      attachments: [{ name: "S 2026-11-20 0700.csv", bytes: made("csv").length }],
    });
    expect(read.text.trim()).toBe("Good morning,\n.\n4 rows.");
  });
  it("is sent as it lies there, where a mail server is set", async () => {
    const server = await smtpServer();
    process.env.NEXT_LEDGER_SMTP = server.url;
    process.env.NEXT_LEDGER_MAIL_FROM = "ledger@brindle.example";
    await run({ message });
    expect(ws.catalogue.runs.all()).toMatchObject([{ state: "done", error: null }]);
    expect(server.delivered.map(({ from, to }) => [from, to])).toEqual([["ledger@brindle.example", message.to]]);
    expect(server.delivered[0]?.data.trimEnd()).toBe(made("eml").toString("latin1").trimEnd());
    await server.close();
  });
  it("that no server takes is said, with files and message kept", async () => {
    const server = await smtpServer("desk@pell.example");
    process.env.NEXT_LEDGER_SMTP = server.url;
    await run({ message: { ...message, to: ["desk@pell.example"] } });
    const [failed] = ws.catalogue.runs.all();
    expect(failed).toMatchObject({ state: "failed", rows: 4, error: expect.stringContaining("refused the message") });
    expect(files()).toEqual(["S 2026-11-20 0700.csv", "S 2026-11-20 0700.eml"]);
    await server.close();
  });
  it("goes nowhere that is no address, and its subject is one line", () => {
    const takes = (change: Partial<ScheduleMessage>) => scheduleSpecSchema.safeParse(schedule({ message: { ...message, ...change } })).success;
    expect(takes({})).toBe(true);
    for (const to of [[], ["desk"], ["a@b.example\r\nBcc: c@d.example"], ["Desk <a@b.example>"], ["a@b.example, c@d.example"]])
      expect(takes({ to })).toBe(false);
    expect(takes({ subject: "One\r\nBcc: c@d.example" })).toBe(false);
  });
});

describe("a schedule of somebody's own", () => {
  it("runs on the rows they may see, and not at all when their account is blocked; its files are theirs alone", async () => {
    await ws.people.create({ id: "o", login: "o", name: "Owner", role: "owner", password: null });
    const ruth = await ws.people.create({ id: "a", login: "a", name: "Ruth", role: "analyst", knownAs: "Mirrin", password: null });
    const other = await ws.people.create({ id: "b", login: "b", name: "Sven", role: "analyst", password: null });
    const rule = {
      version: 1,
      who: { kind: "person", person: "a" },
      query: { ...emptyQuery("sale"), conditions: [{ id: "w", left: field("place"), operator: "is", values: [{ kind: "person" }] }] },
    };
    ws.catalogue.create("rule", "own", rule);
    ws.catalogue.give("q", "a");
    const scheduler = await run({}, "a");
    expect(made("csv").toString().split("\r\n").slice(1)).toEqual(["2,2026-10-31,Mirrin,20.20", ""]);
    const path = "desk/S 2026-11-20 0700.csv";
    expect([listOutbox(ws.as(ruth)).map((f) => f.path), listOutbox(ws.as(other))]).toEqual([[path], []]);
    expect([outboxPath(ws.as(ruth), path) !== null, outboxPath(ws.as(other), path)]).toEqual([true, null]);
    await ws.people.change("a", { blocked: true });
    ws.catalogue.runs.claim({ schedule: "s", dueAt: new Date(NOW.getTime() + 1), late: false, manual: true });
    await scheduler.tick();
    expect(ws.catalogue.runs.all().find((r) => r.manual)).toMatchObject({ state: "failed", error: expect.stringContaining("blocked or deleted") });
  });
});
