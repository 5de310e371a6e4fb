import { type Expr, fieldsOf } from "../expression/expr";
import type { FunctionName } from "../expression/names";
import type { PlanColumn } from "./plan";

/*
 * Formulas that are empty where one of their parts is, though another has a value: "Street" || ', ' || "City" is no address where
 * there is no city. Rows for which that is so are counted beside the sheet, for nothing of them is seen there.
 */

/** What is empty as soon as one of its parts is, and means its parts alike: not a division, whose divisor is often emptied on purpose. */
const NEEDS_ALL: readonly FunctionName[] = ["concat", "add", "subtract", "multiply"];

/** What writes one value otherwise, and is empty where that is. */
const SAME_VALUE: readonly FunctionName[] = ["toText", "rescale", "toFloating", "trim", "trimStart", "trimEnd", "upper", "lower", "initcap"];

function operands(expr: Expr): Expr[] {
  if (expr.node !== "call") return [expr];
  const [of] = expr.args;
  if (of && SAME_VALUE.includes(expr.fn)) return operands(of);
  return NEEDS_ALL.includes(expr.fn) ? expr.args.flatMap(operands) : [expr];
}

/** The parts of a column's formula that read something, where it is empty as soon as one of them is; none for any other column. */
export function partsNeeded({ expr, figure, window }: Pick<PlanColumn, "expr" | "figure" | "window">): Expr[] {
  if (!expr || figure || window || expr.node !== "call") return [];
  const parts = operands(expr).filter((part) => fieldsOf(part).length > 0);
  return parts.length > 1 ? parts : [];
}
