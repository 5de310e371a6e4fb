import { describe, expect, it } from "vitest";
import { laidOut, plainReport, planned, rowsFor, textsOf } from "../../../test/support/printed";
import { sampleSchema } from "../../../test/support/sample";
import { emptyPivot, newAxis } from "../pivot/empty";
import type { Pivot } from "../pivot/pivot";
import { emptyQuery } from "../query/empty";
import type { QuerySpec } from "../query/spec";
import type { Cell } from "../types/valueType";
import type { Inserted } from "./inserts";
import { newLevel } from "./plan";
import type { Insert, ReportSpec } from "./spec";

const words = (id: string) => ({ id, value: { kind: "formula" as const, text: "mark" }, label: id });
const query: QuerySpec = { ...emptyQuery("crate"), columns: [words("a"), words("row"), { id: "sum", value: { kind: "field", join: "", column: "price" } }] };
const insert = (kind: Insert["kind"], at: Insert["at"], more: Partial<Insert> = {}): Insert => ({
  id: `${kind} ${at}`,
  kind,
  of: "x",
  under: "a",
  at,
  heightMm: 40,
  ...more,
});
const specOf = (inserts: Insert[], more: Partial<ReportSpec> = {}): ReportSpec =>
  plainReport(["row", "sum"], {
    levels: [newLevel("a")],
    lines: [{ id: "l", text: "", cells: { sum: { kind: "figure", figure: "total" } } }],
    inserts,
    ...more,
  });
/** A pivot of so many lines and columns, whose cells say where they stand. */
const pivotOf = (lines: number, columns: number, agrees = true): Pivot => {
  const headings = (count: number, name: string) => [
    { level: 0, key: null, rest: null, parent: -1, rows: 0 },
    ...Array.from({ length: count }, (_, i) => ({ level: 1, key: `${name}${i + 1}`, rest: null, parent: 0, rows: 0 })),
  ];
  const axis = (heading: string) => ({ heading, type: { kind: "text" as const }, format: {} });
  return {
    axes: { down: [axis("Down")], across: [axis("Across")] },
    down: headings(lines, "d"),
    across: headings(columns, "a"),
    figures: [{ id: "f", heading: "Sum", type: { kind: "text" }, format: {} }],
    cells: [Array.from({ length: lines + 1 }, (_, i) => Array.from({ length: columns + 1 }, (_, k) => `${i}/${k}`)).flat()],
    proof: { figures: [], wholes: [], rows: { down: 0, across: 0, query: 0 }, empties: [], agrees },
  };
};
const field = (column: string) => ({ kind: "field" as const, join: "", column });
const pivotSpec = { ...emptyPivot("q"), down: [newAxis("d", field("a"))], across: [newAxis("a", field("a"))] };
const rows = (counts: Record<string, number>): Record<string, Cell>[] =>
  Object.entries(counts).flatMap(([a, count]) => Array.from({ length: count }, (_, i) => ({ a, row: `r${a}${i}`, sum: 100 })));
const lay = (spec: ReportSpec, given: Record<string, Cell>[], inserted: (insert: Insert, keys: Cell[]) => Inserted) => {
  const report = planned(spec, query, sampleSchema);
  return laidOut(report, rowsFor(report, given), { inserted });
};
const chart = (count: number | null): Inserted => ({ kind: "chart", title: "Chart", rows: count, picture: (w, h) => `${Math.round(w)}x${Math.round(h)}` });
const pivot = (lines: number, columns: number, count: number | null, agrees = true): Inserted => ({
  kind: "pivot",
  title: "Cross",
  rows: count,
  spec: pivotSpec,
  pivot: pivotOf(lines, columns, agrees),
});
const counts = { A: 3, B: 5 };
const countOf = (keys: Cell[]) => counts[String(keys[0]) as "A"];

describe("charts and cross-tables of groups", () => {
  it("stand once in each group, under its heading or its footing, kept to what makes it", () => {
    const asked: string[] = [];
    const spec = specOf([insert("chart", "top"), insert("pivot", "foot")]);
    const { pages, outline } = lay(spec, rows(counts), (i, keys) => {
      asked.push(`${i.id} ${keys.join()}`);
      return i.kind === "chart" ? chart(countOf(keys)) : pivot(2, 2, countOf(keys));
    });
    expect([...new Set(asked)]).toEqual(["chart top A", "pivot foot A", "chart top B", "pivot foot B"]);
    const items = pages.flatMap((page) => page.items.map((i) => (i.kind === "text" ? i.text : i.kind === "picture" ? `picture ${i.alt}` : "")));
    const order = items.filter((t) => /^(A|B|Chart|picture Chart|r[AB]0|Cross|Total.*|1\/1)$/.test(t));
    expect(order).toEqual(["A", "Chart", "picture Chart", "rA0", "Cross", "1/1", "B", "Chart", "picture Chart", "rB0", "Cross", "1/1"]);
    expect([outline.proof.inserts, outline.proof.agrees]).toEqual([{ compared: 4, differ: 0 }, true]);
  });
  it("make the proof say no where one is worked out from other rows than are printed, or does not agree within itself", () => {
    const differ = (made: (keys: Cell[]) => Inserted) => {
      const { proof } = lay(specOf([insert("pivot", "foot")]), rows(counts), (_, keys) => made(keys)).outline;
      return [proof.inserts.differ, proof.agrees];
    };
    expect(differ((keys) => pivot(1, 1, countOf(keys)))).toEqual([0, true]);
    expect(differ((keys) => pivot(1, 1, keys[0] === "B" ? 4 : 3))).toEqual([1, false]);
    expect(differ(() => pivot(1, 1, null))).toEqual([0, true]);
    expect(differ((keys) => pivot(1, 1, countOf(keys), false))).toEqual([2, false]);
  });
  it("print every figure of a cross-table once, whatever its size, with headings again where it goes on", () => {
    const sizes = [[1, 1], [90, 3], [4, 40], [60, 25], ...Array.from({ length: 40 }, (_, i) => [15 + i, 1])] as [number, number][];
    for (const [lines, columns] of sizes) {
      const { pages } = lay(specOf([insert("pivot", "foot")]), rows({ A: 2 }), () => pivot(lines, columns, 2));
      const figures = pages.flatMap((page) => textsOf(page).filter((t) => /^\d+\/\d+$/.test(t.text)));
      const wanted = Array.from({ length: lines + 1 }, (_, i) => Array.from({ length: columns + 1 }, (_, k) => `${i}/${k}`)).flat();
      expect(figures.map((t) => t.text).toSorted()).toEqual(wanted.toSorted());
      for (const page of pages)
        for (const t of textsOf(page)) {
          expect(t.y).toBeLessThanOrEqual(page.height - (10 * 72) / 25.4 + 0.5);
          expect(t.x).toBeGreaterThanOrEqual((10 * 72) / 25.4 - 0.5);
        }
      for (const page of pages) if (textsOf(page).some((t) => /^\d+\/\d+$/.test(t.text))) expect(textsOf(page).some((t) => t.text === "Down")).toBe(true);
      // The total of the lines never stands alone.
      for (const page of pages) {
        const own = textsOf(page).filter((t) => /^\d+\/\d+$/.test(t.text));
        if (own.some((t) => t.text.startsWith("0/"))) expect(own.some((t) => !t.text.startsWith("0/"))).toBe(true);
      }
    }
  });
  it("draw no picture on pages that are only gone through, and as large as the paper and their height have it", () => {
    let drawn = 0;
    const { pages } = lay(specOf([insert("chart", "top")]), rows(counts), (_, keys) => ({
      ...chart(countOf(keys)),
      kind: "chart",
      picture: (w, h) => {
        drawn++;
        return `${Math.round(w)}x${Math.round(h)}`;
      },
    }));
    // Each of two groups twice, as both times all pages are asked for.
    expect(drawn).toBe(4);
    const report = planned(specOf([insert("chart", "top")]), query, sampleSchema);
    const never = (): string => {
      throw new Error("drawn");
    };
    const gone = laidOut(report, rowsFor(report, rows(counts)), {
      inserted: (_, keys) => ({ ...chart(countOf(keys)), kind: "chart", picture: never }),
      firstDrawn: Number.POSITIVE_INFINITY,
    });
    expect([gone.pages, gone.outline.proof.inserts.compared]).toEqual([[], 2]);
    const pictures = pages.flatMap((page) => page.items.flatMap((i) => (i.kind === "picture" ? [i] : [])));
    expect(pictures.map((i) => i.png)).toEqual(Array(2).fill(`${Math.round((128 * 72) / 25.4)}x${Math.round((40 * 72) / 25.4)}`));
  });
  it("are left out of a group without rows; under a level that is gone they are a problem", () => {
    const { pages } = lay(specOf([insert("pivot", "foot")]), rows({ A: 1 }), () => pivot(1, 1, 0));
    expect(pages.flatMap(textsOf).some((t) => t.text === "Cross")).toBe(false);
    expect(() => planned(specOf([insert("chart", "top", { under: "gone" })]), query, sampleSchema)).toThrow("insertGroup");
  });
});
