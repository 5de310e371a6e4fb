import { aliasesOf, type Expr, fieldsOf } from "../expression/expr";
import { groupKeys } from "./groupKeys";
import { exprsOf } from "./home";
import type { Plan, PlanJoin } from "./plan";

/* What of a plan has to be read for what is asked of it: joins and columns that nothing reads are left away. */

/** The joins needed to compute expressions over all rows: those that drop or repeat rows, those read, and what leads to them. */
export function neededJoins(plan: Plan, exprs: (Expr | null)[]): PlanJoin[] {
  const needed = new Set(exprs.flatMap((e) => [...aliasesOf(e)]));
  const asked = [...plan.conditions, ...plan.groupConditions].map((c) => c.expr);
  // What a join compares has to be there before it.
  const compared = plan.joins.flatMap((j) => j.when ?? []);
  for (const expr of [...asked, ...compared, ...(plan.ofGroups ? groupKeys(plan.ofGroups) : [])]) for (const alias of aliasesOf(expr)) needed.add(alias);
  for (const join of [...plan.joins].reverse())
    if (needed.has(join.alias) || join.way !== "keep" || join.leadsTo === "many") needed.add(join.alias).add(join.from);
  return plan.joins.filter((join) => needed.has(join.alias));
}

/** The columns of its source that a plan reads. */
export function columnsRead(plan: Plan): Set<string> {
  const compared = plan.joins.flatMap((j) => j.when ?? []);
  const exprs = [...plan.columns.flatMap(exprsOf), ...[...plan.conditions, ...plan.groupConditions].map((c) => c.expr), ...plan.tieBreak, ...compared];
  const ofGroups = plan.ofGroups ? columnsRead(plan.ofGroups) : [];
  const linked = plan.joins.filter((j) => j.from === plan.source.alias).flatMap((j) => [...j.on.map((c) => c.near), ...(j.rollup?.pairs?.columns ?? [])]);
  return new Set([...exprs.flatMap((e) => fieldsOf(e).filter((f) => f.alias === plan.source.alias)).map((f) => f.column), ...linked, ...ofGroups]);
}
