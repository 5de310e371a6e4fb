import { describe, expect, it } from "vitest";
import { businessYear, isWorkingDay, lastWorkingDay, USUAL_CALENDAR, usualDay, workingDayBefore } from "./calendar";
import { addDays } from "./date";
import { RELATIVE_DATES, type RelativeDate } from "./relative";
import { calendarSchema } from "./schemas";

const of = (date: RelativeDate, day: string, change: Partial<typeof USUAL_CALENDAR> = {}) =>
  RELATIVE_DATES[date].of({ day, calendar: { ...USUAL_CALENDAR, ...change } });

describe("relative dates", () => {
  it("fall on days reckoned by hand", () => {
    const cases: [RelativeDate, string, string][] = [
      ["today", "2026-11-23", "2026-11-23"],
      ["yesterday", "2026-03-01", "2026-02-28"],
      ["daysAgo7", "2026-11-03", "2026-10-27"],
      ["daysAgo30", "2026-11-23", "2026-10-24"],
      ["firstOfThisWeek", "2026-11-29", "2026-11-23"],
      ["firstOfLastWeek", "2026-11-23", "2026-11-16"],
      ["lastOfLastWeek", "2026-11-23", "2026-11-22"],
      ["firstOfThisMonth", "2026-11-23", "2026-11-01"],
      ["lastOfThisMonth", "2024-02-01", "2024-02-29"],
      ["firstOfLastMonth", "2026-01-31", "2025-12-01"],
      ["lastOfLastMonth", "2024-03-31", "2024-02-29"],
      ["firstOfThisQuarter", "2026-11-23", "2026-10-01"],
      ["firstOfLastQuarter", "2026-02-10", "2025-10-01"],
      ["lastOfLastQuarter", "2026-02-10", "2025-12-31"],
      ["firstOfThisYear", "2026-11-23", "2026-01-01"],
      ["firstOfLastYear", "2026-11-23", "2025-01-01"],
      ["lastOfLastYear", "2026-11-23", "2025-12-31"],
      ["previousWorkingDay", "2026-11-23", "2026-11-20"],
    ];
    for (const [date, day, wanted] of cases) expect(of(date, day), `${date} on ${day}`).toBe(wanted);
    expect(RELATIVE_DATES.lastOfLastMonth.of(usualDay("2026-11-23"))).toBe("2026-10-31");
  });
  it("begin weeks on the workspace's day", () => {
    expect(["2026-11-28", "2026-11-29", "2026-11-30"].map((day) => of("firstOfThisWeek", day, { weekStart: 7 }))).toEqual([
      "2026-11-22",
      "2026-11-29",
      "2026-11-29",
    ]);
    expect(of("lastOfLastWeek", "2026-11-25", { weekStart: 6 })).toBe("2026-11-20");
    for (let day = "2026-01-01"; day < "2026-02-01"; day = addDays(day, 1))
      expect(addDays(of("lastOfLastWeek", day, { weekStart: 3 }), 1)).toBe(of("firstOfThisWeek", day, { weekStart: 3 }));
  });
  it("begin business years on the workspace's day, the day itself counted in", () => {
    const april = { yearStart: "04-06" };
    expect(["2026-04-05", "2026-04-06"].map((day) => of("firstOfBusinessYear", day, april))).toEqual(["2025-04-06", "2026-04-06"]);
    expect(of("firstOfLastBusinessYear", "2026-04-05", april)).toBe("2024-04-06");
    expect(of("lastOfLastBusinessYear", "2026-04-06", april)).toBe("2026-04-05");
    expect(businessYear(usualDay("2026-11-23"))).toBe("2026-01-01");
    expect(businessYear(usualDay("2026-11-23"), 1)).toBe("2027-01-01");
  });
});

describe("the days that are worked", () => {
  it("are of the weekdays chosen, and no holiday", () => {
    const calendar = { ...USUAL_CALENDAR, holidays: ["2026-11-23"] };
    expect(["2026-11-20", "2026-11-21", "2026-11-22", "2026-11-23", "2026-11-24"].filter((day) => isWorkingDay(day, calendar))).toEqual([
      "2026-11-20",
      "2026-11-24",
    ]);
    expect(workingDayBefore({ day: "2026-11-24", calendar })).toBe("2026-11-20");
    expect(lastWorkingDay("2026-11-02", { ...USUAL_CALENDAR, holidays: ["2026-11-30"] })).toBe("2026-11-27");
    expect(lastWorkingDay("2026-05-09", USUAL_CALENDAR)).toBe("2026-05-29");
  });
  it("need not be at all: a closed month has no last one, and the day before stands for a working day", () => {
    const closed = Array.from({ length: 400 }, (_, i) => addDays("2026-01-01", i));
    const calendar = { ...USUAL_CALENDAR, holidays: closed };
    expect(lastWorkingDay("2026-05-09", calendar)).toBeNull();
    expect(workingDayBefore({ day: "2027-01-20", calendar })).toBe("2027-01-19");
  });
  it("are refused where no calendar has them", () => {
    const wrong: Partial<typeof USUAL_CALENDAR>[] = [
      { yearStart: "02-29" },
      { yearStart: "13-01" },
      { yearStart: "4-1" },
      { weekStart: 0 },
      { weekStart: 8 },
      { workingDays: [] },
      { workingDays: [8] },
      { holidays: ["2026-02-30"] },
    ];
    for (const change of wrong) expect(calendarSchema.safeParse({ ...USUAL_CALENDAR, ...change }).success, JSON.stringify(change)).toBe(false);
    expect(calendarSchema.safeParse({ ...USUAL_CALENDAR, yearStart: "04-06", holidays: ["2026-12-25"] }).success).toBe(true);
  });
});
