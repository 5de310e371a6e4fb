import type { Expr } from "../expression/expr";
import { OPERATIONS, periodOf } from "./operations";
import { boundValue, type Row, type Value } from "./value";

/** One row of each table, by place; null where a join found none. */
export type Tuple = (Row | null)[];
export type Evaluate = (tuple: Tuple) => Value;

/** What makes functions of rows out of expressions. */
export type Evaluator = { evaluate: (expr: Expr) => Evaluate; evaluateAll: (exprs: Expr[]) => (tuple: Tuple) => Value[] };

/**
 * An expression as a function of what it is worked out for: a row of each table, or a group.
 * @param leaf how a part of it is found there; null for what is worked out from its own parts
 * @throws TypeError where a part can neither be found nor worked out
 */
export function evaluator<Context>(expr: Expr, leaf: (part: Expr) => ((context: Context) => Value) | null): (context: Context) => Value {
  const found = leaf(expr);
  if (found) return found;
  switch (expr.node) {
    case "literal": {
      const value = boundValue(expr.value, expr.type);
      return () => value;
    }
    case "period": {
      const of = evaluator(expr.of, leaf);
      return (context) => periodOf(of(context), expr.part);
    }
    case "call": {
      const args = expr.args.map((arg) => evaluator(arg, leaf));
      const types = { of: expr.type, args: expr.args.map((arg) => arg.type) };
      const operation = OPERATIONS[expr.fn];
      return (context) =>
        operation(
          args.map((arg) => arg(context)),
          types,
        );
    }
    case "field":
    case "found":
    case "figure":
      throw new TypeError(`nothing here tells a ${expr.node}`);
    default:
      return expr satisfies never;
  }
}
