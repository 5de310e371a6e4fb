import { describe, expect, test } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { emptyQuery } from "../query/empty";
import type { QuerySpec } from "../query/spec";
import { problem } from "../types/problem";
import { type Missing, missingOf, replaceMissing } from "./missing";

const field = (column: string, join = "") => ({ kind: "field" as const, join, column });
const formula = (text: string) => ({ kind: "formula" as const, text });
const crates: QuerySpec = {
  ...emptyQuery("crate"),
  joins: [{ id: "yard", from: "", link: "crate.yard_id", toward: "b", way: "keep" }],
  columns: [
    { id: "mark", value: field("mark") },
    { id: "name", value: field("mark", "yard") },
    { id: "twice", value: formula("cost * 2 || mark || 'cost'") },
  ],
  conditions: [{ id: "g", holds: "any", of: [{ id: "w", left: field("cost"), operator: "atLeast", values: [{ kind: "field", join: "", column: "cost" }] }] }],
};
const gone = (problems = [] as ReturnType<typeof problem>[], ids: string[] = [], kind = "query", spec: unknown = crates) =>
  missingOf({ kind, spec, problems, gone: ids });
const put = (missing: Missing, to: string, spec: unknown = crates, kind = "query") => JSON.stringify(replaceMissing(kind, spec, missing, to, sampleSchema));

describe("what a broken object misses", () => {
  test("is said once: tables, columns by their table, other objects, a field that only a formula names", () => {
    const problems = [
      problem("tableGone", [], { table: "crates" }),
      problem("columnGone", [], { table: "crate", column: "cost" }),
      problem("columnGone", ["columns"], { table: "crate", column: "cost" }),
      problem("unknownField", [], { name: "weight" }),
      problem("linkGone", [], { link: "crate.yard_id" }),
    ];
    expect(gone(problems)).toEqual([
      { what: "table", table: "crates" },
      { what: "column", table: "crate", column: "cost" },
      { what: "column", table: "crate", column: "weight" },
    ]);
  });
  test("is the query, not a table of its name, where a query has gone; and a query's column in what is made from it", () => {
    expect(gone([problem("tableGone", [], { table: "query q" })], ["q"])).toEqual([{ what: "object", id: "q" }]);
    expect(gone([problem("columnGone", [], { table: "row", column: "c3" })], [], "pivot", { query: "q" })).toEqual([
      { what: "column", table: "query q", column: "c3" },
    ]);
  });
});

describe("something in its place", () => {
  test("a table: as a source, joined, compared, put together; its links where the other has such", () => {
    const spec = {
      ...emptyQuery("old"),
      stack: { how: "all", parts: ["old", "crate"] },
      joins: [{ id: "y", from: "", link: "old.yard_id", toward: "b", way: "keep" }],
      columns: [{ id: "old", value: field("old"), label: "old" }],
    };
    expect(JSON.parse(put({ what: "table", table: "old" }, "crate", spec))).toMatchObject({
      source: "crate",
      stack: { parts: ["crate", "crate"] },
      joins: [{ link: "crate.yard_id" }],
      columns: [{ id: "old", value: { column: "old" }, label: "old" }],
    });
    expect(put({ what: "table", table: "old" }, "yard", spec)).toContain('"link":"old.yard_id"');
  });
  test("a column: in fields, values and formulas of its table alone, whatever the case and the strokes", () => {
    const next = put({ what: "column", table: "crate", column: "cost" }, "price");
    expect(next).not.toContain('"cost"');
    expect(next).toContain("price * 2 || mark || 'cost'");
    expect(put({ what: "column", table: "crate", column: "mark" }, "price")).toContain('{"kind":"field","join":"yard","column":"mark"}');
    expect(put({ what: "column", table: "yard", column: "mark" }, "name")).toContain('{"kind":"field","join":"yard","column":"name"}');
    expect(put({ what: "column", table: "yard", column: "mark" }, "name")).toContain('{"kind":"field","join":"","column":"mark"}');
  });
  test("an object: by its id wherever it is named, as a source too; titles that read like it stay", () => {
    const board = { tiles: [{ id: "t", title: "gone", query: "gone" }], of: { source: "query gone", object: "gone" } };
    expect(JSON.parse(put({ what: "object", id: "gone" }, "new", board, "dashboard"))).toEqual({
      tiles: [{ id: "t", title: "gone", query: "new" }],
      of: { source: "query new", object: "new" },
    });
    expect(put({ what: "column", table: "query q", column: "c3" }, "c9", { query: "q", columns: [{ column: "c3" }, { column: "c4" }] }, "report")).toBe(
      '{"query":"q","columns":[{"column":"c9"},{"column":"c4"}]}',
    );
  });
});
