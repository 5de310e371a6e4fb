import { describe, expect, it } from "vitest";
import { USUAL_CALENDAR } from "../types/calendar";
import { instantIn, occurrencesOf, recurrenceRule, scheduleOccurrences } from "./occurrences";
import type { ScheduleSpec } from "./spec";

const daily: ScheduleSpec = {
  version: 1,
  subject: { kind: "query", id: "q" },
  rule: { kind: "daily" },
  time: "07:00",
  zone: "UTC",
  since: "2026-01-01T00:00:00Z",
  bindings: {},
  formats: ["csv"],
  folder: "desk",
  paused: false,
};

const local = (zone: string, found: Date[]) =>
  found.map((d) => new Intl.DateTimeFormat("sv-SE", { timeZone: zone, dateStyle: "short", timeStyle: "short" }).format(d));
const between = (rule: string, zone: string, time: string, from: string, to: string) =>
  local(zone, occurrencesOf(rule, time, zone, new Date(from), new Date(to)));
/** When a schedule runs, from when it was made to an instant. */
const runs = (change: Partial<ScheduleSpec>, to: string, calendar = USUAL_CALENDAR) => {
  const spec = { ...daily, ...change };
  return local(spec.zone, scheduleOccurrences(spec, calendar, new Date(0), new Date(to)));
};

/* Worked examples of RFC 5545, 3.8.5.3; all begin on 2 September 1997 at 09:00 in New York unless said. */
describe("recurrence, against RFC 5545's examples", () => {
  const ny = "America/New_York";
  it("daily, across the end of summer time", () => {
    const found = between("FREQ=DAILY", ny, "09:00", "1997-09-02T00:00:00Z", "1997-12-24T00:00:00Z");
    expect(found).toHaveLength(113);
    expect([found[0], found.at(-1)]).toEqual(["1997-09-02 09:00", "1997-12-23 09:00"]);
  });
  it("weekly on Tuesday and Thursday for five weeks", () =>
    expect(between(recurrenceRule({ kind: "weekdays", days: [4, 2] }), ny, "09:00", "1997-09-01T12:00:00Z", "1997-10-03T00:00:00Z")).toEqual(
      ["09-02", "09-04", "09-09", "09-11", "09-16", "09-18", "09-23", "09-25", "09-30", "10-02"].map((d) => `1997-${d} 09:00`),
    ));
  it("the last work day of the month", () =>
    expect(runs({ rule: { kind: "lastWorkingDay" }, zone: ny, time: "09:00", since: "1997-09-29T00:00:00Z" }, "1998-04-01T00:00:00Z")).toEqual(
      ["1997-09-30", "1997-10-31", "1997-11-28", "1997-12-31", "1998-01-30", "1998-02-27", "1998-03-31"].map((d) => `${d} 09:00`),
    ));
  it("monthly on the 2nd and 15th", () =>
    expect(between("FREQ=MONTHLY;BYMONTHDAY=2,15", ny, "09:00", "1997-09-01T00:00:00Z", "1998-01-16T00:00:00Z")).toEqual(
      ["1997-09-02", "1997-09-15", "1997-10-02", "1997-10-15", "1997-11-02", "1997-11-15", "1997-12-02", "1997-12-15", "1998-01-02", "1998-01-15"].map(
        (d) => `${d} 09:00`,
      ),
    ));
});

describe("days and clocks", () => {
  it("puts day 31 on the last day of shorter months, without drifting", () =>
    expect(between(recurrenceRule({ kind: "monthDay", day: 31 }), "UTC", "07:00", "2024-01-01T00:00:00Z", "2024-05-01T00:00:00Z")).toEqual(
      ["2024-01-31", "2024-02-29", "2024-03-31", "2024-04-30"].map((d) => `${d} 07:00`),
    ));
  const workingDays = { rule: { kind: "workingDays" }, zone: "Europe/Paris", since: "2026-11-20T12:00:00Z" } as const;
  it("keeps working days to Monday to Friday", () =>
    expect(runs(workingDays, "2026-11-25T12:00:00Z")).toEqual(["2026-11-23 07:00", "2026-11-24 07:00", "2026-11-25 07:00"]));
  it("takes the days the workspace works, and no holiday", () => {
    const calendar = { ...USUAL_CALENDAR, workingDays: [6, 7, 1, 2], holidays: ["2026-11-23"] };
    expect(runs(workingDays, "2026-11-25T12:00:00Z", calendar)).toEqual(["2026-11-21 07:00", "2026-11-22 07:00", "2026-11-24 07:00"]);
    expect(runs({ ...workingDays, rule: { kind: "daily" } }, "2026-11-23T12:00:00Z", calendar)).toHaveLength(3);
  });
  it("puts the last working day of a month before its holidays, and makes none in a month without one", () => {
    const last = { ...workingDays, rule: { kind: "lastWorkingDay" } } as const;
    const holidays = ["2026-11-30", "2026-12-31", ...Array.from({ length: 31 }, (_, i) => `2027-01-${String(i + 1).padStart(2, "0")}`)];
    expect(runs(last, "2027-03-01T12:00:00Z", { ...USUAL_CALENDAR, holidays })).toEqual(["2026-11-27 07:00", "2026-12-30 07:00", "2027-02-26 07:00"]);
  });
  it("makes a time that the clocks skip at the offset of before, and a doubled one once, the first", () => {
    expect(instantIn("Europe/Paris", "2026-03-29", "02:30").toISOString()).toBe("2026-03-29T01:30:00.000Z");
    expect(instantIn("Europe/Paris", "2026-10-25", "02:30").toISOString()).toBe("2026-10-25T00:30:00.000Z");
    expect(between("FREQ=DAILY", "Europe/Paris", "02:30", "2026-03-27T12:00:00Z", "2026-03-30T12:00:00Z")).toEqual([
      "2026-03-28 02:30",
      "2026-03-29 03:30",
      "2026-03-30 02:30",
    ]);
    expect(between("FREQ=DAILY", "Europe/Paris", "02:30", "2026-10-23T12:00:00Z", "2026-10-26T12:00:00Z")).toHaveLength(3);
  });
  it("has no run before a schedule was made, however far back is looked", () => {
    const spec = { ...daily, since: "2026-11-20T12:00:00Z" };
    const found = scheduleOccurrences(spec, USUAL_CALENDAR, new Date("2026-11-01T00:00:00Z"), new Date("2026-11-22T12:00:00Z"));
    expect(found.map((d) => d.toISOString())).toEqual(["2026-11-21T07:00:00.000Z", "2026-11-22T07:00:00.000Z"]);
  });
  it("works in zones far from UTC and with odd offsets", () => {
    expect(instantIn("Pacific/Kiritimati", "2026-01-01", "00:30").toISOString()).toBe("2025-12-31T10:30:00.000Z");
    expect(instantIn("Australia/Lord_Howe", "2026-07-01", "09:00").toISOString()).toBe("2026-06-30T22:30:00.000Z");
  });
});
