/** Dates are ISO 8601 text (YYYY-MM-DD) in the proleptic Gregorian calendar everywhere in the core. */
export type IsoDate = string;

const ISO_DATE = /^(\d{4})-(\d{2})-(\d{2})$/;

/** Days from 1970-01-01 to a date; integer arithmetic through the UTC calendar, which has no clock changes. */
export function dayNumber(date: IsoDate): number {
  const match = ISO_DATE.exec(date);
  if (!match) throw new RangeError(`not an ISO date: ${date}`);
  const at = new Date(0);
  at.setUTCFullYear(Number(match[1]), Number(match[2]) - 1, Number(match[3]));
  return Math.round(at.getTime() / 86_400_000);
}

/** The inverse of dayNumber. */
export const dateOfDay = (day: number): IsoDate => new Date(day * 86_400_000).toISOString().slice(0, 10);

/** True for a date that exists: 2026-02-30 does not. */
export function isIsoDate(source: string): boolean {
  const match = ISO_DATE.exec(source);
  if (!match) return false;
  const [year, month, day] = [Number(match[1]), Number(match[2]), Number(match[3])];
  return day >= 1 && day <= daysIn(year, month);
}

/** The days of a month of the Gregorian calendar; 0 where there is no such month. */
function daysIn(year: number, month: number): number {
  if (month === 2) return year % 4 === 0 && (year % 100 !== 0 || year % 400 === 0) ? 29 : 28;
  return [31, 0, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31][month - 1] ?? 0;
}

export const addDays = (date: IsoDate, days: number): IsoDate => dateOfDay(dayNumber(date) + days);

/** In which order a written date has its day, month and year. */
export const DATE_ORDERS = ["ymd", "dmy", "mdy"] as const;
export type DateOrder = (typeof DATE_ORDERS)[number];
export const DATE_ORDER_WORDS: Record<DateOrder, string> = { ymd: "year, month, day", dmy: "day, month, year", mdy: "month, day, year" };

const WRITTEN: Record<DateOrder, RegExp> = {
  ymd: /^(?<y>\d{4})[-./](?<m>\d{1,2})[-./](?<d>\d{1,2})$/,
  dmy: /^(?<d>\d{1,2})[-./ ](?<m>\d{1,2}|[A-Za-z]{3,9})\.?[-./ ](?<y>\d{4}|\d{2})$/,
  mdy: /^(?<m>\d{1,2}|[A-Za-z]{3,9})\.?[-./ ](?<d>\d{1,2}),?[-./ ](?<y>\d{4}|\d{2})$/,
};
const MONTHS = ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"];

/**
 * A date as a person or a file writes it. ISO 8601 is read in any order, and so is a month that is an English word; a year of two
 * digits lies between 1970 and 2069 (common practice).
 * @returns null where there is no such day: 30 February, or 13 as a month
 * @example readDate("3/11/2026", "dmy") // "2026-11-03"
 */
export function readDate(source: string, order: DateOrder): IsoDate | null {
  const written = source.trim();
  const parts = (WRITTEN.ymd.exec(written) ?? WRITTEN[order].exec(written) ?? withMonthName(written))?.groups;
  if (!parts) return null;
  const { y = "", m = "", d = "" } = parts;
  const month = /^\d+$/.test(m) ? Number(m) : MONTHS.indexOf(m.slice(0, 3).toLowerCase()) + 1;
  const year = y.length === 2 ? Number(y) + (Number(y) < 70 ? 2000 : 1900) : Number(y);
  const iso = `${String(year).padStart(4, "0")}-${String(month).padStart(2, "0")}-${d.padStart(2, "0")}`;
  return isIsoDate(iso) ? iso : null;
}

/** Whether a date is written in an order of day, month and year. */
export const isWrittenIn = (source: string, order: DateOrder): boolean => WRITTEN[order].test(source.trim());

/** A month's name tells by itself where it stands. */
const withMonthName = (written: string): RegExpExecArray | null =>
  /[A-Za-z]{3}/.test(written) ? (WRITTEN.dmy.exec(written) ?? WRITTEN.mdy.exec(written)) : null;

/**
 * The other day that a written date may mean, where its day and its month could change places.
 * @returns null where it can be read in one way only
 * @example otherReading("3/4/2026", "dmy") // "2026-03-04"
 */
export function otherReading(source: string, order: DateOrder): IsoDate | null {
  if (order === "ymd") return null;
  const [day, other] = [readDate(source, order), readDate(source, order === "dmy" ? "mdy" : "dmy")];
  return day !== null && other !== null && day !== other ? other : null;
}

/** A timestamp in the ledger's form, "2026-11-03 14:05:00"; a date alone is its midnight. null where it is none. */
export function readTimestamp(source: string, order: DateOrder = "ymd"): string | null {
  const match = /^(.*?)(?:[T ]+([01]?\d|2[0-3]):([0-5]\d)(?::([0-5]\d))?(?:\.\d+)?Z?)?$/.exec(source.trim());
  const day = readDate(match?.[1] ?? "", order);
  return day && `${day} ${(match?.[2] ?? "0").padStart(2, "0")}:${match?.[3] ?? "00"}:${match?.[4] ?? "00"}`;
}

/** Monday is 1, Sunday is 7 (ISO 8601). */
export const weekdayOf = (date: IsoDate): number => ((((dayNumber(date) + 3) % 7) + 7) % 7) + 1;

/** The first day of the month that lies so many months away; counted from the anchor, so nothing drifts. */
function monthStart(date: IsoDate, months: number): IsoDate {
  const [year = 0, month = 1] = date.split("-").map(Number);
  return new Date(Date.UTC(year, month - 1 + months, 1)).toISOString().slice(0, 10);
}

/** The parts a date can be grouped by. Each stands for the period's first day. */
export const DATE_PARTS = ["year", "quarter", "month", "isoWeek", "day"] as const;
export type DatePart = (typeof DATE_PARTS)[number];

export const DATE_PART_WORDS: Record<DatePart, string> = {
  year: "year",
  quarter: "quarter",
  month: "month",
  isoWeek: "ISO week",
  day: "day",
};

/** What a date can be grouped by: a period, a business year as the workspace has it, or the day of the week across all weeks (ISO 8601: Monday is 1). */
export const GROUP_PARTS = [...DATE_PARTS, "businessYear", "weekday"] as const;
export type GroupPart = (typeof GROUP_PARTS)[number];
export const GROUP_PART_WORDS: Record<GroupPart, string> = { ...DATE_PART_WORDS, businessYear: "business year", weekday: "weekday" };
/** A part of a date that is a stretch of days. */
export type Period = Exclude<GroupPart, "weekday">;

/**
 * The first day of the period a date lies in.
 * @example periodStart("2026-09-17", "quarter") // "2026-07-01"
 */
export function periodStart(date: IsoDate, part: DatePart): IsoDate {
  const month = Number(date.slice(5, 7));
  const starts: Record<DatePart, () => IsoDate> = {
    year: () => `${date.slice(0, 4)}-01-01`,
    quarter: () => monthStart(date, -((month - 1) % 3)),
    month: () => monthStart(date, 0),
    isoWeek: () => addDays(date, 1 - weekdayOf(date)),
    day: () => date.slice(0, 10),
  };
  return starts[part]();
}

/** The first day of the period so many periods after the one a date lies in (negative: before it). Of business years, the date is the first day of one. */
export function shiftPeriod(date: IsoDate, part: Period, periods: number): IsoDate {
  if (part === "businessYear") return `${String(Number(date.slice(0, 4)) + periods).padStart(4, "0")}${date.slice(4)}`;
  const start = periodStart(date, part);
  const shifts: Record<DatePart, () => IsoDate> = {
    year: () => monthStart(start, 12 * periods),
    quarter: () => monthStart(start, 3 * periods),
    month: () => monthStart(start, periods),
    isoWeek: () => addDays(start, 7 * periods),
    day: () => addDays(start, periods),
  };
  return shifts[part]();
}

/**
 * ISO 8601 week number and the year it belongs to.
 * @example isoWeekOf("2027-01-01") // { year: 2026, week: 53 }
 */
export function isoWeekOf(date: IsoDate): { year: number; week: number } {
  const thursday = addDays(date, 4 - weekdayOf(date));
  const year = Number(thursday.slice(0, 4));
  return { year, week: Math.floor((dayNumber(thursday) - dayNumber(`${thursday.slice(0, 4)}-01-01`)) / 7) + 1 };
}

/**
 * The calendar day it is in a time zone at an instant.
 * @param zone IANA name, "Europe/Paris"
 */
export function dayInZone(instant: Date, zone: string): IsoDate {
  return new Intl.DateTimeFormat("en-CA", { timeZone: zone, year: "numeric", month: "2-digit", day: "2-digit" }).format(instant);
}

/** Whether a time zone is known. @param zone IANA name */
export function isZone(zone: string): boolean {
  try {
    return zone !== "" && new Intl.DateTimeFormat("en", { timeZone: zone }) !== undefined;
  } catch {
    return false;
  }
}

/** The parts EXTRACT takes out of a date or a timestamp; WEEK is ISO 8601's, DOW counts Monday as 1. */
export const EXTRACT_PARTS = ["YEAR", "QUARTER", "MONTH", "WEEK", "DAY", "DOW", "HOUR", "MINUTE"] as const;
export type ExtractPart = (typeof EXTRACT_PARTS)[number];
