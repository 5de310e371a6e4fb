import { aliasesOf, type Expr, fieldsOf, withFields } from "../expression/expr";
import { keepsFar, PRESENT } from "../query/joinWays";
import type { Plan, PlanCondition, PlanJoin } from "../query/plan";
import { whole, yesno } from "../types/valueType";

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

/** In place of the rows a join brings, how many of them match: one row each. */
export function countsOf(join: PlanJoin, plan: Plan): PlanJoin {
  const from = plan.joins.find((j) => j.alias === join.from)?.table ?? plan.source.table;
  const figure = { name: MATCHES, expr: null, figure: "count" as const, where: [], by: null, direction: "up" as const, separator: "" };
  const alias = `${join.from} compared`;
  const equal = !join.when && join.on.every((c) => c.operator === "is");
  const named = (join.when ?? []).flatMap(fieldsOf).filter((f) => f.alias === join.from);
  const columns = [...new Set([...join.on.map((c) => c.near), ...named.map((f) => f.column)])];
  const when = join.when?.map((e) =>
    withFields(e, (f) => (f.alias === join.from ? { ...f, alias } : f.alias === join.alias ? { ...f, alias: join.table.name } : f)),
  );
  const pairs = equal ? null : { table: from, alias, columns, ...(when ? { when } : {}) };
  return { ...join, alias: `${join.alias} matches`, way: "keep", rollup: { alias: join.table.name, joins: [], figures: [figure], pairs } };
}

export const MATCHES = "f1";

/** True where a join has a row; for a join to many this asks the count of its matches. */
export function foundExpr(join: PlanJoin): Expr {
  return { node: "found", alias: join.alias, column: join.rollup ? MATCHES : (join.on[0]?.far ?? join.table.key[0] ?? PRESENT), type: yesno };
}

/** True where what a join starts from has a row that could match: its compared column is not empty. */
export function nearFound(join: PlanJoin, plan: Plan): Expr | null {
  const table = plan.joins.find((j) => j.alias === join.from)?.table ?? plan.source.table;
  const column = join.on[0]?.near ?? table.key[0];
  return column === undefined ? null : { node: "found", alias: join.from, column, type: yesno };
}

/** Whether how many rows match each row can be counted beside them: what is compared has to be of the two tables alone. */
export const canCount = (join: PlanJoin): boolean =>
  (join.when ?? []).every((e) => [...aliasesOf(e)].every((alias) => alias === join.from || alias === join.alias)) &&
  !join.query &&
  (!join.when || join.when.some((e) => aliasesOf(e).has(join.from)));

export const matchesExpr = (join: PlanJoin): Expr => ({ node: "field", alias: join.alias, column: MATCHES, type: whole, storage: "plain", guarded: false });
