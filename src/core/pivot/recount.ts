import { type ReadTable, recountRows } from "../recount/recount";
import { cellOfValue } from "../recount/value";
import type { PivotPlan } from "./pivot";
import { groupingPlan } from "./plan";
import { addingFigures } from "./prove";
import type { PivotRecount } from "./seal";

/** Counts a pivot's rows and the totals that it cross-foots a second time, by the recount. */
export function recountPivot(pivot: PivotPlan, read: ReadTable): PivotRecount {
  const adding = addingFigures(pivot);
  const [row = []] = recountRows(groupingPlan(pivot, [], [], adding), read);
  const cells = row.map(cellOfValue);
  return { rows: Number(cells[adding.length] ?? 0), totals: Object.fromEntries(adding.map((f, i) => [f.spec.id, cells[i] ?? null])) };
}
