import { aliasesOf, type Expr } from "../expression/expr";
import type { Plan, PlanJoin } from "../query/plan";
import { whole, yesno } from "../types/valueType";

/** How joins part: those that leave the source's rows one each, and the rest in their order. */
export function partJoins(plan: Plan) {
  const flat = new Set([plan.source.alias]);
  for (const join of plan.joins) if (join.leadsTo === "one" && flat.has(join.from)) flat.add(join.alias);
  const within = (expr: Expr | null, aliases: Set<string>) => [...aliasesOf(expr)].every((alias) => aliases.has(alias));
  return {
    flat,
    /** Joins that leave the source's rows one each; those of derived fields among them have no line of their own. */
    flatJoins: plan.joins.filter((j) => flat.has(j.alias)),
    laterJoins: plan.joins.filter((j) => !flat.has(j.alias) && !j.auxiliary),
    /** A join with what derived fields bring from its table. */
    withDerived: (join: PlanJoin): PlanJoin[] => {
      const brought = [join];
      for (const j of plan.joins) if (j.auxiliary && brought.some((b) => b.alias === j.from)) brought.push(j);
      return brought;
    },
    within,
    flatConditions: plan.conditions.filter((c) => within(c.expr, flat)),
    laterConditions: plan.conditions.filter((c) => !within(c.expr, flat)),
  };
}

export const kept = (join: PlanJoin): PlanJoin => ({ ...join, unmatched: "keep" });

/** In place of the rows a join brings, how many of them match: one row each. */
export function countsOf(join: PlanJoin, plan: Plan): PlanJoin {
  const from = plan.joins.find((j) => j.alias === join.from)?.table ?? plan.source.table;
  const figure = { name: MATCHES, expr: null, figure: "count" as const, where: [], by: null, direction: "up" as const, separator: "" };
  const equal = join.on.every((c) => c.operator === "is");
  const pairs = equal ? null : { table: from, alias: `${join.from} compared`, columns: [...new Set(join.on.map((c) => c.near))] };
  return { ...join, alias: `${join.alias} matches`, unmatched: "keep", rollup: { alias: join.table.name, joins: [], figures: [figure], pairs } };
}

export const MATCHES = "f1";

/** True where a join has a row; for a join to many this asks the count of its matches. */
export function foundExpr(join: PlanJoin): Expr {
  return { node: "found", alias: join.alias, column: join.rollup ? MATCHES : (join.on[0]?.far ?? ""), type: yesno };
}

export const matchesExpr = (join: PlanJoin): Expr => ({ node: "field", alias: join.alias, column: MATCHES, type: whole, storage: "plain", guarded: false });
