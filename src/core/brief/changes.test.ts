import { expect, test } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { emptyQuery } from "../query/empty";
import type { QuerySpec } from "../query/spec";
import { phraseOfProblem } from "./brief";
import { changesInWords } from "./changes";

const field = (column: string) => ({ kind: "field" as const, join: "", column });
const locale = { locale: "en-GB", zone: "UTC" };
const spec: QuerySpec = {
  ...emptyQuery("crate"),
  columns: [{ id: "m", value: field("mark") }],
  conditions: [{ id: "w", left: field("mark"), operator: "is", values: [{ kind: "value", text: "a" }] }],
};
const changes = (after: Partial<QuerySpec>, name = "Crates") =>
  changesInWords("query", { name: "Crates", spec }, { name, spec: { ...spec, ...after } }, sampleSchema, locale, () => undefined);

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
  const after = { id: "l", left: { kind: "column" as const, id: "m" }, operator: "is" as const, values: [{ kind: "value" as const, text: "" }] };
  expect(changes({ lineConditions: [after] })).toEqual(["Added: then only those where mark is …"]);
  const open = { code: "valueMissing" as const, path: ["lineConditions", 0, "values", 0], detail: {} };
  expect(phraseOfProblem(open, { ...spec, lineConditions: [after] })).toBe("value l 0");
  expect(changes({ source: "yard", columns: [], conditions: [] })[0]).toBe("Removed: From crate");
  expect(changes({ frozen: 1 })).toEqual(["Changed how columns are shown or totalled"]);
  expect(changes({}, "Boxes")).toEqual(["Renamed from “Crates”"]);
  expect(changes({})).toEqual([]);
});

const names: Record<string, string> = { q1: "Freight by month", q2: "Freight by island", c3: "Freight" };
const of = (before: unknown, after: unknown) =>
  changesInWords("report", { name: "R", spec: before }, { name: "R", spec: after }, sampleSchema, locale, (id) => names[id]);

test("of anything else each value that is another is told, by the names of what it names", () => {
  expect(of({ query: "q1", page: { paper: "A4", landscape: false } }, { query: "q2", page: { paper: "Letter", landscape: true } })).toEqual([
    "Query: Freight by month → Freight by island",
    "Page › paper: A4 → Letter",
    "Page › landscape: no → yes",
  ]);
  expect(of({ version: 1, header: "", details: true }, { version: 2, header: "Agents", since: "x" })).toEqual(["Header: none → Agents", "Details: yes → none"]);
  expect(of({ a: 1 }, { a: 1 })).toEqual([]);
});

test("items of lists are told that came, went, changed or moved", () => {
  const tile = (id: string, title: string, more: object = {}) => ({ id, title, kind: "figure", ...more });
  expect(
    of(
      { tiles: [tile("a", "Freight"), tile("b", "Weight"), tile("c", "Late")] },
      { tiles: [tile("c", "Late"), tile("a", "Freight", { note: "net" }), tile("d", "New")] },
    ),
  ).toEqual(["Removed from tiles: Weight", "Added to tiles: New", "Tiles › Freight › note: none → net", "Tiles: in another order"]);
  expect(of({ columns: [{ column: "c3", widthMm: 20 }] }, { columns: [{ column: "c3", widthMm: null }, { column: "c4" }] })).toEqual([
    "Added to columns: c4",
    "Columns › Freight › width mm: 20 → none",
  ]);
  expect(of({ formats: ["csv"] }, { formats: ["xlsx"], closing: [{ kind: "pivot", id: "q1" }] })).toEqual([
    "Removed from formats: csv",
    "Added to formats: xlsx",
    "Added to closing: Freight by month",
  ]);
});

test("of a letter the text that came and went is told, long texts shortened, many changes counted", () => {
  const says = (...texts: string[]) => ({ body: { type: "doc", content: texts.map((text) => ({ type: "paragraph", content: [{ type: "text", text }] })) } });
  expect(of(says("Dear agent,", "x"), says("Dear all,", "x"))).toEqual(["Removed from body: Dear agent,", "Added to body: Dear all,"]);
  expect(of(says(), says("a".repeat(80)))).toEqual([`Added to body: ${"a".repeat(59)}…`]);
  const many = Object.fromEntries(Array.from({ length: 20 }, (_, i) => [`k${i}`, i]));
  expect(of({}, many)).toHaveLength(13);
  expect(of({}, many).at(-1)).toBe("and 8 more");
});

test("the query that a description holds is told by its sentence", () => {
  expect(of({ query: spec, step: "a" }, { query: { ...spec, limit: 5 }, step: "b" })).toEqual(["Added: first 5 rows", "Step: a → b"]);
});
