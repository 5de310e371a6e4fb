import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { briefText, queryBrief } from "../brief/brief";
import { usualDay } from "../types/calendar";
import { compileRows } from "./compile";
import { sqlite } from "./dialect/sqlite";
import { firstColumns, groupBy } from "./edit";
import { emptyQuery } from "./empty";
import { MOST_NAMED, namesWanted, showsNames } from "./namedRows";
import { overRows, resolveOver, rowsWhere } from "./over";
import { tableOfPlan } from "./planTable";
import { resolveQuery } from "./resolve";
import type { QueryColumn, QuerySpec } from "./spec";

const schema = { ...sampleSchema, tables: sampleSchema.tables.map((t) => (t.name === "yard" ? { ...t, named: "name" } : t)) };
const field = (column: string, more: object = {}) => ({ kind: "field" as const, join: "", column, ...more });
function planned(columns: QueryColumn[], more: Partial<QuerySpec> = {}) {
  const resolved = resolveQuery({ ...emptyQuery("crate"), columns, ...more }, schema, { today: usualDay("2026-11-23"), values: {} });
  if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
  return resolved.value;
}

describe("rows by their names", () => {
  it("are those that a plain column, or a group, holds the keys of; not those of figures and parts", () => {
    const rowOf = (columns: QueryColumn[], more?: Partial<QuerySpec>) => planned(columns, more).columns.map((c) => c.rowOf);
    expect(
      rowOf([
        { id: "a", value: field("yard_id") },
        { id: "b", value: field("pieces") },
      ]),
    ).toEqual(["yard", undefined]);
    expect(
      rowOf(
        [
          { id: "a", value: field("yard_id") },
          { id: "n", value: field("yard_id"), figure: "greatest" },
        ],
        { grouped: true },
      ),
    ).toEqual(["yard", undefined]);
    expect(rowOf([{ id: "a", value: field("yard_id", { band: { width: "10" } }) }], { grouped: true })).toEqual([undefined]);
  });
  it("order what reads the rows too: the column that orders is no field of theirs, and keeps its place behind conditions", () => {
    const plan = planned([{ id: "a", value: field("yard_id") }], { order: [{ column: "a", direction: "up" }], limit: 5 });
    expect(plan.order.map((o) => o.column)).toEqual(["a by name", "a"]);
    expect(tableOfPlan(plan).columns.map((c) => c.name)).toEqual(["a"]);
    const some = rowsWhere(plan, []);
    if (!some.ok) throw new Error(JSON.stringify(some.problems));
    expect(some.value.columns.map((c) => [c.id, c.orders])).toEqual([
      ["a", undefined],
      ["a by name", "a"],
    ]);
    expect(tableOfPlan(some.value).columns.map((c) => c.name)).toEqual(["a"]);
    const outer = resolveOver({ ...overRows(), columns: [{ id: "x", value: field("a by name") }] }, plan, { today: usualDay("2026-11-23"), values: {} });
    expect(outer.ok).toBe(true);
    expect(() => compileRows(some.value, sqlite)).not.toThrow();
  });
  it("are among the first columns of a new query; links to rows without names are not", () => {
    const names = (of: typeof sampleSchema, links?: boolean) => firstColumns(of, "crate", links).map((c) => c.value?.kind === "field" && c.value.column);
    expect(names(schema)).toContain("yard_id");
    const keyed = { ...sampleSchema, tables: sampleSchema.tables.map((t) => ({ ...t, named: "" })) };
    expect([names(keyed).includes("yard_id"), names(schema, false).includes("yard_id")]).toEqual([false, false]);
    // Of keys there is no total where the rows are grouped.
    const grouped = groupBy({ ...emptyQuery("crate"), columns: firstColumns(schema, "crate") }, schema, field("mark"));
    expect(grouped.columns.some((c) => c.value?.kind === "field" && c.value.column === "yard_id")).toBe(false);
    expect(grouped.columns.some((c) => c.value?.kind === "field" && c.value.column === "price" && c.figure === "total")).toBe(true);
  });
  it("are wanted once for each key that is shown, unless keys are asked for", () => {
    const two: QueryColumn[] = [
      { id: "a", value: field("yard_id") },
      { id: "b", value: field("yard_id"), label: "again" },
      { id: "c", value: field("pieces") },
    ];
    const plan = planned(two);
    expect(
      namesWanted(plan, [
        [9, 10, 1],
        [9, null, 2],
        [{ misfit: "x" }, 2, 3],
      ]),
    ).toEqual([{ table: "yard", keys: ["10", "2", "9"] }]);
    const byKey = planned([
      { id: "a", value: field("yard_id"), format: { byKey: true } },
      { id: "h", value: field("yard_id"), hidden: true, label: "h" },
    ]);
    expect(byKey.columns.map(showsNames)).toEqual([false, true]);
    expect(namesWanted(byKey, [[1, 2]])).toEqual([]);
  });
  it("are asked for in parts where there are many", () => {
    const rows = Array.from({ length: MOST_NAMED + 1 }, (_, i) => [i]);
    expect(namesWanted(planned([{ id: "a", value: field("yard_id") }]), rows).map((w) => w.keys.length)).toEqual([MOST_NAMED, 1]);
  });
});

describe("the unit of a column", () => {
  it("is the one a person gave it, or none where they gave none", () => {
    const units = [undefined, "t", ""].map((unit) => planned([{ id: "a", value: field("price"), ...(unit === undefined ? {} : { unit }) }]).columns[0]?.unit);
    expect(units).toEqual([planned([{ id: "a", value: field("price") }]).columns[0]?.unit, "t", undefined]);
    const formula = planned([{ id: "n", value: { kind: "formula", text: "SUM(price)" }, figure: "formula", unit: "EUR/t" }], { grouped: true });
    expect(formula.columns[0]?.unit).toBe("EUR/t");
  });
});

describe("the order of a column that shows names", () => {
  const yard: QueryColumn = { id: "a", value: field("yard_id") };
  const by = (column: string) => [{ column, direction: "down" as const }];
  it("is that of the names, then of the keys, looked up without leaving out or repeating a row", () => {
    const plan = planned([yard], { order: by("a") });
    expect(plan.order).toEqual([...by("a by name"), ...by("a")]);
    expect(plan.columns.map((c) => [c.id, c.hidden, c.orders])).toEqual([
      ["a", false, undefined],
      ["a by name", true, "a"],
    ]);
    expect(plan.joins.map((j) => [j.table.name, j.way, j.auxiliary])).toEqual([["yard", "keep", true]]);
    expect(
      tableOfPlan(plan).columns.map((c) => c.name),
      "it is no field for others",
    ).toEqual(["a"]);
  });
  it("is said as that of texts; of the keys as that of numbers", () => {
    const said = (column: QueryColumn) =>
      briefText(queryBrief({ ...emptyQuery("crate"), columns: [column], order: by("a") }, schema, { locale: "en-GB", zone: "UTC" }));
    expect(said(yard)).toContain("sorted by yard_id (Z to A)");
    expect(said({ ...yard, format: { byKey: true } })).toContain("sorted by yard_id (largest first)");
    expect(said({ id: "a", value: field("yard_id", { band: { width: "10" } }) })).toContain("(largest first)");
  });
  it("is that of what is worked out in this order too", () => {
    const running: QueryColumn = { id: "r", value: { kind: "column", id: "p" }, figure: "window", window: { kind: "running" } };
    const plan = planned([yard, { id: "p", value: field("pieces") }, running], { order: by("a") });
    expect(plan.columns.find((c) => c.id === "r")?.window?.order).toEqual(plan.order);
  });
  it("is that of the names of groups; of the keys where these are shown, and where there are groups without rows or subtotals", () => {
    expect(planned([{ ...yard, format: { byKey: true } }], { order: by("a") }).order).toEqual(by("a"));
    const grouped = planned([yard], { order: by("a"), grouped: true });
    expect(grouped.order).toEqual([...by("a by name"), ...by("a")]);
    expect(grouped.columns[1]).toMatchObject({ figure: "least", hidden: true, orders: "a" });
    expect(planned([{ ...yard, everyValue: true }], { order: by("a"), grouped: true }).order).toEqual(by("a"));
    expect(planned([yard]).columns).toHaveLength(1);
  });
});
