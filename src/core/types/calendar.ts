import { addDays, type IsoDate, periodStart, weekdayOf } from "./date";

/** How a workspace divides its time: its weeks, its business years, the days it works. Weekdays by ISO 8601: Monday is 1. */
export type Calendar = {
  weekStart: number;
  /** The day the business year begins on, "MM-DD". */
  yearStart: string;
  workingDays: number[];
  /** Days nobody works, though their weekday is a working day. */
  holidays: IsoDate[];
};

/** Where nothing was set: weeks from Monday (ISO 8601), calendar years, Monday to Friday (common practice). */
export const USUAL_CALENDAR: Calendar = { weekStart: 1, yearStart: "01-01", workingDays: [1, 2, 3, 4, 5], holidays: [] };

/** The day a run is on, and the calendar by which "this week" or "this business year" is meant on it. */
export type Today = { day: IsoDate; calendar: Calendar };

/** A day where nothing was set. */
export const usualDay = (day: IsoDate): Today => ({ day, calendar: USUAL_CALENDAR });

/** Whether anybody works on a day. */
export const isWorkingDay = (day: IsoDate, { workingDays, holidays }: Calendar): boolean => workingDays.includes(weekdayOf(day)) && !holidays.includes(day);

/** The first day of the week a day lies in. */
export const weekOf = ({ day, calendar }: Today): IsoDate => addDays(day, -((weekdayOf(day) - calendar.weekStart + 7) % 7));

/**
 * The first day of the business year a day lies in.
 * @param years so many business years later; negative: earlier
 * @example businessYear({ day: "2026-03-31", calendar: { ...USUAL_CALENDAR, yearStart: "04-01" } }) // "2025-04-01"
 */
export function businessYear({ day, calendar }: Today, years = 0): IsoDate {
  const begun = day.slice(5) >= calendar.yearStart;
  const year = Number(day.slice(0, 4)) + years - (begun ? 0 : 1);
  return `${String(year).padStart(4, "0")}-${calendar.yearStart}`;
}

/** So many days are looked through for a working one: holidays can be many in a row, but not for ever. */
const LONGEST_CLOSED = 366;

/** The working day before a day; the day before where none of a year is one. */
export function workingDayBefore({ day, calendar }: Today): IsoDate {
  for (let back = 1; back <= LONGEST_CLOSED; back++) {
    const before = addDays(day, -back);
    if (isWorkingDay(before, calendar)) return before;
  }
  return addDays(day, -1);
}

/** The last working day of a day's month; null where none is. */
export function lastWorkingDay(day: IsoDate, calendar: Calendar): IsoDate | null {
  const first = periodStart(day, "month");
  for (let at = addDays(periodStart(addDays(first, 31), "month"), -1); at >= first; at = addDays(at, -1)) if (isWorkingDay(at, calendar)) return at;
  return null;
}
