import { describe, expect, it } from "vitest";
import { type Cell, decimal, text } from "../types/valueType";
import { emptyPivot, newAxis } from "./empty";
import { bannerRows, bannerWords, deedAt, extremesOf, headingWords, linesOf, lineWords, loneFigure, shutKey } from "./lines";
import type { Heading, Pivot } from "./pivot";
import type { PivotSpec } from "./spec";

const locale = { locale: "en-GB", zone: "UTC" };
const heading = (level: number, key: Cell, parent: number, more: Partial<Heading> = {}): Heading => ({ level, key, parent, rest: null, rows: 1, ...more });
const field = (name: string) => ({ kind: "field" as const, join: "", column: name });
const headings = [
  heading(0, null, -1),
  heading(1, "Pell", 0),
  heading(2, "Wool", 1),
  heading(2, null, 1, { rest: ["Wool"] }),
  heading(1, null, 0),
  heading(2, "Wool", 4),
];
const pivot: Pivot = {
  axes: {
    down: [
      { heading: "Island", type: text, format: {} },
      { heading: "Trade", type: text, format: {} },
    ],
    across: [{ heading: "Class", type: text, format: {} }],
  },
  down: headings,
  across: [heading(0, null, -1), heading(1, "a", 0), heading(1, "b", 0)],
  figures: [{ id: "f", heading: "Freight", type: decimal(2), format: {} }],
  cells: [Array.from({ length: 18 }, (_, i) => i)],
  proof: { figures: [], wholes: [], rows: { down: 0, across: 0, query: 0 }, empties: [], agrees: true },
};
const spec = (more: Partial<PivotSpec> = {}): PivotSpec => ({
  ...emptyPivot("q"),
  down: [newAxis("i", field("i")), newAxis("t", field("t"))],
  across: [newAxis("c", field("c"))],
  ...more,
});
const words = (s: PivotSpec) => linesOf(pivot, s).lines.map((l) => `${lineWords(pivot, l, locale)}${l.figures ? "" : " (no figures)"}`);

describe("the lines of a pivot", () => {
  it("have subtotals before or after their rows, or none", () => {
    const after = spec();
    const [island] = after.down;
    if (!island) throw new Error();
    expect(words(spec())).toEqual(["Pell", "Wool", "others", "No island", "Wool", "All islands"]);
    after.down[0] = { ...island, subtotal: "after" };
    expect(words(after)).toEqual(["Pell (no figures)", "Wool", "others", "Pell, total", "No island (no figures)", "Wool", "No island, total", "All islands"]);
    after.down[0] = { ...island, subtotal: "none" };
    expect(words(after)).toEqual(["Pell (no figures)", "Wool", "others", "No island (no figures)", "Wool", "All islands"]);
  });
  it("fold shut by the path of a group, which an empty value and the text “null” do not share", () => {
    const shut = spec({ shut: [shutKey("down", headings, 4)] });
    expect(words(shut)).toEqual(["Pell", "Wool", "others", "No island", "All islands"]);
    expect(shutKey("down", headings, 4)).not.toBe(shutKey("down", [heading(0, null, -1), heading(1, "null", 0)], 1));
  });
  it("are folded at the heading of a group, and show their rows at a figure", () => {
    const laid = linesOf(pivot, spec());
    const at = (row: number, column: number) => deedAt(pivot, laid, { row, column });
    expect(at(0, -1)).toEqual({ does: "fold", group: shutKey("down", headings, 1) });
    expect(at(3, -1)).toEqual({ does: "fold", group: shutKey("down", headings, 4) });
    expect(at(1, 0)).toEqual({ does: "rows", line: laid.lines[1], column: laid.columns[0] });
    // A lone value, the total, headings of no group, places outside.
    for (const [row, column] of [
      [1, -1],
      [5, -1],
      [-1, 0],
      [9, 0],
      [0, 9],
    ] as const)
      expect(at(row, column)).toBeNull();
  });
  it("have no rows to show where the figures of a group stand after it", () => {
    const [island, trade] = spec().down;
    if (!island || !trade) throw new Error();
    const after = linesOf(pivot, spec({ down: [{ ...island, subtotal: "after" }, trade] }));
    expect(deedAt(pivot, after, { row: 0, column: 0 })).toBeNull();
    expect(deedAt(pivot, after, { row: 3, column: 0 })).toEqual({ does: "rows", line: after.lines[3], column: after.columns[0] });
  });
  it("are folded across at any column under a group", () => {
    const turned = { ...pivot, across: headings };
    const laid = linesOf(turned, spec({ across: spec().down }));
    const folds = laid.columns.map((_, column) => deedAt(turned, laid, { row: -1, column }));
    const [pell, none] = [1, 4].map((group) => ({ does: "fold", group: shutKey("across", headings, group) }));
    expect(folds).toEqual([pell, pell, pell, none, none, null]);
  });
  it("leave the totals away where they are not wanted", () => {
    const laid = linesOf(pivot, spec({ totals: { down: false, across: false } }));
    expect(laid.lines.at(-1)?.kind).toBe("leaf");
    expect(laid.columns.map((c) => c.heading)).toEqual([1, 2]);
  });
  it("show a row of figures’ headings only where there are several", () => {
    const laid = linesOf(pivot, spec());
    expect(bannerRows(pivot, laid).length).toBe(1);
    const two = { ...pivot, figures: [...pivot.figures, ...pivot.figures] };
    expect(bannerRows(two, linesOf(two, spec())).length).toBe(2);
  });
  it("have a figure's unit where it is named: above its columns, or in the corner where it stands alone", () => {
    const euro = { ...(pivot.figures[0] as Pivot["figures"][number]), unit: "EUR" };
    const one: Pivot = { ...pivot, figures: [euro] };
    const two: Pivot = { ...pivot, figures: [euro, { ...euro, id: "g", heading: "Rows", unit: undefined }] };
    expect([loneFigure(one), loneFigure(two), loneFigure({ ...one, axes: { ...one.axes, across: [] } })]).toEqual(["Freight, €", "", ""]);
    const named = (units?: boolean) =>
      bannerRows(two, linesOf(two, spec()))
        .flat()
        .filter((b) => b.figure !== null)
        .map((b) => bannerWords(two, b, locale, units));
    expect(named().slice(0, 2)).toEqual(["Freight, €", "Rows"]);
    expect(named(false).slice(0, 2)).toEqual(["Freight", "Rows"]);
  });
});

describe("the words of a heading", () => {
  it("name what is empty, the rest, and all", () => {
    expect(headings.map((h) => headingWords(pivot.axes.down, h, locale))).toEqual(["All islands", "Pell", "Wool", "others", "No island", "Wool"]);
    const quarters = [{ heading: "Lodged on", type: { kind: "date" as const }, format: { date: "quarter" as const } }];
    expect(headingWords(quarters, heading(0, null, -1), locale)).toBe("All quarters");
    expect(headingWords(quarters, heading(1, "2026-07-01", 0), locale)).toBe("Q3 2026");
  });
});

describe("the room a column takes", () => {
  it("is that of its greatest and its least figure, wherever they stand", () => {
    const figures = [0, 0, 0, 5, 1, null, 7, "-90071992547409931", 0, 1, 2, 0, "90071992547409931", 3, 0, 4, 1, 0];
    const long: Pivot = { ...pivot, cells: [figures] };
    const { lines, columns } = linesOf(long, spec());
    const extremes = extremesOf(long, lines, columns);
    for (const [i, column] of columns.entries()) {
      const inColumn = lines.flatMap((l) => (l.figures ? [Number(figures[l.heading * 3 + column.heading] ?? Number.NaN)] : [])).filter((n) => !Number.isNaN(n));
      const found = extremes[i]?.map((l) => Number(figures[l.heading * 3 + column.heading]));
      expect(found).toEqual([Math.min(...inColumn), Math.max(...inColumn)]);
    }
    expect(extremesOf({ ...long, cells: [[]] }, lines, columns)).toEqual(columns.map(() => []));
  });
});
