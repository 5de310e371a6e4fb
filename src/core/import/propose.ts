import { humanise } from "../schema/schema";
import { DATE_ORDERS, type DateOrder, isWrittenIn, readDate, readTimestamp } from "../types/date";
import { date, decimal, floating, text, timestamp, type ValueKind, type ValueType, whole, yesno } from "../types/valueType";
import { plainNumber, readAffixed } from "./numbers";
import type { ImportColumn } from "./spec";

/** A value that does not fit a type, and the row it stands in, from 1; with the affix it could be read with (numbers.ts). */
export type Sample = { row: number; text: string; affix?: string };

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
  /** Dates whose own order this is: a month's name is read in any. */
  written: Record<DateOrder, number>;
  truths: number;
  /** Numbers that have something beside their digits, by what that is; each by the digits it has after the point. */
  affixed: Record<string, number[]>;
  samples: Record<ValueKind, Sample[]>;
  /** The same of those numbers. */
  affixedSamples: Record<ValueKind, Sample[]>;
};

const SAMPLES = 5;
const MOST_DIGITS = 12;
const NUMBER = /^[+-]?(?:\d+\.?\d*|\.\d+)$/;
const EXPONENT = /^[+-]?(?:\d+\.?\d*|\.\d+)[eE][+-]?\d+$/;
const TRUTH = /^(?:yes|no|true|false)$/i;
const INT64 = 9223372036854775807n;

const perOrder = (): Record<DateOrder, number> => ({ ymd: 0, dmy: 0, mdy: 0 });

const noSamples = (): Record<ValueKind, Sample[]> => ({ text: [], whole: [], decimal: [], floating: [], date: [], timestamp: [], yesno: [] });
const noDigits = (): number[] => Array.from({ length: MOST_DIGITS + 2 }, () => 0);

export const emptyTally = (): ColumnTally => ({
  filled: 0,
  longest: 0,
  digits: noDigits(),
  wholes: 0,
  floatings: 0,
  dates: perOrder(),
  timestamps: perOrder(),
  written: perOrder(),
  truths: 0,
  affixed: {},
  samples: noSamples(),
  affixedSamples: noSamples(),
});

/** Counts one value of a column toward every type it fits. Numbers with leading zeros are codes and stay text. */
export function tallyValue(tally: ColumnTally, source: string, row: number, comma: boolean): void {
  const value = source.trim();
  if (value === "") return;
  tally.filled++;
  if (value.length > tally.longest) tally.longest = value.length;
  let affix: string | undefined;
  const missed = (kind: ValueKind) => {
    const list = (affix === undefined ? tally.samples : tally.affixedSamples)[kind];
    if (list.length < SAMPLES) list.push({ row, text: value.slice(0, 60), ...(affix === undefined ? {} : { affix }) });
  };
  const numeric = startsNumber(value.charCodeAt(0));
  const number = numeric ? plainNumber(value, comma) : value;
  const exact = numeric && NUMBER.test(number) && !/^[+-]?0\d/.test(number);
  if (exact) {
    const point = number.indexOf(".");
    const digits = point < 0 ? 0 : number.length - point - 1;
    countDigits(tally.digits, digits);
    if (digits === 0 && (number.length < 18 || BigInt(number.replace("+", "")) <= INT64)) tally.wholes++;
    else missed("whole");
    if (digits > MOST_DIGITS) missed("decimal");
  } else {
    affix = tallyAffixed(tally, value, comma);
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

const countDigits = (counts: number[], digits: number): void => {
  const at = Math.min(digits, MOST_DIGITS + 1);
  counts[at] = (counts[at] ?? 0) + 1;
};

/** Affixes that are counted in a column: with more, they are words and not signs. */
const MOST_AFFIXES = 8;
const HAS_DIGIT = /\d/;

function tallyAffixed(tally: ColumnTally, value: string, comma: boolean): string | undefined {
  const read = HAS_DIGIT.test(value) ? readAffixed(value, comma) : null;
  if (!read) return undefined;
  const counts = Object.hasOwn(tally.affixed, read.affix) ? tally.affixed[read.affix] : undefined;
  if (!counts && Object.keys(tally.affixed).length >= MOST_AFFIXES) return undefined;
  tally.affixed[read.affix] = counts ?? noDigits();
  countDigits(tally.affixed[read.affix] as number[], read.number.split(".")[1]?.length ?? 0);
  return read.affix;
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
    if (iso !== null || isWrittenIn(value, order)) tally.written[order]++;
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

/** Counts by digits of the numbers that are read with an affix: brackets and a minus behind go with any. */
const readWith = (tally: ColumnTally, affix: string | undefined): number[][] =>
  affix === undefined ? [] : [...new Set([affix, ""])].flatMap((a) => (Object.hasOwn(tally.affixed, a) ? [tally.affixed[a] as number[]] : []));

/** How many of a column's values a type takes. @param affix what its numbers are read with */
export function fitting(tally: ColumnTally, type: ValueType, dates: DateOrder, affix?: string): number {
  const upTo = (scale: number, of: number[][]) => of.flatMap((counts) => counts.slice(0, scale + 1)).reduce((a, b) => a + b, 0);
  const more = readWith(tally, affix);
  switch (type.kind) {
    case "text":
      return tally.filled;
    case "whole":
      return tally.wholes + upTo(0, more);
    case "decimal":
      return upTo(type.scale, [tally.digits, ...more]);
    case "floating":
      return upTo(MOST_DIGITS + 1, [tally.digits, ...more]) + tally.floatings;
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
  columns.map(({ type, dates, left, affix }, i) => {
    const tally = scanned[i]?.tally;
    return tally && !left ? tally.filled - fitting(tally, type, dates, affix) : 0;
  });

/** The first values that do not fit a column as it is to be read. */
export const samplesOf = ({ samples, affixedSamples }: ColumnTally, { type, affix }: Pick<ImportColumn, "type" | "affix">): Sample[] =>
  [...samples[type.kind], ...affixedSamples[type.kind].filter((s) => affix === undefined || (s.affix !== affix && s.affix !== ""))]
    .sort((a, b) => a.row - b.row)
    .slice(0, SAMPLES);

/** A type is proposed where at least this share of the values fits it, or all of several but one. */
const SHARE = 0.95;
const SEVERAL = 4;
const speaksFor = (fits: number, filled: number): boolean => fits >= SHARE * filled || (filled >= SEVERAL && fits >= filled - 1);

/** The digits a decimal needs so that all numbers with a point fit, short of those with more than a decimal has. */
export const scaleOfTally = (tally: ColumnTally, affix?: string): number =>
  Math.max(1, ...[tally.digits, ...readWith(tally, affix)].map((counts) => counts.slice(0, MOST_DIGITS + 1).findLastIndex((n) => n > 0)));

/**
 * The type a column's values speak for, from all of them; text where they speak for none.
 * @returns with the order of day and month, and whether the other order would do as well
 */
export function proposeType(tally: ColumnTally): { type: ValueType; dates: DateOrder; ambiguous: boolean; affix?: string } {
  const orders = [...DATE_ORDERS].sort((a, b) => tally.timestamps[b] - tally.timestamps[a] || tally.written[b] - tally.written[a]);
  const dates = orders[0] as DateOrder;
  const ambiguous = dates !== "ymd" && tally.dates.dmy === tally.dates.mdy && tally.dates.dmy > tally.dates.ymd;
  const made = (type: ValueType) => ({ type, dates, ambiguous: ambiguous && (type.kind === "date" || type.kind === "timestamp") });
  if (tally.filled === 0) return made(text);
  const plain: Candidate[] = [yesno, whole, decimal(scaleOfTally(tally)), floating, date, timestamp].map((type) => ({ type }));
  const affix = commonAffix(tally);
  const read: Candidate[] = affix === undefined ? [] : [whole, decimal(scaleOfTally(tally, affix)), floating].map((type) => ({ type, affix }));
  const fits = (c: Candidate): number => fitting(tally, c.type, dates, c.affix);
  const all = [...plain, ...read];
  const best = all.find((c) => fits(c) === tally.filled) ?? all.find((c) => speaksFor(fits(c), tally.filled)) ?? { type: text };
  return { ...made(best.type), ...(best.affix === undefined ? {} : { affix: best.affix }) };
}

type Candidate = { type: ValueType; affix?: string };

/** What stands beside most numbers of a column. */
function commonAffix({ affixed }: ColumnTally): string | undefined {
  const count = (affix: string) => (affixed[affix] ?? []).reduce((a, b) => a + b, 0);
  const [named] = Object.keys(affixed)
    .filter((affix) => affix !== "")
    .sort((a, b) => count(b) - count(a));
  return named ?? (Object.hasOwn(affixed, "") ? "" : undefined);
}

/** A file's columns as all its values speak for: each of the type proposed, none left out. */
export const columnsProposed = ({
  names,
  columns,
}: {
  names: string[];
  columns: { proposal: Pick<ReturnType<typeof proposeType>, "type" | "dates" | "affix"> }[];
}): ImportColumn[] =>
  names.map((name, i) => {
    const { type, dates, affix } = columns[i]?.proposal ?? { type: text, dates: "ymd" as const };
    return { name, type, dates, left: false, ...(affix === undefined ? {} : { affix }) };
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
