import { call, type Expr, literal } from "../expression/expr";
import { type Cell, yesno } from "../types/valueType";
import type { Plan } from "./plan";

/** What a plan's groups are made by. */
export const groupKeys = (plan: Pick<Plan, "columns">): Expr[] => plan.columns.flatMap((c) => (!c.figure && c.expr ? [c.expr] : []));

/** A condition that an expression has a key's value; empty is a value here. */
export function hasKey(expr: Expr, key: Cell): Expr {
  if (key === null || typeof key === "object") return call("isNull", [expr], yesno);
  return call("is", [expr, literal(String(key), expr.type)], yesno);
}
