import { hasKey } from "../query/groupKeys";
import type { RunContext } from "../query/operands";
import type { Plan, PlanColumn, PlanCondition } from "../query/plan";
import type { QuerySpec } from "../query/spec";
import type { Schema } from "../schema/schema";
import type { Checked } from "../types/problem";
import type { Cell } from "../types/valueType";
import { planRows } from "./rowsPlan";
import type { ReportSpec } from "./spec";

/**
 * The rows behind a figure of a group, in the columns of the report's query and in the order they are printed.
 * @param keys what makes the group, outermost level first; none for all rows
 */
export function planGroupRows(spec: ReportSpec, query: QuerySpec, schema: Schema, context: RunContext, keys: Cell[]): Checked<Plan> {
  const made = planRows(spec, query, schema, context, []);
  if (!made.ok) return made;
  const { plan, levels, query: own } = made.value;
  const places = levels.flatMap((l) => (l.rest ? [l.rest, l.key] : [l.key])).slice(0, keys.length);
  const conditions = places.flatMap((id, i): PlanCondition[] => {
    const column = plan.columns.find((c) => c.id === id);
    return column?.expr ? [{ id: `group ${id}`, expr: hasKey(column.expr, keys[i] ?? null), label: column.heading }] : [];
  });
  const shown = new Map(own.columns.map((c) => [c.id, c]));
  const columns = plan.columns.map((c): PlanColumn => ({ ...c, hidden: shown.get(c.id)?.hidden ?? true }));
  return { ok: true, value: { ...plan, columns, conditions: [...plan.conditions, ...conditions] } };
}
