import { SHARE_DIGITS } from "../query/aggregates";
import type { WindowName } from "../query/choices";
import type { Plan, PlanWindow } from "../query/plan";
import { dayNumber } from "../types/date";
import { divideCarried, tenTo } from "../types/decimal";
import { fold } from "../types/text";
import type { ValueType } from "../types/valueType";
import { evaluator } from "./evaluator";
import { inOrder, tallyOf } from "./figures";
import { compareValues, keyOfValues, type Row, type Value } from "./value";

/*
 * What a column is worked out to from the rows beside it, said a second time without SQL: rows are parted and put in
 * order, and each looks at its own part.
 */

/** A row with what tells it apart where an order leaves rows level. */
export type Placed = { row: Row; ties: Row };

type Numeric = bigint | number;
const less = (a: Numeric, b: Numeric): Numeric => (typeof a === "bigint" ? a - (b as bigint) : a - Number(b));

/** A part of a whole: exact numbers with the digits of a share. */
function partOf(a: Value, whole: Value): Value {
  if (a === null || whole === null || Number(whole) === 0) return null;
  return typeof a === "bigint" ? divideCarried(a * tenTo(SHARE_DIGITS + 1), whole as bigint) : (a as number) / (whole as number);
}

const sizeOf = (value: Value): Value => (typeof value === "bigint" ? (value < 0n ? -value : value) : Math.abs(value as number));

/** Rows in an order of columns, those it leaves level by what tells them apart. */
export function comparing(plan: Pick<Plan, "columns">, order: Plan["order"]): (a: Placed, b: Placed) => number {
  const terms = order.flatMap(({ column, direction }) => {
    const at = plan.columns.findIndex((c) => c.id === column);
    return at < 0 ? [] : [{ at, direction, text: plan.columns[at]?.type.kind === "text" }];
  });
  const folded = (v: Value) => (typeof v === "string" ? fold(v) : v);
  return (a, b) => {
    for (const { at, direction, text } of terms) {
      const [x, y] = [a.row[at] ?? null, b.row[at] ?? null];
      const found = (text ? inOrder(folded(x), folded(y), direction) : 0) || inOrder(x, y, direction);
      if (found !== 0) return found;
    }
    for (let i = 0; i < a.ties.length; i++) {
      const found = inOrder(a.ties[i] ?? null, b.ties[i] ?? null, "up");
      if (found !== 0) return found;
    }
    return 0;
  };
}

/** Rows parted by the values of columns. */
export function partedBy<Line extends Placed>(plan: Pick<Plan, "columns">, per: string[], rows: Line[]): Line[][] {
  const places = per.map((id) => plan.columns.findIndex((c) => c.id === id));
  const parts = new Map<unknown, Line[]>();
  for (const placed of rows) {
    const key = keyOfValues(places.map((at) => placed.row[at] ?? null));
    const part = parts.get(key);
    if (part) part.push(placed);
    else parts.set(key, [placed]);
  }
  return [...parts.values()];
}

/** The number of the period a day lies in. */
function periodIndex(day: Value, part: NonNullable<PlanWindow["period"]>["part"]): number | null {
  if (typeof day !== "string") return null;
  const [year, month] = [Number(day.slice(0, 4)), Number(day.slice(5, 7))];
  return {
    year,
    quarter: year * 4 + Math.ceil(month / 3),
    month: year * 12 + month,
    isoWeek: Math.floor(dayNumber(day.slice(0, 10)) / 7),
    day: dayNumber(day.slice(0, 10)),
  }[part];
}

/** The value that stands before each row of a part: of the row before, or of the period so far back. */
function beforeIn(plan: Pick<Plan, "columns">, window: PlanWindow, at: number, rows: Placed[]): (i: number) => Value {
  const { period } = window;
  if (!period) return (i) => rows[i - 1]?.row[at] ?? null;
  const dated = plan.columns.findIndex((c) => c.id === period.column);
  const index = rows.map(({ row }) => periodIndex(row[dated] ?? null, period.part));
  const rowOf = new Map(index.map((number, i) => [number, i]));
  return (i) => {
    const found = rowOf.get((index[i] ?? Number.NaN) - period.steps);
    return found === undefined ? null : (rows[found]?.row[at] ?? null);
  };
}

type Part = { values: Value[]; type: ValueType; before: (i: number) => Value; window: PlanWindow };

const OPTIONS = { direction: "up", separator: "", percent: 0 } as const;

function figure(name: "total" | "average" | "least" | "greatest", values: Value[], type: ValueType): Value {
  const tally = tallyOf(name, type, OPTIONS);
  for (const value of values) tally.add({ value, by: null, keys: null });
  return tally.value();
}

const difference = ({ values, before }: Part, i: number): Value => {
  const [now, then] = [values[i] ?? null, before(i)];
  return now === null || then === null ? null : less(now as Numeric, then as Numeric);
};

/** Rows that have a value, by its size; those of one size as they stand. */
const bySize = ({ values, window }: Part): { value: NonNullable<Value>; i: number }[] =>
  values.flatMap((value, i) => (value === null ? [] : [{ value, i }])).sort((a, b) => compareValues(a.value, b.value) * (window.direction === "up" ? 1 : -1));

const WINDOWS: Record<WindowName, (part: Part) => (i: number) => Value> = {
  running: ({ values, type }) => {
    const tally = tallyOf("total", type, OPTIONS);
    const sums = values.map((value) => {
      tally.add({ value, by: null, keys: null });
      return tally.value();
    });
    return (i) => sums[i] ?? null;
  },
  share: ({ values, type }) => {
    const all = figure("total", values, type);
    return (i) => partOf(values[i] ?? null, all);
  },
  rank: (part) => {
    const sorted = bySize(part);
    const ranks = new Map<number, bigint>();
    sorted.forEach(({ value, i }, place) => {
      const before = sorted[place - 1];
      ranks.set(i, before && compareValues(before.value, value) === 0 ? (ranks.get(before.i) as bigint) : BigInt(place + 1));
    });
    return (i) => ranks.get(i) ?? null;
  },
  // As many rows in each part; of what is left over, one more in each of the first.
  quantile: (part) => {
    const sorted = bySize(part);
    const [each, over] = [Math.floor(sorted.length / part.window.rows), sorted.length % part.window.rows];
    const partOf = (place: number): number =>
      place < over * (each + 1) ? Math.floor(place / (each + 1)) : over + Math.floor((place - over * (each + 1)) / each);
    const parts = new Map(sorted.map(({ i }, place) => [i, BigInt(partOf(place) + 1)]));
    return (i) => parts.get(i) ?? null;
  },
  number: () => (i) => BigInt(i + 1),
  difference: (part) => (i) => difference(part, i),
  change: (part) => (i) => {
    const then = part.before(i);
    return then === null ? null : partOf(difference(part, i), sizeOf(then));
  },
  moving:
    ({ values, type, window }) =>
    (i) =>
      figure("average", values.slice(Math.max(0, i + 1 - window.rows), i + 1), type),
  total: ({ values, type }) => overAll("total", values, type),
  average: ({ values, type }) => overAll("average", values, type),
  least: ({ values, type }) => overAll("least", values, type),
  greatest: ({ values, type }) => overAll("greatest", values, type),
};

function overAll(name: "total" | "average" | "least" | "greatest", values: Value[], type: ValueType): () => Value {
  const all = figure(name, values, type);
  return () => all;
}

/** Fills in, for all rows of a plan, the columns that are worked out from the rows beside them. */
export function fillWindows(plan: Plan, rows: Placed[]): void {
  plan.columns.forEach((column, place) => {
    const { window } = column;
    if (!window) return;
    const at = plan.columns.findIndex((c) => c.id === window.of);
    const type = plan.columns[at]?.type ?? { kind: "whole" };
    for (const part of partedBy(plan, window.period?.per ?? window.per, rows)) {
      part.sort(comparing(plan, window.order));
      const value = WINDOWS[window.kind]({ values: part.map((p) => p.row[at] ?? null), type, before: beforeIn(plan, window, at, part), window });
      const filled = part.map((_, i) => value(i));
      part.forEach((p, i) => {
        p.row[place] = filled[i] ?? null;
      });
    }
  });
}

/**
 * Holds lines against a plan's conditions on lines, once what is worked out from those beside is there: into `failed`
 * goes the place of the first that a line does not meet, behind those on groups.
 */
export function judgeLines(plan: Plan, lines: (Placed & { failed: number })[]): void {
  fillWindows(plan, lines);
  const { columns, groupConditions, lineConditions = [] } = plan;
  const tests = lineConditions.map((c) =>
    evaluator<Row>(c.expr, (leaf) => {
      if (leaf.node !== "field") return null;
      const at = columns.findIndex((own) => own.id === leaf.column);
      return (row) => row[at] ?? null;
    }),
  );
  for (const line of lines) {
    const at = tests.findIndex((test) => test(line.row) !== true);
    line.failed = at < 0 ? -1 : groupConditions.length + at;
  }
}

/** The first rows of each part, where a plan shows only those. */
export function firstOfEach<Line extends Placed>(plan: Plan, rows: Line[]): Line[] {
  const { firstOf } = plan;
  if (!firstOf) return rows;
  const order = plan.order.filter((o) => !plan.columns.some((c) => c.id === o.column && c.window));
  return partedBy(plan, firstOf.per, rows).flatMap((part) => part.sort(comparing(plan, order)).slice(0, firstOf.rows));
}
