import { aliasesOf, type Expr, fieldsOf, withFields } from "../expression/expr";
import { whole, yesno } from "../types/valueType";
import { PRESENT } from "./joinWays";
import type { Plan, PlanJoin, PlanSource } from "./plan";

/* How many rows of a joined table match each row, counted beside it: it repeats no row and leaves none out. */

/** In place of the rows a join brings, how many of them match: one row each. */
export function countsOf(join: PlanJoin, { joins, source }: Pick<Plan, "joins" | "source">): PlanJoin {
  const { table, query, stack }: Omit<PlanSource, "alias"> & Pick<PlanSource, "stack"> = joins.find((j) => j.alias === join.from) ?? source;
  const figure = { name: MATCHES, expr: null, figure: "count" as const, where: [], by: null, direction: "up" as const, separator: "" };
  const alias = `${join.from} compared`;
  const equal = !join.when && join.on.every((c) => c.operator === "is");
  const named = (join.when ?? []).flatMap(fieldsOf).filter((f) => f.alias === join.from);
  const columns = [...new Set([...join.on.map((c) => c.near), ...named.map((f) => f.column)])];
  const { when: compared, ...bare } = join;
  const when = compared?.map((e) =>
    withFields(e, (f) => (f.alias === join.from ? { ...f, alias } : f.alias === join.alias ? { ...f, alias: join.table.name } : f)),
  );
  const pairs = equal ? null : { table, ...(query ? { query } : {}), ...(stack ? { stack } : {}), alias, columns, ...(when ? { when } : {}) };
  return { ...bare, alias: `${join.alias} matches`, way: "keep", rollup: { alias: join.table.name, joins: [], figures: [figure], pairs } };
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
  (!join.when || join.when.some((e) => aliasesOf(e).has(join.from)));

export const matchesExpr = (join: PlanJoin): Expr => ({ node: "field", alias: join.alias, column: MATCHES, type: whole, storage: "plain", guarded: false });
