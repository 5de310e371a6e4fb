import { describe, expect, it } from "vitest";
import { type Cell, decimal, text, type ValueType } from "../types/valueType";
import { emptyPivot, newAxis } from "./empty";
import { cellAt, linesOf } from "./lines";
import type { Heading, Pivot } from "./pivot";
import type { PivotSpec } from "./spec";
import { GRID, gridWidths } from "./widths";

const locale = { locale: "en-GB", zone: "UTC" };
const heading = (level: number, key: Cell, parent: number): Heading => ({ level, key, parent, rest: null, rows: 1 });
const field = (name: string) => ({ kind: "field" as const, join: "", column: name });
const spec: PivotSpec = { ...emptyPivot("q"), down: [newAxis("i", field("i"))], across: [newAxis("c", field("c"))], totals: { down: false, across: false } };

/** Islands down, classes across, one figure. */
function pivotOf(islands: string[], classes: string[], type: ValueType, cell: (island: number, of: number) => Cell): Pivot {
  const down = [heading(0, null, -1), ...islands.map((name) => heading(1, name, 0))];
  const across = [heading(0, null, -1), ...classes.map((name) => heading(1, name, 0))];
  return {
    axes: { down: [{ heading: "Island", type: text, format: {} }], across: [{ heading: "Class", type: text, format: {} }] },
    down,
    across,
    figures: [{ id: "f", heading: "Freight", type, format: {} }],
    cells: [down.flatMap((_, d) => across.map((_, a) => (d === 0 || a === 0 ? null : cell(d - 1, a - 1))))],
    proof: { figures: [], wholes: [], rows: { down: 0, across: 0, query: 0 }, empties: [], agrees: true },
  };
}
const widthsOf = (pivot: Pivot, s = spec) => gridWidths(pivot, linesOf(pivot, s), (line, column) => String(cellAt(pivot, line, column) ?? ""), locale);
const room = (letters: number) => Math.round(GRID.sides + GRID.letter * letters);

describe("the widths of a pivot's grid", () => {
  it("give each column what its widest figure takes, and never less than the least", () => {
    const pivot = pivotOf(["Pell"], ["a", "b"], decimal(0), (_, c) => (c === 0 ? "1" : "123456789012"));
    expect(widthsOf(pivot).columns).toEqual([GRID.least, room(12)]);
  });
  it("hold a wide figure far below what is measured line by line", () => {
    const islands = Array.from({ length: 500 }, (_, i) => `i${i}`);
    const wideAt = (at: number, value: string) => widthsOf(pivotOf(islands, ["a"], decimal(0), (i) => (i === at ? value : "1"))).columns[0];
    expect(wideAt(450, "123456789012")).toBe(room(12));
    expect(wideAt(450, "-12345678901")).toBe(room(12));
  });
  it("widen the columns under a long heading by equal shares", () => {
    const long = "A class with a long name indeed";
    const pivot = pivotOf(["Pell"], [long], decimal(0), () => "1");
    expect(widthsOf(pivot).columns[0]).toBe(Math.round(GRID.sides + 2 + GRID.letter * long.length));
    const two: Pivot = {
      ...pivot,
      figures: [...pivot.figures, { id: "g", heading: "Count", type: decimal(0), format: {} }],
      cells: [...pivot.cells, pivot.cells[0] ?? []],
    };
    const [first, second] = widthsOf(two).columns;
    expect(first).toBe(second);
    expect((first ?? 0) + (second ?? 0)).toBeGreaterThanOrEqual(GRID.letter * long.length);
  });
  it("cut a list of values, and never a figure", () => {
    const long = "x".repeat(100);
    expect(widthsOf(pivotOf(["Pell"], ["a"], text, () => long)).columns).toEqual([GRID.mostText]);
    expect(widthsOf(pivotOf(["Pell"], ["a"], decimal(0), () => "1".repeat(100))).columns).toEqual([room(100)]);
  });
  it("give a bold total a little more", () => {
    const pivot = pivotOf(["Pell"], ["a"], decimal(0), () => "12345678");
    pivot.cells[0]?.splice(1, 1, "12345678");
    const widths = widthsOf(pivot, { ...spec, totals: { down: true, across: false } });
    expect(widths.columns).toEqual([Math.round(GRID.sides + GRID.letter * 8.8)]);
  });
  it("lay the columns one after another, behind the names of the lines", () => {
    const widths = widthsOf(pivotOf(["Pell"], ["a", "b", "c"], decimal(0), () => "1234567890"));
    const w = room(10);
    expect(widths.lefts).toEqual([0, w, 2 * w]);
    expect(widths.whole).toBe(widths.heading + 3 * w);
  });
  it("keep names of lines between a least and a most", () => {
    expect(widthsOf(pivotOf(["P"], ["a"], decimal(0), () => "1")).heading).toBe(GRID.heading.least);
    expect(widthsOf(pivotOf(["P".repeat(200)], ["a"], decimal(0), () => "1")).heading).toBe(GRID.heading.most);
    const middle = widthsOf(pivotOf(["P".repeat(20)], ["a"], decimal(0), () => "1")).heading;
    expect(middle).toBe(Math.round(GRID.letter * 20 + 46));
  });
});
