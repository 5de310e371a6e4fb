import { businessYear, type Today, weekOf, workingDayBefore } from "./calendar";
import { addDays, type IsoDate, periodStart, shiftPeriod } from "./date";

type Relative = { words: string; of: (today: Today) => IsoDate };

/** Dates relative to the day of the run. The words are the ones of the interface. */
export const RELATIVE_DATES = {
  today: { words: "today", of: ({ day }) => day },
  yesterday: { words: "yesterday", of: ({ day }) => addDays(day, -1) },
  previousWorkingDay: { words: "previous working day", of: workingDayBefore },
  daysAgo7: { words: "7 days ago", of: ({ day }) => addDays(day, -7) },
  daysAgo30: { words: "30 days ago", of: ({ day }) => addDays(day, -30) },
  firstOfThisWeek: { words: "first day of this week", of: weekOf },
  firstOfLastWeek: { words: "first day of last week", of: (today) => addDays(weekOf(today), -7) },
  lastOfLastWeek: { words: "last day of last week", of: (today) => addDays(weekOf(today), -1) },
  firstOfThisMonth: { words: "first day of this month", of: ({ day }) => periodStart(day, "month") },
  lastOfThisMonth: { words: "last day of this month", of: ({ day }) => addDays(shiftPeriod(day, "month", 1), -1) },
  firstOfLastMonth: { words: "first day of last month", of: ({ day }) => shiftPeriod(day, "month", -1) },
  lastOfLastMonth: { words: "last day of last month", of: ({ day }) => addDays(periodStart(day, "month"), -1) },
  firstOfThisQuarter: { words: "first day of this quarter", of: ({ day }) => periodStart(day, "quarter") },
  firstOfLastQuarter: { words: "first day of last quarter", of: ({ day }) => shiftPeriod(day, "quarter", -1) },
  lastOfLastQuarter: { words: "last day of last quarter", of: ({ day }) => addDays(periodStart(day, "quarter"), -1) },
  firstOfThisYear: { words: "first day of this year", of: ({ day }) => periodStart(day, "year") },
  firstOfLastYear: { words: "first day of last year", of: ({ day }) => shiftPeriod(day, "year", -1) },
  lastOfLastYear: { words: "last day of last year", of: ({ day }) => addDays(periodStart(day, "year"), -1) },
  firstOfBusinessYear: { words: "first day of this business year", of: (today) => businessYear(today) },
  firstOfLastBusinessYear: { words: "first day of last business year", of: (today) => businessYear(today, -1) },
  lastOfLastBusinessYear: { words: "last day of last business year", of: (today) => addDays(businessYear(today), -1) },
} as const satisfies Record<string, Relative>;

export type RelativeDate = keyof typeof RELATIVE_DATES;
