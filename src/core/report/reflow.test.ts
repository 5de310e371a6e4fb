import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { laidOut, plainReport, planned, rowsFor } from "../../../test/support/printed";
import { sampleSchema } from "../../../test/support/sample";
import { emptyQuery } from "../query/empty";
import type { QuerySpec } from "../query/spec";
import type { Cell } from "../types/valueType";
import { setWidth } from "./edit";
import type { Page } from "./page";
import { newLevel } from "./plan";
import { reflowColumns } from "./reflow";
import type { ReportSpec } from "./spec";

const words = (id: string) => ({ id, value: { kind: "formula" as const, text: "mark" }, label: id });
const query: QuerySpec = {
  ...emptyQuery("crate"),
  columns: [words("a"), words("b"), words("row"), { id: "sum", value: { kind: "field", join: "", column: "price" } }],
};
const plain = plainReport(["row", "b", "sum"]);
const specOf = (): ReportSpec => ({
  ...plain,
  title: "Title",
  footer: { ...plain.footer, right: "{page}" },
  levels: [newLevel("a")],
  columns: plain.columns.map((c) => (c.id === "sum" ? { ...c, label: "What they come to" } : c)),
  lines: [{ id: "l", text: "", cells: { sum: { kind: "figure", figure: "total" } } }],
  page: { paper: "A4", landscape: false, margins: { top: 10, right: 10, bottom: 10, left: 30 }, duplex: true },
});
const rows = Array.from(
  { length: 140 },
  (_, i): Record<string, Cell> => ({ a: i < 70 ? "A" : "B", b: `b${i % 7}`, row: `r${i}`, sum: i * 37 - 900, price: i * 37 - 900 }),
);
const lay = (spec: ReportSpec) => {
  const report = planned(spec, query, sampleSchema);
  return laidOut(report, rowsFor(report, rows));
};
/** Places to a millionth; the place of a footing's text goes as far as its first figure, and is left as it was. */
const tidy = ({ areas, ...page }: Page) =>
  JSON.parse(
    JSON.stringify({ ...page, areas: areas?.filter((a) => a.part.kind !== "footing" || a.part.column !== null) }, (_, v) =>
      typeof v === "number" ? Math.round(v * 1e6) / 1e6 : v,
    ),
  );

describe("a page whose columns are made wider or narrower", () => {
  it("is at once as it will be laid out, on left and right pages", () => {
    fc.assert(
      fc.property(fc.constantFrom("row", "b", "sum"), fc.integer({ min: 26, max: 60 }), fc.constantFrom("row", "b", "sum", null), (id, mm, set) => {
        const before = set ? setWidth(specOf(), set, 30) : specOf();
        const after = setWidth(before, id, mm);
        const [laid, wanted] = [lay(before), lay(after)];
        expect(laid.pages.length).toBeGreaterThan(2);
        laid.pages.forEach((page, i) => {
          expect(tidy(reflowColumns(page, laid.outline.columns, after))).toEqual(tidy(wanted.pages[i] as Page));
        });
      }),
      { numRuns: 40, seed: 20261130 },
    );
  });
  it("is the page itself where nothing moves, or the report has other columns or no table by now", () => {
    const spec = specOf();
    const { pages, outline } = lay(spec);
    const [page] = pages;
    if (!page) throw new Error("no page");
    const same = (next: Pick<ReportSpec, "columns" | "shape">) => reflowColumns(page, outline.columns, next) === page;
    expect(same(spec)).toBe(true);
    expect(same({ ...spec, columns: spec.columns.slice(1) })).toBe(true);
    expect(same({ ...spec, columns: setWidth(spec, "b", 50).columns.toReversed() })).toBe(true);
    expect(same({ ...setWidth(spec, "b", 50), shape: { kind: "columns", count: 2, gapMm: 4 } })).toBe(true);
    expect(same(setWidth(spec, "b", 50))).toBe(false);
  });
});
