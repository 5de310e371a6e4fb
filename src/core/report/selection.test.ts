import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { emptyQuery } from "../query/empty";
import { resolveQuery } from "../query/resolve";
import type { QueryColumn, QuerySpec } from "../query/spec";
import { usualDay } from "../types/calendar";
import { selectionFigures } from "./selection";

const field = (column: string, join = "") => ({ kind: "field" as const, join, column });
const toYard = { id: "y", from: "", link: "crate.yard_id", toward: "b" as const, way: "keep" as const };
/** A query's columns selected, from one to another. */
function selected(spec: Partial<QuerySpec>, from = 0, to = from) {
  const resolved = resolveQuery({ ...emptyQuery("crate"), ...spec }, sampleSchema, { today: usualDay("2026-11-29"), values: {} });
  if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
  return resolved.value.columns.map((column, at) => ({ column, at })).slice(from, to + 1);
}
const columns = (...of: [string, string?][]): QueryColumn[] => of.map(([column, join], i) => ({ id: `c${i}`, value: field(column, join) }));

describe("what a selection of a sheet comes to", () => {
  const prices = selected({ columns: columns(["price"]) });
  it("is exact where its type is: a total and an average rounded once", () => {
    const figures = selectionFigures(prices, [["9007199254740993"], ["2"], [null], [{ misfit: "much" }]]);
    expect(figures).toMatchObject({ total: { value: "9007199254740995" }, repeated: false });
    // 45,035,996,273,704.975 for two prices; the empty one and the one that is none count for nothing.
    expect(figures?.average).toMatchObject({ value: "450359962737049750000", type: { kind: "decimal", scale: 7 }, format: { decimals: 2 } });
  });
  it("is nothing where nothing is there", () => expect(selectionFigures(prices, [[null]])?.total.value).toBeNull());
  it("is read from the column selected, wherever it stands", () => {
    const second = selected({ columns: columns(["mark"], ["price"], ["pieces"]) }, 1);
    expect(selectionFigures(second, [["a", "100", 7]])?.total.value).toBe("100");
  });
  it("is not of several columns of numbers, and not of words", () => {
    const spec = { columns: columns(["mark"], ["price"], ["pieces"]) };
    expect(selectionFigures(selected(spec, 1, 2), [["a", "100", 7]])).toBeNull();
    expect(selectionFigures(selected(spec, 0), [["a", "100", 7]])).toBeNull();
    expect(selectionFigures(selected(spec, 0, 1), [["a", "100", 7]])?.total.value).toBe("100");
  });
  it("is not of what is no amount: keys, linked numbers, averages of groups", () => {
    expect(selectionFigures(selected({ columns: columns(["id"]) }), [[1], [2]])).toBeNull();
    expect(selectionFigures(selected({ columns: columns(["yard_id"]) }), [[1], [2]])).toBeNull();
    const averages: QueryColumn[] = [
      { id: "m", value: field("mark") },
      { id: "a", value: field("price"), figure: "average" },
    ];
    expect(selectionFigures(selected({ grouped: true, columns: averages }, 1), [["a", "100"]])).toBeNull();
  });
  it("says where values that a link repeats are added", () => {
    const rents = selected({ joins: [toYard], columns: columns(["id"], ["rent", "y"]) }, 1);
    expect(
      selectionFigures(rents, [
        [1, "500"],
        [2, "500"],
      ]),
    ).toMatchObject({ total: { value: "1000" }, repeated: true });
    const own = selected({ joins: [toYard], columns: columns(["price"]) });
    expect(selectionFigures(own, [["500"]])?.repeated).toBe(false);
  });
});
