import { expect, it } from "vitest";
import { text, whole } from "../types/valueType";
import { nameColumn } from "./nameColumn";
import type { Table } from "./schema";

const table = (...labels: string[]): Table => ({
  name: "t",
  label: "t",
  key: ["id"],
  rows: 0,
  columns: labels.map((label) => ({ name: label, label, type: label === "number" ? whole : text, storage: "plain", nullable: true, misfits: 0 })),
});

it("is the column that is called a name, the plainest first; a number or a column called otherwise is none", () => {
  const found = (...labels: string[]) => nameColumn(table(...labels))?.name;
  expect(found("first name", "name", "title")).toBe("name");
  expect(found("note", "last_name", "title")).toBe("title");
  expect(found("note", "last_name", "code")).toBe("last_name");
  expect(found("waybill no", "note")).toBe("waybill no");
  expect(found("number", "surname", "rename")).toBe(undefined);
  expect(found()).toBe(undefined);
});
it("is no derived field, which may not work", () => {
  const derived = table("name");
  derived.columns = derived.columns.map((c) => ({ ...c, derived: { definition: { kind: "formula", text: "1" }, words: "" } }));
  expect(nameColumn(derived)).toBe(undefined);
});
