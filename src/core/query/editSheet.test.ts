import { expect, test } from "vitest";
import { addBeside, addWindowBeside, freezeTo, placeColumn, setWidth, shiftColumn } from "./editSheet";
import { emptyQuery } from "./empty";
import type { QueryColumn, QuerySpec } from "./spec";

const column = (id: string, more: Partial<QueryColumn> = {}): QueryColumn => ({ id, value: { kind: "field", join: "", column: id }, ...more });
const rows: QuerySpec = { ...emptyQuery("crate"), columns: [column("a"), column("b", { hidden: true }), column("c"), column("d")] };
const groups: QuerySpec = {
  ...rows,
  grouped: true,
  columns: [column("k"), column("l"), column("x", { figure: "total" }), column("y", { figure: "total" })],
};
const ids = (spec: QuerySpec) => spec.columns.map((c) => c.id).join("");

test.each([
  [rows, "d", "a", "dabc"],
  [rows, "a", "d", "bcad"],
  [rows, "a", null, "bcda"],
  [rows, "a", "a", "abcd"],
  [rows, "a", "z", "abcd"],
  [groups, "k", "x", "lkxy"],
  [groups, "k", "y", "klxy"],
  [groups, "k", null, "lkxy"],
  [groups, "y", "x", "klyx"],
  [groups, "y", "k", "klxy"],
])("a column dropped before another: %#", (spec, id, before, order) => {
  expect(ids(placeColumn(spec, id, before))).toBe(order);
});

test("a key moves a column past its shown neighbour", () => {
  expect([ids(shiftColumn(rows, "c", -1)), ids(shiftColumn(rows, "a", 1)), ids(shiftColumn(rows, "d", 1)), ids(shiftColumn(rows, "a", -1))]).toEqual([
    "cabd",
    "bcad",
    "abcd",
    "abcd",
  ]);
});

test("what is added beside a column stands right behind it", () => {
  expect(ids(addBeside(rows, "a", { value: null }))).toBe("ac1bcd");
  expect(ids(addBeside(groups, "x", { value: null, figure: "count" }))).toBe("klxc1y");
  expect(ids(addBeside(groups, "y", { value: null, figure: "count" }))).toBe("klxyc1");
});

test("a width is kept within bounds and can be left to the values; columns are frozen up to a shown one", () => {
  const width = (w: number | null) => setWidth(rows, "a", w).columns[0]?.width;
  expect([width(120.4), width(3), width(9999), width(null)]).toEqual([120, 40, 1000, undefined]);
  const frozen = freezeTo(rows, "c");
  expect([frozen.frozen, freezeTo(frozen, "a").frozen, freezeTo(frozen, "c").frozen, freezeTo(rows, "b").frozen]).toEqual([2, 1, undefined, undefined]);
});

test("a figure that looks back looks back a period where groups are periods, else a row; others look at no period", () => {
  const quarter = {
    ...groups,
    columns: groups.columns.map((c) => (c.id === "l" ? column("l", { value: { kind: "field", join: "", column: "l", part: "quarter" } }) : c)),
  };
  const window = (spec: QuerySpec, kind: "change" | "difference" | "share") => {
    const before = spec.columns.map((c) => c.id);
    return addWindowBeside(spec, "x", kind).columns.find((c) => !before.includes(c.id))?.window;
  };
  expect([window(quarter, "change"), window(quarter, "difference"), window(quarter, "share")]).toEqual([
    { kind: "change", back: "period" },
    { kind: "difference", back: "period" },
    { kind: "share" },
  ]);
  expect([window(groups, "change"), window(rows, "change")]).toEqual([{ kind: "change" }, { kind: "change" }]);
  expect(addWindowBeside(quarter, "x", "change").columns.at(-2)?.figure).toBe("window");
});
