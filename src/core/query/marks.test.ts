import { describe, expect, it } from "vitest";
import { type Cell, carriedTo, date, decimal, floating, text, timestamp, type ValueType, whole, yesno } from "../types/valueType";
import type { MarkTest } from "./choices";
import { emptyQuery } from "./empty";
import { barColumns, greatestSize, type Mark, marksOfRow, marksShown, meetsRule, newMark, removeMark, setMark, testsFor } from "./marks";
import type { PlanColumn } from "./plan";

describe("a rule of a mark", () => {
  it.each<[Cell, ValueType, MarkTest, string, boolean]>([
    ["1050", decimal(2), "atLeast", "10.5", true],
    ["1050", decimal(2), "greater", "10.50", false],
    ["1049", decimal(2), "atLeast", "10.5", false],
    ["-1", decimal(2), "less", "0", true],
    ["0", decimal(2), "less", "0", false],
    ["0", decimal(2), "atMost", "0", true],
    ["900719925474099312", decimal(2), "is", "9007199254740993.12", true],
    ["900719925474099312", decimal(2), "isNot", "9007199254740993.13", true],
    ["12", carriedTo(0), "is", "1.2", true],
    [7, whole, "is", "7.0", true],
    [7, whole, "is", "seven", false],
    [0.1, floating, "atMost", "0.1", true],
    [0.1, floating, "greater", "", false],
    ["2026-10-01", date, "atLeast", "2026-10-01", true],
    ["2026-09-30", date, "atLeast", "2026-10-01", false],
    ["2026-10-01T23:59:00Z", timestamp, "atMost", "2026-10-01", true],
    ["Pell Glass", text, "contains", "GLÁSS", true],
    ["Pell Glass", text, "contains", "", false],
    ["Pell", text, "is", "pell", false],
    [1, yesno, "is", "yes", true],
    [0, yesno, "isNot", "yes", true],
    ["1050", decimal(2), "beyond", "10", true],
    ["-1050", decimal(2), "beyond", "10", true],
    ["-1050", decimal(2), "beyond", "10.50", false],
    ["1050", decimal(2), "beyond", "10.5", false],
    ["0", decimal(2), "beyond", "0", false],
    [-0.2, floating, "beyond", "0.1", true],
    [null, decimal(2), "atMost", "0", false],
    [null, decimal(2), "isNot", "0", false],
    [null, decimal(2), "empty", "", true],
    [{ misfit: "x" }, whole, "isNot", "0", false],
    [{ misfit: "x" }, whole, "notEmpty", "", true],
  ])("says of %j as %o %s %j: %s", (cell, type, test, value, meets) => expect(meetsRule(cell, type, test, value)).toBe(meets));

  it("can be made of what the column's type can be compared by", () => {
    expect(testsFor(text)).toEqual(["is", "isNot", "contains", "empty", "notEmpty"]);
    expect(testsFor(yesno)).toEqual(["is", "isNot", "empty", "notEmpty"]);
    expect(testsFor(date)).not.toContain("contains");
    expect(testsFor(whole)).toContain("greater");
  });
});

describe("the marks of a row", () => {
  const column = (id: string, type: ValueType, hidden = false) => ({ id, type, hidden }) as PlanColumn;
  const columns = [column("freight", decimal(2)), column("weight", whole), column("late", whole, true)];
  const mark = (id: string, more: Partial<Mark>): Mark => ({ id, column: "freight", look: "shade", tone: "look", test: "atLeast", value: "10", ...more });
  const on = (marks: Mark[], cells: Cell[], sizes = {}) => [...marksOfRow(marks, columns, cells, sizes)].map(([at, found]) => [at, found.map((m) => m.id)]);

  it("are those whose rules it meets: the first of several, a bar beside it; by another column where that is said", () => {
    expect(on([mark("a", {}), mark("b", { look: "sign", value: "5" })], ["1000", 1, 0])).toEqual([[0, ["a"]]]);
    expect(on([mark("a", {}), mark("b", { look: "sign", value: "5" })], ["500", 1, 0])).toEqual([[0, ["b"]]]);
    expect(on([mark("c", { by: "late", value: "1" })], ["0", 1, 1])).toEqual([[0, ["c"]]]);
    expect(on([mark("c", { by: "late", value: "1" })], ["9999", 1, 0])).toEqual([]);
    expect(on([mark("gone", { column: "x" }), mark("by", { by: "x" })], ["9999", 1, 0])).toEqual([]);
    expect(on([mark("a", {}), mark("bar", { look: "bar" })], ["1000", 1, 0], { freight: 2000 })).toEqual([[0, ["a", "bar"]]]);
  });
  it("have bars as long as the value's share of the greatest size; none before that is known, of nothing, or of an empty cell", () => {
    const share = (cell: Cell, sizes: Record<string, number>) => marksOfRow([mark("bar", { look: "bar" })], columns, [cell, 1, 0], sizes).get(0)?.[0]?.share;
    expect([share("500", { freight: 2000 }), share("-2000", { freight: 2000 }), share("3000", { freight: 2000 })]).toEqual([0.25, 1, 1]);
    expect([share("500", {}), share("0", { freight: 2000 }), share(null, { freight: 2000 })]).toEqual([undefined, undefined, undefined]);
    expect(greatestSize("-300", "200", null)).toBe(300);
    expect(barColumns([mark("a", {}), mark("b", { look: "bar" }), mark("c", { look: "bar" })])).toEqual(["freight"]);
  });
  it("are told in the legend where their columns are shown", () => {
    expect(marksShown([mark("a", {}), mark("b", { column: "late" }), mark("c", { by: "late" }), mark("d", { by: "gone" })], columns).map((m) => m.id)).toEqual([
      "a",
      "c",
    ]);
  });
  it("are added, changed in their place, and removed; none left is none said", () => {
    const spec = emptyQuery("crate");
    const first = newMark(spec, { id: "name", type: text });
    expect(first).toMatchObject({ id: "m1", column: "name", test: "is" });
    const two = setMark(setMark(spec, first), newMark(setMark(spec, first), { id: "price", type: decimal(2) }));
    expect(two.marks?.map((m) => [m.id, m.test])).toEqual([
      ["m1", "is"],
      ["m2", "atLeast"],
    ]);
    expect(setMark(two, { ...first, tone: "wrong" }).marks?.map((m) => m.tone)).toEqual(["wrong", "look"]);
    expect(removeMark(removeMark(two, "m1"), "m2").marks).toBeUndefined();
  });
});
