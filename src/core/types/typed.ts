import { type DateOrder, type IsoDate, isIsoDate, readDate, readTimestamp } from "./date";
import { decimalText, parseDecimal, tenTo } from "./decimal";
import { type Locale, writeDate } from "./format";
import { isDated, isNumber, type ValueType } from "./valueType";

/*
 * Dates and numbers as a person types them in the workspace's notation, and back. What is kept is always ISO 8601 and
 * plain digits, whatever notation it was typed in.
 */

type DateNotation = { order: DateOrder; months: Map<string, number>; fillers: Set<string> };
const dateNotations = new Map<string, DateNotation>();

/** A word without its accents and capitals: as it is looked up. */
const bare = (word: string): string => word.normalize("NFD").replace(/\p{M}/gu, "").toLowerCase();

/** In which order a locale writes day, month and year, what it calls its months, and the words it puts between. */
function dateNotation(locale: string): DateNotation {
  const known = dateNotations.get(locale);
  if (known) return known;
  const months = new Map<string, number>();
  const fillers = new Set<string>();
  for (const named of [locale, "en"])
    for (const month of ["short", "long"] as const) {
      const writer = new Intl.DateTimeFormat(named, { timeZone: "UTC", day: "numeric", month, year: "numeric" });
      for (let m = 0; m < 12; m++)
        for (const { type, value } of writer.formatToParts(Date.UTC(2026, m, 15)))
          for (const word of bare(value).match(/\p{L}+/gu) ?? []) {
            if (type === "month" && !months.has(word)) months.set(word, m + 1);
            if (type === "literal") fillers.add(word);
          }
    }
  const parts = new Intl.DateTimeFormat(locale, { timeZone: "UTC", day: "numeric", month: "numeric", year: "numeric" })
    .formatToParts(0)
    .filter((p) => p.type === "day" || p.type === "month" || p.type === "year")
    .map((p) => p.type.charAt(0));
  const order: DateOrder = parts[0] === "y" ? "ymd" : parts[0] === "m" ? "mdy" : "dmy";
  const made = { order, months, fillers };
  dateNotations.set(locale, made);
  return made;
}

/** In which order a locale writes a date in figures. */
export const dateOrderOf = (locale: string): DateOrder => dateNotation(locale).order;

/** What a date is written with; a time of day has other signs. */
const DATE_SIGNS = /^[\p{L}\p{M}\d\s.,/'’-]*$/u;

/**
 * A date as a person types it in a locale: in figures in the locale's order, or with a month's name in its language or in
 * English; ISO 8601 in any locale. Without a year it is one of the current year; a year of two digits lies between 1970
 * and 2069 (common practice).
 * @param day today, for the year
 * @returns null where it is no date, or no such day
 * @example readTypedDate("1/10/26", "en-GB", day) // "2026-10-01"
 */
export function readTypedDate(typed: string, { locale }: Pick<Locale, "locale">, day: IsoDate): IsoDate | null {
  const trimmed = typed.trim();
  if (isIsoDate(trimmed)) return trimmed;
  if (!DATE_SIGNS.test(trimmed)) return null;
  const { order, months, fillers } = dateNotation(locale);
  const figures: string[] = [];
  let month: number | null = null;
  for (const token of bare(trimmed).match(/\p{L}+|\d+/gu) ?? []) {
    if (/\d/.test(token)) figures.push(token);
    else if (month === null && months.has(token)) month = months.get(token) ?? null;
    else if (!fillers.has(token)) return null;
  }
  const year = day.slice(0, 4);
  if (month === null) {
    if (figures.length === 2) figures.splice(order === "ymd" ? 0 : 2, 0, year);
    const [a = "", b = "", c = ""] = figures;
    if (figures.length !== 3) return null;
    if (order === "ymd" || a.length === 4) return readDate(`${c}-${b}-${a}`, "dmy");
    return readDate(order === "mdy" ? `${b}-${a}-${c}` : `${a}-${b}-${c}`, "dmy");
  }
  if (figures.length === 1) figures.push(year);
  const [a = "", b = ""] = figures;
  if (figures.length !== 2) return null;
  const yearFirst = a.length === 4 || (order === "ymd" && b.length !== 4);
  return readDate(yearFirst ? `${b}-${month}-${a}` : `${a}-${month}-${b}`, "dmy");
}

/** `higher`: how many digits stand in the groups before the last three (two in India, else three). */
type NumberNotation = { decimal: string; group: string; higher: number };
const numberNotations = new Map<string, NumberNotation>();

function numberNotation(locale: string): NumberNotation {
  const known = numberNotations.get(locale);
  if (known) return known;
  const parts = new Intl.NumberFormat(locale, { useGrouping: true, minimumFractionDigits: 1 }).formatToParts(1234567.5);
  const of = (type: Intl.NumberFormatPartTypes) => parts.find((p) => p.type === type)?.value ?? "";
  const higher = parts.filter((p) => p.type === "integer").at(-2)?.value.length ?? 3;
  const made = { decimal: of("decimal") || ".", group: of("group"), higher };
  numberNotations.set(locale, made);
  return made;
}

/** A text as a regular expression that matches it alone. */
export const escaped = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, "\\$&");
/** Blanks and apostrophes of any kind are typed for one another. */
const SAME_AS: [RegExp, string][] = [
  [/[\s\u00a0\u202f]/, "[\\s\\u00a0\\u202f]"],
  [/['\u2019]/, "['\u2019]"],
];

/**
 * A number as a person types it in a locale, with or without its thousands set apart; a minus, or parentheses as the
 * ledger writes what is below zero; a percentage is a part of one.
 * @returns plain digits with a point, or null where it is no number in this notation. Where the point sets thousands
 *   apart, "1.5" is none: nothing is guessed.
 * @example readTypedNumber("(1.234,50)", "de-DE") // "-1234.50"
 * @example readTypedNumber("-20%", "en-GB") // "-0.2"
 */
export function readTypedNumber(typed: string, { locale }: Pick<Locale, "locale">): string | null {
  const [, share, end = ""] = /^([^%]*?)\s*%\s*(\)?)$/.exec(typed.trim()) ?? [];
  if (share === undefined) return readPlainNumber(typed, locale);
  const percentage = readPlainNumber(share + end, locale);
  return percentage && withPointMoved(percentage, -2);
}

function readPlainNumber(typed: string, locale: string): string | null {
  const { decimal, group, higher } = numberNotation(locale);
  const between = group && (SAME_AS.find(([alike]) => alike.test(group))?.[1] ?? escaped(group));
  const whole = between ? `\\d{1,${higher}}(?:${between}\\d{${higher}})*${between}\\d{3}|\\d+` : "\\d+";
  const shape = new RegExp(`^(\\()?\\s*([-+\u2212]?)\\s*(${whole})?(?:${escaped(decimal)}(\\d*))?\\s*(\\))?$`, "u");
  const match = shape.exec(typed.trim());
  if (!match) return null;
  const [, open, sign, integer = "", fraction, close] = match;
  if ((open === undefined) !== (close === undefined) || (open && sign)) return null;
  if (integer === "" && !fraction) return null;
  const digits = integer.replace(/\D/g, "") || "0";
  const below = open !== undefined || sign === "-" || sign === "\u2212";
  return `${below ? "-" : ""}${digits}${fraction ? `.${fraction}` : ""}`;
}

/** Plain digits with their point moved to the right, or to the left where it is below zero. @returns null where they are none */
function withPointMoved(plain: string, places: number): string | null {
  const digits = (plain.split(".")[1] ?? "").length;
  const scale = Math.max(0, digits - places);
  const scaled = parseDecimal(plain, digits);
  if (scaled === null) return null;
  const written = decimalText(scaled * tenTo(scale - digits + places), scale);
  return written.includes(".") ? written.replace(/\.?0+$/, "") : written;
}

/**
 * Plain digits as they stand in a field for typing in a locale: with its decimal sign, nothing set apart, no digit lost.
 * What is no plain number stays as it is.
 */
export const writeTypedNumber = (plain: string, { locale }: Pick<Locale, "locale">): string =>
  /^[-+]?\d*\.\d*$/.test(plain) ? plain.replace(".", numberNotation(locale).decimal) : plain;

const WITH_TIME = /^(.*?)(?:[T\s]+(\d{1,2}:\d{2}(?::\d{2})?))?$/;

/** A timestamp: a date as it is typed, with a time of day behind it or alone. */
function readTypedTimestamp(typed: string, locale: Pick<Locale, "locale">, today: IsoDate): string | null {
  const [, date = "", time] = WITH_TIME.exec(typed.trim()) ?? [];
  const day = readTypedDate(date, locale, today);
  return day && time ? readTimestamp(`${day} ${time}`) : day;
}

/**
 * A value as it is kept, from what a person typed: ISO 8601, plain digits, other types as they stand.
 * @param day today, for a date without its year
 * @param percent whether a number is typed as a percentage, with its sign or without
 * @returns null where it is none in the workspace's notation
 */
export function readTyped(type: ValueType, typed: string, locale: Pick<Locale, "locale">, day: IsoDate, percent = false): string | null {
  if (type.kind === "timestamp") return readTypedTimestamp(typed, locale, day);
  if (type.kind === "date") return readTypedDate(typed, locale, day);
  if (!isNumber(type)) return typed;
  return readTypedNumber(percent && !typed.trim().endsWith("%") ? `${typed}%` : typed, locale);
}

/** A kept value as it stands in a field for typing; what is no value of the type stays as it is. @param percent see readTyped */
export function writeTyped(type: ValueType, kept: string, locale: Locale, percent = false): string {
  const percentage = percent && isNumber(type) ? withPointMoved(kept, 2) : null;
  if (percentage !== null) return `${writeTypedNumber(percentage, locale)}%`;

  if (isDated(type)) {
    const [, date = "", time] = WITH_TIME.exec(kept) ?? [];
    return isIsoDate(date) ? [writeDate(date, locale), time?.replace(/(:\d{2}):00$/, "$1")].filter(Boolean).join(" ") : kept;
  }
  return isNumber(type) ? writeTypedNumber(kept, locale) : kept;
}
