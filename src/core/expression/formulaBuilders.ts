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
