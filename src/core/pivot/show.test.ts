import { describe, expect, it } from "vitest";
import { type Cell, decimal, floating, whole } from "../types/valueType";
import type { ShowAs } from "./choices";
import type { Heading } from "./pivot";
import { plus, shareOf, showCells, shownFormat } from "./show";

/*
 * Islands and their trades down, two quarters across; every figure below is reckoned by hand.
 *
 *            all   Q1   Q2
 *   all      100   40   60
 *   Pell      70   30   40
 *     wool    50   30   20
 *     fish    20    –   20
 *   Mirrin    30   10   20
 */
const heading = (level: number, key: string | null, parent: number): Heading => ({ level, key, parent, rest: null, rows: 1 }) as Heading;
const down = [heading(0, null, -1), heading(1, "Pell", 0), heading(2, "wool", 1), heading(2, "fish", 1), heading(1, "Mirrin", 0)];
const across = [heading(0, null, -1), heading(1, "Q1", 0), heading(1, "Q2", 0)];
const cells: Cell[] = [100, 40, 60, 70, 30, 40, 50, 30, 20, 20, null, 20, 30, 10, 20];
const rowsOf = (shown: Cell[], width = 3) => Array.from({ length: shown.length / width }, (_, d) => shown.slice(d * width, (d + 1) * width));
const shown = (as: ShowAs) => rowsOf(showCells(as, whole, cells, down, across));
/** Shares to whole hundredths, for they carry seven digits. */
const hundredths = (as: ShowAs) => shown(as).map((row) => row.map((c) => (c === null ? null : Math.round(Number(c) / 1e5))));

describe("a figure shown otherwise", () => {
  it("is itself as it is", () => expect(showCells("asIs", whole, cells, down, across)).toBe(cells));
  it("is a share of its row, its column, the whole, and the group it stands in", () => {
    expect(hundredths("shareOfRow")).toEqual([
      [100, 40, 60],
      [100, 43, 57],
      [100, 60, 40],
      [100, null, 100],
      [100, 33, 67],
    ]);
    expect(hundredths("shareOfColumn")).toEqual([
      [100, 100, 100],
      [70, 75, 67],
      [50, 75, 33],
      [20, null, 33],
      [30, 25, 33],
    ]);
    expect(hundredths("shareOfWhole")[1]).toEqual([70, 30, 40]);
    expect(hundredths("shareOfParent")).toEqual([
      [100, 100, 100],
      [70, 75, 67],
      [71, 100, 50],
      [29, null, 50],
      [30, 25, 33],
    ]);
  });
  it("runs along the columns, each row by itself, and down where there are no columns", () => {
    expect(shown("running")).toEqual([
      [100, 40, 100],
      [70, 30, 70],
      [50, 30, 50],
      [20, null, 20],
      [30, 10, 30],
    ]);
    const single = [100, 70, 50, 20, 30];
    // Islands run among islands, trades within their island.
    expect(showCells("running", whole, single, down, [heading(0, null, -1)])).toEqual([100, 70, 50, 70, 100]);
  });
  it("is held against the one before, where there is one", () => {
    expect(shown("difference")).toEqual([
      [null, null, 20],
      [null, null, 10],
      [null, null, -10],
      [null, null, null],
      [null, null, 10],
    ]);
    expect(hundredths("change").map((row) => row[2])).toEqual([50, 33, -33, null, 100]);
  });
  it("changes by a share of the size of what was, also where that is below zero", () => {
    const negative = showCells("change", whole, [0, -50, -25], [heading(0, null, -1)], across);
    expect(Number(negative[2]) / 1e7).toBe(0.5);
  });
  it("has its place among the rows of its group, equal ones the same, the total none", () => {
    expect(shown("rank")).toEqual([
      [null, null, null],
      [1, 1, 1],
      [1, 1, 1],
      [2, null, 1],
      [2, 2, 2],
    ]);
    const three = [heading(0, null, -1), heading(1, "a", 0), heading(1, "b", 0), heading(1, "c", 0)];
    expect(showCells("rank", whole, [30, 10, 10, 5], three, [heading(0, null, -1)])).toEqual([null, 1, 1, 3]);
    expect(showCells("rank", whole, [30, "9007199254740993", "9007199254740992", 5], three, [heading(0, null, -1)])).toEqual([null, 1, 2, 3]);
  });
});

describe("what figures are shown with", () => {
  it("is empty where there is no whole to have a share of", () => {
    expect([shareOf(5, 0, whole), shareOf(5, null, whole), shareOf(null, 5, whole), shareOf({ misfit: "x" }, 5, whole)]).toEqual([null, null, null, null]);
    expect(shareOf(1, 4, floating)).toBe(0.25);
    expect(Number(shareOf(1, 3, decimal(2)))).toBe(3_333_333);
  });
  it("adds exactly beyond 2^53, and an empty one adds nothing", () => {
    expect(plus("9007199254740993", 2, whole)).toBe("9007199254740995");
    expect(plus(Number.MAX_SAFE_INTEGER, 1, whole)).toBe("9007199254740992");
    expect([plus(null, 2, whole), plus(2, null, whole), plus(null, null, whole), plus({ misfit: "x" }, 2, whole)]).toEqual([2, 2, null, 2]);
    expect(plus(0.5, 0.25, floating)).toBe(0.75);
  });
  it("is written as a percentage or a place, whatever the figure's own format", () => {
    expect(shownFormat("shareOfRow", { decimals: 3 })).toEqual({ percent: true });
    expect(shownFormat("shareOfRow", { percent: true, decimals: 3 })).toEqual({ percent: true, decimals: 3 });
    expect(shownFormat("rank", { decimals: 3 })).toEqual({});
    expect(shownFormat("running", { decimals: 3 })).toEqual({ decimals: 3 });
  });
});
