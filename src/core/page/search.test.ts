import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { OPERATOR_NAMES } from "../query/choices";
import { compileRows } from "../query/compile";
import { sqlite } from "../query/dialect/sqlite";
import { emptyQuery } from "../query/empty";
import type { QuerySpec } from "../query/spec";
import { usualDay } from "../types/calendar";
import { type Asked, askedSchema } from "./asked";
import { firstField, firstSearch, planSearch } from "./search";
import { pageSpecSchema, type SearchSpec } from "./spec";

const context = { today: usualDay("2026-11-23") };
const field = (column: string) => ({ kind: "field" as const, join: "", column });
const query: QuerySpec = {
  ...emptyQuery("crate"),
  columns: ["mark", "day", "price", "pieces", "sealed"].map((c) => ({ id: c, value: field(c) })),
  conditions: [{ id: "p", left: field("pieces"), operator: "atLeast", values: [{ kind: "parameter", name: "least" }] }],
  parameters: [{ name: "least", type: "whole", default: { kind: "fixed", text: "1" } }],
  order: [{ column: "price", direction: "down" }],
};
const search: SearchSpec = {
  kind: "search",
  query: "q",
  fields: [
    { kind: "column", column: "mark", label: "Mark", input: "typed", operators: ["contains", "is"] },
    { kind: "column", column: "day", label: "Day", input: "range", operators: [] },
    { kind: "column", column: "mark", label: "Marks", input: "several", operators: [] },
    { kind: "parameter", name: "least", label: "At least" },
  ],
  columns: ["mark", "day"],
  perPage: 20,
  sortable: true,
  atOnce: true,
  details: { columns: ["mark"], panels: [] },
  changes: null,
};
const plan = (asked: Partial<Asked>, of = search) => {
  const made = planSearch(of, query, sampleSchema, context, askedSchema.parse(asked));
  if (!made.ok) throw new Error(JSON.stringify(made.problems));
  return made.value;
};
const literals = (asked: Partial<Asked>) => compileRows(plan(asked).plan, sqlite).values.map((v) => v.value);

describe("what a visitor asks of a page", () => {
  it("shows the chosen columns, and keeps the key and the order hidden behind them", () => {
    const { plan: p, columns, key, asked } = plan({});
    expect(columns.map((c) => c.id)).toEqual(["mark", "day"]);
    expect(p.columns.map((c) => c.hidden)).toEqual([false, false, true, true]);
    expect([key, asked]).toEqual([[2], false]);
  });
  it("becomes a condition for each field that is filled in", () => {
    const values = (texts: string[], operator?: "is") => ({ values: texts, ...(operator ? { operator } : {}) });
    expect(plan({ fields: [values(["app"])] }).plan.conditions.map((c) => c.id)).toEqual(["asked 0"]);
    expect(literals({ fields: [values(["app"])] })).toContain("app");
    expect(plan({ fields: [values([" "]), values(["", ""]), values([])] }).plan.conditions).toEqual([]);
    expect(literals({ fields: [values([]), values(["2024-01-01", "2024-12-31"])] })).toEqual(expect.arrayContaining(["2024-01-01", "2024-12-31"]));
    expect(plan({ fields: [values([]), values(["", "2024-12-31"])] }).plan.conditions).toHaveLength(1);
    expect(literals({ fields: [values([]), values([]), values(["apple", "zebra"])] })).toEqual(expect.arrayContaining(["apple", "zebra"]));
    expect(literals({ fields: [values([]), values([]), values([]), values(["7"])] })).toContain("7");
    expect(literals({})).toContain("1");
  });
  it("is told which field cannot be read", () => {
    const made = planSearch(search, query, sampleSchema, context, askedSchema.parse({ fields: [{ values: [] }, { values: ["soon", ""] }] }));
    expect(made.ok ? [] : made.problems.map((p) => [p.code, p.path])).toEqual([["valueType", ["fields", 1]]]);
  });
  it("makes no comparison that is not offered, and orders by no column that is not shown", () => {
    const not = (operator: Asked["fields"][number]["operator"]) => plan({ fields: [{ operator, values: ["a"] }] }).plan.conditions[0]?.expr;
    expect(not("notContains")).toEqual(not("contains"));
    expect(plan({ sort: { column: "price", direction: "up" } }).plan.order).toEqual([{ column: "order 0", direction: "down" }]);
    expect(plan({ sort: { column: "day", direction: "up" } }).plan.order[0]).toEqual({ column: "day", direction: "up" });
    expect(plan({ sort: { column: "day", direction: "up" } }, { ...search, sortable: false }).plan.order[0]).toEqual({ column: "order 0", direction: "down" });
  });
  it("never reaches another column, and never fewer conditions than the page's own, whatever is sent", () => {
    const words = fc.oneof(fc.string(), fc.constantFrom("apple", "2024-01-01", "price", "'; --", "%", "7"));
    const anything = fc.record({
      fields: fc.array(fc.record({ operator: fc.constantFrom(...OPERATOR_NAMES), values: fc.array(words, { maxLength: 4 }) }), { maxLength: 6 }),
      sort: fc.option(
        fc.record({
          column: fc.oneof(words, fc.constantFrom("price", "pieces", "id", "folio key 0", "order 0")),
          direction: fc.constantFrom("up" as const, "down" as const),
        }),
      ),
    });
    fc.assert(
      fc.property(anything, (asked) => {
        const parsed = askedSchema.safeParse(asked);
        const made = parsed.success ? planSearch(search, query, sampleSchema, context, parsed.data) : null;
        if (!made?.ok) return;
        expect(made.value.columns.map((c) => c.id)).toEqual(["mark", "day"]);
        expect(made.value.plan.source.query?.conditions).toHaveLength(1);
        for (const { column } of made.value.plan.order) expect(["mark", "day", "order 0"]).toContain(column);
      }),
      { numRuns: 300, seed: 20261123 },
    );
  });
  it("begins with a form that fits the columns", () => {
    const inner = plan({}).plan.source.query;
    const first = firstSearch("q", query, inner?.columns.filter((c) => !c.hidden) ?? [], sampleSchema);
    expect(first.fields.map((f) => (f.kind === "column" ? [f.column, f.input] : f.name))).toEqual(["least", ["mark", "typed"], ["day", "range"]]);
    expect(firstField({ id: "s", heading: "Sealed", type: { kind: "yesno" } })).toMatchObject({ input: "choice" });
    expect(first.details?.columns).toContain("mark");
  });
});

it("a page names sites by scheme and host alone", () => {
  const page = { version: 1, title: "", intro: "", subject: search, open: true, ends: null };
  const takes = (site: string) => pageSpecSchema.safeParse({ ...page, embed: [site] }).success;
  expect(["https://a.example", "http://localhost:3000"].every(takes)).toBe(true);
  expect(["*", "https://a.example/x", "https://a.example; script-src *", "javascript:alert(1)", "https://a.example\nx"].some(takes)).toBe(false);
});

it("keeps the order of a query that is sorted by the names of rows, which it does not show", () => {
  const named: QuerySpec = {
    ...query,
    columns: [...query.columns, { id: "yard", value: field("yard_id") }],
    order: [{ column: "yard", direction: "up" }],
  };
  const made = planSearch(search, named, sampleSchema, context, askedSchema.parse({}));
  if (!made.ok) throw new Error(JSON.stringify(made.problems));
  expect(made.value.plan.order.length).toBeGreaterThanOrEqual(2);
  expect(() => compileRows(made.value.plan, sqlite)).not.toThrow();
});
