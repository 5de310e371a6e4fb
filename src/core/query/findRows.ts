import { isProblem } from "../expression/check";
import { type Checked, problem } from "../types/problem";
import { isDated, isNumber, type ValueType } from "../types/valueType";
import type { RunContext } from "./operands";
import { overRows, resolveOver } from "./over";
import { parseValue } from "./parseValue";
import type { Plan } from "./plan";
import type { ConditionTree, QuerySpec } from "./spec";
import { levelsOf } from "./subtotals";

/*
 * Finding what is sought in all rows of a sheet, not only in those in sight: rows are numbered in the sheet's order, and
 * those are asked for that hold it.
 */

/** The hidden column with each row's number in the order of the sheet, from 1. */
const NUMBER = "find number";

/** What is looked for: a text that texts hold, and the values of other types that it is, where it is any. */
export type Sought = { text: string; typed: (type: ValueType) => string | null };

/** A query with its rows numbered in its order. */
export const numbered = (spec: QuerySpec): QuerySpec => ({
  ...spec,
  columns: [...spec.columns, { id: NUMBER, value: null, figure: "window", window: { kind: "number" }, hidden: true }],
});

const comparison = (id: string, column: string, operator: "contains" | "is" | "atLeast" | "atMost", text: string): ConditionTree => ({
  id,
  left: { kind: "field", join: "", column },
  operator,
  values: [{ kind: "value", text }],
});

/** The condition that a row holds what is sought in a column that is shown; null where no column can hold it. */
function holds(plan: Plan, { text, typed }: Sought): ConditionTree | null {
  const of = plan.columns.flatMap((c): ConditionTree[] => {
    if (c.hidden) return [];
    if (c.type.kind === "text") return [comparison(`find ${c.id}`, c.id, "contains", text)];
    const value = isNumber(c.type) || isDated(c.type) ? typed(c.type) : null;
    return value !== null && !isProblem(parseValue(value, c.type, [])) ? [comparison(`find ${c.id}`, c.id, "is", value)] : [];
  });
  return of.length === 0 ? null : { id: "found", holds: "any", of };
}

/** The first row from a number on that holds what is sought, or the last up to it, by its number; and how many hold it. */
export type FindPlans = { next: Plan; count: Plan };

/**
 * @param plan of `numbered(spec)`
 * @param from the number of the row to begin with, from 1
 * @returns null where the sheet has nothing that could hold it; rows of a sheet with subtotals have no numbers of their own
 */
export function planFind(plan: Plan, sought: Sought, from: number, backwards: boolean, context: RunContext): Checked<FindPlans> | null {
  const condition = holds(plan, sought);
  if (!condition || sought.text.trim() === "") return null;
  if (levelsOf(plan).length > 0) return { ok: false, problems: [problem("findSubtotals", [])] };
  const value = { kind: "field" as const, join: "", column: NUMBER };
  const end = comparison("from", NUMBER, backwards ? "atMost" : "atLeast", String(from));
  const next: QuerySpec = {
    ...overRows(),
    columns: [{ id: NUMBER, value }],
    conditions: [condition, end],
    order: [{ column: NUMBER, direction: backwards ? "down" : "up" }],
    limit: 1,
  };
  const counted: QuerySpec = { ...overRows(), grouped: true, columns: [{ id: "count", value: null, figure: "count" }], conditions: [condition] };
  // How many there are does not hang on their numbers.
  const unnumbered = { ...plan, columns: plan.columns.filter((c) => c.id !== NUMBER) };
  const [first, count] = [resolveOver(next, plan, context), resolveOver(counted, unnumbered, context)];
  if (!first.ok) return first;
  return count.ok ? { ok: true, value: { next: first.value, count: count.value } } : count;
}
