import { describe, expect, it } from "vitest";
import { context } from "../../../test/support/printed";
import { sampleSchema } from "../../../test/support/sample";
import { emptyQuery } from "../query/empty";
import type { QuerySpec } from "../query/spec";
import { isUnfiltered, itemsOf, type NarrowedBy, narrowTo, planEach } from "./each";
import type { EachSpec } from "./eachSpec";

const field = (column: string) => ({ kind: "field" as const, join: "", column });
const list: QuerySpec = { ...emptyQuery("crate"), columns: ["mark", "price"].map((c) => ({ id: c, value: field(c) })) };
const each: EachSpec = { query: "q", match: [{ from: "price", to: { kind: "column", column: "price" } }], fileName: "", to: "mark", skipEmpty: false };
const locale = { locale: "en-GB", zone: "UTC" };

/** @param rows the value each is made for, and its address */
function items(rows: (string | null)[][], spec: EachSpec = each) {
  const planned = planEach(spec, { query: list, filters: [] }, list, sampleSchema, context);
  if (!planned.ok) throw new Error(JSON.stringify(planned.problems));
  const { plan, match, to } = planned.value;
  const cells = rows.map(([value = null, address = null]) => plan.columns.map((_, at) => (at === match[0] ? value : at === to ? address : null)));
  return itemsOf(planned.value, cells, locale);
}

describe("the list of what something is made once for", () => {
  it("has each value once, named by its first row, and files of names that differ in more than capitals", () => {
    const made = items([
      ["150", "a@isle.example"],
      ["150", "b@isle.example"],
      [null, "c@isle.example"],
    ]);
    expect(made.map((i) => [i.values, i.to, i.fileName])).toEqual([
      [["1.50"], "a@isle.example", "1.50"],
      [[null], "c@isle.example", "(empty)"],
    ]);
    const byMark: EachSpec = { ...each, match: [{ from: "mark", to: { kind: "column", column: "mark" } }], to: null };
    expect(items([["Pell"], ["PELL"], ["pell"]], byMark).map((i) => i.fileName)).toEqual(["Pell", "PELL (2)", "pell (3)"]);
  });

  it("tells what is wrong with an address", () => {
    const wrong = (address: string | null) => items([["1", address]])[0]?.wrong;
    expect(wrong("a@isle.example")).toBeNull();
    expect(wrong(null)).toBe("");
    expect(wrong("a@isle.example, b@isle.example")).toMatch(/more than one address/);
    expect(wrong("a@isle.example;b@isle.example")).toMatch(/more than one address/);
    expect(wrong("a@isle.example\nBcc: b@isle.example")).toMatch(/line break/);
    expect(wrong("isle")).toMatch(/isle/);
  });

  it("keeps a query to one of them: by its value, by its being empty, or by a parameter", () => {
    const kept = (value: string | null, spec = each) => narrowTo(spec, { values: [value] }, list);
    expect(kept("1.50").query.conditions).toEqual([{ id: "each 0", left: field("price"), operator: "is", values: [{ kind: "value", text: "1.50" }] }]);
    expect(kept(null).query.conditions).toEqual([{ id: "each 0", left: field("price"), operator: "empty", values: [] }]);
    const asked = kept("1.50", { ...each, match: [{ from: "price", to: { kind: "parameter", name: "least" } }] });
    expect([asked.query, asked.values]).toEqual([list, { least: "1.50" }]);
  });

  it("keeps a dashboard to one of them by a filter; what has no value for it is not shown everything", () => {
    const spec: EachSpec = { ...each, match: [{ from: "mark", to: { kind: "filter", filter: "f" } }] };
    expect(narrowTo(spec, { values: ["Pell"] }, null)).toEqual({ query: null, values: {}, filters: { f: { kind: "set", not: false, values: ["Pell"] } } });
    expect([["Pell"], [null], [""]].map((values) => isUnfiltered(spec, { values }))).toEqual([false, true, true]);
    expect(isUnfiltered(each, { values: [null] })).toBe(false);
  });

  it("is refused where what keeps the subject to one of them is gone: each would get the whole", () => {
    const narrowed = { query: { ...list, parameters: [{ name: "least", type: "decimal" as const }] }, filters: [{ id: "f", label: "mark" }] };
    const codes = (to: EachSpec["match"][number]["to"], by: NarrowedBy = narrowed) => {
      const made = planEach({ ...each, match: [{ from: "price", to }] }, by, list, sampleSchema, context);
      return made.ok ? [] : made.problems.map((p) => p.code);
    };
    expect(codes({ kind: "column", column: "mark" })).toEqual([]);
    expect(codes({ kind: "column", column: "gone" })).toEqual(["eachColumnGone"]);
    expect(codes({ kind: "parameter", name: "Least" })).toEqual([]);
    expect(codes({ kind: "parameter", name: "gone" })).toEqual(["eachParameterGone"]);
    expect(codes({ kind: "filter", filter: "f" })).toEqual([]);
    expect(codes({ kind: "filter", filter: "gone" })).toEqual(["eachFilterGone"]);
    const dashboard = { query: null, filters: narrowed.filters };
    expect(codes({ kind: "column", column: "mark" }, dashboard)).toEqual(["eachColumnGone"]);
    expect(codes({ kind: "parameter", name: "least" }, dashboard)).toEqual(["eachParameterGone"]);
    const alone = planEach(each, dashboard, null, sampleSchema, context);
    expect(!alone.ok && alone.problems.map((p) => p.code)).toEqual(["eachNoList"]);
  });
});
