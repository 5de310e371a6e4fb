import { describe, expect, it } from "vitest";
import { column, sampleSchema } from "../../../test/support/sample";
import type { Schema } from "../schema/schema";
import { usualDay } from "../types/calendar";
import { decimal, text } from "../types/valueType";
import { emptyQuery } from "./empty";
import { tablesAsOf, tablesOnCopy, tablesToCopy, tablesToCopyAsOf } from "./onCopy";
import type { Plan } from "./plan";
import { resolveQuery } from "./resolve";
import type { QuerySpec } from "./spec";

/* What a columnar copy may answer: whatever could come to something else there is left to the database. */

const field = (name: string, join = "") => ({ kind: "field" as const, join, column: name });
const id = { id: "id", value: field("id") };
const crates: QuerySpec = { ...emptyQuery("crate"), columns: [id, { id: "mark", value: field("mark") }] };
const toYard = { id: "y", from: "", link: "crate.yard_id", toward: "b" as const, way: "keep" as const };
const joined: QuerySpec = { ...crates, joins: [toYard], columns: [id, { id: "n", value: field("name", "y") }] };
const grouped = (value: string, figure: "total" | "median" | "least"): QuerySpec => ({
  ...crates,
  grouped: true,
  columns: [
    { id: "m", value: field("mark") },
    { id: "f", value: field(value), figure },
  ],
});

function planOf(spec: QuerySpec, schema: Schema): Plan {
  const plan = resolveQuery(spec, schema, { today: usualDay("2026-11-23"), values: {} });
  if (!plan.ok) throw new Error(JSON.stringify(plan.problems));
  return plan.value;
}

const tablesOf = (spec: QuerySpec, schema = sampleSchema): string[] | null => tablesOnCopy(planOf(spec, schema))?.map((t) => t.name) ?? null;

/** The sample with a table or one of its columns changed. */
const withTable = (name: string, change: object, from = sampleSchema): Schema => ({
  ...from,
  tables: from.tables.map((t) => (t.name === name ? { ...t, ...change } : t)),
});
const withColumn = (table: string, name: string, change: object, from = sampleSchema): Schema => {
  const columns = from.tables.find((t) => t.name === table)?.columns.map((c) => (c.name === name ? { ...c, ...change } : c));
  return withTable(table, { columns }, from);
};

/** Its link with decimals on both sides. */
function scaled(near: number, far: number): Schema {
  const as = (scale: number) => ({ type: decimal(scale), storage: "scaledInteger" });
  const { tables } = withColumn("yard", "id", as(far));
  return {
    ...sampleSchema,
    tables: withColumn("crate", "yard_id", as(near)).tables.map((t) => (t.name === "yard" ? (tables.find((y) => y.name === "yard") ?? t) : t)),
  };
}

describe("a copy may answer", () => {
  it("rows and groups of tables joined by what compares alike, and names each table once", () => {
    expect(tablesOf(joined)).toEqual(["crate", "yard"]);
    expect(tablesOf(grouped("price", "median"))).toEqual(["crate"]);
    expect(tablesOf({ ...joined, joins: [toYard, { ...toYard, id: "z" }] })).toEqual(["crate", "yard"]);
  });
  it("a link between decimals of one scale", () => expect(tablesOf(joined, scaled(2, 2))).toEqual(["crate", "yard"]));
  it("what has values that do not fit, which stand beside their reading", () => {
    expect(tablesOf(crates, withColumn("crate", "mark", { misfits: 2 }))).toEqual(["crate"]);
  });
  it.each<[string, QuerySpec, Schema?]>([
    ["a floating figure", grouped("ratio", "total")],
    ["the first rows of each", { ...crates, firstOf: { rows: 2, per: ["mark"] } }],
    [
      "a function of the machine's library",
      { ...crates, columns: [id, { id: "f", value: { kind: "formula", text: "CASE WHEN SQRT(price) > 3 THEN 1 ELSE 0 END" } }] },
    ],
    ["a floating number as text", { ...crates, columns: [id, { id: "f", value: { kind: "formula", text: "CAST(ratio AS TEXT)" } }] }],
    ["a view", crates, withTable("crate", { view: true })],
    ["a link over values that do not fit", joined, withColumn("crate", "yard_id", { misfits: 1 })],
    ["… on its other side", joined, withColumn("yard", "id", { misfits: 1 })],
    ["a link between columns of two kinds", joined, withColumn("crate", "yard_id", { type: text })],
    ["a link between two scales", joined, scaled(2, 1)],
    ["a link between decimals that lie otherwise", joined, withColumn("crate", "yard_id", { type: decimal(2), storage: "real" }, scaled(2, 2))],
  ])("but not %s", (_, spec, more) => expect(tablesOf(spec, more)).toBeNull());
});

describe("tables are copied", () => {
  const sized = (rows: number): Schema => ({
    ...sampleSchema,
    tables: [...sampleSchema.tables.map((t) => ({ ...t, rows })), { name: "v", label: "v", key: [], rows, view: true, columns: [column("a", text)] }],
  });
  it("all but views, once one of them is large", () => {
    expect(tablesToCopy(sized(99), 100)).toEqual([]);
    expect(tablesToCopy(sized(100), 100).map((t) => t.name)).toEqual(["yard", "crate", "stamp"]);
  });
  it("as of a moment: those large ones that were chosen, and all smaller ones beside them", () => {
    const schema = withTable("yard", { rows: 99 }, sized(100));
    const copied = (chosen: string[], of = schema) => tablesToCopyAsOf(of, chosen, 100).map((t) => t.name);
    expect(copied(["crate"])).toEqual(["yard", "crate"]);
    expect([copied([]), copied(["yard"]), copied(["v"]), copied(["gone"])]).toEqual([[], [], [], []]);
    expect(copied(["crate", "stamp"])).toEqual(["yard", "crate", "stamp"]);
  });
});

describe("as of an earlier moment", () => {
  const large = withTable("crate", { rows: 100 });
  const byYard: QuerySpec = {
    ...joined,
    grouped: true,
    columns: [
      { id: "y", value: field("name", "y") },
      { id: "n", value: null, figure: "count" },
    ],
  };
  const asOf = (specs: QuerySpec[], chosen: string[], schema = large) =>
    tablesAsOf(
      specs.map((spec) => planOf(spec, schema)),
      chosen,
      100,
    )?.map((t) => t.name) ?? null;
  it("groups of a large table are read that was chosen, with the smaller tables they need", () => {
    expect(asOf([byYard], ["crate"])).toEqual(["crate", "yard"]);
    // The names of a pivot's headings are read beside its groups.
    expect(asOf([byYard, crates], ["crate"])).toEqual(["crate", "yard"]);
  });
  it.each<[string, QuerySpec[], string[], Schema?]>([
    ["rows one by one", [joined], ["crate"]],
    ["a table that was not chosen", [byYard], ["stamp"]],
    ["a large table beside it that was not", [byYard], ["crate"], withTable("yard", { rows: 100 }, large)],
    ["small tables alone", [byYard], ["crate"], withTable("crate", { rows: 99 })],
    ["what the copy might answer otherwise", [grouped("ratio", "total")], ["crate"]],
  ])("but not %s", (_, specs, chosen, schema) => expect(asOf(specs, chosen, schema)).toBeNull());
});
