import { decimalText, divideRounded, rescale } from "../types/decimal";
import { type Cell, exactOf, isExact, isMisfit, scaleOf, type ValueType } from "../types/valueType";
import type { Footing } from "./spec";

/** Running figures of one column over the rows of a group. Exact numbers are added as big integers. */
export class Tally {
  private count = 0;
  private exact = 0n;
  private floating = 0;

  constructor(private readonly type: ValueType) {}

  add(cell: Cell): void {
    if (cell === null || isMisfit(cell)) return;
    this.count++;
    if (isExact(this.type)) this.exact += exactOf(cell) ?? 0n;
    else if (this.type.kind === "floating") this.floating += Number(cell);
  }

  /** The figure as a cell of `figureType`; null where there is nothing to sum up. */
  figure(footing: Footing): Cell {
    switch (footing) {
      case "none":
        return null;
      case "count":
        return this.count;
      case "total":
        if (this.count === 0) return null;
        return isExact(this.type) ? this.exact.toString() : this.floating;
      case "average":
        if (this.count === 0) return null;
        if (!isExact(this.type)) return this.floating / this.count;
        return divideRounded(this.exact * 10n ** BigInt(EXTRA_DIGITS), BigInt(this.count)).toString();
      default:
        return footing satisfies never;
    }
  }

  /** Two tallies over the same column that share no row, as one. */
  merge(other: Tally): void {
    this.count += other.count;
    this.exact += other.exact;
    this.floating += other.floating;
  }
}

const EXTRA_DIGITS = 4;

/** The type of a footing's figure over a column of a type. */
export function figureType(footing: Footing, type: ValueType): ValueType {
  if (footing === "count") return { kind: "whole" };
  if (footing === "average" && isExact(type)) return { kind: "decimal", scale: scaleOf(type) + EXTRA_DIGITS };
  return type;
}

/** An exact figure as plain decimal text, for comparing and for tests. */
export const exactText = (cell: Cell, scale: number): string => decimalText(rescale(exactOf(cell) ?? 0n, scale, scale), scale);
