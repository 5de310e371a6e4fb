import { describe, expect, it } from "vitest";
import { addDays, DATE_PARTS, isIsoDate, isoWeekOf, otherReading, periodStart, readDate, shiftPeriod, weekdayOf } from "./date";

describe("dates", () => {
  it("number weeks as ISO 8601 does (the standard's own boundary cases, from memory)", () => {
    const cases: [string, number, number][] = [
      ["2005-01-01", 2004, 53],
      ["2005-01-02", 2004, 53],
      ["2005-12-31", 2005, 52],
      ["2007-01-01", 2007, 1],
      ["2008-12-29", 2009, 1],
      ["2008-12-31", 2009, 1],
      ["2010-01-03", 2009, 53],
      ["2026-12-31", 2026, 53],
    ];
    for (const [date, year, week] of cases) expect(isoWeekOf(date), date).toEqual({ year, week });
  });
  it("begin a period on its first day, which is its own period's first day", () => {
    for (let date = "2023-12-20"; date < "2026-01-20"; date = addDays(date, 1))
      for (const part of DATE_PARTS) {
        const start = periodStart(date, part);
        expect(periodStart(start, part)).toBe(start);
        expect(start <= date && date < shiftPeriod(date, part, 1), `${part} of ${date}`).toBe(true);
      }
    expect(weekdayOf(periodStart("2026-11-23", "isoWeek"))).toBe(1);
  });
  it("shift months from the anchor, without drifting through short months", () => {
    expect([1, 2, 3].map((n) => shiftPeriod("2026-01-31", "month", n))).toEqual(["2026-02-01", "2026-03-01", "2026-04-01"]);
  });
  it("that do not exist are refused", () => {
    for (const wrong of ["2026-02-30", "2025-02-29", "2026-13-01", "2026-1-1", "today"]) expect(isIsoDate(wrong), wrong).toBe(false);
    expect(isIsoDate("2024-02-29")).toBe(true);
    // As the calendar of the language has it: proleptic Gregorian, leap years of centuries every fourth one.
    for (const year of ["0000", "0100", "1900", "1999", "2000", "2023", "2024", "9999"])
      for (let month = 0; month <= 13; month++)
        for (let day = 0; day <= 32; day++) {
          const written = `${year}-${String(month).padStart(2, "0")}-${String(day).padStart(2, "0")}`;
          const at = new Date(`${written}T00:00:00Z`);
          expect(isIsoDate(written), written).toBe(!Number.isNaN(at.getTime()) && at.toISOString().slice(0, 10) === written);
        }
  });
});

describe("dates of several notations", () => {
  it("are read together: ISO 8601 and months by name whatever the order, figures by the order", () => {
    const written = ["2026-10-31", "31.10.2026", "31/10/26", "31 Oct 2026", "October 31, 2026", "Oct 31 2026", "10/31/2026"];
    expect(written.map((d) => readDate(d, "dmy"))).toEqual([...Array.from({ length: 6 }, () => "2026-10-31"), null]);
    expect(written.map((d) => readDate(d, "mdy"))).toEqual(["2026-10-31", null, null, "2026-10-31", "2026-10-31", "2026-10-31", "2026-10-31"]);
    expect(readDate("31 Smarch 2026", "dmy")).toBeNull();
  });
  it("say where day and month could change places", () => {
    expect(otherReading("3/4/2026", "dmy")).toBe("2026-03-04");
    expect(otherReading("3/4/2026", "mdy")).toBe("2026-04-03");
    for (const once of ["4/4/2026", "31/10/2026", "2026-03-04", "3 Apr 2026", "soon"]) expect(otherReading(once, "dmy")).toBeNull();
    expect(otherReading("2026-03-04", "ymd")).toBeNull();
  });
});
