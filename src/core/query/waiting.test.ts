import { expect, test } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import * as edit from "./edit";
import { emptyQuery } from "./empty";
import type { Condition, QuerySpec, Value } from "./spec";
import { askedNext, nextValue, openValue, waitingIn, withoutWaiting } from "./waiting";

const value = (text: string): Value => ({ kind: "value", text });
const comparison = (id: string, operator: Condition["operator"], ...values: Value[]): Condition => ({
  id,
  left: { kind: "field", join: "", column: "price" },
  operator,
  values,
});

test.each([
  ["is", [value("")], 0],
  ["is", [value("1")], undefined],
  ["between", [value("1"), value("")], 1],
  ["between", [value("1")], 1],
  ["between", [{ kind: "relative", date: "today" }, value("2")], undefined],
  ["oneOf", [value("")], 0],
  ["oneOf", [value(""), value("3")], undefined],
  ["among", [value("")], 0],
  ["among", [{ kind: "rows", table: "yard", column: "id" }], undefined],
  ["empty", [], undefined],
] as [Condition["operator"], Value[], number | undefined][])("“%s” with %j needs its value %s", (operator, values, place) => {
  expect(openValue(comparison("w", operator, ...values))).toBe(place);
});

test("what waits is left away on rows, groups, lines and figures, with groups it leaves empty, and stays in joins", () => {
  const [open, given] = [comparison("o", "is", value("")), comparison("g", "is", value("1"))];
  const spec: QuerySpec = {
    ...emptyQuery("crate"),
    joins: [{ id: "j", from: "", table: "yard", on: [open], way: "keep" }],
    conditions: [{ id: "all", holds: "any", of: [open] }, given],
    groupConditions: [open],
    lineConditions: [open, given],
    columns: [{ id: "c", value: null, figure: "count", where: [open, given] }],
  };
  const asked = withoutWaiting(spec);
  expect([asked.conditions, asked.groupConditions, asked.lineConditions, asked.columns[0]?.where, asked.joins]).toEqual([
    [given],
    [],
    [given],
    [given],
    spec.joins,
  ]);
  expect(waitingIn(spec).length).toBe(5);
});

test("a value is asked for once its comparison is new or another, not while it is typed", () => {
  const before = emptyQuery("crate");
  const { spec, id } = edit.addCondition(before, sampleSchema, { kind: "field", join: "", column: "price" });
  expect(askedNext(before, spec)).toEqual({ id, index: 0 });
  const given = edit.changeCondition(spec, id, { values: [value("2")] });
  expect(askedNext(spec, given)).toBeUndefined();
  expect(askedNext(given, edit.changeCondition(given, id, { values: [value("")] }))).toBeUndefined();
  expect(askedNext(given, edit.changeOperator(given, id, "between"))).toEqual({ id, index: 1 });
});

test("after a value is left the next one is asked for, none before it", () => {
  const ranged = (...texts: string[]): QuerySpec => ({ ...emptyQuery("crate"), conditions: [comparison("w", "between", ...texts.map(value))] });
  expect(nextValue(ranged("1", ""), { id: "w", index: 0 })).toEqual({ id: "w", index: 1 });
  expect(nextValue(ranged("", "2"), { id: "w", index: 1 })).toBeUndefined();
  expect(nextValue(ranged("", ""), { id: "w", index: 0 })).toBeUndefined();
  expect(nextValue(ranged("1", "2"), { id: "w", index: 0 })).toBeUndefined();
  expect(nextValue(ranged("1", ""), { id: "x", index: 0 })).toBeUndefined();
});
