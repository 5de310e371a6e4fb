import type { Plan, PlanColumn } from "../query/plan";
import { cellOfValue } from "../recount/value";
import type { Cell } from "../types/valueType";

/* What a proof can follow, and what stands between two of its amounts: all that a page needs to show one that was made. */

const canBeFollowed = (c: PlanColumn): boolean => c.expr !== null && c.totalled && (!c.figure || c.figure === "total");

/** The columns a proof can follow. */
export const proofColumns = (plan: Plan): PlanColumn[] => plan.columns.filter(canBeFollowed);

/** The column whose figure the proof follows: the one chosen, else the first that is shown, among those it can follow. */
export function proofColumn(plan: Plan, chosen?: string): PlanColumn | null {
  const columns = proofColumns(plan);
  return columns.find((c) => c.id === chosen) ?? columns.find((c) => !c.hidden) ?? columns[0] ?? null;
}

/** One amount less another, exactly where both are exact: what a figure is out by. Of nothing it is the first as it is. */
export function minus(a: Cell, b: Cell, exact: boolean): Cell {
  if (a === null || b === null) return a;
  return exact ? cellOfValue(BigInt(a as string) - BigInt(b as string)) : Number(a) - Number(b);
}
