import { AGGREGATES, averageShift } from "../query/aggregates";
import { decimalText, divideCarried, rescale, tenTo } from "../types/decimal";
import { type Cell, exactOf, isExact, isMisfit, type ValueType } from "../types/valueType";

/** How a column is summed up. */
export type Footing = "none" | "total" | "count" | "average";

/**
 * Running figures of one column over the rows of a group. Exact numbers are added as big integers. Where the column's
 * values belong to rows that stand here again and again, the total counts each of those once.
 */
export class Tally {
  private count = 0;
  private readonly every = { exact: 0n, floating: 0 };
  private readonly once = { exact: 0n, floating: 0 };
  private readonly told = new Set<string>();

  /** @param keys the places in a row of what tells apart the rows counted once; null where every row counts */
  constructor(
    private readonly type: ValueType,
    private readonly keys: number[] | null = null,
  ) {}

  add(cell: Cell, row: Cell[] = []): void {
    if (cell === null || isMisfit(cell)) return;
    this.count++;
    const exact = isExact(this.type) ? (exactOf(cell) ?? 0n) : 0n;
    const floating = this.type.kind === "floating" ? Number(cell) : 0;
    this.every.exact += exact;
    this.every.floating += floating;
    if (this.keys === null || !this.isNew(this.keys.map((at) => row[at] ?? null))) return;
    this.once.exact += exact;
    this.once.floating += floating;
  }

  private isNew(keys: Cell[]): boolean {
    if (keys.every((k) => k === null)) return false;
    const key = JSON.stringify(keys);
    return !this.told.has(key) && Boolean(this.told.add(key));
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
        return isExact(this.type) ? this.added.exact.toString() : this.added.floating;
      case "average":
        if (this.count === 0) return null;
        if (!isExact(this.type)) return this.every.floating / this.count;
        return divideCarried(this.every.exact * tenTo(averageShift(this.type)), BigInt(this.count)).toString();
      default:
        return footing satisfies never;
    }
  }

  private get added() {
    return this.keys ? this.once : this.every;
  }

  /** Two tallies over the same column that share no row, as one. A row counted once in each of them counts in both. */
  merge(other: Tally): void {
    this.count += other.count;
    this.every.exact += other.every.exact;
    this.every.floating += other.every.floating;
    this.once.exact += other.once.exact;
    this.once.floating += other.once.floating;
  }
}

/** The type of a footing's figure over a column of a type. */
export function figureType(footing: Footing, type: ValueType): ValueType {
  if (footing === "count") return { kind: "whole" };
  if (footing === "average" && isExact(type)) return AGGREGATES.average.gives(type);
  return type;
}

/** An exact figure as plain decimal text, for comparing and for tests. */
export const exactText = (cell: Cell, scale: number): string => decimalText(rescale(exactOf(cell) ?? 0n, scale, scale), scale);
