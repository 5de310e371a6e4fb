import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { briefText, comparisonWords, queryBrief } from "../brief/brief";
import type { Expr } from "../expression/expr";
import { findTable, type LinkOperator } from "../schema/schema";
import { usualDay } from "../types/calendar";
import { compileRows } from "./compile";
import { comparisonsIn } from "./conditions";
import { sqlite } from "./dialect/sqlite";
import * as edit from "./edit";
import { setWay } from "./editJoins";
import { sortBy } from "./editOrder";
import { emptyQuery } from "./empty";
import { compileFooting } from "./footing";
import { readableSql } from "./readableSql";
import { resolveQuery } from "./resolve";
import type { QuerySpec } from "./spec";

const step = { link: "crate.yard_id", toward: "b" as const };
const field = (column: string, join = "") => ({ kind: "field" as const, join, column });
const resolve = (spec: QuerySpec, values = {}, schema = sampleSchema) => resolveQuery(spec, schema, { today: usualDay("2026-11-23"), values });
const codes = (spec: QuerySpec, values = {}, schema = sampleSchema) => {
  const resolved = resolve(spec, values, schema);
  return resolved.ok ? [] : resolved.problems.map((p) => `${p.code} ${p.path.join(".")}`);
};
const crates: QuerySpec = { ...emptyQuery("crate"), columns: [{ id: "c1", value: field("price") }] };
const locale = { locale: "en-GB", zone: "UTC" };

describe("resolving a description", () => {
  it("tells every problem at once, with its place", () => {
    const spec: QuerySpec = {
      ...crates,
      columns: [
        ...crates.columns,
        { id: "x", value: field("gone") },
        { id: "y", value: field("name", "nowhere") },
        { id: "z", value: field("mark"), figure: "total" },
      ],
      conditions: [
        { id: "a", left: field("day"), operator: "is", values: [{ kind: "value", text: "30 February" }] },
        { id: "b", left: field("price"), operator: "contains", values: [{ kind: "value", text: "1" }] },
        { id: "c", left: field("pieces"), operator: "is", values: [{ kind: "parameter", name: "none" }] },
        { id: "d", left: field("mark"), operator: "is", values: [{ kind: "value", text: "" }] },
      ],
      order: [{ column: "lost", direction: "up" }],
      limit: 0,
    };
    expect(codes(spec)).toEqual([
      "valueType conditions.0.values.0",
      "operatorType conditions.1.operator",
      "parameterGone conditions.2.values.0",
      "valueMissing conditions.3.values.0",
      "columnGone columns.1.value",
      "joinGone columns.2.value",
      "figureNeedsGroup columns.3",
      "orderGone order.0",
      "limitRange limit",
    ]);
  });
  it("keeps a description whose table or link went, and says which", () => {
    expect(codes({ ...crates, source: "lost" })).toEqual(["tableGone source"]);
    const brought = edit.toggleColumn(crates, sampleSchema, [step], "name");
    expect(codes(brought, {}, { ...sampleSchema, links: [] })).toEqual(["linkGone joins.0", "joinGone columns.1.value"]);
    expect(briefText(queryBrief(brought, { ...sampleSchema, links: [] }, locale))).toContain("a missing table");
  });
  it("checks parameters: missing, of the wrong kind, not among the choices; drops conditions of optional ones left empty", () => {
    const spec: QuerySpec = {
      ...crates,
      conditions: [{ id: "a", left: field("price"), operator: "atLeast", values: [{ kind: "parameter", name: "least" }] }],
      parameters: [{ name: "least", type: "decimal" }],
    };
    expect(codes(spec)).toEqual(["parameterMissing parameters.0"]);
    expect(codes(spec, { least: "twelve" })[0]).toBe("valueType parameters.0");
    expect(codes({ ...spec, parameters: [{ name: "least", type: "date" }] }, { least: "2026-01-01" })).toEqual(["parameterType conditions.0.values.0"]);
    expect(codes({ ...spec, parameters: [{ name: "least", type: "choice", choices: ["1"] }] }, { least: "2" })[0]).toBe("parameterChoice parameters.0");
    const optional = resolve({ ...spec, parameters: [{ name: "least", type: "decimal", optional: true }] });
    expect(optional.ok && optional.value.conditions).toEqual([]);
  });
  it("has the unit of its field where a figure is an amount of it, and none where it counts", () => {
    const priced = {
      ...sampleSchema,
      tables: sampleSchema.tables.map((t) => ({ ...t, columns: t.columns.map((c) => (c.name === "price" ? { ...c, unit: "EUR" } : c)) })),
    };
    const figures = ["total", "average", "median", "least", "greatest", "count", "countDifferent"] as const;
    const made = resolve(
      { ...emptyQuery("crate"), grouped: true, columns: figures.map((figure) => ({ id: figure, value: field("price"), figure })) },
      {},
      priced,
    );
    const units = made.ok ? made.value.columns.map((c) => c.unit) : [];
    expect(units).toEqual(["EUR", "EUR", "EUR", "EUR", "EUR", undefined, undefined]);
  });
  it("keeps the end of a range that is given, and refuses a range the wrong way round", () => {
    const named = (name: string) => ({ kind: "parameter" as const, name });
    const spec = (operator: "between" | "notBetween"): QuerySpec => ({
      ...crates,
      conditions: [{ id: "a", left: field("pieces"), operator, values: [named("low"), named("high")] }],
      parameters: ["low", "high"].map((name) => ({ name, type: "whole" as const, optional: true })),
    });
    const calls = (operator: "between" | "notBetween", values: Record<string, string>) => {
      const made = resolve(spec(operator), values);
      const names = (e: Expr): string[] => (e.node === "call" ? [e.fn, ...e.args.flatMap(names)] : e.node === "literal" ? [String(e.value)] : []);
      return made.ok ? made.value.conditions.map((c) => names(c.expr).join(" ")) : made.problems.map((p) => p.code);
    };
    expect(calls("between", { low: "3", high: "9" })).toEqual(["between 3 9"]);
    expect(calls("between", { low: "3" })).toEqual(["atLeast 3"]);
    expect(calls("between", { high: "9" })).toEqual(["atMost 9"]);
    expect(calls("notBetween", { low: "3" })).toEqual(["not isTrue atLeast 3"]);
    expect(calls("between", {})).toEqual([]);
    expect(calls("between", { low: "9", high: "3" })).toEqual(["rangeTurned"]);
    expect(calls("between", { low: "3", high: "3" })).toEqual(["between 3 3"]);
  });
  it("never lets a typed text reach the SQL", () => {
    const nasty = `x'); DROP TABLE crate; --`;
    const spec: QuerySpec = {
      ...crates,
      columns: [...crates.columns, { id: "f", value: { kind: "formula", text: `mark || '${nasty.replaceAll("'", "''")}'` } }],
      conditions: [{ id: "a", left: field("mark"), operator: "contains", values: [{ kind: "value", text: nasty }] }],
    };
    const resolved = resolve(spec);
    if (!resolved.ok) throw new Error("should resolve");
    const sql = compileRows(resolved.value, sqlite);
    expect(sql.text).not.toContain("DROP");
    expect(sql.values.map((v) => v.value)).toContain(nasty);
  });
  it("adds up what adds up, and leaves keys and links alone", () => {
    const spec = { ...crates, columns: edit.firstColumns(sampleSchema, "crate").concat([{ id: "key", value: field("yard_id") }]) };
    const resolved = resolve(spec);
    expect(resolved.ok && resolved.value.columns.filter((c) => c.totalled).map((c) => c.heading)).toEqual(["Price", "Mass", "Pieces", "Ratio"]);
    const percent = { id: "x", value: { kind: "formula" as const, text: "price / 100" }, label: "Part" };
    const totalled = (format?: { percent: boolean }, more: object = {}) => {
      const made = resolve({ ...emptyQuery("crate"), columns: [{ ...percent, ...(format ? { format } : {}), ...more }] });
      return made.ok && made.value.columns[0]?.totalled;
    };
    expect([totalled(), totalled({ percent: true }), totalled({ percent: true }, { footing: "total" })]).toEqual([true, false, true]);
    expect(resolved.ok && compileFooting(resolved.value, sqlite).totals).toHaveLength(4);
  });
  it("counts what does not fit of each column that has some, of a sampled one only for its total", () => {
    const tables = sampleSchema.tables.map((table) => ({
      ...table,
      columns: table.columns.map((c) => ({ ...c, ...(["price", "mark", "name"].includes(c.name) ? { sampled: true as const } : { misfits: 2 }) })),
    }));
    const columns = ["price", "mark", "mass"].map((name) => ({ id: name, value: field(name) }));
    const spec = edit.toggleColumn({ ...emptyQuery("crate"), columns }, { ...sampleSchema, tables }, [step], "name");
    const made = resolve(spec, {}, { ...sampleSchema, tables });
    if (!made.ok) throw new Error("should resolve");
    expect(compileFooting(made.value, sqlite).misfits).toEqual(["price", "mass"]);
  });
});

describe("changing a description", () => {
  it("brings a table for its first column and lets it go with its last", () => {
    const ticked = edit.toggleColumn(crates, sampleSchema, [step], "name");
    expect(ticked.joins).toEqual([{ id: "j1", from: "", ...step, way: "keep" }]);
    expect(edit.isTicked(ticked, [step], "name")).toBe(true);
    expect(edit.toggleColumn(ticked, sampleSchema, [step], "name")).toEqual(crates);
    const filtering = setWay(ticked, "j1", "only");
    expect(edit.toggleColumn(filtering, sampleSchema, [step], "name").joins, "a join that leaves rows out stays").toHaveLength(1);
  });
  it("groups and ungroups, turning numbers into totals and back", () => {
    const grouped = edit.groupBy(crates, sampleSchema, field("mark"));
    expect(grouped.columns.map((c) => c.figure ?? "key")).toEqual(["key", "count", "total"]);
    expect(edit.ungroup(grouped, sampleSchema).columns.every((c) => c.figure === undefined)).toBe(true);
    expect(codes(grouped)).toEqual([]);
  });
  it("sorts by a heading up, down and not at all", () => {
    const up = sortBy(crates, "c1");
    const down = sortBy(up, "c1");
    expect([up.order, down.order, sortBy(down, "c1").order]).toEqual([[{ column: "c1", direction: "up" }], [{ column: "c1", direction: "down" }], []]);
  });
  it("keeps a condition's values only where the new field and comparison have use for them", () => {
    const { spec, id } = edit.addCondition(crates, sampleSchema, field("day"));
    const filled = edit.changeCondition(spec, id, {
      values: [
        { kind: "value", text: "2026-01-01" },
        { kind: "value", text: "2026-02-01" },
      ],
    });
    expect(comparisonsIn(edit.changeOperator(filled, id, "atLeast").conditions)[0]?.values).toEqual([{ kind: "value", text: "2026-01-01" }]);
    expect(edit.changeConditionField(filled, sampleSchema, id, field("at")).conditions[0]).toMatchObject({
      operator: "between",
      values: [{ text: "" }, { text: "" }],
    });
    expect(comparisonsIn(edit.changeConditionField(filled, sampleSchema, id, field("sealed")).conditions)[0]?.operator).toBe("is");
    expect(edit.removeJoin(edit.toggleColumn(crates, sampleSchema, [step], "name"), "j1")).toEqual(crates);
  });
});

describe("the brief", () => {
  it("says the whole description as one plain sentence", () => {
    let spec = edit.toggleColumn(crates, sampleSchema, [step], "name");
    spec = {
      ...spec,
      conditions: [
        {
          id: "a",
          left: field("day"),
          operator: "between",
          values: [
            { kind: "parameter", name: "start" },
            { kind: "value", text: "2026-09-30" },
          ],
        },
        { id: "b", left: field("mark"), operator: "isNot", values: [{ kind: "value", text: "void" }] },
      ],
    };
    spec = { ...sortBy(sortBy(spec, "c1"), "c1"), limit: 10 };
    expect(briefText(queryBrief(spec, sampleSchema, locale)).trim()).toBe(
      "From crate, with yard (if any), where day is from start to 30 Sept 2026 and mark is not void (or is empty). Show 2 columns, sorted by price (largest first). First 10 rows only.",
    );
  });
  it("says groups and figures", () => {
    const spec = edit.groupBy(crates, sampleSchema, { ...field("day"), part: "month" });
    expect(briefText(queryBrief(spec, sampleSchema, locale)).trim()).toBe("From crate. One row per month of day: count of rows, total of price.");
  });
});

describe("what a person reads of a query", () => {
  it("is its SQL under its headings, which is copied with each value in its place", () => {
    const spec: QuerySpec = {
      ...emptyQuery("crate"),
      columns: [{ id: "c1", value: field("price"), label: 'Price "net"' }],
      conditions: [
        { id: "a", left: field("mark"), operator: "is", values: [{ kind: "value", text: "O'Neill" }] },
        { id: "b", left: field("price"), operator: "atLeast", values: [{ kind: "value", text: "12.5" }] },
        { id: "c", left: field("pieces"), operator: "is", values: [{ kind: "person" }] },
        { id: "d", left: field("sealed"), operator: "is", values: [{ kind: "value", text: "yes" }] },
      ],
      limit: 3,
    };
    const shown = (person?: string) => {
      const resolved = resolveQuery(spec, sampleSchema, { today: usualDay("2026-11-23"), values: {}, person });
      if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
      return readableSql(resolved.value, sqlite);
    };
    const { text, values, written } = shown("7");
    expect(text).toContain('ROUND("crate"."price" / 1e2, 2) AS "Price ""net"""');
    expect(text).not.toContain("O'Neill");
    expect(values.map((v) => v.value)).toEqual(["O'Neill", "1250", "7", "1"]);
    expect(written).toContain("= 'O''Neill'");
    expect(written).toContain('"crate"."price" >= 1250');
    expect(written).toContain('"crate"."pieces" = 7');
    expect(written).not.toMatch(/@p\d/);
    expect(written.endsWith("LIMIT 3;")).toBe(true);
    expect(shown("Ines").written).toContain('"crate"."pieces" = NULL');
  });
  it("says how a table is brought by each of the link's comparisons", () => {
    const [yard, crate] = [findTable(sampleSchema, "yard"), findTable(sampleSchema, "crate")];
    const words = (near: string, operator: LinkOperator, far: string) => comparisonWords({ near, operator, far }, crate, yard);
    expect(words("yard_id", "is", "id")).toBe("yard_id = yard.id");
    expect(words("day", "atLeast", "opened")).toBe("day is on or after yard.opened");
    expect(words("price", "less", "rent")).toBe("price is less than yard.rent");
    expect(comparisonWords({ near: "price", operator: "isNot", far: "gone" }, crate, undefined)).toBe("price is not gone");
  });
});
