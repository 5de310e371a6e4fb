import { isSameAmount } from "../types/amount";
import type { Cell, ValueType } from "../types/valueType";
import type { PivotProof } from "./pivot";

/** The pivot's totals as the recount has them, which shares no SQL with the pivot. */
export type PivotRecount = { rows: number; totals: Record<string, Cell> };

/** Whether what a pivot's figures come to over all rows is what the recount has. */
export const agreesWithRecount = (proof: PivotProof, recount: PivotRecount): boolean =>
  proof.agrees &&
  proof.rows.query === recount.rows &&
  proof.figures.every((f) => isSameAmount(f.query, recount.totals[f.figure] ?? null, f.type)) &&
  proof.wholes.every((w) => isSame(w.cell, recount.totals[w.figure] ?? null, w.type));

/** Whether two values of any type are the same; floating ones within what their order of adding can change. */
const isSame = (a: Cell, b: Cell, type: ValueType): boolean =>
  a === null || b === null ? a === b : type.kind === "floating" ? isSameAmount(a, b, type) : String(a) === String(b);
