import { type Cell, isExact, type ValueType } from "./valueType";

/** What two ways of adding the same floating numbers may differ by, of the greater of 1 and the amount. */
const WITHIN = 1e-9;

/**
 * Whether two amounts of a type are the same: to the last digit where it is exact. Nothing counts as 0.
 * @param a undefined where there is nothing to hold against the other
 */
export function isSameAmount(a: Cell | undefined, b: Cell, type: ValueType): boolean {
  if (a === undefined) return true;
  if (isExact(type)) return String(a ?? 0) === String(b ?? 0);
  return Math.abs(Number(a) - Number(b)) <= WITHIN * Math.max(1, Math.abs(Number(b)));
}
