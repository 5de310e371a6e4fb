import type { Cell, ValueType } from "../types/valueType";

/** A value as the recount works with it: exact numbers as scaled integers, yes and no as true and false, dates as ISO text. */
export type Value = null | bigint | number | string | boolean;

/** A row of a table: the values that are read of it, in the order they are asked for. */
export type Row = Value[];

/** Text by code points, as the databases compare it; everything else by its own order. Neither may be empty. */
export function compareValues(a: Value, b: Value): number {
  if (typeof a === "string" && typeof b === "string") return compareText(a, b);
  return (a as number) < (b as number) ? -1 : (a as number) > (b as number) ? 1 : 0;
}

function compareText(a: string, b: string): number {
  if (a === b) return 0;
  const length = Math.min(a.length, b.length);
  for (let i = 0; i < length; i++) {
    const [x, y] = [a.charCodeAt(i), b.charCodeAt(i)];
    // Halves of a pair stand above everything that is written with one unit.
    if (x !== y) return (isHalf(x) ? x + 0x10000 : x) - (isHalf(y) ? y + 0x10000 : y);
  }
  return a.length - b.length;
}

const isHalf = (unit: number): boolean => unit >= 0xd800 && unit <= 0xdfff;

/** Several values as one key, none of which runs into the next. */
export function keyOfValues(values: Value[]): unknown {
  const [only] = values;
  if (values.length === 1 && (typeof only === "bigint" || only === null)) return only;
  return JSON.stringify(values.map((v) => (typeof v === "bigint" ? `${v}n` : typeof v === "string" ? `s${v}` : v)));
}

/** Values compared by links lie as they are stored: a number is the same however it is kept. */
export const plainValue = (value: unknown): Value => {
  if (value === null || value === undefined) return null;
  if (typeof value === "number") return Number.isInteger(value) ? BigInt(value) : value;
  return typeof value === "bigint" || typeof value === "string" ? value : `\u0000${String(value)}`;
};

/** A value as a cell. */
export function cellOfValue(value: Value): Cell {
  if (typeof value === "bigint") return Number.isSafeInteger(Number(value)) ? Number(value) : value.toString();
  return typeof value === "boolean" ? Number(value) : value;
}

/** A bound value of a plan as the recount works with it. */
export function boundValue(value: string | null, type: ValueType): Value {
  if (value === null) return null;
  switch (type.kind) {
    case "whole":
    case "decimal":
      return BigInt(value);
    case "floating":
      return Number(value);
    case "yesno":
      return value === "1";
    default:
      return value;
  }
}
