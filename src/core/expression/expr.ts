import type { DatePart } from "../types/date";
import type { Storage } from "../types/storage";
import { date, type ValueType, yesno } from "../types/valueType";
import type { FunctionName } from "./names";

/** A checked expression: every node knows its type. Read-only plain data; nothing is patched in place. */
export type Expr =
  | { node: "field"; alias: string; column: string; type: ValueType; storage: Storage; guarded: boolean }
  /** A value to be bound, in its bound form: scaled digits, ISO dates, "1" or "0" for yes and no. null is empty. */
  | { node: "literal"; value: string | null; type: ValueType; parameter?: string }
  | { node: "period"; part: DatePart; of: Expr; type: ValueType }
  | { node: "call"; fn: FunctionName; args: Expr[]; type: ValueType }
  /** True where the table of the alias has a row: its compared column is not empty. */
  | { node: "found"; alias: string; column: string; type: ValueType };

export const literal = (value: string | null, type: ValueType, parameter?: string): Expr =>
  parameter === undefined ? { node: "literal", value, type } : { node: "literal", value, type, parameter };

export const call = (fn: FunctionName, args: Expr[], type: ValueType): Expr => ({ node: "call", fn, args, type });

export const period = (part: DatePart, of: Expr): Expr => ({ node: "period", part, of, type: date });

export const both = (a: Expr, b: Expr): Expr => call("and", [a, b], yesno);

export const isTrue = (condition: Expr): Expr => call("isTrue", [condition], yesno);

export const negated = (condition: Expr): Expr => call("not", [isTrue(condition)], yesno);

/** The columns an expression reads, each as often as it stands there; a row found is read by its compared column. */
export function fieldsOf(expr: Expr | null): { alias: string; column: string }[] {
  if (expr === null) return [];
  switch (expr.node) {
    case "field":
    case "found":
      return [expr];
    case "literal":
      return [];
    case "period":
      return fieldsOf(expr.of);
    case "call":
      return expr.args.flatMap(fieldsOf);
    default:
      return expr satisfies never;
  }
}

/** The aliases of the tables an expression reads. */
export const aliasesOf = (expr: Expr | null): Set<string> => new Set(fieldsOf(expr).map((f) => f.alias));

/** An expression with each of its fields replaced. */
export function withFields(expr: Expr, replace: (field: Extract<Expr, { node: "field" }>) => Expr): Expr {
  switch (expr.node) {
    case "field":
      return replace(expr);
    case "found":
    case "literal":
      return expr;
    case "period":
      return { ...expr, of: withFields(expr.of, replace) };
    case "call":
      return { ...expr, args: expr.args.map((arg) => withFields(arg, replace)) };
    default:
      return expr satisfies never;
  }
}
