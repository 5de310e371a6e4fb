import { type Expr, isTrue } from "../expression/expr";
import { hasKey } from "../query/groupKeys";
import { rowsWhere } from "../query/over";
import type { Plan, PlanCondition } from "../query/plan";
import type { Cell } from "../types/valueType";
import type { CellPick, PivotStep } from "./pick";
import type { Heading, Pivot, PivotPlan, PlannedAxis } from "./pivot";
import { inRest } from "./slots";

/** The cell under two headings of a pivot, as its rows are asked for. */
export const pickAt = ({ down, across }: Pivot, line: { heading: number }, column: { heading: number }): CellPick => ({
  down: stepsTo(down, line.heading),
  across: stepsTo(across, column.heading),
});

/** The rows that have no value in a field, whatever stands in the fields before it. */
export const pickEmpties = (side: "down" | "across", field: number): CellPick => ({
  down: [],
  across: [],
  [side]: [...Array.from({ length: field }, () => ({ any: true as const })), { key: null }],
});

/** The steps to a heading; none for the total. */
function stepsTo(headings: Heading[], index: number): PivotStep[] {
  const steps: PivotStep[] = [];
  for (let at = index; at > 0; at = headings[at]?.parent ?? 0) {
    const { rest, key } = headings[at] as Heading;
    steps.unshift(rest ? { rest: rest.map(plainKey) } : { key: plainKey(key) });
  }
  return steps;
}

/** A key as it is sent; a value that does not fit its type is no key. */
export const plainKey = (key: Cell): string | number | null => (typeof key === "object" ? null : key);

/** The query's rows behind one cell of a pivot, in the query's own columns and order; null where the cell is not of this pivot. */
export function planCellRows(pivot: PivotPlan, pick: CellPick): Plan | null {
  const conditions: PlanCondition[] = [...pivot.plan.conditions, ...stepConditions(pivot.down, pick.down), ...stepConditions(pivot.across, pick.across)];
  const rows = rowsWhere(pivot.inner, conditions);
  return rows.ok ? rows.value : null;
}

function stepConditions(axes: PlannedAxis[], steps: PivotStep[]): PlanCondition[] {
  return steps.flatMap((step, i) => {
    const axis = axes[i];
    if (!axis || "any" in step) return [];
    const expr = axis.column.expr as Expr;
    return [{ id: `cell ${axis.spec.id}`, expr: isTrue("key" in step ? hasKey(expr, step.key) : inRest(expr, step.rest)), label: axis.column.heading }];
  });
}
