import { describe, expect, it } from "vitest";
import { addDays, DATE_PARTS, isIsoDate, isoWeekOf, periodStart, shiftPeriod, weekdayOf } from "./date";

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
  });
});
