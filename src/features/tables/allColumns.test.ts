import { expect, it } from "vitest";
import { findTable, type Table } from "@/core/schema/schema";
import { sampleSchema } from "../../../test/support/sample";
import { allColumns } from "./allColumns";

const crate = findTable(sampleSchema, "crate") as Table;
const ids = (first?: string[]) => allColumns(crate, [], first).columns.map((c) => c.id);

it("has each column once, those that are made or changed first", () => {
  expect(ids()).toEqual(crate.columns.map((c) => c.name));
  expect(ids(["price", "mark"]).slice(0, 3)).toEqual(["price", "mark", "id"]);
  // A new field is both what is changed and what it is called today.
  expect(ids(["price", "price"])).toEqual(["price", ...crate.columns.map((c) => c.name).filter((n) => n !== "price")]);
  expect(ids(["gone"])).toEqual(ids());
});
