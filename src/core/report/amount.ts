import type { ColumnFormat } from "../types/schemas";
import { type Cell, exactOf, isExact, isMisfit, scaleOf, type ValueType } from "../types/valueType";

/** A figure by itself, with what it is and how it is written. */
export type Amount = { cell: Cell; type: ValueType; format: ColumnFormat };

/** Amounts added: to the last digit where all are exact, else as floating numbers. Nothing counts as 0. */
export function addAmounts(amounts: Amount[]): Amount | null {
  const [first] = amounts;
  if (!first) return null;
  if (!amounts.every((a) => isExact(a.type))) {
    const sum = amounts.reduce((total, a) => total + Number(isMisfit(a.cell) ? 0 : (a.cell ?? 0)) / 10 ** scaleOf(a.type), 0);
    return { cell: sum, type: { kind: "floating" }, format: first.format };
  }
  const scale = Math.max(...amounts.map((a) => scaleOf(a.type)));
  const sum = amounts.reduce((total, a) => total + (exactOf(a.cell) ?? 0n) * 10n ** BigInt(scale - scaleOf(a.type)), 0n);
  return { cell: sum.toString(), type: scale > 0 ? { kind: "decimal", scale } : { kind: "whole" }, format: first.format };
}

/** An amount taken away. */
export const negated = ({ cell, type, format }: Amount): Amount => {
  if (cell === null || isMisfit(cell)) return { cell, type, format };
  return { cell: isExact(type) ? (-(exactOf(cell) ?? 0n)).toString() : -Number(cell), type, format };
};
