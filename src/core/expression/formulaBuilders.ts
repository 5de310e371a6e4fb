import { decimal, floating, scaleOf, text, timestamp, whole, yesno } from "../types/valueType";
import { call, type Expr, literal } from "./expr";
import { asText, comparison, toScale } from "./functions";

/*
 * What functions of formulas are built of, where no operation of the engines says it in one: compositions that come to the same everywhere.
 */

export const ONE = literal("1", whole);
export const ZERO = literal("0", whole);

export const atTime = (dated: Expr): Expr => (dated.type.kind === "timestamp" ? dated : call("atMidnight", [dated], timestamp));

/** Whole months from one date to another: those between their months, without one that is not yet full. */
export function monthsBetween(from: Expr, to: Expr): Expr {
  const part = (fn: "extractYEAR" | "extractMONTH" | "extractDAY", of: Expr) => call(fn, [of], whole);
  const number = (of: Expr) => call("add", [call("multiply", [part("extractYEAR", of), literal("12", whole)], whole), part("extractMONTH", of)], whole);
  const months = call("subtract", [number(to), number(from)], whole);
  const both = (a: Expr, b: Expr) => call("and", [a, b], yesno);
  const days = (fn: "less" | "greater") => comparison(fn, part("extractDAY", to), part("extractDAY", from)) as Expr;
  const past = (fn: "less" | "greater") => comparison(fn, months, ZERO) as Expr;
  const open = call("case", [both(past("greater"), days("less")), literal("-1", whole), both(past("less"), days("greater")), ONE, ZERO], whole);
  return call("add", [months, open], whole);
}

/** Whole years from one date to another. */
export function yearsBetween(from: Expr, to: Expr): Expr {
  const months = monthsBetween(from, to);
  const full = call("subtract", [months, call("mod", [months, literal("12", whole)], whole)], whole);
  return truncated(call("divide", [full, literal("12", whole)], decimal(2)), 0);
}

/** What stands in a pattern for a part of a date: which part, and with how many digits. */
const PATTERN_PARTS = {
  YYYY: ["extractYEAR", 4],
  MM: ["extractMONTH", 2],
  DD: ["extractDAY", 2],
  HH24: ["extractHOUR", 2],
  MI: ["extractMINUTE", 2],
  IW: ["extractWEEK", 2],
  Q: ["extractQUARTER", 1],
} as const;

/** A date as text by a pattern: its parts in their places, all else as it stands. */
export function dateText(dated: Expr, pattern: string): Expr {
  const pieces = pattern.split(/(YYYY|MM|DD|HH24|MI|IW|Q)/).filter((piece) => piece !== "");
  const texts = pieces.map((piece): Expr => {
    const known = PATTERN_PARTS[piece as keyof typeof PATTERN_PARTS];
    if (!known) return literal(piece, text);
    const [fn, digits] = known;
    return call("lpad", [asText(call(fn, [/HOUR|MINUTE/.test(fn) ? atTime(dated) : dated], whole)), literal(String(digits), whole), literal("0", text)], text);
  });
  return texts.length === 0 ? literal("", text) : texts.reduce((a, b) => call("concat", [a, b], text));
}

/** The parts of a number pattern: text before, thousands apart, digits before the point at least, digits after it, text behind (Unicode UTS 35). */
const NUMBER_PATTERN = /^([^#0,.]*)(#,##|#*)(0+)(?:\.(0+))?([^#0,.]*)$/;

/** An exact number as text by a pattern, rounded to its decimals; null where the pattern is none. */
export function numberText(number: Expr, pattern: string): Expr | null {
  const [found, before = "", apart = "", least = "", decimals = "", behind = ""] = NUMBER_PATTERN.exec(pattern) ?? [];
  if (found === undefined) return null;
  const size = toScale(call("abs", [number], number.type), decimals.length);
  const digits = asText(size);
  const count = (n: number) => literal(String(n), whole);
  const all = call("charLength", [digits], whole);
  const length = decimals === "" ? all : call("subtract", [all, count(decimals.length + 1)], whole);
  const part = (of: Expr, from: Expr, many: Expr) => call("substring", [of, from, many], text);
  const bare = decimals === "" ? digits : part(digits, ONE, length);
  const short = call("less", [length, count(least.length)], yesno);
  const padded = least.length > 1 ? call("case", [short, call("lpad", [bare, count(least.length), literal("0", text)], text), bare], text) : bare;
  const wholePart = apart.includes(",") ? call("groupDigits", [padded], text) : padded;
  const behindPoint = decimals === "" ? [] : [part(digits, call("add", [length, ONE], whole), count(decimals.length + 1))];
  const isBelow = call("less", [toScale(number, decimals.length), literal("0", toScale(number, decimals.length).type)], yesno);
  const sign = call("case", [isBelow, literal("-", text), literal("", text)], text);
  const pieces = [literal(before, text), sign, wholePart, ...behindPoint, literal(behind, text)].filter((p) => !(p.node === "literal" && p.value === ""));
  return pieces.reduce((a, b) => call("concat", [a, b], text));
}

/** The one of some values, of one type, that all others allow; nothing where one of them is empty. */
export const extreme = (fn: "atLeast" | "atMost", values: Expr[]): Expr => {
  const type = values[0]?.type ?? text;
  const over = (value: Expr) => values.filter((v) => v !== value).map((other) => call(fn, [value, other], yesno));
  const all = (tests: Expr[]) => tests.reduce((a, b) => call("and", [a, b], yesno));
  return call(
    "case",
    values.flatMap((value) => [all(over(value)), value]),
    type,
  );
};

/** An exact number without its digits after some: less its remainder by their unit, which has its sign. */
export function truncated(number: Expr, digits: number): Expr {
  const scale = scaleOf(number.type);
  if (scale <= digits) return number;
  const unit = literal(`1${"0".repeat(scale - digits)}`, number.type);
  return toScale(call("subtract", [number, call("mod", [number, unit], number.type)], number.type), digits);
}

export function wholeOf(fn: "floor" | "ceiling", of: Expr): Expr {
  if (of.type.kind === "whole") return of;
  return call(fn, [of], of.type.kind === "floating" ? floating : whole);
}
