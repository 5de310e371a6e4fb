import { type ReadTable, recountRows } from "../recount/recount";
import { cellOfValue } from "../recount/value";
import type { PivotPlan } from "./pivot";
import { groupingPlan } from "./plan";
import { provenFigures } from "./prove";
import type { PivotRecount } from "./seal";

/** Counts a pivot's rows and what each of its figures comes to over all of them a second time, by the recount. */
export function recountPivot(pivot: PivotPlan, read: ReadTable): PivotRecount {
  const proven = provenFigures(pivot);
  const [row = []] = recountRows(groupingPlan(pivot, [], [], proven), read);
  const cells = row.map(cellOfValue);
  return { rows: Number(cells[proven.length] ?? 0), totals: Object.fromEntries(proven.map((f, i) => [f.spec.id, cells[i] ?? null])) };
}
