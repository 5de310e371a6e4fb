import type { Expr } from "../expression/expr";
import type { Plan } from "./plan";

/** What a plan's groups are made by. */
export const groupKeys = (plan: Pick<Plan, "columns">): Expr[] => plan.columns.flatMap((c) => (!c.figure && c.expr ? [c.expr] : []));
