import { isIsoDate, isoWeekOf } from "./date";
import { decimalText, parseDecimal, rescale } from "./decimal";
import type { ColumnFormat } from "./schemas";
import { type Cell, digitsOf, exactOf, isMisfit, scaleOf, type ValueType } from "./valueType";

/** The workspace's manner of writing: BCP 47 locale and IANA zone. */
export type Locale = { locale: string; zone: string };

/** A value as text for a reader, and whether it is negative or does not fit (never told by colour alone). */
export type Written = { text: string; negative: boolean; misfit: boolean };

export type CellWriter = (cell: Cell) => Written;

const plain = (text: string): Written => ({ text, negative: false, misfit: false });

/** A column's format while it is written: with what the rows are called that its values are keys of, by these as cells hold them. */
export type NamedFormat = ColumnFormat & { named?: ReadonlyMap<string, string> | undefined };

/**
 * Makes the writer of a column's cells. A negative number stands in parentheses; an empty value is empty text.
 * Exact numbers are never turned into binary floating point on the way.
 */
export function cellWriter(type: ValueType, format: NamedFormat, { locale }: Locale): CellWriter {
  const write = writerOf(type, format, locale);
  return (cell) => {
    if (cell === null) return plain("");
    if (isMisfit(cell)) return { text: cell.misfit, negative: false, misfit: true };
    const name = format.named?.get(String(cell));
    return name === undefined ? write(cell) : plain(name);
  };
}

function writerOf(type: ValueType, format: ColumnFormat, locale: string): (cell: string | number) => Written {
  switch (type.kind) {
    case "text":
      return (cell) => plain(String(cell));
    case "yesno":
      return (cell) => plain(Number(cell) === 1 ? "yes" : "no");
    case "date":
      return (cell) => plain(dateWriter(format.date ?? "short", locale)(String(cell)));
    case "timestamp":
      return timestampWriter(format, locale);
    case "floating": {
      const decimals = format.percent ? (format.decimals ?? PERCENT_DIGITS) : format.decimals;
      const number = new Intl.NumberFormat(locale, {
        ...(format.percent ? { style: "percent" } : {}),
        useGrouping: format.grouping ?? true,
        ...(decimals === undefined ? { maximumSignificantDigits: 15 } : { minimumFractionDigits: decimals, maximumFractionDigits: decimals }),
      });
      if (format.limits) return limitWriter(format.limits.map(Number), Number, (limit) => parenthesised(number, Number(limit)).text);
      return format.band ? floatingBand(Number(format.band), number) : (cell) => parenthesised(number, Number(cell));
    }
    case "whole":
      return format.date === "weekday" ? weekdayWriter(locale) : exactWriter(type, format, locale);
    case "decimal":
      return exactWriter(type, format, locale);
    default:
      return type satisfies never;
  }
}

function parenthesised(number: Intl.NumberFormat, value: number): Written {
  const size = number.format(Math.abs(value));
  // What is written as 0 is not negative, whatever is left of it behind the digits.
  return value < 0 && /[1-9]/.test(size) ? { text: `(${size})`, negative: true, misfit: false } : plain(size);
}

/** A number that is no cell, as along an axis, written as the cells are: below zero in parentheses. */
export const writeNumber = (number: Intl.NumberFormat, value: number): string => parenthesised(number, value).text;

/** Digits of a percentage until a person says otherwise. */
const PERCENT_DIGITS = 1;

const bandWords = (from: string, to: string): Written => plain(`${from} to under ${to}`);

const floatingBand = (width: number, number: Intl.NumberFormat) => (cell: string | number) => {
  const from = Number(cell);
  return bandWords(parenthesised(number, from).text, parenthesised(number, from + width).text);
};

/** A band by limits: "under 10", "10 to under 50", "50 and more". */
function limitWriter(sizes: (number | bigint)[], sizeOf: (cell: string | number) => number | bigint, words: (size: number | bigint) => string) {
  return (cell: string | number): Written => {
    const size = sizeOf(cell);
    const at = sizes.findLastIndex((limit) => limit <= size);
    const [from, to] = [sizes[at], sizes[at + 1]];
    if (from === undefined) return plain(to === undefined ? "" : `under ${words(to)}`);
    return to === undefined ? plain(`${words(from)} and more`) : bandWords(words(from), words(to));
  };
}

/** Monday is 1; 1 January 2024 was one. */
function weekdayWriter(locale: string): (cell: string | number) => Written {
  const names = new Intl.DateTimeFormat(locale, { weekday: "long", timeZone: "UTC" });
  return (cell) => plain(names.format(new Date(`2024-01-0${Math.min(7, Math.max(1, Number(cell)))}T00:00:00Z`)));
}

function exactWriter(type: ValueType, format: ColumnFormat, locale: string): (cell: string | number) => Written {
  const { band, limits, ...rest } = format;
  if (limits) {
    const bound = exactWriter(type, rest, locale);
    const sizes = limits.map((limit) => parseDecimal(limit, scaleOf(type)) ?? 0n);
    return limitWriter(
      sizes,
      (cell) => exactOf(cell) ?? 0n,
      (size) => bound(String(size)).text,
    );
  }
  if (band !== undefined) {
    const bound = exactWriter(type, rest, locale);
    const width = parseDecimal(band, scaleOf(type)) ?? 0n;
    return (cell) => bandWords(bound(cell).text, bound(((exactOf(cell) ?? 0n) + width).toString()).text);
  }
  const scale = scaleOf(type);
  const shown = format.percent ? (format.decimals ?? PERCENT_DIGITS) : (format.decimals ?? digitsOf(type));
  // A share is written in hundredths: two digits before the point more than it carries.
  const decimals = format.percent ? shown + 2 : shown;
  const number = new Intl.NumberFormat(locale, {
    ...(format.percent ? { style: "percent" } : {}),
    useGrouping: format.grouping ?? true,
    minimumFractionDigits: shown,
    maximumFractionDigits: shown,
  });
  return (cell) => {
    const scaled = rescale(exactOf(cell) ?? 0n, scale, decimals);
    const negative = scaled < 0n;
    // Intl formats decimal text exactly (ECMA-402 Intl.NumberFormat v3): no floating point on the way.
    const written = number.format(decimalText(negative ? -scaled : scaled, decimals) as unknown as number);
    return { text: negative ? `(${written})` : written, negative, misfit: false };
  };
}

const dateFormats = new Map<string, (iso: string) => string>();

function dateWriter(form: NonNullable<ColumnFormat["date"]>, locale: string): (iso: string) => string {
  const key = `${locale} ${form}`;
  const known = dateFormats.get(key);
  if (known) return known;
  const made = makeDateWriter(form, locale);
  dateFormats.set(key, made);
  return made;
}

function makeDateWriter(form: NonNullable<ColumnFormat["date"]>, locale: string): (iso: string) => string {
  const intl = (options: Intl.DateTimeFormatOptions) => {
    const formatter = new Intl.DateTimeFormat(locale, { timeZone: "UTC", ...options });
    return (iso: string) => (isIsoDate(iso) ? formatter.format(new Date(`${iso}T00:00:00Z`)) : iso);
  };
  switch (form) {
    case "iso":
      return (iso) => iso;
    case "short":
    case "day":
      return intl({ day: "numeric", month: "short", year: "numeric" });
    case "long":
      return intl({ weekday: "long", day: "numeric", month: "long", year: "numeric" });
    case "month":
      return intl({ month: "short", year: "numeric" });
    case "year":
      return (iso) => iso.slice(0, 4);
    // A year that begins within a calendar year is named by both (common practice).
    case "businessYear":
      return (iso) => (iso.slice(4) === "-01-01" ? iso.slice(0, 4) : `${iso.slice(0, 4)}/${String((Number(iso.slice(0, 4)) + 1) % 100).padStart(2, "0")}`);
    case "quarter":
      return (iso) => `Q${Math.ceil(Number(iso.slice(5, 7)) / 3)} ${iso.slice(0, 4)}`;
    // A weekday is a number, not a date: see weekdayWriter.
    case "weekday":
      return intl({ weekday: "long" });
    case "isoWeek":
      return (iso) => {
        if (!isIsoDate(iso)) return iso;
        const { year, week } = isoWeekOf(iso);
        return `${year}-W${String(week).padStart(2, "0")}`;
      };
    default:
      return form satisfies never;
  }
}

function timestampWriter(format: ColumnFormat, locale: string): (cell: string | number) => Written {
  const day = dateWriter(format.date ?? "short", locale);
  const dayOnly = format.date !== undefined && !["short", "long", "iso"].includes(format.date);
  return (cell) => {
    const source = String(cell);
    const time = source.slice(11).replace(/:00(\.0+)?$/, "");
    return plain(dayOnly || time === "" ? day(source.slice(0, 10)) : `${day(source.slice(0, 10))} ${time}`);
  };
}

/** A date as the workspace writes it. */
/** A moment (ISO 8601) as figures are said to be of it: on the same day, its time alone. @param now by whose day it is told */
export function asOfWords(moment: string, now: Date, { locale, zone }: Locale): string {
  const day = new Intl.DateTimeFormat(locale, { dateStyle: "medium", timeZone: zone });
  const at = new Date(moment);
  const time = new Intl.DateTimeFormat(locale, { timeStyle: "short", timeZone: zone }).format(at);
  return day.format(at) === day.format(now) ? time : `${day.format(at)}, ${time}`;
}

export const writeDate = (iso: string, locale: Locale): string => dateWriter("short", locale.locale)(iso);

/** Words one after the other, as a language lists them. */
export const listed = (words: string[], { locale }: Locale): string => new Intl.ListFormat(locale, { type: "conjunction" }).format(words);

/** A count as the workspace writes it. */
export const writeCount = (count: number, locale: Locale): string => new Intl.NumberFormat(locale.locale).format(count);

/** "1 row", "2 rows": the count with its noun. */
export const counted = (count: number, noun: string, locale: Locale, plural = `${noun}s`): string =>
  `${writeCount(count, locale)} ${count === 1 ? noun : plural}`;
