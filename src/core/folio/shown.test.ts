import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { filteredQuery } from "../dashboard/filters";
import { comparisonsIn } from "../query/conditions";
import { emptyQuery } from "../query/empty";
import { resolveQuery } from "../query/resolve";
import type { QuerySpec } from "../query/spec";
import type { Table } from "../schema/schema";
import { usualDay } from "../types/calendar";
import { belongsTo, shownOf } from "./shown";

const [yard, crate, stamp] = sampleSchema.tables as [Table, Table, Table];
const stamps: QuerySpec = { ...emptyQuery("stamp"), columns: [{ id: "fee", value: { kind: "field", join: "", column: "fee" } }] };
const crates: QuerySpec = { ...emptyQuery("crate"), columns: [{ id: "mark", value: { kind: "field", join: "", column: "mark" } }] };
const figure = {
  id: "f",
  title: "Fees",
  note: "",
  kind: "figure" as const,
  query: "q",
  figure: { id: "t", value: { kind: "field" as const, join: "", column: "fee" }, figure: "total" as const, showAs: "asIs" as const },
  compare: null,
  lessIsBetter: false,
};
/** The conditions of a figure's query for a row, and whether it can be worked out. */
function narrowed(query: QuerySpec, table: Table, cells: Parameters<typeof shownOf>[3]) {
  const dashboard = shownOf(figure, query, table, cells, sampleSchema);
  if (!dashboard) return null;
  const spec = filteredQuery(dashboard, "f", query, {}, usualDay("2026-11-24"));
  expect(resolveQuery(spec, sampleSchema, { today: usualDay("2026-11-24"), values: {} }).ok).toBe(true);
  return { joins: spec.joins.map((j) => "link" in j && j.link), conditions: comparisonsIn(spec.conditions).map((c) => [c.operator, ...c.values]) };
}

describe("a figure on a row's page", () => {
  it("is of the rows that lead to it, over as many links as it takes", () => {
    expect(narrowed(stamps, crate, { id: 7 })).toEqual({ joins: ["stamp.crate_id"], conditions: [["is", { kind: "value", text: "7" }]] });
    expect(narrowed(stamps, yard, { id: 3 })).toEqual({
      joins: ["stamp.crate_id", "crate.yard_id"],
      conditions: [["is", { kind: "value", text: "3" }]],
    });
    expect([belongsTo(sampleSchema, stamps, yard), belongsTo(sampleSchema, crates, yard)]).toEqual([true, true]);
  });
  it("is not there where no link leads to the row, or the row is not known by its key", () => {
    expect(narrowed(crates, stamp, { id: 1 })).toBeNull();
    expect(belongsTo(sampleSchema, crates, stamp)).toBe(false);
    expect(narrowed(stamps, crate, { id: null })).toBeNull();
    expect(narrowed(stamps, crate, {})).toBeNull();
    expect(narrowed(stamps, crate, { id: { misfit: "seven" } })).toBeNull();
    expect(narrowed(stamps, { ...crate, key: [] }, { id: 7 })).toBeNull();
  });
  it("compares every column of a key, each as its type is written", () => {
    const twice = { ...crate, key: ["id", "price"] };
    expect(narrowed(stamps, twice, { id: 7, price: 1250 })?.conditions).toEqual([
      ["is", { kind: "value", text: "7" }],
      ["is", { kind: "value", text: "12.50" }],
    ]);
    expect(narrowed(stamps, twice, { id: 7 })).toBeNull();
  });
});
