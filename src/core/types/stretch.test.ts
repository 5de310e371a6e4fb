import { expect, it } from "vitest";
import { USUAL_CALENDAR, usualDay } from "./calendar";
import { RELATIVE_PERIOD_NAMES, readStretch, stretchText, stretchWords } from "./stretch";

/* Periods of days, by hand on a Monday: 23 November 2026. */

const today = usualDay("2026-11-23");
const read = (text: string, on = today) => {
  const stretch = readStretch(text, on);
  return stretch && stretchText(stretch);
};

it.each([
  ["today", "2026-11-23/2026-11-23"],
  ["yesterday", "2026-11-22/2026-11-22"],
  ["last7Days", "2026-11-17/2026-11-23"],
  ["last30Days", "2026-10-25/2026-11-23"],
  ["thisWeek", "2026-11-23/2026-11-29"],
  ["lastWeek", "2026-11-16/2026-11-22"],
  ["thisMonth", "2026-11-01/2026-11-30"],
  ["lastMonth", "2026-10-01/2026-10-31"],
  ["thisQuarter", "2026-10-01/2026-12-31"],
  ["lastQuarter", "2026-07-01/2026-09-30"],
  ["thisYear", "2026-01-01/2026-12-31"],
  ["lastYear", "2025-01-01/2025-12-31"],
  ["yearToDate", "2026-01-01/2026-11-23"],
])("%s", (name, wanted) => expect(read(name)).toBe(wanted));

it("business years are those of the workspace, and a month has the length it has", () => {
  const april = { day: "2026-03-31", calendar: { ...USUAL_CALENDAR, yearStart: "04-01" } };
  expect(read("businessYear", april)).toBe("2025-04-01/2026-03-31");
  expect(read("lastBusinessYear", april)).toBe("2024-04-01/2025-03-31");
  expect(read("businessYearToDate", { ...april, day: "2026-04-02" })).toBe("2026-04-01/2026-04-02");
  expect(read("lastMonth", usualDay("2028-03-31"))).toBe("2028-02-01/2028-02-29");
  expect(RELATIVE_PERIOD_NAMES.every((name) => read(name) !== null)).toBe(true);
});

it("is read as two days with a stroke between them, and nothing else is one", () => {
  expect(read(" 2026-10-01/2026-10-31 ")).toBe("2026-10-01/2026-10-31");
  for (const text of ["", "2026-10-01", "2026-10-01/", "2026-02-30/2026-03-01", "2026-10-01/2026-10-02/2026-10-03", "toString"]) expect(read(text)).toBeNull();
});

it("is said in words", () => {
  const locale = { locale: "en-GB", zone: "UTC" };
  expect(stretchWords("lastBusinessYear", locale)).toBe("last business year");
  expect(stretchWords("2026-10-01/2026-10-31", locale)).toBe("1 Oct 2026 to 31 Oct 2026");
  expect(stretchWords("neither", locale)).toBe("neither");
});
