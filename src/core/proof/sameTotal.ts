import type { Cell } from "../types/valueType";

/** Exact figures must be the same to the last digit; floating ones within what their order of adding can change. */
export function sameTotal(a: Cell, b: Cell, within: number): boolean {
  if (a === null || b === null) return a === b;
  return within === 0 ? String(a) === String(b) : Math.abs(Number(a) - Number(b)) <= within;
}
