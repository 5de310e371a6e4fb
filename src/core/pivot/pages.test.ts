import { describe, expect, it } from "vitest";
import { decimal, text } from "../types/valueType";
import { emptyPivot, newAxis } from "./empty";
import { linesOf } from "./lines";
import { layOutPivot, PAGE } from "./pages";
import type { Heading, Pivot } from "./pivot";

const metrics = { width: (words: string, _: string, size: number) => words.length * size * 0.5 };
const locale = { locale: "en-GB", zone: "UTC" };
const heading = (level: number, key: string | null, parent: number): Heading => ({ level, key, parent, rest: null, rows: 1 });
const axis = (count: number, name: string) => [heading(0, null, -1), ...Array.from({ length: count }, (_, i) => heading(1, `${name} ${i}`, 0))];

/** A pivot whose cells say where they stand. */
function pivotOf(down: number, across: number): Pivot {
  const rows = { down: axis(down, "line"), across: axis(across, "column") };
  return {
    axes: { down: [{ heading: "Line", type: text, format: {} }], across: [{ heading: "Column", type: text, format: {} }] },
    ...rows,
    figures: [{ id: "f", heading: "Figure", type: decimal(2), format: {} }],
    cells: [rows.down.flatMap((_, d) => rows.across.map((_, a) => d * 1000 + a))],
    proof: { figures: [], wholes: [], rows: { down: 0, across: 0, query: 0 }, empties: [], agrees: true },
  };
}
const field = { kind: "field" as const, join: "", column: "c" };
const spec = { ...emptyPivot("q"), down: [newAxis("d", field)], across: [newAxis("a", field)] };
const pagesOf = (down: number, across: number, within?: { before: number; pages: number }) => {
  const pivot = pivotOf(down, across);
  return layOutPivot({ pivot, lines: linesOf(pivot, spec), texts: { title: "A pivot", brief: "From rows.", printedAt: "now" }, metrics, locale, within });
};
const texts = (page: ReturnType<typeof pagesOf>[number]) => page.items.flatMap((i) => (i.kind === "text" ? [i.text] : []));

describe("a pivot on paper", () => {
  it("prints every cell once, over as many pages as it takes, and all within the margins", () => {
    const [down, across] = [70, 40];
    const pages = pagesOf(down, across);
    expect(pages.length).toBeGreaterThan(4);
    const printed = pages.flatMap(texts);
    const cells = new Set(printed.filter((t) => /^\d[\d,]*\.\d\d$/.test(t)));
    expect(cells.size).toBe((down + 1) * (across + 1));
    expect(printed.filter((t) => /^\d[\d,]*\.\d\d$/.test(t))).toHaveLength((down + 1) * (across + 1));
    for (const page of pages)
      for (const item of page.items) {
        expect(item.x).toBeGreaterThanOrEqual(PAGE.margin - 0.01);
        if (item.kind === "rule") expect(item.x + item.width).toBeLessThanOrEqual(PAGE.width - PAGE.margin + 0.01);
        expect(item.y).toBeLessThanOrEqual(PAGE.height - PAGE.margin + 10);
      }
  });
  it("has the headings again on each page, and counts pages where it is part of more", () => {
    const pages = pagesOf(70, 3, { before: 4, pages: 9 });
    expect(pages.map((p) => p.number)).toEqual([5, 6, 7]);
    for (const page of pages) expect(texts(page)).toEqual(expect.arrayContaining(["column 0", "column 2", `page ${page.number} of 9`]));
  });
  it("prints a pivot of one cell, and one without lines", () => {
    expect(pagesOf(0, 0)).toHaveLength(1);
    expect(texts(pagesOf(0, 0)[0] as never)).toContain("0.00");
  });
});
