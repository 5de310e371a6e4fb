import { DATE_ORDERS, type DateOrder, isWrittenIn, readDate, readTimestamp } from "../types/date";
import type { ValueKind } from "../types/valueType";
import { plainDigits, plainNumber, readAffixed } from "./numbers";
import { ownText } from "./ownText";

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

export const SAMPLES = 5;
export const MOST_DIGITS = 12;
const NUMBER = /^[+-]?(?:\d+\.?\d*|\.\d+)$/;
const EXPONENT = /^[+-]?(?:\d+\.?\d*|\.\d+)[eE][+-]?\d+$/;
const TRUTH = /^(?:yes|no|true|false)$/i;
const INT64 = 9223372036854775807n;
const HAS_DIGIT = /\d/;
const DATE_LIKE = /^(?:\d{1,4}[-./ ]|[A-Za-z]{3,9}\.?[-./ ]\d)/;
const ISO_LENGTH = 10;

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

/** What one value can be read as. */
type Readings = {
  /** Digits after the point of a plain number; null for anything else. */
  digits: number | null;
  whole: boolean;
  floating: boolean;
  truth: boolean;
  /** What stands beside its digits, and how many of them stand after the point. */
  affixed: { affix: string; digits: number } | null;
  dates: DateOrder[];
  written: DateOrder[];
  timestamps: DateOrder[];
  /** The types it does not fit. */
  missed: ValueKind[];
};

/** Values whose readings are remembered, of all columns: most columns say the same again and again. */
const MOST_KEPT = 100_000;
/** The same of one column. */
const MOST_KEPT_OF_ONE = 4_000;
const LONGEST_KEPT = 40;

/** Readings of a column that came up so many times already. */
type Met = { readings: Readings; times: number };

/** Counts the values of a file's columns toward every type they fit. Numbers with leading zeros are codes and stay text. */
export class FileTally {
  private readonly columns: ColumnCount[] = [];
  private readonly budget = { left: MOST_KEPT };

  /** @param comma the file writes decimals with a comma */
  constructor(private readonly comma: boolean) {}

  /** @param row its number in the file, from 1 */
  add(record: readonly string[], row: number): void {
    for (let i = 0; i < record.length; i++) {
      const value = (record[i] as string).trim();
      this.columns[i] ??= new ColumnCount(this.comma, this.budget);
      if (value !== "") this.columns[i]?.add(value, row);
    }
  }

  /** What the columns' values can be, each counted; called once, at the end. */
  tallies(): ColumnTally[] {
    return this.columns.map((column) => column.settled());
  }
}

/** Counts one column: what is met again and again is added up once, at the end. */
class ColumnCount {
  private readonly tally = emptyTally();
  private readonly plain: Met[] = PLAIN.map((readings) => ({ readings, times: 0 }));
  private readonly kept = new Map<string, Met>();

  constructor(
    private readonly comma: boolean,
    private readonly budget: { left: number },
  ) {}

  add(value: string, row: number): void {
    if (value.length > this.tally.longest) this.tally.longest = value.length;
    const digits = plainDigits(value, this.comma);
    const met = digits >= 0 ? (this.plain[digits] as Met) : (this.kept.get(value) ?? this.meet(value));
    // One that gave all the samples there can be of it has none to give.
    if (met.times < SAMPLES) sample(this.tally, met.readings, value, row);
    met.times++;
    if (met.times === 1 && digits < 0 && !this.kept.has(value)) count(this.tally, met);
  }

  private meet(value: string): Met {
    const met = { readings: readingsOfValue(value, this.comma), times: 0 };
    if (value.length > LONGEST_KEPT || this.kept.size >= MOST_KEPT_OF_ONE || this.budget.left <= 0) return met;
    this.budget.left--;
    this.kept.set(ownText(value), met);
    return met;
  }

  settled(): ColumnTally {
    for (const met of [...this.plain, ...this.kept.values()]) count(this.tally, met);
    return this.tally;
  }
}

function sample(tally: ColumnTally, { affixed, missed }: Readings, value: string, row: number): void {
  const affix = affixed && takesAffix(tally, affixed.affix) ? affixed.affix : undefined;
  const samples = affix === undefined ? tally.samples : tally.affixedSamples;
  for (const kind of missed) {
    const list = samples[kind];
    if (list.length < SAMPLES) list.push({ row, text: value.slice(0, 60), ...(affix === undefined ? {} : { affix }) });
  }
}

function count(tally: ColumnTally, { readings, times }: Met): void {
  const { digits, affixed } = readings;
  tally.filled += times;
  if (digits !== null) countDigits(tally.digits, digits, times);
  if (affixed && Object.hasOwn(tally.affixed, affixed.affix)) countDigits(tally.affixed[affixed.affix] as number[], affixed.digits, times);
  if (readings.whole) tally.wholes += times;
  if (readings.floating) tally.floatings += times;
  if (readings.truth) tally.truths += times;
  for (const order of readings.dates) tally.dates[order] += times;
  for (const order of readings.written) tally.written[order] += times;
  for (const order of readings.timestamps) tally.timestamps[order] += times;
}

function readingsOfValue(value: string, comma: boolean): Readings {
  const numeric = startsNumber(value.charCodeAt(0));
  const number = numeric ? plainNumber(value, comma) : value;
  const truth = value.length <= 5 && TRUTH.test(value);
  const missed: ValueKind[] = truth ? [] : ["yesno"];
  if (numeric && NUMBER.test(number) && !/^[+-]?0\d/.test(number)) {
    const digits = digitsAfterPoint(number);
    const isWhole = digits === 0 && (number.length < 18 || BigInt(number.replace("+", "")) <= INT64);
    missed.push("date", "timestamp", ...(isWhole ? [] : (["whole"] as const)), ...(digits > MOST_DIGITS ? (["decimal"] as const) : []));
    return { digits, whole: isWhole, floating: false, truth, affixed: null, dates: [], written: [], timestamps: [], missed };
  }
  const floating = numeric && EXPONENT.test(number);
  const read = HAS_DIGIT.test(value) ? readAffixed(value, comma) : null;
  const dateLike = DATE_LIKE.test(value);
  const dates = dateLike ? ordersOf(value, ISO_LENGTH, readDate) : [];
  const timestamps = dateLike ? ordersOf(value, null, readTimestamp) : [];
  missed.push("whole", "decimal");
  if (!floating) missed.push("floating");
  if (dates.length === 0) missed.push("date");
  if (timestamps.length === 0) missed.push("timestamp");
  const written = dates.filter((order) => isIso(value, ISO_LENGTH) || isWrittenIn(value, order));
  const affixed = read && { affix: read.affix, digits: digitsAfterPoint(read.number) };
  return { digits: null, whole: false, floating, truth, affixed, dates, written, timestamps, missed };
}

const digitsAfterPoint = (number: string): number => {
  const point = number.indexOf(".");
  return point < 0 ? 0 : number.length - point - 1;
};

const countDigits = (counts: number[], digits: number, times: number): void => {
  const at = Math.min(digits, MOST_DIGITS + 1);
  counts[at] = (counts[at] ?? 0) + times;
};

/** Affixes that are counted in a column: with more, they are words and not signs. */
const MOST_AFFIXES = 8;

/** Whether an affix is counted in its column: it is from when it first comes up, where it is among the first ones. */
function takesAffix({ affixed }: ColumnTally, affix: string): boolean {
  if (Object.hasOwn(affixed, affix)) return true;
  if (Object.keys(affixed).length >= MOST_AFFIXES) return false;
  affixed[affix] = noDigits();
  return true;
}

/** Digits, signs and points begin numbers. */
const startsNumber = (code: number): boolean => (code >= 48 && code <= 57) || code === 43 || code === 45 || code === 46;

const isIso = (value: string, length: number | null): boolean => (length === null || value.length === length) && value.charCodeAt(4) === 45;

/** The orders in which a value is a date: ISO 8601 is read alike in every one. */
function ordersOf(value: string, isoLength: number | null, read: (source: string, order: DateOrder) => string | null): DateOrder[] {
  if (isIso(value, isoLength)) return read(value, "ymd") === null ? [] : [...DATE_ORDERS];
  return DATE_ORDERS.filter((order) => read(value, order) !== null);
}

/** The readings of short plain numbers, by the digits after their point. */
const PLAIN = Array.from({ length: MOST_DIGITS + 1 }, (_, digits) => readingsOfValue(`1.${"1".repeat(digits)}`, false));
