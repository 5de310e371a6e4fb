import { type AggregateName, averageShift } from "../query/aggregates";
import { divideCarried, tenTo } from "../types/decimal";
import { isExact, type ValueType } from "../types/valueType";
import { compareValues, keyOfValues, type Value } from "./value";

/** What a figure is taken over: values with the order they stand in, and the row each belongs to where it is counted once. */
export type Item = { value: Value; by: Value; keys: Value[] | null };

type Known = Exclude<Value, null>;

/** Each row's value once, however often it stands there; what belongs to no row is not counted. */
function onlyOnce(items: Item[]): Item[] {
  const told = new Set<unknown>();
  return items.filter(({ keys, value }) => {
    if (keys === null) return true;
    if (value === null || keys.every((k) => k === null)) return false;
    const key = keyOfValues(keys);
    return !told.has(key) && Boolean(told.add(key));
  });
}

/** The sum of values that are not empty; null where there is none. */
export function sumOf(values: Value[]): Value {
  const known = values.filter((v) => v !== null);
  if (known.length === 0) return null;
  return typeof known[0] === "bigint" ? (known as bigint[]).reduce((a, b) => a + b, 0n) : (known as number[]).reduce((a, b) => a + b, 0);
}

function averageOf(known: Known[], type: ValueType): Value {
  const sum = sumOf(known);
  if (sum === null) return null;
  return isExact(type) ? divideCarried((sum as bigint) * tenTo(averageShift(type)), BigInt(known.length)) : (sum as number) / known.length;
}

function medianOf(known: Known[]): Value {
  const sorted = [...known].sort(compareValues);
  const [low, high] = [sorted[Math.floor((sorted.length - 1) / 2)], sorted[Math.floor(sorted.length / 2)]];
  if (low === undefined || high === undefined) return null;
  return typeof low === "bigint" ? (low + (high as bigint)) * 5n : ((low as number) + (high as number)) / 2;
}

/** Empty values come first going up, last going down. */
export function inOrder(a: Value, b: Value, direction: "up" | "down"): number {
  const order = a === null || b === null ? Number(a !== null) - Number(b !== null) : compareValues(a, b);
  return direction === "up" ? order : -order;
}

function firstOf(items: Item[], direction: "up" | "down"): Value {
  const known = items.filter((i) => i.by !== null && i.value !== null);
  known.sort((a, b) => inOrder(a.by, b.by, direction) || inOrder(a.value, b.value, "up"));
  return known[0]?.value ?? null;
}

/** A figure over a group's items, as the registry's record of it says (query/aggregates.ts). @param type of the values */
export function figureOver(
  figure: AggregateName,
  all: Item[],
  type: ValueType,
  { direction, separator }: { direction: "up" | "down"; separator: string },
): Value {
  const items = figure === "total" ? onlyOnce(all) : all;
  const known = items.flatMap((i) => (i.value === null ? [] : [i.value]));
  switch (figure) {
    case "count":
      return BigInt(known.length);
    case "countDifferent":
      return BigInt(new Set(known.map((v) => keyOfValues([v]))).size);
    case "total":
      return sumOf(known);
    case "average":
      return averageOf(known, type);
    case "median":
      return medianOf(known);
    case "least":
    case "greatest":
      return known.reduce<Value>((best, v) => (best === null || compareValues(v, best) < 0 === (figure === "least") ? v : best), null);
    case "first":
      return firstOf(items, direction);
    case "last":
      return firstOf(items, direction === "up" ? "down" : "up");
    case "list": {
      const sorted = items.filter((i) => i.value !== null).sort((a, b) => inOrder(a.by, b.by, direction) || inOrder(a.value, b.value, "up"));
      return sorted.length === 0 ? null : sorted.map((i) => String(i.value)).join(separator);
    }
    default:
      return figure satisfies never;
  }
}
