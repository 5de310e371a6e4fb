import { isSameAmount } from "../types/amount";
import type { Cell } from "../types/valueType";
import type { PivotProof } from "./pivot";

/** The pivot's totals as the recount has them, which shares no SQL with the pivot. */
export type PivotRecount = { rows: number; totals: Record<string, Cell> };

/** Whether a pivot's own totals are those of the recount. */
export const agreesWithRecount = (proof: PivotProof, recount: PivotRecount): boolean =>
  proof.agrees && proof.rows.query === recount.rows && proof.figures.every((f) => isSameAmount(f.query, recount.totals[f.figure] ?? null, f.type));
