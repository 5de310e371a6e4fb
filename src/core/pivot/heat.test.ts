import { describe, expect, it } from "vitest";
import { type Cell, whole } from "../types/valueType";
import { emptyPivot, newAxis } from "./empty";
import { heatOf, shadeAt } from "./heat";
import { linesOf } from "./lines";
import type { Heading, Pivot } from "./pivot";
import type { PivotSpec } from "./spec";

const heading = (level: number, key: Cell, parent: number): Heading => ({ level, key, parent, rest: null, rows: 1 });
const field = (name: string) => ({ kind: "field" as const, join: "", column: name });
const axis = { heading: "x", type: whole, format: {} };
const figure = (id: string): Pivot["figures"][number] => ({ id, heading: id, type: whole, format: {} });
/** Two islands by two classes; the first figure runs from −80 to 40, its totals beyond that. */
const pivot: Pivot = {
  axes: { down: [axis], across: [axis] },
  down: [heading(0, null, -1), heading(1, "Pell", 0), heading(1, "Mirrin", 0)],
  across: [heading(0, null, -1), heading(1, "a", 0), heading(1, "b", 0)],
  figures: [figure("f"), figure("g")],
  cells: [
    [-900, 500, 600, 0, 40, 21, 0, -80, null],
    [9000, 1, 1, 1, 1, 1, 1, 1, { misfit: "many" }],
  ],
  proof: { figures: [], wholes: [], rows: { down: 0, across: 0, query: 0 }, empties: [], agrees: true },
};
const spec = (heat: string | null): PivotSpec => ({
  ...emptyPivot("q"),
  down: [newAxis("i", field("i"))],
  across: [newAxis("c", field("c"))],
  figures: ["f", "g"].map((id) => ({ id, value: field(id), figure: "total", showAs: "asIs" })),
  heat,
});

/** The shades of all cells of a figure, line by line; a negative one with its sign, none as a dot. */
function shades(of: number, heat: string | null): string[] {
  const laid = linesOf(pivot, spec(heat));
  const columns = laid.columns.filter((c) => c.figure === of);
  return laid.lines.map((line) =>
    columns
      .map((column) => shadeAt(pivot, heatOf(pivot, spec(heat)), line, column, 4))
      .map((s) => (s ? `${s.negative ? "−" : ""}${s.shade}` : "·"))
      .join(" "),
  );
}

describe("the shades of a pivot", () => {
  it("run up to the greatest size among the leaves, of whichever sign; totals do not count", () => {
    expect(heatOf(pivot, spec("f"))).toEqual({ figure: 0, most: 80 });
    expect(heatOf(pivot, spec("g"))).toEqual({ figure: 1, most: 1 });
    expect(heatOf(pivot, spec(null))).toBeNull();
    expect(heatOf(pivot, spec("gone"))).toBeNull();
  });
  it("are the share of that, rounded up, on leaves of the figure alone; none where there is no number", () => {
    // 40 of 80 is two fourths, 21 a little more than one; the third line and the third column are totals.
    expect(shades(0, "f")).toEqual(["2 2 ·", "−4 · ·", "· · ·"]);
    expect(shades(1, "g")).toEqual(["4 4 ·", "4 · ·", "· · ·"]);
    expect(shades(1, "f")).toEqual(["· · ·", "· · ·", "· · ·"]);
  });
  it("are none where every figure is nought", () => {
    const nought = { ...pivot, cells: [pivot.cells[0]?.map(() => 0) ?? [], pivot.cells[1] ?? []] };
    const { lines, columns } = linesOf(nought, spec("f"));
    const [line, column] = [lines[0], columns[0]];
    if (!line || !column) throw new Error("a pivot without lines");
    expect(shadeAt(nought, heatOf(nought, spec("f")), line, column, 4)).toBeNull();
  });
});
