import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Plan, PlanColumn } from "../query/plan";
import type { Cell } from "../types/valueType";
import { decimal, text } from "../types/valueType";
import { measureColumns } from "./columns";
import { layOutReport, type ReportOutline } from "./layOut";
import { newLevel } from "./newLevel";
import { type Metrics, type Page, SIZE } from "./page";
import { pageFrame, planReport } from "./plan";
import type { ReportSpec } from "./spec";

const metrics: Metrics = { width: (words, _font, size) => words.length * size * 0.5 };
const column = (id: string, type: PlanColumn["type"]): PlanColumn => ({
  id,
  expr: null,
  type,
  heading: id,
  origin: id,
  hidden: false,
  format: {},
  totalled: false,
});
const columns = [column("a", text), column("b", text), column("row", text), column("sum", decimal(2))];
const plan: Plan = {
  source: { alias: "t", table: { name: "t", label: "t", columns: [], key: [], rows: 0 } },
  joins: [],
  conditions: [],
  groupConditions: [],
  grouped: false,
  columns,
  order: [],
  tieBreak: [],
  limit: null,
  firstOf: null,
  parameters: [],
};

const specOf = (levels: number, keepRows: number, newPage: boolean, height: number): ReportSpec => ({
  version: 1,
  query: "q",
  title: "Title",
  showBrief: true,
  header: "head",
  footer: "foot",
  parameters: {},
  levels: ["a", "b"].slice(0, levels).map((c) => ({ ...newLevel(c), keepRows, newPage })),
  columns: [
    { column: "row", widthMm: null, footing: "count" },
    { column: "sum", widthMm: null, footing: "total" },
  ],
  page: { paper: "A4", landscape: false, margins: { top: 10, right: 10, bottom: 297 - 10 - height, left: 10 } },
});

function layOut(spec: ReportSpec, rows: Cell[][]): { pages: Page[]; outline: ReportOutline } {
  const checked = planReport(spec, plan);
  if (!checked.ok) throw new Error(JSON.stringify(checked.problems));
  const input = { report: checked.value, spec, metrics, locale: { locale: "en-GB", zone: "UTC" }, texts: { brief: "A brief.", printedAt: "now" } };
  const run = layOutReport(input, measureColumns(input, rows), rows, 99);
  const pages: Page[] = [];
  for (;;) {
    const next = run.next();
    if (next.done) return { pages, outline: next.value };
    pages.push(next.value);
  }
}

const textsOf = (page: Page) => page.items.flatMap((i) => (i.kind === "text" ? [i] : []));
const rowTexts = (page: Page) => textsOf(page).filter((t) => /^r\d+$/.test(t.text));

/** Rows sorted by two groups; some groups have no value. */
const rowsArbitrary = fc
  .array(fc.tuple(fc.integer({ min: 0, max: 4 }), fc.integer({ min: 0, max: 3 }), fc.integer({ min: -1e6, max: 1e6 })), { maxLength: 220 })
  .map((raw) =>
    raw.sort((x, y) => x[0] - y[0] || x[1] - y[1]).map(([a, b, sum], i): Cell[] => [a === 0 ? null : `A${a}`, b === 0 ? null : `B${b}`, `r${i}`, sum]),
  );

describe("page layout", () => {
  it("loses no row, prints none twice, keeps the order, keeps headings with rows and footings with a row, and adds up", () => {
    fc.assert(
      fc.property(
        rowsArbitrary,
        fc.integer({ min: 0, max: 2 }),
        fc.integer({ min: 1, max: 4 }),
        fc.boolean(),
        fc.integer({ min: 100, max: 270 }),
        (rows, levels, keepRows, newPage, height) => {
          const spec = specOf(levels, keepRows, newPage, height);
          const { pages, outline } = layOut(spec, rows);
          expect(pages.flatMap((p) => rowTexts(p).map((t) => t.text))).toEqual(rows.map((r) => r[2]));
          const total = rows.reduce((sum, r) => sum + Number(r[3]), 0);
          expect(Number(outline.totals.sum ?? 0)).toBe(total);
          expect(outline.groupTotals.sum ?? 0).toEqual(outline.totals.sum ?? 0);
          expect(outline.rows).toBe(rows.length);
          expect(textsOf(pages[outline.totalPage - 1] as Page).some((t) => t.text.startsWith("All, "))).toBe(true);
          const { bottom } = pageFrame(spec);
          for (const page of pages) {
            const texts = textsOf(page);
            const body = texts.filter((t) => t.y < bottom);
            for (const t of body) expect(t.y).toBeLessThanOrEqual(bottom - 8);
            const headings = texts.filter((t) => t.font === "sansBold" && /^(A\d|No a|B\d|No b)/.test(t.text));
            const lastRow = Math.max(-1, ...rowTexts(page).map((t) => t.y));
            for (const heading of headings) expect(heading.y, `“${heading.text}” is alone at the foot of page ${page.number}`).toBeLessThan(lastRow);
            const footings = texts.filter((t) => t.font === "sansItalic" && /rows?$/.test(t.text));
            if (footings.length > 0) expect(rowTexts(page).length, `a footing without a row on page ${page.number}`).toBeGreaterThan(0);
          }
        },
      ),
      { numRuns: 300 },
    );
  });
  it("prints only what rows come to where they are not wanted: each group's footing once, in order, none cut, a heading never last", () => {
    fc.assert(
      fc.property(rowsArbitrary, fc.integer({ min: 0, max: 2 }), fc.boolean(), fc.integer({ min: 100, max: 270 }), (rows, levels, newPage, height) => {
        const spec = { ...specOf(levels, 3, newPage, height), details: false };
        const { pages, outline } = layOut(spec, rows);
        const whole = layOut({ ...spec, details: true }, rows);
        const footings = (of: Page[]) =>
          of.flatMap((p) =>
            textsOf(p)
              .filter((t) => t.font === "sansItalic" && /rows?$/.test(t.text))
              .map((t) => t.text),
          );
        expect(pages.flatMap(rowTexts)).toEqual([]);
        expect(footings(pages)).toEqual(footings(whole.pages));
        expect([outline.totals, outline.groupTotals, outline.rows]).toEqual([whole.outline.totals, whole.outline.groupTotals, rows.length]);
        const { bottom } = pageFrame(spec);
        for (const page of pages) {
          const body = textsOf(page).filter((t) => t.y < bottom);
          for (const t of body) expect(t.y).toBeLessThanOrEqual(bottom - 8);
          const last = Math.max(...body.filter((t) => t.font === "sansItalic" || t.text.startsWith("All")).map((t) => t.y));
          for (const heading of body.filter((t) => t.font === "sansBold" && /^(A\d|No a)$/.test(t.text))) expect(heading.y).toBeLessThan(last);
        }
      }),
      { numRuns: 200 },
    );
  });
  it("says that there are no rows, on one page", () => {
    const { pages, outline } = layOut(specOf(2, 2, true, 200), []);
    expect([pages.length, outline.rows]).toEqual([1, 0]);
    expect(textsOf(pages[0] as Page).some((t) => t.text === "No rows.")).toBe(true);
  });
  it("never cuts a figure: one too wide for its column is set smaller", () => {
    const spec = specOf(0, 1, false, 200);
    spec.columns = [
      { column: "row", widthMm: null, footing: "none" },
      { column: "sum", widthMm: 8, footing: "total" },
    ];
    const { pages } = layOut(spec, [["a", "b", "r0", "99999999999999999"]]);
    const figure = textsOf(pages[0] as Page).find((t) => t.text.startsWith("999,999,999"));
    expect(figure?.size).toBeLessThan(8);
  });
  it("cuts no name and no date that the paper has room for, and long names before dates", () => {
    const spec = specOf(0, 1, false, 200);
    spec.columns = ["a", "row", "b"].map((c) => ({ column: c, widthMm: null, footing: "none" as const }));
    const texts = (rows: Cell[][]) => textsOf(layOut(spec, rows).pages[0] as Page).map((t) => t.text);
    const long = "A name that is longer than seventy millimetres on paper, for it has much to say";
    expect(texts([[long, "y", "x", "1"]])).toContain(long);
    const both = texts([[long.repeat(3), "17 Sep 2026", "x", "1"]]);
    expect(both).toContain("17 Sep 2026");
    expect(both.some((t) => t.endsWith("…"))).toBe(true);
  });
  it("measures a text of fewer but wider letters", () => {
    const spec = specOf(0, 1, false, 200);
    spec.columns = [{ column: "a", widthMm: null, footing: "none" }];
    const checked = planReport(spec, plan);
    if (!checked.ok) throw new Error(JSON.stringify(checked.problems));
    const wide: Metrics = { width: (words, _font, size) => [...words].reduce((sum, letter) => sum + (letter === "M" ? 1 : 0.25) * size, 0) };
    const input = { report: checked.value, spec, metrics: wide, locale: { locale: "en-GB", zone: "UTC" }, texts: { brief: "", printedAt: "" } };
    const [width] = measureColumns(
      input,
      ["i".repeat(20), "MMMMMMMM"].map((a) => [a, "", "", null]),
    );
    expect(width).toBe(8 * SIZE.body + 1);
  });
  it("refuses margins that leave no paper, doubled groups and columns that are gone", () => {
    const spec = specOf(1, 1, false, 40);
    spec.levels.push(newLevel("a"), newLevel("gone"));
    const checked = planReport(spec, plan);
    expect(!checked.ok && checked.problems.map((p) => p.code)).toEqual(["groupGone", "groupDouble", "pageTooSmall"]);
  });
});
