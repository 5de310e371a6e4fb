import { expect, test } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { emptyQuery } from "../query/empty";
import type { QuerySpec } from "../query/spec";
import { changesInWords } from "./changes";

const field = (column: string) => ({ kind: "field" as const, join: "", column });
const locale = { locale: "en-GB", zone: "UTC" };
const spec: QuerySpec = {
  ...emptyQuery("crate"),
  columns: [{ id: "m", value: field("mark") }],
  conditions: [{ id: "w", left: field("mark"), operator: "is", values: [{ kind: "value", text: "a" }] }],
};
const changes = (after: Partial<QuerySpec>, name = "Crates") =>
  changesInWords("query", { name: "Crates", spec }, { name, spec: { ...spec, ...after } }, sampleSchema, locale);

test("a query's changes are told in the words of its sentence", () => {
  expect(changes({ conditions: [{ ...(spec.conditions[0] as never as object), operator: "isNot" } as never] })).toEqual([
    "Removed: where mark is a",
    "Added: where mark is not a (or is empty)",
  ]);
  expect(changes({ columns: [...spec.columns, { id: "p", value: field("price") }], order: [{ column: "m", direction: "down" }], limit: 5 })).toEqual([
    "Added: column price",
    "Added: sorted by mark, descending",
    "Added: first 5 rows",
  ]);
  expect(changes({ source: "yard", columns: [], conditions: [] })[0]).toBe("Removed: From crate");
  expect(changes({ frozen: 1 })).toEqual(["Changed how columns are shown or totalled"]);
  expect(changes({}, "Boxes")).toEqual(["Renamed from “Crates”"]);
  expect(changes({})).toEqual([]);
});

test("of anything else the parts that differ are named", () => {
  const of = (before: unknown, after: unknown) => changesInWords("report", { name: "R", spec: before }, { name: "R", spec: after }, sampleSchema, locale);
  expect(of({ groups: [1], pageSize: "A4" }, { groups: [2], pageSize: "A5", extra: 1 })).toEqual(["Changed: groups, page size, extra"]);
  expect(of({ a: 1 }, { a: 1 })).toEqual([]);
});
