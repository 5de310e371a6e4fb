import type { DatePart, ExtractPart } from "../../types/date";
import type { Storage } from "../../types/storage";
import type { ValueType } from "../../types/valueType";

/**
 * What one database engine writes differently. Everything not named here is the SQL the three engines share.
 * Arguments are SQL fragments made by the compiler; none of them ever holds text from a person.
 */
export type Dialect = {
  name: "sqlite" | "duckdb" | "postgres";
  /** A table of the database, by its name in plans. */
  table: (name: string) => string;
  /** How the n-th bound value (from 1) is written where its type is known. */
  placeholder: (position: number, type: ValueType) => string;
  /** Reads a stored column as the value its declared type says. */
  read: (column: string, type: ValueType, storage: Storage) => string;
  /**
   * A stored column where it is only compared or ordered by: as an index of the database has it, if that comes to the same.
   * Engines whose indexes serve what they read need none.
   */
  bare?: (column: string, type: ValueType, storage: Storage) => string;
  /** As read, but a stored value that does not fit is empty. Only columns known to hold such values pay for it. */
  readFitting: (column: string, type: ValueType, storage: Storage) => string;
  /** What lies in storage, as text, where it does not fit its type; where it does, that or nothing. */
  stored: (alias: string, column: string) => string;
  /** Integer quotient rounded half away from zero, carried to so many digits more; empty where the divisor is. */
  divideRounded: (dividend: string, divisor: string, digits: number) => string;
  /** As divideRounded, for a quotient that is rounded later (types/decimal.ts, divideCarried). */
  divideCarried: (dividend: string, divisor: string, digits: number) => string;
  /** An exact number that arithmetic may have made too large: as it is, or refused. Engines whose arithmetic refuses by itself have none. */
  checked?: (exact: string) => string;
  /** True of a count of groups that a sheet can have; more are refused (everyGroup.ts). */
  notTooMany?: (count: string) => string;
  /** A scaled integer as a floating number. */
  toFloating: (exact: string, scale: number) => string;
  /** A scaled integer as the text of its decimal. */
  decimalText: (exact: string, scale: number) => string;
  /** The first day of the period a date or timestamp lies in. */
  periodStart: (dated: string, part: DatePart, type: ValueType) => string;
  /** Text with case and accents taken away. */
  fold: (text: string) => string;
  upper: (text: string) => string;
  lower: (text: string) => string;
  initcap: (text: string) => string;
  lpad: (text: string, length: string, fill: string) => string;
  /** The n-th part of a text, from 1, between separators; and the text from that part on. Empty where there is none. */
  splitPart: (text: string, separator: string, n: string) => string;
  splitRest: (text: string, separator: string, n: string) => string;
  /** Where a part begins in a text, from 1; 0 where it does not. */
  position: (part: string, text: string) => string;
  /** Start from 1, count from 0: both have been seen to. */
  substring: (text: string, start: string, count: string) => string;
  /** Text read as a value of a type; empty where it is none. */
  fromText: (text: string, type: ValueType) => string;
  /** A floating number rounded to a scaled integer. */
  fromFloating: (floating: string, scale: number) => string;
  /** Integer quotient of numbers that are not negative. */
  quotient: (dividend: string, divisor: string) => string;
  extract: (part: ExtractPart, dated: string, type: ValueType) => string;
  /** A date or timestamp so many days or months later; a month too short ends on its last day. */
  shift: (dated: string, by: string, unit: "DAY" | "MONTH" | "MINUTE", type: ValueType) => string;
  /** Days from the second date to the first. */
  daysBetween: (later: string, earlier: string) => string;
  /** Whole minutes from the second timestamp to the first, what is less than one left out. */
  minutesBetween: (later: string, earlier: string) => string;
  /** The values of a group put together: texts with a separator, in an order. */
  list: (value: string, separator: string, order: string) => string;
  /** The same of so many values, the first in the order. */
  listOf: (value: string, separator: string, order: string, count: number) => string;
  /** What a text is cast to. */
  textType: string;
  /** The value on the row that is first in an order, and on the n-th, from 1. */
  firstBy: (value: string, order: string) => string;
  nthBy: (value: string, order: string, n: number) => string;
  /** The exact median of scaled integers, in tenths of their unit. */
  medianTenths: (exact: string) => string;
  /** The percentile of scaled integers between two values in proportion, with PERCENT_DIGITS digits more. @param percent in hundredths */
  percentileExact: (exact: string, percent: number) => string;
  percentileFloating: (floating: string, percent: number) => string;
  /** The value most rows have; of several, the least. */
  mode: (value: string) => string;
  /** How far floating numbers lie apart. @param sample whether they are a sample of more */
  spread: (floating: string, of: "deviation" | "variance", sample: boolean) => string;
  /** Whether a condition holds: it does not where it has no answer. */
  isTrue: (condition: string) => string;
  anyOf: (truth: string) => string;
  allOf: (truth: string) => string;
  /** The sum over rows that keys tell apart, each once however often it stands there; rows with no key at all are not counted. */
  sumOnce: (value: string, keys: string[], type: ValueType) => string;
  /** How many rows keys tell apart. */
  countOnce: (keys: string[]) => string;
  /** True where the second text stands in the first at the place. Plain characters: no wildcards. */
  textMatch: (place: "contains" | "beginsWith" | "endsWith", text: string, part: string) => string;
  /** True where a text matches a pattern in which % stands for any characters, _ for one, and \ before either for itself. Letter case counts. */
  like: (text: string, pattern: string) => string;
  /** True where a regular expression (types/regexp.ts) is found in a text. */
  regexp: (text: string, pattern: string) => string;
  /** Digits with a comma before each three from their end. */
  groupDigits: (digits: string) => string;
  /** One term of ORDER BY; empty values come first going up, last going down, in every engine. @param filled it is never empty */
  orderBy: (expression: string, direction: "up" | "down", filled?: boolean) => string;
};

/** Small letters with a stroke and ligatures as the letters they are made of, for engines that take only accents away. */
export const bareLetters = (small: string): string => `replace(replace(replace(translate(${small}, 'øłđðħς', 'olddhσ'), 'æ', 'ae'), 'œ', 'oe'), 'ß', 'ss')`;

/** What stands beside a column of a copy: what of it does not fit its type, as text. */
export const storedBeside = (column: string): string => `${column} as stored`;

/** An identifier quoted for SQL (ISO/IEC 9075 delimited identifier). */
export const quoted = (name: string): string => `"${name.replaceAll('"', '""')}"`;
