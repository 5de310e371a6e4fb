import { expect, it } from "vitest";
import { text, whole } from "../types/valueType";
import { namedTable, rowNameColumn, tableLedTo } from "./rowNames";
import type { Schema, Table } from "./schema";

const table = (...labels: string[]): Table => ({
  name: "t",
  label: "t",
  key: ["id"],
  rows: 0,
  columns: labels.map((label) => ({ name: label, label, type: label === "number" ? whole : text, storage: "plain", nullable: true, misfits: 0 })),
});

it("is the column that is called a name, the plainest first; a number or a column called otherwise is none", () => {
  const found = (...labels: string[]) => rowNameColumn(table(...labels))?.name;
  expect(found("first name", "name", "title")).toBe("name");
  expect(found("note", "last_name", "title")).toBe("title");
  expect(found("note", "last_name", "code")).toBe("last_name");
  expect(found("waybill no", "note")).toBe("waybill no");
  expect(found("number", "rename")).toBe(undefined);
  expect(found("first name", "middle name", "last name"), "people are called by their family’s name").toBe("last name");
  expect(found()).toBe(undefined);
});
it("is no derived field, which may not work", () => {
  const derived = table("name");
  derived.columns = derived.columns.map((c) => ({ ...c, derived: { definition: { kind: "formula", text: "1" }, words: "" } }));
  expect(rowNameColumn(derived)).toBe(undefined);
});
it("is the one a person chose, or none where they chose none", () => {
  expect(rowNameColumn({ ...table("name", "code"), named: "code" })?.name).toBe("code");
  expect(rowNameColumn({ ...table("name"), named: "" })).toBe(undefined);
  expect(rowNameColumn({ ...table("name"), named: "gone" })).toBe(undefined);
});

it("names the values of a column that holds the key of a row elsewhere", () => {
  const far: Table = { ...table("id", "name"), name: "far", key: ["id"] };
  const near: Table = { ...table("id", "far_id", "other"), name: "near" };
  const end = (of: string, columns: string[], leadsTo: "one" | "many") => ({ table: of, columns, name: of, leadsTo });
  const linked = (columns: [string, string], operators?: ["is" | "less"]): Schema => ({
    tables: [far, near],
    links: [{ id: "l", a: end("near", [columns[0]], "many"), b: end("far", [columns[1]], "one"), operators }],
  });
  expect(tableLedTo(linked(["far_id", "id"]), "near", "far_id")?.name).toBe("far");
  expect(tableLedTo(linked(["far_id", "id"]), "near", "other")).toBe(undefined);
  expect(tableLedTo(linked(["far_id", "id"]), "far", "id"), "many rows have no name").toBe(undefined);
  expect(tableLedTo(linked(["far_id", "name"]), "near", "far_id"), "a column that is no key").toBe(undefined);
  expect(tableLedTo(linked(["far_id", "id"], ["less"]), "near", "far_id")).toBe(undefined);
  expect(namedTable(linked(["far_id", "id"]), "near", "far_id")?.name).toBe("far");
  const nameless = linked(["far_id", "id"]);
  expect(namedTable({ ...nameless, tables: [{ ...far, named: "" }, near] }, "near", "far_id")).toBe(undefined);
});
