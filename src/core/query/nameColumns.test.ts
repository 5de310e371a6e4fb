import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { usualDay } from "../types/calendar";
import { emptyQuery } from "./empty";
import { withNameColumns } from "./nameColumns";
import { resolveQuery } from "./resolve";
import type { QueryColumn, QuerySpec } from "./spec";

const schema = { ...sampleSchema, tables: sampleSchema.tables.map((t) => (t.name === "yard" ? { ...t, named: "name" } : t)) };
const yard: QueryColumn = { id: "a", value: { kind: "field", join: "", column: "yard_id" } };
const pieces: QueryColumn = { id: "b", value: { kind: "field", join: "", column: "pieces" } };
const link = { link: "crate.yard_id", toward: "b" as const };
function named(more: Partial<QuerySpec>): QuerySpec {
  const spec: QuerySpec = { ...emptyQuery("crate"), columns: [yard, pieces], ...more };
  const plan = resolveQuery(spec, schema, { today: usualDay("2026-11-23"), values: {} });
  if (!plan.ok) throw new Error(JSON.stringify(plan.problems));
  return withNameColumns(spec, schema, plan.value);
}

describe("names of rows as columns of their own", () => {
  it("stand beside the keys, by a join that leaves every row", () => {
    const { columns, joins } = named({});
    expect(joins).toEqual([{ id: "j1", from: "", ...link, way: "keep" }]);
    expect(columns.map((c) => c.id)).toEqual(["a", "n1", "b"]);
    expect(columns[1]).toEqual({ id: "n1", value: { kind: "field", join: "j1", column: "name" }, label: "Yard_id, name" });
    const again = resolveQuery(named({}), schema, { today: usualDay("2026-11-23"), values: {} });
    expect(again.ok).toBe(true);
  });
  it("are read from a join there is, unless that brings other rows than those of the keys", () => {
    const own = { id: "y", from: "", ...link };
    expect(named({ joins: [{ ...own, way: "only" }] }).joins).toHaveLength(1);
    expect(named({ joins: [{ ...own, way: "both" }] }).joins).toHaveLength(2);
    const narrowed = { id: "w", left: { kind: "field" as const, join: "y", column: "name" }, operator: "notEmpty" as const, values: [] };
    expect(named({ joins: [{ ...own, way: "keep", where: [narrowed] }] }).joins).toHaveLength(2);
  });
  it("leave out what is hidden, and are one more key of groups", () => {
    expect(named({ columns: [{ ...yard, hidden: true }, pieces] }).columns).toHaveLength(2);
    const grouped = named({ grouped: true, columns: [yard, { id: "n", value: null, figure: "count" }] });
    expect(grouped.columns.map((c) => c.figure ?? "key")).toEqual(["key", "key", "count"]);
  });
});
