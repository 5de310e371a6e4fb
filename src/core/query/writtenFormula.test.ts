import { describe, expect, it } from "vitest";
import { crates, field, is } from "../../../test/support/crates";
import { sampleSchema } from "../../../test/support/sample";
import { usualDay } from "../types/calendar";
import { WRITTEN_FIGURES } from "./aggregates";
import { resolveQuery } from "./resolve";
import type { QuerySpec } from "./spec";
import { FIRST_VALUES, firstValues, formulaNames, formulaProblem, formulaType } from "./writtenFormula";

/* What a formula is told while it is written. */

describe("a formula while it is written", () => {
  const named: QuerySpec = { ...crates, columns: [...crates.columns, { id: "f", value: { kind: "formula", text: "price * 2" }, label: "double price" }] };
  const grouped: QuerySpec = {
    ...crates,
    grouped: true,
    columns: [
      { id: "k", value: field("mark") },
      { id: "t", value: field("price"), figure: "total", label: "all prices" },
    ],
  };
  it("may name fields by their paths, and the query's own formulas and figures", () => {
    const names = (spec: QuerySpec, over: "rows" | "figures") => formulaNames(spec, sampleSchema, over).map((n) => n.written);
    expect(names(named, "rows")).toEqual(expect.arrayContaining(["price", "stamps.fee", '"double price"']));
    expect(names(grouped, "figures").slice(0, 2)).toEqual(["Mark", '"all prices"']);
    expect(names(grouped, "rows")).not.toContain('"all prices"');
  });
  it("may write figures by words that are read as those", () => {
    expect(WRITTEN_FIGURES.map((f) => f.word)).toEqual(expect.arrayContaining(["SUM", "COUNT", "AVG"]));
    for (const { word } of WRITTEN_FIGURES)
      expect(formulaProblem(formulaType(grouped, sampleSchema, `${word}(nothing, 1)`, "figures"))?.code).not.toBe("unknownFunction");
  });
  it("says what it comes to, or what is wrong with it alone", () => {
    const told = (spec: QuerySpec, text: string, over: "rows" | "figures" = "rows") => {
      const found = formulaType(spec, sampleSchema, text, over);
      return formulaProblem(found)?.code ?? (found as { kind: string } | null)?.kind ?? null;
    };
    expect(["", "price", '"double price" > 5', "pric", "price +", "SUM(price)"].map((text) => told(named, text))).toEqual([
      null,
      "decimal",
      "yesno",
      "unknownField",
      "syntax",
      "figureInFormula",
    ]);
    expect(['"all prices" / COUNT(*)', "price"].map((text) => told(grouped, text, "figures"))).toEqual(["decimal", "unknownField"]);
    // What else is wrong with the query is no fault of the formula.
    expect(told({ ...named, conditions: [is("w9", field("gone"), "")], limit: -1 }, "price")).toBe("decimal");
  });
});

describe("a formula's first values", () => {
  it("are asked of the query as it stands, without its order, limits and figures; of groups with them", () => {
    const spec: QuerySpec = {
      ...crates,
      columns: [...crates.columns, { id: "n", value: { kind: "formula", text: "price * 2" }, label: "Twice" }],
      firstOf: { rows: 1, per: [] },
    };
    const asked = firstValues(spec, "Twice + 1", "rows");
    expect(asked).toMatchObject({ conditions: spec.conditions, joins: spec.joins, grouped: false, order: [], limit: FIRST_VALUES });
    expect(asked?.firstOf).toBeUndefined();
    expect(asked?.columns.map((c) => [c.id, c.hidden ?? false])).toEqual([
      ["n", true],
      ["first values", false],
    ]);
    expect(resolveQuery(asked as QuerySpec, sampleSchema, { today: usualDay("2026-11-23"), values: {} }).ok).toBe(true);
    expect(firstValues({ ...spec, grouped: true }, "COUNT(*)", "figures")?.columns.at(-1)).toMatchObject({ figure: "formula" });
  });
  it("are none of nothing, nor over the rows of a query", () => {
    expect(firstValues(crates, "  ", "rows")).toBeNull();
    expect(firstValues({ ...crates, source: "rows" }, "1", "rows")).toBeNull();
  });
});
