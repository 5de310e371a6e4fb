import { businessYear, type Today, weekOf } from "./calendar";
import { addDays, type IsoDate, isIsoDate, periodStart, shiftPeriod } from "./date";
import type { Locale } from "./format";
import { writeDate } from "./format";

/** A stretch of days, both ends in it. */
export type Stretch = { start: IsoDate; end: IsoDate };

type Relative = { words: string; of: (today: Today) => Stretch };

const whole =
  (part: "month" | "quarter" | "year", back: number) =>
  ({ day }: Today): Stretch => ({
    start: shiftPeriod(day, part, -back),
    end: addDays(shiftPeriod(day, part, 1 - back), -1),
  });
const week =
  (back: number) =>
  (today: Today): Stretch => ({ start: addDays(weekOf(today), -7 * back), end: addDays(weekOf(today), 6 - 7 * back) });
const business =
  (back: number) =>
  (today: Today): Stretch => ({ start: businessYear(today, -back), end: addDays(businessYear(today, 1 - back), -1) });
const lastDays =
  (days: number) =>
  ({ day }: Today): Stretch => ({ start: addDays(day, 1 - days), end: day });

/** Periods relative to the day of the run. The words are the ones of the interface. */
export const RELATIVE_PERIODS = {
  today: { words: "today", of: lastDays(1) },
  yesterday: { words: "yesterday", of: ({ day }) => ({ start: addDays(day, -1), end: addDays(day, -1) }) },
  last7Days: { words: "last 7 days", of: lastDays(7) },
  last30Days: { words: "last 30 days", of: lastDays(30) },
  thisWeek: { words: "this week", of: week(0) },
  lastWeek: { words: "last week", of: week(1) },
  thisMonth: { words: "this month", of: whole("month", 0) },
  lastMonth: { words: "last month", of: whole("month", 1) },
  thisQuarter: { words: "this quarter", of: whole("quarter", 0) },
  lastQuarter: { words: "last quarter", of: whole("quarter", 1) },
  thisYear: { words: "this year", of: whole("year", 0) },
  lastYear: { words: "last year", of: whole("year", 1) },
  yearToDate: { words: "this year to date", of: ({ day }) => ({ start: periodStart(day, "year"), end: day }) },
  businessYear: { words: "this business year", of: business(0) },
  lastBusinessYear: { words: "last business year", of: business(1) },
  businessYearToDate: { words: "this business year to date", of: (today) => ({ start: businessYear(today), end: today.day }) },
} as const satisfies Record<string, Relative>;

export type RelativePeriod = keyof typeof RELATIVE_PERIODS;
export const RELATIVE_PERIOD_NAMES = Object.keys(RELATIVE_PERIODS) as RelativePeriod[];

const isRelative = (text: string): text is RelativePeriod => Object.hasOwn(RELATIVE_PERIODS, text);

/**
 * A period as it is kept: two days with a stroke between them (ISO 8601, a time interval), or the name of a relative one.
 * @returns null for what is neither
 * @example readStretch("2026-10-01/2026-10-31", today) // { start: "2026-10-01", end: "2026-10-31" }
 */
export function readStretch(text: string, today: Today): Stretch | null {
  const trimmed = text.trim();
  if (isRelative(trimmed)) return RELATIVE_PERIODS[trimmed].of(today);
  const [start = "", end = "", ...more] = trimmed.split("/");
  return more.length === 0 && isIsoDate(start) && isIsoDate(end) ? { start, end } : null;
}

/** As it is kept. */
export const stretchText = ({ start, end }: Stretch): string => `${start}/${end}`;

/** A kept period as a person reads it: "last month", "1 Oct 2026 to 31 Oct 2026". */
export function stretchWords(text: string, locale: Locale): string {
  if (isRelative(text)) return RELATIVE_PERIODS[text].words;
  const [start = "", end = ""] = text.split("/");
  return isIsoDate(start) && isIsoDate(end) ? `${writeDate(start, locale)} to ${writeDate(end, locale)}` : text;
}
