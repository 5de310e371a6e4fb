import { describe, expect, it } from "vitest";
import type { Part } from "@/core/report/page";
import type { ReportSpec } from "@/core/report/spec";
import { columnByKey, dropBefore, isSamePart, nextPart, partsOf } from "./pageParts";

const area = (part: Part, x: number, y: number, width = 50) => ({ part, x, y, width, height: 10 });
const heading = (column: string): Part => ({ kind: "columnHeading", column });
const value = (column: string): Part => ({ kind: "value", column });
const footing = (keys: string[]): Part => ({ kind: "footing", line: "l", level: "place", column: "a", keys });

const areas = [
  area({ kind: "title" }, 0, 0, 200),
  area(heading("a"), 0, 20),
  area(heading("b"), 60, 20),
  area(value("a"), 0, 30),
  area(value("b"), 60, 30),
  area(value("a"), 0, 40),
  area(value("b"), 60, 40, 70),
  area(footing(["Mirrin"]), 60, 50),
];

describe("the parts of a page", () => {
  it("stand in reading order, the values of a column as one", () => {
    const parts = partsOf({ areas });
    expect(parts.map((p) => p.key)).toEqual(["title 0", "columnHeading a 0", "columnHeading b 0", "value a 0", "value b 0", 'footing l place a ["Mirrin"] 0']);
    expect(parts[4]).toMatchObject({ x: 60, y: 30, width: 70, height: 20 });
  });

  it("keep their keys where others come and go", () => {
    const again = partsOf({ areas: [...areas, area(heading("a"), 0, 90)] });
    expect(again.filter((p) => p.part.kind === "columnHeading").map((p) => p.key)).toEqual(["columnHeading a 0", "columnHeading b 0", "columnHeading a 1"]);
  });

  it("are the same where they have the same settings: the footings of all groups are", () => {
    expect(isSamePart(footing(["Mirrin"]), footing(["Pell"]))).toBe(true);
    expect(isSamePart(heading("a"), heading("b"))).toBe(false);
    expect(isSamePart(heading("a"), value("a"))).toBe(false);
  });

  it("are gone through by arrows: along the line, and to the nearest above and below", () => {
    const parts = partsOf({ areas });
    const from = (at: number) => Object.fromEntries(["ArrowRight", "ArrowLeft", "ArrowUp", "ArrowDown", "Home", "End"].map((k) => [k, nextPart(parts, at, k)]));
    expect(from(2)).toEqual({ ArrowRight: 3, ArrowLeft: 1, ArrowUp: 0, ArrowDown: 4, Home: 0, End: 5 });
    expect(from(0)).toMatchObject({ ArrowLeft: 0, ArrowUp: 0, ArrowDown: 1 });
    expect(from(5)).toMatchObject({ ArrowRight: 5, ArrowDown: 5, ArrowUp: 4 });
    expect(nextPart([], 3, "End")).toBe(0);
  });
});

describe("a column of a page", () => {
  const columns = ["a", "b", "c"].map((id) => ({ id, value: { kind: "field" as const, column: id }, widthMm: id === "b" ? 20 : null }));
  const spec = { columns } as ReportSpec;
  const press = (column: string, key: string, more = {}) => columnByKey(spec, column, { key, altKey: false, shiftKey: false, ...more }, 30);
  const order = (column: string, key: string) =>
    press(column, key, { altKey: true })
      ?.columns.map((c) => c.id)
      .join("");

  it("is put elsewhere by Alt and an arrow, and stays at either end", () => {
    expect([order("b", "ArrowLeft"), order("b", "ArrowRight"), order("a", "ArrowRight")]).toEqual(["bac", "acb", "bac"]);
    expect(press("a", "ArrowLeft", { altKey: true })).toBe(spec);
    expect(press("c", "ArrowRight", { altKey: true })).toBe(spec);
  });

  it("is made wider by Shift and an arrow, a millimetre at a time, from its own width or the one it is printed with", () => {
    const width = (column: string, key: string) => press(column, key, { shiftKey: true })?.columns.find((c) => c.id === column)?.widthMm;
    expect([width("b", "ArrowRight"), width("b", "ArrowLeft"), width("a", "ArrowRight")]).toEqual([21, 19, 31]);
  });

  it("is left alone by other keys", () => {
    expect([press("b", "ArrowRight"), press("b", "ArrowUp", { altKey: true }), press("b", "Enter", { shiftKey: true })]).toEqual([null, null, null]);
  });

  it("is dropped before the first whose middle lies beyond, or behind all", () => {
    const headings = [
      { column: "a", x: 0, width: 50 },
      { column: "b", x: 60, width: 40 },
    ];
    expect([0, 24, 25, 79, 80, 500].map((x) => dropBefore(headings, x))).toEqual(["a", "a", "b", "b", null, null]);
  });
});
