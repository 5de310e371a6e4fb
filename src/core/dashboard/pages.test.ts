import { describe, expect, it } from "vitest";
import type { ShownFigure } from "../pivot/pivot";
import type { Metrics } from "../report/page";
import type { Cell } from "../types/valueType";
import { figureWords } from "./compare";
import { isCut, layOutDashboard, layOutRows, type PrintedTile } from "./pages";
import type { DashboardSpec } from "./spec";
import { emptyDashboard } from "./tiles";

const locale = { locale: "en-GB", zone: "UTC" };
const metrics: Metrics = { width: (text, _, size) => text.length * size * 0.5 };
const figure = { id: "f", heading: "F", type: { kind: "decimal", scale: 2 }, format: {} } as unknown as ShownFigure;
const said = (now: Cell, before: Cell, compare: "month" | number | null, lessIsBetter = false, target: number | null = null) => {
  const tile = {
    lessIsBetter,
    compare:
      compare === null ? null : typeof compare === "number" ? { kind: "target" as const, value: String(compare) } : { kind: "earlier" as const, by: compare },
  };
  const { words, strong, good, rest } = figureWords(tile, { figure, now, before, target, rows: 3 }, locale);
  return [words, strong, good, rest];
};

describe("what a figure tile says", () => {
  it("holds the figure against an earlier time, a target, or nothing", () => {
    expect(said(1100, 1000, "month")).toEqual(["11.00", "▲ 10%", true, " from the previous month"]);
    expect(said(900, 1000, "month")).toEqual(["9.00", "▼ 10%", false, " from the previous month"]);
    expect(said(900, 1000, "month", true)).toEqual(["9.00", "▼ 10%", true, " from the previous month"]);
    expect(said(1000, 1000, "month")).toEqual(["10.00", "", true, "the same as the previous month"]);
    expect(said(1000, null, "month")).toEqual(["10.00", "", true, "nothing to compare with the previous month"]);
    expect(said(1000, 0, "month")).toEqual(["10.00", "", true, "nothing to compare with the previous month"]);
    expect(said(-500, -1000, "month")).toEqual(["(5.00)", "▲ 50%", true, " from the previous month"]);
    expect(said(500, null, 20, false, 20)).toEqual(["5.00", "25%", false, " of 20"]);
    expect(said(500, null, 4, false, 4)).toEqual(["5.00", "125%", true, " of 4"]);
    expect(said(500, null, 5, true, 5)).toEqual(["5.00", "100%", true, " of 5"]);
    expect(said(500, null, 4, true, 4)).toEqual(["5.00", "125%", false, " of 4"]);
    expect(said(500, null, 0, false, null)).toEqual(["5.00", "", true, "no target"]);
    expect(said(null, null, null)).toEqual(["–", "", true, "3 rows"]);
  });
});

describe("a dashboard on paper", () => {
  const words = (id: string) => ({ id, title: `Tile ${id}`, note: "", kind: "text" as const, text: "" });
  const ids = ["a", "b", "c", "d", "e"];
  const spec: DashboardSpec = {
    ...emptyDashboard(),
    tiles: ids.map(words),
    wide: ids.map((tile, i) => ({ tile, x: (i % 2) * 6, y: Math.floor(i / 2) * 15, w: 6, h: 15 })),
  };
  const table: PrintedTile = {
    kind: "table",
    headings: [
      { text: "Name", right: false },
      { text: "Sum", right: true },
    ],
    rows: Array.from({ length: 60 }, (_, i) => [
      { text: `a name that is long enough to be cut somewhere ${i} ${"x".repeat(80)}`, negative: false },
      { text: `(${i}.00)`, negative: true },
    ]),
    of: 80,
    noun: "row",
    whole: false,
  };
  const pages = layOutDashboard({
    spec,
    tiles: new Map([["a", table]]),
    notes: new Map([["b", "not narrowed by island"]]),
    texts: { title: "Board", brief: "Showing everything.", printedAt: "printed today" },
    metrics,
    locale,
    paged: true,
  });
  const texts = (page: (typeof pages)[number]) => page.items.flatMap((i) => (i.kind === "text" ? [i.text] : []));

  it("begins a page where a tile would cross the foot, and takes what stands beside it along", () => {
    expect(pages.map((p) => texts(p).filter((t) => t.startsWith("Tile ")))).toEqual([["Tile a", "Tile b"], ["Tile c", "Tile d"], ["Tile e"]]);
    expect(pages.map((p) => texts(p).includes("not narrowed by island"))).toEqual([true, false, false]);
    expect(pages.map((p) => texts(p).at(-1))).toEqual(["page 1 of 3", "page 2 of 3", "page 3 of 3"]);
  });
  it("keeps to the paper, and a table to its tile with its count under it", () => {
    for (const page of pages)
      for (const item of page.items) {
        const width = item.kind === "text" ? metrics.width(item.text, item.font, item.size) : item.width;
        expect(item.x + width).toBeLessThanOrEqual(page.width - 42 + 0.5);
        expect(item.y).toBeLessThanOrEqual(page.height);
      }
    const [first] = pages;
    const rows = first ? texts(first).filter((t) => t.startsWith("(")) : [];
    expect(rows.length).toBeGreaterThan(5);
    expect(rows.length).toBeLessThan(25);
    // It counts what is printed, not what was there to print.
    const last = first?.items.find((i) => i.kind === "text" && i.text === `${rows.length} of 80 rows`);
    expect(last).toBeDefined();
    expect(last?.y).toBeLessThan((first?.items.find((i) => i.kind === "rule")?.y ?? 0) + 15 * 18);
  });
});

describe("a table whose tile has no room for it", () => {
  const rows = Array.from({ length: 120 }, (_, i) => [
    { text: `crate ${i}`, negative: false },
    { text: `(${i})`, negative: true },
  ]);
  const table = {
    kind: "table" as const,
    headings: [
      { text: "Mark", right: false },
      { text: "Out", right: true },
    ],
    rows,
    of: 377,
    noun: "row",
    whole: true,
  };
  const texts = { title: "Lates", brief: "Showing everything.", printedAt: "printed today" };
  const pages = layOutRows(table, texts, metrics, locale);
  const written = (page: (typeof pages)[number]) => page.items.flatMap((i) => (i.kind === "text" ? [i.text] : []));

  it("is printed whole on pages of its own: every row once, in order, under its headings, on the paper", () => {
    expect(pages.flatMap((p) => written(p).filter((t) => t.startsWith("crate")))).toEqual(rows.map((r) => r[0]?.text));
    for (const page of pages) {
      expect(written(page)).toEqual(expect.arrayContaining(["Lates", "Mark", "Out", "printed today"]));
      for (const item of page.items) expect(item.y).toBeLessThanOrEqual(page.height - 42 + 8);
      const numbers = page.items.flatMap((i) => (i.kind === "text" && i.text.startsWith("(") ? [i.end] : []));
      expect(new Set(numbers).size).toBe(1);
    }
    expect(pages.map((p) => written(p).at(-1))).toEqual(pages.map((_, i) => `page ${i + 1} of ${pages.length}`));
    expect(pages.map((p) => written(p).includes("120 of 377 rows"))).toEqual([...pages.slice(1).map(() => false), true]);
  });
  it("says on its tile where the others are, and nothing of it where all have room", () => {
    const placed = (h: number, of = table) => {
      const spec = {
        ...emptyDashboard(),
        tiles: [{ id: "a", title: "Lates", note: "", kind: "text" as const, text: "" }],
        wide: [{ tile: "a", x: 0, y: 0, w: 6, h }],
      };
      const [page] = layOutDashboard({ spec, tiles: new Map([["a", of]]), notes: new Map(), texts, metrics, locale, paged: true });
      const said = page ? written(page).filter((t) => t.includes(" of 377") || t.includes(" of 3 ") || t.includes(" of 120 ")) : [];
      return [isCut(spec, "a", false, of), ...said];
    };
    expect(placed(8)).toEqual([true, expect.stringMatching(/^\d+ of 377 rows; the first 120 are on a page of their own$/)]);
    expect(placed(8, { ...table, of: 120 })).toEqual([true, expect.stringMatching(/^\d+ of 120 rows; all are on a page of their own$/)]);
    expect(placed(8, { ...table, rows: rows.slice(0, 3), of: 3 })).toEqual([false, "3 of 3 rows"]);
    expect(placed(8, { ...table, whole: false })).toEqual([true, expect.stringMatching(/^\d+ of 377 rows$/)]);
  });
});
