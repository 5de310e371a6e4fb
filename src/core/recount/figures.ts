import { andMore, averageShift, NTH, PERCENT_DIGITS, SHARE_DIGITS } from "../query/aggregates";
import type { AggregateName } from "../query/choices";
import { divideCarried, tenTo } from "../types/decimal";
import { percentileFloating, varianceOf } from "../types/statistics";
import { isExact, scaleOf, type ValueType } from "../types/valueType";
import { compareValues, keyOfValues, type Value } from "./value";

/*
 * Figures over a group, taken one row after the other: each is a tally that rows are added to and that tells its value
 * at the end. What the registry says of a figure in SQL (query/aggregates.ts) is said here without it.
 */

/** What a figure is taken of: a value with the order it stands in or its weight, and the row it belongs to where it is counted once. */
export type Item = { value: Value; by: Value; keys: Value[] | null };

export type FigureOptions = {
  direction: "up" | "down";
  separator: string;
  percent: number;
  count?: number | undefined /** of what weighs the values */;
  byType?: ValueType;
};

/** A figure while it is taken. Items with an empty value are never added. */
export type Tally = { add: (item: Item) => void; value: () => Value };

type Known = Exclude<Value, null>;
type Numeric = bigint | number;

const plus = (a: Value, b: Known): Value => (a === null ? b : typeof a === "bigint" ? a + (b as bigint) : (a as number) + (b as number));
const times = (a: Known, b: Known): Known => (typeof a === "bigint" ? a * (b as bigint) : (a as number) * Number(b));

/** A figure that holds one value, changed by each that comes. */
function folded(start: Value, next: (held: Value, value: Known) => Value): Tally {
  let held = start;
  return {
    add: ({ value }) => {
      held = next(held, value as Known);
    },
    value: () => held,
  };
}

/** A figure that needs all values at the end; null of none. */
function overAll(figure: (values: Known[]) => Value): Tally {
  const values: Known[] = [];
  return { add: ({ value }) => void values.push(value as Known), value: () => (values.length === 0 ? null : figure(values)) };
}

/** A quotient of sums; null where there is nothing to divide by. @param exactly how exact sums are divided */
function quotient(over: (item: Item) => Known | null, under: (item: Item) => Known | null, exactly: (a: bigint, b: bigint) => bigint): Tally {
  const sums: [Value, Value] = [null, null];
  return {
    add: (item) => {
      const [a, b] = [over(item), under(item)];
      if (a !== null) sums[0] = plus(sums[0], a);
      if (b !== null) sums[1] = plus(sums[1], b);
    },
    value: () => {
      const [a, b] = sums;
      if (a === null || b === null || Number(b) === 0) return null;
      return typeof a === "bigint" && typeof b === "bigint" ? exactly(a, b) : Number(a) / Number(b);
    },
  };
}

/** Each row's value once, however often it stands there; what belongs to no row is not counted. */
function onlyOnce(tally: Tally): Tally {
  const told = new Set<unknown>();
  return {
    ...tally,
    add: (item) => {
      if (item.keys !== null) {
        const key = keyOfValues(item.keys);
        if (item.keys.every((k) => k === null) || told.has(key)) return;
        told.add(key);
      }
      tally.add(item);
    },
  };
}

function medianOf(known: Known[]): Value {
  const sorted = [...known].sort(compareValues);
  const [low, high] = [sorted[Math.floor((sorted.length - 1) / 2)], sorted[Math.floor(sorted.length / 2)]];
  if (low === undefined || high === undefined) return null;
  return typeof low === "bigint" ? (low + (high as bigint)) * 5n : ((low as number) + (high as number)) / 2;
}

/** Between the two values it lies between, in proportion, by steps of its own. */
function percentileOf(known: Known[], percent: number): Value {
  if (typeof known[0] === "number") return percentileFloating(known as number[], percent);
  const sorted = [...(known as bigint[])].sort(compareValues);
  const steps = tenTo(PERCENT_DIGITS);
  const place = BigInt(sorted.length - 1) * BigInt(percent);
  const [low = 0n, high = low] = sorted.slice(Number(place / steps));
  return low * (steps - (place % steps)) + high * (place % steps);
}

function modeOf(known: Known[]): Value {
  const often = new Map<unknown, { value: Known; times: number }>();
  for (const value of known) {
    const key = keyOfValues([value]);
    const held = often.get(key) ?? { value, times: 0 };
    held.times++;
    often.set(key, held);
  }
  const [most] = [...often.values()].sort((a, b) => b.times - a.times || compareValues(a.value, b.value));
  return most?.value ?? null;
}

/** Empty values come first going up, last going down. */
export function inOrder(a: Value, b: Value, direction: "up" | "down"): number {
  const order = a === null || b === null ? Number(a !== null) - Number(b !== null) : compareValues(a, b);
  return direction === "up" ? order : -order;
}

/** The items in an order, equal ones by their values. */
const ordered = (items: Item[], direction: "up" | "down") => [...items].sort((a, b) => inOrder(a.by, b.by, direction) || inOrder(a.value, b.value, "up"));

function overItems(figure: (items: Item[]) => Value): Tally {
  const items: Item[] = [];
  return { add: (item) => void items.push(item), value: () => figure(items) };
}

const nthIn = (direction: "up" | "down", n: number): Tally =>
  overItems(
    (items) =>
      ordered(
        items.filter((i) => i.by !== null),
        direction,
      )[n - 1]?.value ?? null,
  );

const better = (sign: 1 | -1) => folded(null, (best, value) => (best === null || compareValues(value, best) * sign > 0 ? value : best));

const asNumber = (value: Known, type: ValueType): number => (typeof value === "bigint" ? Number(value) / 10 ** scaleOf(type) : Number(value));

const spread = (type: ValueType, sample: boolean, of: (variance: number) => number): Tally =>
  overAll((values) => {
    const variance = varianceOf(
      values.map((v) => asNumber(v, type)),
      sample,
    );
    return variance === null ? null : of(variance);
  });

const turned = (direction: "up" | "down") => (direction === "up" ? "down" : "up");

const TALLIES: Record<AggregateName, (type: ValueType, options: FigureOptions) => Tally> = {
  count: () => folded(0n, (n) => (n as bigint) + 1n),
  countDifferent: () => {
    const seen = new Set<unknown>();
    return { add: ({ value }) => void seen.add(keyOfValues([value])), value: () => BigInt(seen.size) };
  },
  total: () => onlyOnce(folded(null, plus)),
  average: (type) =>
    quotient(
      ({ value }) => value,
      () => (isExact(type) ? 1n : 1),
      (sum, count) => divideCarried(sum * tenTo(averageShift(type)), count),
    ),
  weightedAverage: (type) =>
    quotient(
      ({ value, by }) => (by === null ? null : times(value as Known, by)),
      ({ by }) => by,
      (sum, weight) => divideCarried(sum * tenTo(averageShift(type)), weight),
    ),
  median: () => overAll(medianOf),
  percentile: (_, { percent }) => overAll((values) => percentileOf(values, percent)),
  mode: () => overAll(modeOf),
  least: () => better(-1),
  greatest: () => better(1),
  range: () => {
    const [low, high] = [better(-1), better(1)];
    return {
      add: (item) => {
        low.add(item);
        high.add(item);
      },
      value: () => {
        const [a, b] = [low.value() as Numeric | null, high.value() as Numeric | null];
        if (a === null || b === null) return null;
        return typeof a === "bigint" ? (b as bigint) - a : (b as number) - a;
      },
    };
  },
  deviation: (type) => spread(type, true, Math.sqrt),
  deviationWhole: (type) => spread(type, false, Math.sqrt),
  variance: (type) => spread(type, true, (v) => v),
  varianceWhole: (type) => spread(type, false, (v) => v),
  share: () =>
    quotient(
      ({ value }) => (value === true ? 1n : 0n),
      () => 1n,
      (yes, all) => divideCarried(yes * tenTo(SHARE_DIGITS + 1), all),
    ),
  any: () => folded(null, (held, value) => held === true || value === true),
  all: () => folded(null, (held, value) => held !== false && value === true),
  first: (_, { direction }) => nthIn(direction, 1),
  last: (_, { direction }) => nthIn(turned(direction), 1),
  nth: (_, { direction, count }) => nthIn(direction, count ?? NTH),
  list: (_, { direction, separator, count }) =>
    overItems((items) => {
      const sorted = ordered(items, direction);
      const shown = count ? sorted.slice(0, count) : sorted;
      return sorted.length === 0 ? null : shown.map((i) => String(i.value)).join(separator) + andMore(sorted.length - shown.length);
    }),
};

/** A figure to be taken. @param type of its values */
export function tallyOf(figure: AggregateName, type: ValueType, options: FigureOptions): Tally {
  const tally = TALLIES[figure](type, options);
  return { ...tally, add: (item) => (item.value === null ? undefined : tally.add(item)) };
}

/** A figure over items, as the registry's record of it says. @param type of the values */
export function figureOver(figure: AggregateName, items: Item[], type: ValueType, options: FigureOptions): Value {
  const tally = tallyOf(figure, type, options);
  for (const item of items) tally.add(item);
  return tally.value();
}
