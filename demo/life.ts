import { createHash } from "node:crypto";
import { resolve } from "node:path";
import type { ImportSpec } from "../src/core/import/spec";
import { emptyQuery } from "../src/core/query/empty";
import { instantIn } from "../src/core/schedule/occurrences";
import { type ScheduleSpec, scheduleSpecSchema } from "../src/core/schedule/spec";
import { addDays, dayInZone, weekdayOf } from "../src/core/types/date";
import { importOf, keepFile, scanOf } from "../src/server/services/import/service";
import { postOf, previewOf, reverseOf } from "../src/server/services/posting/service";
import { Scheduler } from "../src/server/services/scheduler/scheduler";
import { Workspace } from "../src/server/services/workspace/workspace";
import { accountsBoard, entriesThisYear } from "./accounts";
import { freightByShipper, manifest } from "./objects";

const ZONE = "Europe/Paris";
const MIRELA = "demo-analyst-2";
const caller = { client: "demo" };

const STATEMENT_AT = "07:00";
const CHECKED_AT = "07:05";

/** A clock that begins at an instant and goes on from there. */
function clockFrom(instant: Date): () => Date {
  const begun = Date.now();
  return () => new Date(instant.getTime() + Date.now() - begun);
}

/** The last working days before a day, the earliest first. */
function workingDaysBefore(day: string, count: number): string[] {
  const days: string[] = [];
  for (let at = addDays(day, -1); days.length < count; at = addDays(at, -1)) if (weekdayOf(at) <= 5) days.unshift(at);
  return days;
}

/**
 * What the company's people did in the days before: files imported, a posting reversed, schedules run and one of them held
 * back. All of it is done by the application itself, on a clock that is set to those days.
 */
export async function liveDemo(folder: string, database: string): Promise<void> {
  const today = dayInZone(new Date(process.env.NEXT_LEDGER_NOW ?? Date.now()), ZONE);
  const days = workingDaysBefore(today, 3);
  let clock = clockFrom(instantIn(ZONE, days[0] ?? today, "06:30"));
  const ws = new Workspace(folder, database, resolve("."), () => clock());
  const mirela = ws.people.get(MIRELA);
  if (!mirela) throw new Error("The demo's people are missing.");
  const analyst = ws.as(mirela);
  try {
    await importInspections(analyst);
    await queryOfATableNowGone(analyst);
    await postAndReverse(analyst);
    const entries = analyst.objects.create("query", "Account entries, this business year", entriesThisYear);
    analyst.objects.create("dashboard", "Accounts, Mirela’s board", accountsBoard(entries.id));
    const daily = ws.catalogue.get("freight-statement-daily");
    if (daily) ws.catalogue.save(daily.id, { spec: since(scheduleSpecSchema.parse(daily.spec), days[0] ?? today) }, daily.revision);
    checkedFreight(analyst, days.at(-1) ?? today);
    const scheduler = new Scheduler(ws);
    for (const day of days)
      for (const time of [STATEMENT_AT, CHECKED_AT]) {
        clock = clockFrom(instantIn(ZONE, day, time));
        await scheduler.tick();
      }
    scheduler.stop();
  } finally {
    ws.close();
  }
}

const since = (spec: ScheduleSpec, day: string): ScheduleSpec => ({ ...spec, since: `${day}T00:00:00.000Z` });

/** Imports a text as a file, its columns as they are proposed; what does not fit is kept and flagged. */
async function importText(ws: Workspace, name: string, text: string, table: string, dates: ImportSpec["columns"][number]["dates"]): Promise<void> {
  const bytes = Buffer.from(text);
  const sent = { name, bytes: bytes.length, sha256: createHash("sha256").update(bytes).digest("hex") };
  const { id } = await keepFile(ws, sent, new Blob([bytes]).stream());
  const { format, scan } = await scanOf(ws, id, null, caller);
  const columns = scan.names.map((column, i) => ({ name: column, type: scan.columns[i]?.proposal.type ?? { kind: "text" as const }, dates, left: false }));
  await importOf(ws, id, { format, columns, misfits: "keep", into: { kind: "table", name: table, key: scan.names[0] ?? null } }, caller);
}

/** A file of inspections, one of whose days does not exist. */
async function importInspections(ws: Workspace): Promise<void> {
  const lines = Array.from({ length: 40 }, (_, i) => `${i + 1};${(i % 6) + 1};${(i % 27) + 1}/10/2026;${20 + i};${i % 3 === 0 ? "no" : "yes"}`);
  await importText(ws, "inspections.csv", ["inspection;vessel;inspected;minutes;passed", ...lines, "41;2;30/02/2026;10;yes"].join("\n"), "inspections", "dmy");
}

/** A table that was imported, asked, and whose import was then reversed: its query is broken. */
async function queryOfATableNowGone(ws: Workspace): Promise<void> {
  await importText(ws, "tariff.csv", "class;rate\nA;1.20\nB;1.55\nC;2.10\n", "tariff", "dmy");
  const columns = ["class", "rate"].map((id) => ({ id, value: { kind: "field" as const, join: "", column: id } }));
  ws.objects.create("query", "Tariff by class, draft", { ...emptyQuery("tariff"), columns });
  await reverseOf(ws, 2, false, null, caller);
}

/** The agent's manifest, posted too early, and reversed. */
async function postAndReverse(ws: Workspace): Promise<void> {
  const { tally } = await previewOf(ws, manifest, caller);
  const { number } = await postOf(ws, manifest, { name: "Agent manifest, November", digest: tally.digest, again: false }, caller);
  await reverseOf(ws, number, false, null, caller);
}

/** A query with a figure from the waybill book that it does not agree with, and a schedule that is held back for it. */
function checkedFreight(ws: Workspace, day: string): void {
  const controls = [{ id: "k1", source: "the waybill book", column: "freight", value: "81306.37" }];
  const query = ws.objects.create("query", "October’s freight, checked", { ...freightByShipper, controls });
  const spec: ScheduleSpec = {
    version: 1,
    subject: { kind: "query", id: query.id },
    rule: { kind: "workingDays" },
    time: CHECKED_AT,
    zone: ZONE,
    since: `${day}T00:00:00.000Z`,
    bindings: {},
    formats: ["csv"],
    folder: "freight desk",
    paused: false,
  };
  ws.objects.create("schedule", "October’s freight, each working day", spec);
}
