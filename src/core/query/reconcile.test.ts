import { expect, test } from "vitest";
import { column } from "../../../test/support/sample";
import { decimal, floating, text } from "../types/valueType";
import { startComparison } from "./editComparison";
import { comparedFigures, less, readReconciliation, reconcileQuery, sideAgrees, sideOf } from "./reconcile";

const rows = [
  ["different", 2, 2, 1000, 1050],
  ["doubled", 3, 1, "9007199254740993000", 5],
  ["only here", 1, 0, 700, null],
  ["only there", 0, 4, null, 5300],
];
const account = readReconciliation(rows, decimal(2));

test("a side is all that is of it by state, exact beyond 2^53; a state without rows comes to nothing", () => {
  expect(account["the same"]).toEqual({ here: { rows: 0, sum: 0n }, there: { rows: 0, sum: 0n } });
  expect(sideOf(account, "here")).toEqual({ rows: 6, sum: 9007199254740994700n });
  expect(sideOf(account, "there")).toEqual({ rows: 7, sum: 6355n });
  expect(less(sideOf(account, "there").sum, sideOf(account, "here").sum)).toBe(-9007199254740988345n);
});

test("a side agrees with its source by rows and by its figure to the last digit, and not otherwise", () => {
  const here = sideOf(account, "here");
  expect(sideAgrees(here, { rows: 6, sum: 9007199254740994700n })).toBe(true);
  expect(sideAgrees(here, { rows: 6, sum: 9007199254740994701n })).toBe(false);
  expect(sideAgrees(here, { rows: 5, sum: 9007199254740994700n })).toBe(false);
});

test("floating sums agree within their rounding alone", () => {
  const side = sideOf(readReconciliation([["the same", 1, 1, 0.1 + 0.2, 0.3]], floating), "here");
  expect([sideAgrees(side, { rows: 1, sum: 0.3 }), sideAgrees(side, { rows: 1, sum: 0.3001 })]).toEqual([true, false]);
});

test("it is asked of all rows of the comparison, by state, with a figure that is a number on both sides", () => {
  const started = {
    ...startComparison("x"),
    conditions: [{ id: "w", left: { kind: "field" as const, join: "", column: "state" }, operator: "notEmpty" as const, values: [] }],
  };
  const asked = reconcileQuery(started, 1);
  expect([asked.conditions, asked.columns.map((c) => c.id)]).toEqual([[], ["state", "rows_here", "rows_there", "here 1", "there 1"]]);
  expect(reconcileQuery(started, null).columns.length).toBe(3);
  const table = { name: "t", label: "t", key: [], rows: 0, columns: [column("here 0", text), column("here 1", decimal(2)), column("here 2", floating)] };
  expect(comparedFigures(table, 3)).toEqual([1, 2]);
});
