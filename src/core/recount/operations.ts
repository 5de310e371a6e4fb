import type { FunctionName } from "../expression/names";
import { addDays, dateOfDay, dayNumber, isIsoDate, isoWeekOf, periodStart, weekdayOf } from "../types/date";
import { divideCarried, divideRounded, exactText, tenTo } from "../types/decimal";
import { likeTest } from "../types/like";
import { regexpTest } from "../types/regexp";
import { fold, initcap, lpad, readAs, splitPart, splitRest } from "../types/text";
import { isCarried, scaleOf, type ValueType } from "../types/valueType";
import { compareValues, type Value } from "./value";

/*
 * Every operation of the expression language on values, written a second time: what the SQL of expression/functions.ts
 * says in a database's terms is said here without one. The type check is the only thing the two share.
 */

/** The types of an operation: of its result and of its operands. */
export type Types = { of: ValueType; args: ValueType[] };
type Operation = (args: Value[], types: Types) => Value;

/** The exponent to which e is raised at most. */
const MOST_EXPONENT = 700;

/** Empty in, empty out. */
const filled =
  <Known extends Value[]>(fn: (args: Known, types: Types) => Value): Operation =>
  (args, types) =>
    args.some((a) => a === null) ? null : fn(args as Known, types);

const textual = (fn: (...texts: [string, string, string]) => Value) => filled<[string, string, string]>((args) => fn(...args));
const compared = (test: (order: number) => boolean) => filled<[Value, Value]>(([a, b]) => test(compareValues(a, b)));
const scaleIn = (types: Types, index: number) => scaleOf(types.args[index] ?? { kind: "whole" });

const numeric = (exact: (a: bigint, b: bigint) => bigint, floating: (a: number, b: number) => number) =>
  filled<[bigint, bigint] | [number, number]>(([a, b]) => (typeof a === "bigint" ? exact(a, b as bigint) : floating(a, b as number)));

/** Rounds a quotient of scaled integers so that it has a scale; empty where the divisor is 0. */
function divided(a: bigint, b: bigint, types: Types): Value {
  const shift = scaleOf(types.of) + scaleIn(types, 1) - scaleIn(types, 0);
  const divide = isCarried(types.of) ? divideCarried : divideRounded;
  return b === 0n ? null : divide(a * tenTo(Math.max(0, shift)), b * tenTo(Math.max(0, -shift)));
}

/** A scaled integer brought to whole, down or up. */
function brought(exact: bigint, scale: number, up: boolean): bigint {
  const by = tenTo(scale);
  const away = exact % by !== 0n && exact > 0n === up;
  return exact / by + (away ? (up ? 1n : -1n) : 0n);
}

const characters = (source: string): string[] => [...source];

function part(source: string, start: bigint, count: bigint): string {
  const from = start < 1n ? 1n : start;
  const length = start < 1n ? start + count - 1n : count;
  if (length <= 0n || from > BigInt(source.length)) return "";
  const at = Number(from) - 1;
  return characters(source)
    .slice(at, at + Number(length > BigInt(source.length) ? BigInt(source.length) : length))
    .join("");
}

/** The years dates can be counted in. */
const MOST_DAYS = 4_000_000n;

function laterBy(dated: string, days: bigint, type: ValueType): Value {
  const day = dated.slice(0, 10);
  if (!isIsoDate(day) || days > MOST_DAYS || days < -MOST_DAYS) return null;
  const at = dayNumber(day) + Number(days);
  if (at < dayNumber("0000-01-01") || at > dayNumber("9999-12-31")) return null;
  return withTime(addDays(day, Number(days)), dated, type);
}

/** A month too short ends on its last day. */
function monthsLater(dated: string, months: bigint, type: ValueType): Value {
  const day = dated.slice(0, 10);
  if (!isIsoDate(day)) return null;
  const count = BigInt(day.slice(0, 4)) * 12n + BigInt(day.slice(5, 7)) - 1n + months;
  if (count < 0n || count >= 120_000n) return null;
  const month = `${String(count / 12n).padStart(4, "0")}-${String((count % 12n) + 1n).padStart(2, "0")}`;
  let date = `${month}-${day.slice(8)}`;
  for (let last = 31; !isIsoDate(date); last--) date = `${month}-${last}`;
  return withTime(date, dated, type);
}

const SECONDS = 60;

/** The second of all time that a timestamp is. */
function secondOf(dated: string): number | null {
  const day = dated.slice(0, 10);
  if (!isIsoDate(day)) return null;
  const [hours = 0, minutes = 0, seconds = 0] = timeOf(dated).split(":").map(Number);
  return dayNumber(day) * 86_400 + hours * 3600 + minutes * SECONDS + seconds;
}

function minutesLater(dated: string, minutes: bigint): Value {
  const second = secondOf(dated);
  if (second === null || minutes > MOST_DAYS * 1440n || minutes < -MOST_DAYS * 1440n) return null;
  const at = second + Number(minutes) * SECONDS;
  const day = Math.floor(at / 86_400);
  if (day < dayNumber("0000-01-01") || day > dayNumber("9999-12-31")) return null;
  const rest = at - day * 86_400;
  const two = (n: number) => String(n).padStart(2, "0");
  return `${dateOfDay(day)} ${two(Math.floor(rest / 3600))}:${two(Math.floor((rest % 3600) / SECONDS))}:${two(rest % SECONDS)}`;
}

const withTime = (day: string, dated: string, type: ValueType): string => (type.kind === "date" ? day : `${day} ${timeOf(dated)}`);

/** "14:05:00" of a timestamp; midnight of a date. */
const timeOf = (dated: string): string => dated.slice(11, 19).padEnd(5, "00:00").padEnd(8, ":00");

const extracted = (of: (day: string, dated: string) => number): Operation =>
  filled<[string]>(([dated]) => {
    const day = dated.slice(0, 10);
    return isIsoDate(day) ? BigInt(of(day, dated)) : null;
  });

/** A floating number as text: its fifteen digits that count (common practice of SQL engines). */
function floatingText(value: number): string {
  const digits = String(Number(value.toPrecision(15)));
  return /[.e]/.test(digits) ? digits : `${digits}.0`;
}

function asText(value: Value, type: ValueType): string {
  if (typeof value === "boolean") return value ? "yes" : "no";
  if (typeof value === "bigint") return exactText(value, type);
  return typeof value === "number" ? floatingText(value) : String(value);
}

/** Whether two values are one; empty is a value here. */
const isSame = (a: Value, b: Value): boolean => (a === null || b === null ? a === b : compareValues(a, b) === 0);

export const OPERATIONS: Record<FunctionName, Operation> = {
  add: numeric(
    (a, b) => a + b,
    (a, b) => a + b,
  ),
  subtract: numeric(
    (a, b) => a - b,
    (a, b) => a - b,
  ),
  multiply: numeric(
    (a, b) => a * b,
    (a, b) => a * b,
  ),
  divide: filled<[bigint, bigint] | [number, number]>(([a, b], types) =>
    typeof a === "bigint" ? divided(a, b as bigint, types) : b === 0 ? null : a / (b as number),
  ),
  negate: filled<[bigint | number]>(([a]) => -a),
  concat: textual((a, b) => `${a}${b}`),
  is: compared((o) => o === 0),
  isNot: compared((o) => o !== 0),
  less: compared((o) => o < 0),
  atMost: compared((o) => o <= 0),
  greater: compared((o) => o > 0),
  atLeast: compared((o) => o >= 0),
  and: (args) => (args.includes(false) ? false : args.includes(null) ? null : true),
  or: (args) => (args.includes(true) ? true : args.includes(null) ? null : false),
  not: filled<[boolean]>(([a]) => !a),
  isTrue: ([a]) => a === true,
  isNull: ([a]) => a === null,
  isNotNull: ([a]) => a !== null,
  between: ([a = null, low = null, high = null], types) => OPERATIONS.and([OPERATIONS.atLeast([a, low], types), OPERATIONS.atMost([a, high], types)], types),
  oneOf: ([a = null, ...rest]) => {
    if (rest.length === 0) return false;
    if (a === null) return null;
    return rest.some((r) => r !== null && compareValues(a, r) === 0) ? true : rest.includes(null) ? null : false;
  },
  contains: textual((a, b) => fold(a).includes(fold(b))),
  beginsWith: textual((a, b) => fold(a).startsWith(fold(b))),
  endsWith: textual((a, b) => fold(a).endsWith(fold(b))),
  like: textual((a, pattern) => likeTest(pattern)(a)),
  likeFolded: textual((a, pattern) => likeTest(fold(pattern))(fold(a))),
  regexp: textual((a, pattern) => regexpTest(pattern)(a)),
  groupDigits: filled<[string]>(([a]) =>
    [...a].reduce((written, digit, i) => (i > 0 && (a.length - i) % 3 === 0 ? `${written},${digit}` : written + digit), ""),
  ),
  sqrt: filled<[number]>(([a]) => (a >= 0 ? Math.sqrt(a) : null)),
  exp: filled<[number]>(([a]) => (a <= MOST_EXPONENT ? Math.exp(a) : null)),
  ln: filled<[number]>(([a]) => (a > 0 ? Math.log(a) : null)),
  log10: filled<[number]>(([a]) => (a > 0 ? Math.log10(a) : null)),
  power: filled<[number, number]>(([a, b]) => {
    if (a === 0) return b === 0 ? 1 : b > 0 ? 0 : null;
    return b * Math.log(Math.abs(a)) <= MOST_EXPONENT && (a > 0 || Number.isInteger(b)) ? a ** b : null;
  }),
  sameText: textual((a, b) => fold(a) === fold(b)),
  isDistinct: ([a = null, b = null]) => !isSame(a, b),
  isSame: ([a = null, b = null]) => isSame(a, b),
  case: (args) => {
    for (let i = 0; i + 1 < args.length; i += 2) if (args[i] === true) return args[i + 1] ?? null;
    return args.length % 2 ? (args.at(-1) ?? null) : null;
  },
  coalesce: (args) => args.find((a) => a !== null) ?? null,
  trim: textual((a) => a.replace(/^ +| +$/g, "")),
  trimStart: textual((a) => a.replace(/^ +/, "")),
  trimEnd: textual((a) => a.replace(/ +$/, "")),
  upper: textual((a) => a.toUpperCase()),
  lower: textual((a) => a.toLowerCase()),
  rescale: filled<[bigint]>(([a], types) => {
    const shift = scaleOf(types.of) - scaleIn(types, 0);
    return shift >= 0 ? a * tenTo(shift) : divideRounded(a, tenTo(-shift));
  }),
  toFloating: filled<[bigint]>(([a], types) => Number(a) / 10 ** scaleIn(types, 0)),
  toText: filled<[Value]>(([a], types) => asText(a, types.args[0] ?? { kind: "text" })),
  fromText: filled<[string]>(([a], types) => readAs(a, types.of)),
  fromFloating: filled<[number]>(([a], types) => {
    const scaled = a * 10 ** scaleOf(types.of);
    return BigInt(Math.sign(scaled) * Math.round(Math.abs(scaled)));
  }),
  atMidnight: textual((a) => `${a} 00:00:00`),
  abs: filled<[bigint | number]>(([a]) => (a < 0 ? -a : a)),
  floor: filled<[bigint | number]>(([a], types) => (typeof a === "bigint" ? brought(a, scaleIn(types, 0), false) : Math.floor(a))),
  ceiling: filled<[bigint | number]>(([a], types) => (typeof a === "bigint" ? brought(a, scaleIn(types, 0), true) : Math.ceil(a))),
  mod: filled<[bigint, bigint]>(([a, b]) => (b === 0n ? null : a % b)),
  band: numeric(
    (a, w) => a - (((a % w) + w) % w),
    (a, w) => Math.floor(a / w) * w,
  ),
  nullIf: ([a = null, b = null]) => (a !== null && b !== null && compareValues(a, b) === 0 ? null : a),
  charLength: textual((a) => BigInt(characters(a).length)),
  position: textual((wanted, a) => {
    const at = a.indexOf(wanted);
    return at < 0 ? 0n : BigInt(characters(a.slice(0, at)).length + 1);
  }),
  replace: textual((a, old, by) => (old === "" ? a : a.replaceAll(old, () => by))),
  lpad: filled<[string, bigint, string]>(([a, length, fill]) => lpad(a, Number(length), fill)),
  splitPart: filled<[string, string, bigint]>(([a, separator, n]) => splitPart(a, separator, Number(n))),
  splitRest: filled<[string, string, bigint]>(([a, separator, n]) => splitRest(a, separator, Number(n))),
  initcap: textual((a) => initcap(a)),
  concatWs: ([between = null, ...rest]) => (between === null ? null : rest.filter((r) => r !== null).join(String(between))),
  substring: filled<[string, bigint, bigint]>(([a, from, count]) => part(a, from, count)),
  addDays: filled<[string, bigint]>(([a, days], types) => laterBy(a, days, types.of)),
  addMonths: filled<[string, bigint]>(([a, months], types) => monthsLater(a, months, types.of)),
  addMinutes: filled<[string, bigint]>(([a, minutes]) => minutesLater(a, minutes)),
  minutesBetween: textual((a, b) => {
    const [later, earlier] = [secondOf(a), secondOf(b)];
    return later === null || earlier === null ? null : BigInt(Math.trunc((later - earlier) / SECONDS));
  }),
  daysBetween: textual((a, b) => (isIsoDate(a) && isIsoDate(b) ? BigInt(dayNumber(a) - dayNumber(b)) : null)),
  extractYEAR: extracted((day) => Number(day.slice(0, 4))),
  extractQUARTER: extracted((day) => Math.ceil(Number(day.slice(5, 7)) / 3)),
  extractMONTH: extracted((day) => Number(day.slice(5, 7))),
  extractWEEK: extracted((day) => isoWeekOf(day).week),
  extractDAY: extracted((day) => Number(day.slice(8, 10))),
  extractDOW: extracted(weekdayOf),
  extractHOUR: extracted((_, dated) => Number(timeOf(dated).slice(0, 2))),
  extractMINUTE: extracted((_, dated) => Number(timeOf(dated).slice(3, 5))),
};

/** The first day of the period a date or timestamp lies in. */
export const periodOf = (dated: Value, unit: Parameters<typeof periodStart>[1]): Value =>
  typeof dated === "string" && isIsoDate(dated.slice(0, 10)) ? periodStart(dated.slice(0, 10), unit) : null;
