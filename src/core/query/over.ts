import { type Expr, withFields } from "../expression/expr";
import type { Schema } from "../schema/schema";
import { usualDay } from "../types/calendar";
import { type Checked, problem } from "../types/problem";
import { comparisonsIn, conditionLists } from "./conditions";
import { emptyQuery } from "./empty";
import { withKeys } from "./home";
import type { RunContext } from "./operands";
import { OPERATORS } from "./operators";
import { isCut, type Plan, type PlanCondition } from "./plan";
import { ROWS_OF_QUERY, tableOfPlan } from "./planTable";
import { resolveQuery } from "./resolve";
import type { QuerySpec } from "./spec";

/*
 * A query over the rows of another query: what pivots, charts and tiles are made of. The inner query's columns are the
 * fields of the outer one, named by their ids.
 */

/** The shape in which a query's rows are one table: what editors of fields and conditions over it read. */
export const schemaOfPlan = (plan: Plan): Schema => ({ tables: [tableOfPlan(plan)], links: [] });

/** The description of a query over another's rows, to which columns and conditions are added. */
export const overRows = (): QuerySpec => emptyQuery(ROWS_OF_QUERY);

/**
 * Resolves a description over the rows of a query, whose own order plays no part unless it is limited.
 * @param spec over the one table `tableOfPlan` gives, without joins
 * @returns the plan, with the inner query's parameters; or all problems, with paths into `spec`
 */
export function resolveOver(spec: QuerySpec, inner: Plan, context: RunContext): Checked<Plan> {
  const among = conditionLists(spec).flatMap(comparisonsIn);
  if (among.some((c) => OPERATORS[c.operator].values === "rows")) return { ok: false, problems: [problem("amongOver", ["conditions"])] };
  // Its own order may go by columns that nobody sees.
  const rows = tableOfPlan(inner, ROWS_OF_QUERY, "row", true);
  const resolved = resolveQuery(spec, { tables: [rows], links: [] }, context);
  if (!resolved.ok) return resolved;
  const { source, parameters } = resolved.value;
  return { ok: true, value: { ...resolved.value, source: { ...source, query: withKeys(inner) }, parameters: [...inner.parameters, ...parameters] } };
}

/** Whether every row of a query is a row of its tables, so that a condition on its columns is one on those. */
export const isPlain = (plan: Plan): boolean => !plan.grouped && !isCut(plan) && plan.columns.every((c) => !c.window);

/**
 * A query's own rows, in its own order, that meet conditions on its columns.
 * @param conditions over the fields of `tableOfPlan`
 */
export function rowsWhere(inner: Plan, conditions: PlanCondition[]): Checked<Plan> {
  if (isPlain(inner)) {
    const exprOf = (name: string): Expr | null => inner.columns.find((c) => c.id === name)?.expr ?? null;
    const own = conditions.map((c) => ({ ...c, expr: withFields(c.expr, (field) => exprOf(field.column) ?? field) }));
    return { ok: true, value: { ...inner, conditions: [...inner.conditions, ...own] } };
  }
  const all: QuerySpec = {
    ...overRows(),
    columns: inner.columns.map((c) => ({ id: c.id, value: { kind: "field", join: "", column: c.id }, label: c.heading, hidden: c.hidden })),
  };
  const resolved = resolveOver(all, inner, { today: usualDay("1970-01-01"), values: {} });
  if (!resolved.ok) return resolved;
  const known = new Map(inner.columns.map((c) => [c.id, c]));
  const columns = resolved.value.columns.map((c) => {
    const { format, origin, orders } = known.get(c.id) ?? c;
    return { ...c, format, origin, ...(orders === undefined ? {} : { orders }) };
  });
  return { ok: true, value: { ...resolved.value, columns, conditions, order: inner.order } };
}
