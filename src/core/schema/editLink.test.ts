import { expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { addComparison, changeComparison, firstLink, linkOfColumns, removeComparison } from "./editLink";
import { type LinkSpec, linkSpecSchema } from "./linkSpec";
import { findTable, type Table } from "./schema";

const [crate, yard] = ["crate", "yard"].map((name) => findTable(sampleSchema, name) as Table) as [Table, Table];
const said = ({ a, b, operators }: LinkSpec) => operators.map((o, i) => `${a.columns[i]} ${o} ${b.columns[i]}`);

it("a link is offered to the other table's key, each end named", () => {
  const link = firstLink(crate, yard);
  expect([said(link), link.a.name, link.b.name]).toEqual([["id is id"], "crates", "yard"]);
  expect(firstLink(crate, { ...yard, key: [] }).b.columns).toEqual(["id"]);
  expect(linkSpecSchema.safeParse(link).success).toBe(true);
});
it("a link is drawn between columns; what is not said, or is no column there, is as it is first offered", () => {
  expect(said(linkOfColumns(crate, yard, { near: "yard_id", far: "name" }))).toEqual(["yard_id is name"]);
  expect(said(linkOfColumns(crate, yard, { near: "yard_id" }))).toEqual(["yard_id is id"]);
  expect(said(linkOfColumns(crate, yard, { near: "gone", far: undefined }))).toEqual(["id is id"]);
});
it("its comparisons are changed one by one, added and taken away, and are never of different numbers", () => {
  const two = addComparison(changeComparison(firstLink(crate, yard), 0, { near: "yard_id" }), crate, yard);
  const ranged = changeComparison(changeComparison(two, 1, { near: "day", operator: "atLeast" }), 1, { far: "opened" });
  expect(said(ranged)).toEqual(["yard_id is id", "day atLeast opened"]);
  expect(linkSpecSchema.safeParse(ranged).success).toBe(true);
  expect(said(removeComparison(ranged, 0))).toEqual(["day atLeast opened"]);
  expect(removeComparison(firstLink(crate, yard), 0)).toEqual(firstLink(crate, yard));
});
