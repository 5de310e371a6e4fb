import { aliasesOf, type Expr } from "../expression/expr";
import { keepsFar } from "../query/joinWays";
import type { Plan, PlanCondition, PlanJoin } from "../query/plan";

/** The tables that a join's comparisons name beside its own. */
const comparedWith = (join: PlanJoin): string[] => (join.when ?? []).flatMap((e) => [...aliasesOf(e)]).filter((alias) => alias !== join.alias);

/** How joins part: those that leave the source's rows one each, and the rest in their order. */
export function partJoins(plan: Plan) {
  const flat = new Set([plan.source.alias]);
  // Where a join lets rows of its own in, conditions hold for those too: every join is counted before them.
  const letsIn = plan.joins.some((j) => keepsFar(j.way));
  for (const join of plan.joins)
    if (join.leadsTo === "one" && flat.has(join.from) && (join.auxiliary || !letsIn) && comparedWith(join).every((alias) => flat.has(alias)))
      flat.add(join.alias);
  const laterJoins = plan.joins.filter((j) => !flat.has(j.alias) && !j.auxiliary);
  const within = (expr: Expr | null, aliases: Set<string>) => [...aliasesOf(expr)].every((alias) => aliases.has(alias));
  return {
    flat,
    /** Joins that leave the source's rows one each; those of derived fields among them have no line of their own. */
    flatJoins: plan.joins.filter((j) => flat.has(j.alias)),
    laterJoins,
    /** A join with what derived fields bring from its table. */
    withDerived: (join: PlanJoin): PlanJoin[] => {
      const brought = [join];
      for (const j of plan.joins) if (j.auxiliary && brought.some((b) => b.alias === j.from)) brought.push(j);
      return brought;
    },
    within,
    flatConditions: letsIn ? [] : plan.conditions.filter((c) => within(c.expr, flat)),
    laterConditions: letsIn ? plan.conditions : plan.conditions.filter((c) => !within(c.expr, flat)),
    /** Which of the conditions that wait are counted after a later join, given what has been joined by then. */
    readyAfter: (join: PlanJoin, waiting: PlanCondition[], scope: Set<string>): PlanCondition[] =>
      letsIn ? (join === laterJoins.at(-1) ? waiting : []) : waiting.filter((c) => within(c.expr, scope)),
  };
}

export const kept = (join: PlanJoin): PlanJoin => ({ ...join, way: "keep" });
