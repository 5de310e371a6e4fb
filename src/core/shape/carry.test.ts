import { expect, it } from "vitest";
import type { Schema, Table } from "../schema/schema";
import { text } from "../types/valueType";
import { carried } from "./carry";
import type { ShapeNames } from "./shapedSchema";

const table = (name: string, columns: string[], labels: Record<string, string> = {}): Table => ({
  name,
  label: name,
  columns: columns.map((c) => ({ name: c, label: labels[c] ?? c.replaceAll("_", " "), type: text, storage: "plain", nullable: true, misfits: 0 })),
  key: ["id"],
  rows: 1,
});
const end = (of: string, columns: string[]) => ({ table: of, columns, name: of, leadsTo: "one" as const });
const schema: Schema = {
  tables: [table("crate", ["id", "yard_id", "net_fee", "mark"], { mark: "the mark" }), table("yard", ["id", "net_fee", "name"])],
  links: [
    { id: "crate.yard_id", a: end("crate", ["yard_id"]), b: end("yard", ["id"]), madeBy: "key" },
    { id: "made", a: end("crate", ["mark"]), b: end("yard", ["name"]), madeBy: "person" },
  ],
};
const crate: ShapeNames = {
  from: "crate",
  to: "box",
  columns: [
    ["id", "id"],
    ["yard_id", "site"],
    ["net_fee", "price"],
    ["mark", null],
  ],
};
const yard: ShapeNames = {
  from: "yard",
  to: "yard",
  columns: [
    ["net_fee", "rent"],
    ["name", "title"],
    ["id", "id"],
  ],
};
const field = (join: string, column: string) => ({ kind: "field", join, column });
const query = {
  source: "crate",
  joins: [
    { id: "y", from: "", link: "crate.yard_id", toward: "b", way: "keep", where: [{ left: field("y", "net_fee"), values: [field("", "net_fee")] }] },
    { id: "z", from: "", table: "yard", on: [{ left: field("z", "name") }] },
  ],
  columns: [{ value: { kind: "formula", text: 'net_fee * 2 + "net fee" + yard.net_fee' } }, { value: field("", "mark") }],
  conditions: [
    {
      left: { kind: "related", join: "", step: { link: "made", toward: "a" }, column: "net_fee", where: [{ left: field("", "net_fee") }] },
      values: [{ kind: "rows", table: "yard", column: "name" }],
    },
  ],
  parameters: [{ from: { table: "yard", column: "id", shown: "name" } }],
};

it("takes new names along in fields, links, values and formulas, by the tables that are meant", () => {
  expect(carried(query, crate, schema)).toEqual({
    ...query,
    source: "box",
    joins: [{ ...query.joins[0], link: "box.site", where: [{ left: field("y", "net_fee"), values: [field("", "price")] }] }, query.joins[1]],
    columns: [{ value: { kind: "formula", text: "price * 2 + price + yard.net_fee" } }, { value: field("", "mark") }],
    conditions: [{ left: { ...query.conditions[0]?.left, column: "price", where: [{ left: field("", "price") }] }, values: query.conditions[0]?.values }],
  });
  expect(carried(query, yard, schema)).toEqual({
    ...query,
    columns: [{ value: { kind: "formula", text: 'net_fee * 2 + "net fee" + yard.rent' } }, query.columns[1]],
    joins: [
      { ...query.joins[0], where: [{ left: field("y", "rent"), values: [field("", "net_fee")] }] },
      { ...query.joins[1], on: [{ left: field("z", "title") }] },
    ],
    conditions: [{ left: query.conditions[0]?.left, values: [{ kind: "rows", table: "yard", column: "title" }] }],
    parameters: [{ from: { table: "yard", column: "id", shown: "title" } }],
  });
});

it("in derived fields and in queries within other descriptions too; what has the same name elsewhere stays", () => {
  const derived = (definition: object) => ({ version: 1, table: "crate", definition });
  expect(carried(derived({ kind: "formula", text: "net_fee" }), crate, schema)).toEqual({
    version: 1,
    table: "box",
    definition: { kind: "formula", text: "price" },
  });
  const lookup = { kind: "lookup", steps: [{ link: "crate.yard_id", toward: "b" }], column: "net_fee" };
  expect(carried(derived(lookup), crate, schema)).toMatchObject({ definition: { steps: [{ link: "box.site" }], column: "net_fee" } });
  expect(carried(derived(lookup), yard, schema)).toMatchObject({ table: "crate", definition: { column: "rent" } });
  const rollup = {
    kind: "rollup",
    step: { link: "crate.yard_id", toward: "a" },
    query: { source: "crate", joins: [], columns: [{ value: field("", "net_fee") }], conditions: [{ left: field("^", "net_fee") }] },
  };
  const ofYard = { version: 1, table: "yard", definition: rollup };
  expect(carried(ofYard, crate, schema)).toMatchObject({
    definition: { query: { source: "box", columns: [{ value: { column: "price" } }], conditions: [{ left: { column: "net_fee" } }] } },
  });
  expect(carried(ofYard, yard, schema)).toMatchObject({
    definition: { query: { columns: [{ value: { column: "net_fee" } }], conditions: [{ left: { column: "rent" } }] } },
  });
  expect(carried({ kind: "report", column: "net_fee", related: [{ query }] }, crate, schema)).toMatchObject({
    column: "net_fee",
    related: [{ query: { source: "box" } }],
  });
  const pivot = { query: "q", rows: [{ column: "net_fee", join: "" }] };
  expect(carried(pivot, crate, schema)).toEqual(pivot);
});
it("takes new names along in postings: where values go, where they come from, and what rows are looked up and matched by", () => {
  const pair = (column: string, name: string, more: object = {}) => ({ column, value: { kind: "field", name }, ...more });
  const posting = {
    source: { kind: "table", table: "yard" },
    target: "crate",
    same: ["net_fee"],
    pairs: [
      pair("net_fee", "net_fee"),
      pair("yard_id", "name", { found: { link: "crate.yard_id", by: "name" } }),
      { column: "mark", value: { kind: "formula", text: "name || net_fee" } },
    ],
    steps: [{ source: null, target: "yard", same: ["name"], pairs: [pair("name", "name"), pair("id", "net_fee")] }],
  };
  expect(carried(posting, crate, schema)).toEqual({
    ...posting,
    target: "box",
    same: ["price"],
    pairs: [
      pair("price", "net_fee"),
      pair("site", "name", { found: { link: "box.site", by: "name" } }),
      { column: "mark", value: { kind: "formula", text: "name || net_fee" } },
    ],
  });
  expect(carried(posting, yard, schema)).toEqual({
    ...posting,
    pairs: [
      pair("net_fee", "rent"),
      pair("yard_id", "title", { found: { link: "crate.yard_id", by: "title" } }),
      { column: "mark", value: { kind: "formula", text: "title || rent" } },
    ],
    steps: [{ source: null, target: "yard", same: ["title"], pairs: [pair("title", "title"), pair("id", "rent")] }],
  });
});
