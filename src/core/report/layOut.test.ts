import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { context, laidOut, planned, rowsFor, textsOf } from "../../../test/support/printed";
import { sampleSchema } from "../../../test/support/sample";
import { emptyQuery } from "../query/empty";
import type { QuerySpec } from "../query/spec";
import type { Cell } from "../types/valueType";
import { pageFrame } from "./frame";
import { tableColumns } from "./layOut";
import { type Metrics, type Page, SIZE } from "./page";
import { newLevel, planReport } from "./plan";
import type { ReportSpec } from "./spec";
import { measureColumns } from "./table";

const words = (id: string) => ({ id, value: { kind: "formula" as const, text: "mark" }, label: id });
const query: QuerySpec = {
  ...emptyQuery("crate"),
  columns: [words("a"), words("b"), words("row"), { id: "sum", value: { kind: "field", join: "", column: "price" } }],
};
const parts = (left = "", center = "", right = "") => ({ left, center, right });
const column = (id: string, more: Partial<ReportSpec["columns"][number]> = {}) => ({
  id,
  value: { kind: "field" as const, column: id },
  widthMm: null,
  ...more,
});
const total = { kind: "figure" as const, figure: "total" as const };

const specOf = (levels: number, keepRows: number, newPage: boolean, height: number, more: Partial<ReportSpec> = {}): ReportSpec => ({
  version: 2,
  query: "q",
  title: "Title",
  showBrief: true,
  header: parts("head"),
  footer: parts("foot", "", "page {page} of {pages}"),
  parameters: {},
  levels: ["a", "b"].slice(0, levels).map((c) => ({ ...newLevel(c), keepRows, newPage })),
  columns: [column("row"), column("sum")],
  lines: [{ id: "footing", text: "", cells: { sum: total } }],
  shape: { kind: "table" },
  page: { paper: "A4", landscape: false, margins: { top: 10, right: 10, bottom: 297 - 10 - height, left: 10 } },
  ...more,
});

const layOut = (spec: ReportSpec, rows: Record<string, Cell>[], metrics?: Metrics) => {
  const report = planned(spec, query, sampleSchema);
  return laidOut(report, rowsFor(report, rows), metrics ? { metrics } : {});
};

const rowTexts = (page: Page) => textsOf(page).filter((t) => /^r\d+$/.test(t.text));
const bodyOf = (page: Page, spec: ReportSpec) => textsOf(page).filter((t) => t.y < pageFrame(spec).bottom && t.y > pageFrame(spec).top);

/** Rows sorted by two groups; some groups have no value. */
const rowsArbitrary = fc
  .array(fc.tuple(fc.integer({ min: 0, max: 4 }), fc.integer({ min: 0, max: 3 }), fc.integer({ min: -1e6, max: 1e6 })), { maxLength: 220 })
  .map((raw) =>
    raw
      .sort((x, y) => x[0] - y[0] || x[1] - y[1])
      .map(([a, b, sum], i): Record<string, Cell> => ({ a: a === 0 ? null : `A${a}`, b: b === 0 ? null : `B${b}`, row: `r${i}`, sum })),
  );
const sumOf = (rows: Record<string, Cell>[]) => rows.reduce((sum, r) => sum + Number(r.sum), 0);

describe("page layout", () => {
  it("loses no row, prints none twice, keeps the order, keeps headings with rows and footings with a row, and adds up", () => {
    fc.assert(
      fc.property(
        rowsArbitrary,
        fc.integer({ min: 0, max: 2 }),
        fc.integer({ min: 1, max: 4 }),
        fc.boolean(),
        fc.boolean(),
        fc.integer({ min: 100, max: 270 }),
        (rows, levels, keepRows, newPage, carried, height) => {
          const spec = specOf(levels, keepRows, newPage, height, carried ? { carried: ["sum"] } : {});
          const { pages, outline } = layOut(spec, rows);
          expect(pages.flatMap((p) => rowTexts(p).map((t) => t.text))).toEqual(rows.map((r) => r.row));
          const { proof } = outline;
          expect([Number(proof.totals.sum?.printed ?? 0), Number(proof.totals.sum?.groups ?? 0)]).toEqual([sumOf(rows), sumOf(rows)]);
          expect([proof.rows, proof.agrees, outline.cut]).toEqual([rows.length, true, 0]);
          expect(textsOf(pages[outline.totalPage - 1] as Page).some((t) => t.text === `All, ${rows.length} ${rows.length === 1 ? "row" : "rows"}`)).toBe(true);
          expect(pages.map((p) => textsOf(p).some((t) => t.text === `page ${p.number} of ${pages.length}`))).not.toContain(false);
          for (const page of pages) {
            const body = bodyOf(page, spec);
            for (const t of body) expect(t.y).toBeLessThanOrEqual(pageFrame(spec).bottom - 8);
            const headings = body.filter((t) => t.font === "sansBold" && /^(A\d|No a|B\d|No b)/.test(t.text));
            const lastRow = Math.max(-1, ...rowTexts(page).map((t) => t.y));
            for (const heading of headings) expect(heading.y, `“${heading.text}” is alone at the foot of page ${page.number}`).toBeLessThan(lastRow);
            const footings = body.filter((t) => t.font === "sansItalic" && /rows?$/.test(t.text));
            if (footings.length > 0) expect(rowTexts(page).length, `a footing without a row on page ${page.number}`).toBeGreaterThan(0);
          }
        },
      ),
      { numRuns: 300 },
    );
  });
  it("keeps as many rows with a heading as it is asked to, and no more", () => {
    const rows = Array.from({ length: 40 }, (_, i): Record<string, Cell> => ({ a: i < 20 ? "A1" : "A2", row: `r${i}`, sum: 1 }));
    for (const keepRows of [1, 2, 4]) {
      const kept = Array.from({ length: 120 }, (_, i) => {
        const { pages } = layOut(specOf(1, keepRows, false, 110 + i), rows);
        const page = pages.find((p) => textsOf(p).some((t) => t.text === "A2")) as Page;
        return rowTexts(page).filter((t) => Number(t.text.slice(1)) >= 20).length;
      });
      expect(Math.min(...kept)).toBe(keepRows);
    }
  });
  it("writes what groups come to into their footings where it was taken of the rows alone, and three dots where it is not known yet", () => {
    const rows = [1, 2, 4].map((sum, i): Record<string, Cell> => ({ a: i < 2 ? "A1" : "A2", row: `r${i}`, sum }));
    const said = { text: "{rows} make {SUM(sum)}", cells: {} };
    const { pages } = layOut(
      specOf(1, 1, false, 200, {
        lines: [
          { ...said, id: "over", before: true },
          { ...said, id: "under" },
        ],
      }),
      rows,
    );
    const texts = pages.flatMap((p) => textsOf(p).map((t) => t.text)).filter((t) => t.includes("make"));
    expect(texts).toEqual(["… make …", "2 make 0.03", "2 make 0.03", "1 make 0.04", "1 make 0.04", "3 make 0.07"]);
  });
  it("prints so many related rows and no more, and says that there are others", () => {
    const match = { kind: "link" as const, step: { link: "stamp.crate_id", toward: "a" as const } };
    const stamps = { ...emptyQuery("stamp"), columns: [{ id: "n", value: { kind: "field" as const, join: "", column: "id" } }] };
    const related = [{ id: "s", title: "Stamps", under: "", of: "", match, hideEmpty: true, query: stamps }];
    const report = planned(specOf(0, 1, false, 270, { related }), query, sampleSchema);
    const columns = report.related[0]?.all.columns ?? [];
    const row = columns.map((): Cell => "1");
    const told = (count: number) => {
      const rows = Array.from({ length: count }, () => row);
      const { pages, outline } = laidOut(report, rowsFor(report, [{ row: "r0" }]), { related: () => ({ columns, rows, keys: () => null }), counted: false });
      const cut = pages.some((p) => textsOf(p).some((t) => t.text.startsWith("Only the first 50,000 rows")));
      return [outline.proof.related[0]?.rows, outline.proof.related[0]?.cut, cut];
    };
    expect([told(50_000), told(50_001)]).toEqual([
      [50_000, false, false],
      [50_000, true, true],
    ]);
  });
  it("brings forward on each page what was carried from the one before, which is what the rows so far come to", () => {
    fc.assert(
      fc.property(rowsArbitrary, fc.integer({ min: 0, max: 2 }), fc.integer({ min: 90, max: 200 }), (rows, levels, height) => {
        const spec = specOf(levels, 1, false, height, { carried: ["sum"] });
        const { pages, outline } = layOut(spec, rows);
        const figureAt = (page: Page, label: string): string | null => {
          const at = textsOf(page).find((t) => t.text === label);
          return at ? (textsOf(page).find((t) => t.y === at.y && t !== at && t.end !== undefined)?.text ?? null) : null;
        };
        let printed = 0;
        pages.forEach((page, i) => {
          const brought = figureAt(page, "Brought forward");
          expect(brought).toBe(i === 0 ? null : figureAt(pages[i - 1] as Page, "Carried forward"));
          const own = rowTexts(page);
          if (own.length > 0 && i > 0 && levels === 0) expect(brought).toBe(written(sumOf(rows.slice(0, printed))));
          printed += own.length;
        });
        expect(outline.proof.carried.differ).toBe(0);
        if (levels === 0 && pages.some((p) => figureAt(p, "Carried forward"))) expect(outline.proof.carried.compared).toBeGreaterThan(0);
      }),
      { numRuns: 200 },
    );
  });
  it("keeps a group on one page where it fits on one, and numbers pages anew where that is asked for", () => {
    fc.assert(
      fc.property(rowsArbitrary, fc.boolean(), fc.integer({ min: 110, max: 270 }), (rows, restart, height) => {
        const spec = specOf(1, 1, false, height, { footer: parts("", "", "{page in group}/{pages in group}") });
        spec.levels = [{ ...newLevel("a"), keepRows: 1, keepWhole: true, ...(restart ? { restart } : {}) }];
        const { pages } = layOut(spec, rows);
        expect(pages.flatMap((p) => rowTexts(p).map((t) => t.text))).toEqual(rows.map((r) => r.row));
        const pageOf = new Map(pages.flatMap((p) => rowTexts(p).map((t) => [t.text, p.number] as const)));
        const groups = [...new Set(rows.map((r) => r.a))].map((a) => rows.filter((r) => r.a === a));
        // Of what a page holds, headings of columns and the group and two footings are taken off.
        const most = Math.floor(((height * 72) / 25.4 - 16 - 18 - 16 - 40) / 14);
        const on: number[] = [];
        for (const own of groups) {
          const places = new Set(own.map((r) => pageOf.get(String(r.row))));
          if (own.length <= most) expect(places.size).toBe(1);
          on.push(places.size);
        }
        if (!restart || rows.length === 0) return;
        const numbers = pages.map((p) => textsOf(p).at(-1)?.text);
        expect(numbers).toEqual(on.flatMap((count) => Array.from({ length: count }, (_, i) => `${i + 1}/${count}`)));
      }),
      { numRuns: 200 },
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
            bodyOf(p, spec)
              .filter((t) => t.font === "sansItalic" && /rows?$/.test(t.text))
              .map((t) => t.text),
          );
        expect(pages.flatMap(rowTexts)).toEqual([]);
        expect(footings(pages)).toEqual(footings(whole.pages));
        expect([outline.proof.totals, outline.proof.rows]).toEqual([whole.outline.proof.totals, rows.length]);
        for (const page of pages) {
          const body = bodyOf(page, spec);
          for (const t of body) expect(t.y).toBeLessThanOrEqual(pageFrame(spec).bottom - 8);
          const last = Math.max(...body.filter((t) => t.font === "sansItalic" || t.text.startsWith("All")).map((t) => t.y));
          for (const heading of body.filter((t) => t.font === "sansBold" && /^(A\d|No a)$/.test(t.text))) expect(heading.y).toBeLessThan(last);
        }
      }),
      { numRuns: 200 },
    );
  });
  it("fills columns down the page one after the other, each row in one of them, and labels side by side", () => {
    fc.assert(
      fc.property(rowsArbitrary, fc.integer({ min: 2, max: 4 }), fc.integer({ min: 100, max: 270 }), (rows, count, height) => {
        const columns = layOut(specOf(1, 1, false, height, { shape: { kind: "columns", count, gapMm: 4 } }), rows);
        const places = columns.pages.flatMap((p) => rowTexts(p).map((t) => ({ ...t, page: p.number })));
        expect(places.map((t) => t.text)).toEqual(rows.map((r) => r.row));
        places.forEach((t, i) => {
          const before = places[i - 1];
          if (before?.page === t.page) expect(t.x > before.x + 20 || t.y > before.y).toBe(true);
        });
        const labels = layOut(
          specOf(0, 1, false, height, { shape: { kind: "labels", widthMm: 60, heightMm: 30, gapXMm: 2, gapYMm: 0, lines: ["{row}", "{a}", "{b}"] } }),
          rows,
        );
        expect(labels.pages.flatMap((p) => rowTexts(p).map((t) => t.text))).toEqual(rows.map((r) => r.row));
        for (const page of labels.pages)
          for (const t of bodyOf(page, specOf(0, 1, false, height))) expect(t.y).toBeLessThanOrEqual(pageFrame(specOf(0, 1, false, height)).bottom);
      }),
      { numRuns: 100 },
    );
  });
  it("says that there are no rows, on one page", () => {
    const { pages, outline } = layOut(specOf(2, 2, true, 200), []);
    expect([pages.length, outline.proof.rows]).toEqual([1, 0]);
    expect(textsOf(pages[0] as Page).some((t) => t.text === "No rows.")).toBe(true);
  });
  it("never cuts a figure: one too wide for its column is set smaller", () => {
    const spec = specOf(0, 1, false, 200, { columns: [column("row"), column("sum", { widthMm: 8 })] });
    const { pages } = layOut(spec, [{ a: "a", b: "b", row: "r0", sum: "99999999999999999" }]);
    expect(textsOf(pages[0] as Page).find((t) => t.text.startsWith("999,999,999"))?.size).toBeLessThan(8);
  });
  it("cuts no name that the paper has room for; a long one is cut, or stands on several lines of one row", () => {
    const long = "A name that is longer than seventy millimetres on paper, for it has much to say";
    const textsIn = (rows: Record<string, Cell>[], wrap: boolean) =>
      layOut(specOf(0, 1, false, 200, { columns: [column("a", { wrap }), column("row"), column("b")], lines: [] }), rows).pages.flatMap((p) =>
        textsOf(p).map((t) => t.text),
      );
    expect(textsIn([{ a: long, b: "x", row: "y" }], false)).toContain(long);
    expect(textsIn([{ a: long.repeat(3), b: "x", row: "y" }], false).some((t) => t.endsWith("…"))).toBe(true);
    const lines = textsIn([{ a: long.repeat(3), b: "x", row: "y" }], true);
    expect(lines.some((t) => t.endsWith("…"))).toBe(false);
    expect(lines.join(" ")).toContain("much to say");
  });
  it("parts a row that is higher than a page over several, and loses none of it", () => {
    const word = (n: number) => `w${n}`;
    const text = Array.from({ length: 3000 }, (_, n) => word(n)).join(" ");
    const spec = specOf(0, 1, false, 100, { columns: [column("a", { wrap: true, widthMm: 40 }), column("row")], lines: [] });
    const { pages, outline } = layOut(spec, [{ a: text, b: "x", row: "r0" }]);
    expect(pages.length).toBeGreaterThan(2);
    expect(outline.cut).toBe(0);
    const printed = pages.flatMap((p) => bodyOf(p, spec).flatMap((t) => t.text.split(" ").filter((w) => /^w\d+$/.test(w))));
    expect(printed).toEqual(Array.from({ length: 3000 }, (_, n) => word(n)));
  });
  it("prints a repeated value once in a group, again on the next page, and marks by a rule with a sign", () => {
    const spec = specOf(0, 1, false, 120, {
      columns: [column("a", { once: true }), column("row"), column("sum", { marks: [{ when: "sum > 1", tone: "ochre", sign: "!" }] })],
    });
    const report = planned(spec, query, sampleSchema);
    const when = report.rows.columns.findIndex((c) => c.id === "when sum > 1");
    const rows = rowsFor(
      report,
      Array.from({ length: 60 }, (_, i) => ({ a: "same", b: "", row: `r${i}`, sum: i * 100 })),
    );
    rows.forEach((row, i) => {
      row[when] = i > 57 ? 1 : 0;
    });
    const { pages } = laidOut(report, rows);
    expect(pages.map((p) => textsOf(p).filter((t) => t.text === "same").length)).toEqual(pages.map((p) => (rowTexts(p).length > 0 ? 1 : 0)));
    const marked = pages.flatMap((p) =>
      textsOf(p)
        .filter((t) => t.tone === "ochre")
        .map((t) => t.text),
    );
    expect(marked).toEqual(["58.00", "!", "59.00", "!"]);
  });
  it("measures a text of fewer but wider letters", () => {
    const report = planned(specOf(0, 1, false, 200, { columns: [column("a")], lines: [] }), query, sampleSchema);
    const wide: Metrics = { width: (text, _font, size) => [...text].reduce((sum, letter) => sum + (letter === "M" ? 1 : 0.25) * size, 0) };
    const rows = rowsFor(
      report,
      ["i".repeat(20), "MMMMMMMM"].map((a) => ({ a, b: "", row: "" })),
    );
    expect(measureColumns(tableColumns(report), rows, wide, { locale: "en-GB", zone: "UTC" })).toEqual([8 * SIZE.body + 1]);
  });
  it("heads a formula by its text, one that is not written yet by what it is: never by what stands for its figures", () => {
    const columns = ["price / SUM(price)", "", "price / 2"].map((text, i) => ({ id: `${i}`, value: { kind: "formula" as const, text }, widthMm: null }));
    const spec = specOf(0, 1, false, 200, { columns, lines: [] });
    const checked = planReport(spec, query, sampleSchema, context);
    expect(checked.ok && checked.value.columns.map((c) => c.column.heading)).toEqual(["Price / SUM(price)", "Formula", "Price / 2"]);
  });
  it("refuses margins that leave no paper, doubled groups, columns that are gone, and texts whose field is not closed", () => {
    const spec = specOf(1, 1, false, 40, { subtitle: "of {row" });
    spec.levels.push({ ...newLevel("a"), id: "again" }, newLevel("gone"));
    const checked = planReport(spec, query, sampleSchema, context);
    expect(!checked.ok && checked.problems.map((p) => p.code)).toEqual(["textBrace", "groupDouble", "pageTooSmall", "groupGone"]);
  });
});

const written = (sum: number): string => {
  const size = Math.abs(sum / 100).toLocaleString("en-GB", { minimumFractionDigits: 2, maximumFractionDigits: 2 });
  return sum < 0 ? `(${size})` : size;
};
