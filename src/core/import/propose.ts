import { humanise } from "../schema/schema";
import { DATE_ORDERS, type DateOrder, readDate, readTimestamp } from "../types/date";
import { date, decimal, floating, text, timestamp, type ValueKind, type ValueType, whole, yesno } from "../types/valueType";
import type { ImportColumn } from "./spec";

/** A value that does not fit a type, and the row it stands in, from 1. */
export type Sample = { row: number; text: string };

/** What a column's values can be: how many fit each type, and the first that do not. */
export type ColumnTally = {
  filled: number;
  longest: number;
  /** Numbers by the digits they have after the point; place 13 stands for more. */
  digits: number[];
  wholes: number;
  /** Numbers that only a floating type takes: with an exponent, or with more digits than a decimal has. */
  floatings: number;
  dates: Record<DateOrder, number>;
  timestamps: Record<DateOrder, number>;
  truths: number;
  samples: Record<ValueKind, Sample[]>;
};

const SAMPLES = 5;
const MOST_DIGITS = 12;
const NUMBER = /^[+-]?(?:\d+\.?\d*|\.\d+)$/;
const EXPONENT = /^[+-]?(?:\d+\.?\d*|\.\d+)[eE][+-]?\d+$/;
const GROUPED = /^[+-]?\d{1,3}(?:[,  ' ]\d{3})+(?:\.\d+)?$/;
const GROUPED_COMMA = /^[+-]?\d{1,3}(?:[.  ' ]\d{3})+(?:,\d+)?$/;
const DIGITS_ONLY = /^\d+$/;
const TRUTH = /^(?:yes|no|true|false)$/i;
const INT64 = 9223372036854775807n;

const perOrder = (): Record<DateOrder, number> => ({ ymd: 0, dmy: 0, mdy: 0 });

export const emptyTally = (): ColumnTally => ({
  filled: 0,
  longest: 0,
  digits: Array.from({ length: MOST_DIGITS + 2 }, () => 0),
  wholes: 0,
  floatings: 0,
  dates: perOrder(),
  timestamps: perOrder(),
  truths: 0,
  samples: { text: [], whole: [], decimal: [], floating: [], date: [], timestamp: [], yesno: [] },
});

/**
 * A number as a file writes it, in plain digits with a point: thousands set apart are put together.
 * @param comma the file writes decimals with a comma
 * @example plainNumber("1.234,50", true) // "1234.50"
 */
export function plainNumber(source: string, comma: boolean): string {
  const trimmed = source.trim();
  if (DIGITS_ONLY.test(trimmed)) return trimmed;
  if (comma) {
    if (GROUPED_COMMA.test(trimmed)) return trimmed.replace(/[.  ' ]/g, "").replace(",", ".");
    return /^[+-]?\d*,\d+$/.test(trimmed) ? trimmed.replace(",", ".") : trimmed;
  }
  return GROUPED.test(trimmed) ? trimmed.replace(/[,  ' ]/g, "") : trimmed;
}

/** Counts one value of a column toward every type it fits. Numbers with leading zeros are codes and stay text. */
export function tallyValue(tally: ColumnTally, source: string, row: number, comma: boolean): void {
  const value = source.trim();
  if (value === "") return;
  tally.filled++;
  if (value.length > tally.longest) tally.longest = value.length;
  const missed = (kind: ValueKind) => {
    const list = tally.samples[kind];
    if (list.length < SAMPLES) list.push({ row, text: value.slice(0, 60) });
  };
  const numeric = startsNumber(value.charCodeAt(0));
  const number = numeric ? plainNumber(value, comma) : value;
  const exact = numeric && NUMBER.test(number) && !/^[+-]?0\d/.test(number);
  if (exact) {
    const point = number.indexOf(".");
    const digits = point < 0 ? 0 : number.length - point - 1;
    tally.digits[Math.min(digits, MOST_DIGITS + 1)] = (tally.digits[Math.min(digits, MOST_DIGITS + 1)] ?? 0) + 1;
    if (digits === 0 && (number.length < 18 || BigInt(number.replace("+", "")) <= INT64)) tally.wholes++;
    else missed("whole");
    if (digits > MOST_DIGITS) missed("decimal");
  } else {
    missed("whole");
    missed("decimal");
    if (numeric && EXPONENT.test(number)) tally.floatings++;
    else missed("floating");
  }
  if (value.length <= 5 && TRUTH.test(value)) tally.truths++;
  else missed("yesno");
  if (exact || !tallyDate(tally, value)) missed("date");
  if (exact || !tallyTimestamp(tally, value)) missed("timestamp");
}

/** Digits, signs and points begin numbers. */
const startsNumber = (code: number): boolean => (code >= 48 && code <= 57) || code === 43 || code === 45 || code === 46;
const DATE_LIKE = /^(?:\d{1,4}[-./ ]|[A-Za-z]{3,9}\.?[-./ ]\d)/;
const ISO_LENGTH = 10;

function tallyDate(tally: ColumnTally, value: string): boolean {
  if (!DATE_LIKE.test(value)) return false;
  // ISO 8601 is read alike in every order.
  const iso = value.length === ISO_LENGTH && value.charCodeAt(4) === 45 ? readDate(value, "ymd") !== null : null;
  let fits = false;
  for (const order of DATE_ORDERS) {
    if (!(iso ?? readDate(value, order) !== null)) continue;
    tally.dates[order]++;
    fits = true;
  }
  return fits;
}

function tallyTimestamp(tally: ColumnTally, value: string): boolean {
  if (!DATE_LIKE.test(value)) return false;
  const iso = value.charCodeAt(4) === 45 ? readTimestamp(value, "ymd") !== null : null;
  let fits = false;
  for (const order of DATE_ORDERS) {
    if (!(iso ?? readTimestamp(value, order) !== null)) continue;
    tally.timestamps[order]++;
    fits = true;
  }
  return fits;
}

/** How many of a column's values a type takes. */
export function fitting(tally: ColumnTally, type: ValueType, dates: DateOrder): number {
  const upTo = (scale: number) => tally.digits.slice(0, scale + 1).reduce((a, b) => a + b, 0);
  switch (type.kind) {
    case "text":
      return tally.filled;
    case "whole":
      return tally.wholes;
    case "decimal":
      return upTo(type.scale);
    case "floating":
      return upTo(MOST_DIGITS + 1) + tally.floatings;
    case "date":
      return tally.dates[dates];
    case "timestamp":
      return tally.timestamps[dates];
    case "yesno":
      return tally.truths;
    default:
      return type satisfies never;
  }
}

/** How many values of each column do not fit the type it is to have; none of a column that is left out. */
export const misfitsIn = (scanned: readonly { tally: ColumnTally }[], columns: readonly ImportColumn[]): number[] =>
  columns.map(({ type, dates, left }, i) => {
    const tally = scanned[i]?.tally;
    return tally && !left ? tally.filled - fitting(tally, type, dates) : 0;
  });

/** A type is proposed where at least this share of the values fits it, or all of several but one. */
const SHARE = 0.95;
const SEVERAL = 4;
const speaksFor = (fits: number, filled: number): boolean => fits >= SHARE * filled || (filled >= SEVERAL && fits >= filled - 1);

/** The digits a decimal needs so that all numbers with a point fit, short of those with more than a decimal has. */
export const scaleOfTally = (tally: ColumnTally): number =>
  Math.max(
    1,
    tally.digits.slice(0, MOST_DIGITS + 1).findLastIndex((n) => n > 0),
  );

/**
 * The type a column's values speak for, from all of them; text where they speak for none.
 * @returns with the order of day and month, and whether the other order would do as well
 */
export function proposeType(tally: ColumnTally): { type: ValueType; dates: DateOrder; ambiguous: boolean } {
  const orders = [...DATE_ORDERS].sort((a, b) => tally.timestamps[b] - tally.timestamps[a]);
  const dates = orders[0] as DateOrder;
  const ambiguous = dates !== "ymd" && tally.dates.dmy === tally.dates.mdy && tally.dates.dmy > tally.dates.ymd;
  const made = (type: ValueType) => ({ type, dates, ambiguous: ambiguous && (type.kind === "date" || type.kind === "timestamp") });
  if (tally.filled === 0) return made(text);
  const scaled = decimal(scaleOfTally(tally));
  const candidates: ValueType[] = [yesno, whole, scaled, floating, date, timestamp];
  const whole_ = candidates.find((type) => fitting(tally, type, dates) === tally.filled);
  return made(whole_ ?? candidates.find((type) => speaksFor(fitting(tally, type, dates), tally.filled)) ?? text);
}

/** A file's columns as all its values speak for: each of the type proposed, none left out. */
export const columnsProposed = ({
  names,
  columns,
}: {
  names: string[];
  columns: { proposal: Pick<ReturnType<typeof proposeType>, "type" | "dates"> }[];
}): ImportColumn[] =>
  names.map((name, i) => {
    const { type, dates } = columns[i]?.proposal ?? { type: text, dates: "ymd" as const };
    return { name, type, dates, left: false };
  });

/** Names for columns out of a file's headings: empty ones are numbered, doubled ones too. */
export function columnNames(headings: string[]): { names: string[]; changed: number } {
  const used = new Set<string>();
  let changed = 0;
  const names = headings.map((heading, i) => {
    const wanted = heading.replace(/\s+/g, " ").trim().slice(0, 100) || `column ${i + 1}`;
    let name = wanted;
    for (let n = 2; used.has(name.toLowerCase()); n++) name = `${wanted} ${n}`;
    used.add(name.toLowerCase());
    if (name !== heading.trim()) changed++;
    return name;
  });
  return { names, changed };
}

/** What a table made of a file is called at first: the file's name without its ending, in small letters. */
export const tableNameOf = (file: string): string =>
  humanise(file.replace(/\.[^.]*$/, "").replace(/[^\p{L}\p{N}]+/gu, " "))
    .trim()
    .replace(/\s+/g, "_")
    .toLowerCase() || "table";
