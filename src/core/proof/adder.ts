import type { Evaluate, Tuple } from "../recount/evaluator";
import { cellOfValue, keyOfValues, type Value } from "../recount/value";
import type { Cell } from "../types/valueType";

/** Adds a figure up over rows; where it is counted once, each row of its home the first time it stands there. */
export class Adder {
  private known = 0;
  private exact = 0n;
  private floating = 0;
  /** What adding in floating point has lost so far (A. Neumaier, ZAMM 54, 1974), and the size of all that was added. */
  private lost = 0;
  private size = 0;
  /** The rows of the home that stand here, and whether their value is counted. */
  private readonly told = new Map<unknown, boolean>();
  rows = 0;

  constructor(
    private readonly value: Evaluate | null,
    private readonly keys: ((tuple: Tuple) => Value[]) | null,
  ) {}

  add(tuple: Tuple, times = 1): void {
    this.rows += times;
    const value = this.value?.(tuple) ?? null;
    const counts = this.keys === null || this.isFirst(this.keys(tuple), value);
    if (value === null || !counts) return;
    this.known++;
    const often = this.keys ? 1 : times;
    if (typeof value === "bigint") this.exact += value * BigInt(often);
    else this.addFloating(Number(value) * often);
  }

  private addFloating(value: number): void {
    const sum = this.floating + value;
    this.lost += Math.abs(this.floating) >= Math.abs(value) ? this.floating - sum + value : value - sum + this.floating;
    this.floating = sum;
    this.size += Math.abs(value);
  }

  /** The most by which adding the same numbers one after the other may be off (N. J. Higham, Accuracy and Stability of Numerical Algorithms, 4.2). */
  get within(): number {
    return 2 * this.known * (Number.EPSILON / 2) * this.size;
  }

  /** Whether a row of the home has a value for the first time; a condition may leave it empty where it stands before. */
  private isFirst(keys: Value[], value: Value): boolean {
    if (keys.every((k) => k === null)) return false;
    const key = keyOfValues(keys);
    const counted = this.told.get(key) ?? false;
    this.told.set(key, counted || value !== null);
    return !counted;
  }

  get different(): number {
    return this.told.size;
  }

  /** @param exact whether the figure's type is */
  sum(exact: boolean): Cell {
    if (this.known === 0) return null;
    return exact ? cellOfValue(this.exact) : this.floating + this.lost;
  }
}
