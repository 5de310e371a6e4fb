import { expect, test } from "vitest";
import { decimal, text, whole } from "../types/valueType";
import type { PlanColumn } from "./plan";
import { onTheRight, shownColumn, shownWriter } from "./shownColumn";

const locale = { locale: "en-GB", zone: "UTC" };
const column = (more: Partial<PlanColumn>): PlanColumn => ({
  id: "c",
  expr: null,
  type: whole,
  heading: "Shipper",
  origin: "shipper id",
  hidden: false,
  format: {},
  totalled: false,
  ...more,
});

test("a column that leads to rows is written by their names, one that has none or is unknown by its key", () => {
  const shown = shownColumn(column({ rowOf: "shipper", format: { grouping: false } }), [10, 11, null, { misfit: "x" }], (key) => ({ "10": "Ann" })[key]);
  expect(shown.names).toEqual({ "10": "Ann" });
  expect([10, 11, null, { misfit: "x" }].map((cell) => shownWriter(shown, locale)(cell).text)).toEqual(["Ann", "11", "", "x"]);
  expect(onTheRight(shown)).toBe(false);
});

test("keys of decimals are sought as they are typed", () => {
  const shown = shownColumn(column({ rowOf: "rate", type: decimal(2) }), ["1250"], (key) => (key === "12.50" ? "Reduced" : undefined));
  expect(shownWriter(shown, locale)("1250").text).toBe("Reduced");
});

test("a column by its keys on request, or of no rows, stands as it is", () => {
  const byKey = shownColumn(column({ rowOf: "shipper", format: { byKey: true } }), [10], () => "Ann");
  expect(shownWriter(byKey, locale)(10).text).toBe("10");
  expect([byKey, shownColumn(column({})), shownColumn(column({ type: text }))].map(onTheRight)).toEqual([true, true, false]);
});
