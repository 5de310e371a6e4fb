import type { Storage } from "../schema/schema";
import type { DatePart } from "../types/date";
import { date, type ValueType, yesno } from "../types/valueType";
import type { FunctionName } from "./functions";

/** A checked expression: every node knows its type. Read-only plain data; nothing is patched in place. */
export type Expr =
  | { node: "field"; alias: string; column: string; type: ValueType; storage: Storage; guarded: boolean }
  /** A value to be bound, in its bound form: scaled digits, ISO dates, "1" or "0" for yes and no. null is empty. */
  | { node: "literal"; value: string | null; type: ValueType; parameter?: string }
  | { node: "period"; part: DatePart; of: Expr; type: ValueType }
  | { node: "call"; fn: FunctionName; args: Expr[]; type: ValueType }
  /** True where the table of the alias has a row: its compared column is not empty. */
  | { node: "found"; alias: string; column: string; type: ValueType };

/** The parts EXTRACT takes out of a date or a timestamp; WEEK is ISO 8601's, DOW counts Monday as 1. */
export const EXTRACT_PARTS = ["YEAR", "QUARTER", "MONTH", "WEEK", "DAY", "DOW", "HOUR", "MINUTE"] as const;
export type ExtractPart = (typeof EXTRACT_PARTS)[number];

export const literal = (value: string | null, type: ValueType, parameter?: string): Expr =>
  parameter === undefined ? { node: "literal", value, type } : { node: "literal", value, type, parameter };

export const call = (fn: FunctionName, args: Expr[], type: ValueType): Expr => ({ node: "call", fn, args, type });

export const period = (part: DatePart, of: Expr): Expr => ({ node: "period", part, of, type: date });

export const both = (a: Expr, b: Expr): Expr => call("and", [a, b], yesno);

export const isTrue = (condition: Expr): Expr => call("isTrue", [condition], yesno);

export const negated = (condition: Expr): Expr => call("not", [isTrue(condition)], yesno);

/** The aliases of the tables an expression reads. */
export function aliasesOf(expr: Expr | null): Set<string> {
  if (expr === null) return new Set();
  switch (expr.node) {
    case "field":
    case "found":
      return new Set([expr.alias]);
    case "literal":
      return new Set();
    case "period":
      return aliasesOf(expr.of);
    case "call":
      return new Set(expr.args.flatMap((arg) => [...aliasesOf(arg)]));
    default:
      return expr satisfies never;
  }
}
