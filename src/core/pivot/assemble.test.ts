import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { emptyQuery } from "../query/empty";
import type { Plan } from "../query/plan";
import { resolveQuery } from "../query/resolve";
import { usualDay } from "../types/calendar";
import type { Cell } from "../types/valueType";
import { assemblePivot, MOST } from "./assemble";
import { emptyPivot, newAxis } from "./empty";
import { headingWords } from "./lines";
import { planPivot } from "./plan";
import type { PivotSpec } from "./spec";
import { keyOf } from "./tree";

/* How a pivot is put together, on groups made up for it: the order by hand, and the most that is shown. */

const field = (column: string) => ({ kind: "field" as const, join: "", column });
const context = { today: usualDay("2026-11-23"), values: {} };
const query = resolveQuery({ ...emptyQuery("crate"), columns: ["mark", "pieces", "price"].map((c) => ({ id: c, value: field(c) })) }, sampleSchema, context);

const work = (change: Partial<PivotSpec>, groups: Cell[][]) => {
  if (!query.ok) throw new Error(JSON.stringify(query.problems));
  const count = { id: "n", value: null, figure: "count" as const, showAs: "asIs" as const };
  const planned = planPivot({ ...emptyPivot("q"), figures: [count], ...change }, query.value, context);
  if (!planned.ok) throw new Error(JSON.stringify(planned.problems));
  const whole = groups.reduce((sum, g) => sum + Number(g.at(-1)), 0);
  return assemblePivot(planned.value, (plan) => (plan.columns.some((c) => !c.figure) ? groups : [[whole, whole]]), "en-GB");
};

describe("an order by hand", () => {
  it("puts those listed first, as listed, the others by name, and what has no value last", () => {
    const order = { by: "hand" as const, keys: [keyOf("pear"), keyOf("fig")] };
    const groups = ["apple", null, "fig", "plum", "pear", "date"].map((mark): Cell[] => [mark, 1, 1]);
    const made = work({ down: [{ ...newAxis("m", field("mark")), order }] }, groups);
    expect(made.down.slice(1).map((h) => h.key)).toEqual(["pear", "fig", "apple", "date", "plum", null]);
  });
});

describe("headings that stand for rows with names", () => {
  const named = (change: Partial<PivotSpec>, groups: Cell[][], rows: Cell[][]) => {
    if (!query.ok) throw new Error(JSON.stringify(query.problems));
    const count = { id: "n", value: null, figure: "count" as const, showAs: "asIs" as const };
    const planned = planPivot({ ...emptyPivot("q"), figures: [count], down: [newAxis("p", field("pieces"))], ...change }, query.value, context);
    if (!planned.ok) throw new Error(JSON.stringify(planned.problems));
    const names = { ...query.value, columns: ["pieces", "mark"].map((id) => query.value.columns.find((c) => c.id === id)) } as Plan;
    const plan = { ...planned.value, down: planned.value.down.map((axis) => ({ ...axis, names })) };
    const whole = groups.reduce((sum, g) => sum + Number(g.at(-1)), 0);
    return assemblePivot(plan, (p) => (p === names ? rows : p.columns.some((c) => !c.figure) ? groups : [[whole, whole]]), "en-GB");
  };
  const groups = [3, 1, 2, 4, 5].map((key): Cell[] => [key, 10, 10]);
  const rows: Cell[][] = [
    [1, "Pell Glass"],
    [2, " Aldous "],
    [3, "Pell Glass"],
    [5, ""],
    [9, "Not here"],
  ];
  it("are called by these and stand in their order; two of one name are two; what has no name comes after, by its key", () => {
    const made = named({}, groups, rows);
    expect(made.down.slice(1).map((h) => [h.key, h.name])).toEqual([
      [2, "Aldous"],
      [1, "Pell Glass"],
      [3, "Pell Glass"],
      [4, undefined],
      [5, undefined],
    ]);
    expect(made.down.map((h) => headingWords(made.axes.down, h, { locale: "en-GB", zone: "UTC" }))).toEqual([
      "All pieces",
      "Aldous",
      "Pell Glass",
      "Pell Glass",
      "4",
      "5",
    ]);
  });
  it("are the first n by their names, the others together", () => {
    const made = named({ down: [{ ...newAxis("p", field("pieces")), first: 2, order: { by: "name", direction: "up" } }] }, groups, rows);
    expect(made.down.slice(1).map((h) => [h.key, h.rest])).toEqual([
      [2, null],
      [1, null],
      [null, [2, 1]],
    ]);
  });
});

describe("the size of a pivot", () => {
  it("is refused past the most cells that are shown, in words, and shown up to them", () => {
    const wide = 900;
    const long = Math.floor(MOST.cells / (wide + 1));
    const axes = { down: [newAxis("p", field("pieces"))], across: [newAxis("m", field("mark"))] };
    // Each heading down and each across has one group: all cells there are.
    const groups = (down: number): Cell[][] => Array.from({ length: Math.max(down, wide) }, (_, i) => [i % down, `m${i % wide}`, 1, 1]);
    expect(() => work(axes, groups(long + 1))).toThrow(/more than .*4,?000,?000 figures|4000000/);
    expect(work(axes, groups(long - 1)).down).toHaveLength(long);
  });
});
