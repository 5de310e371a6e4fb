import { describe, expect, it } from "vitest";
import { text, whole } from "../types/valueType";
import { schemaAfterEdit } from "./afterEdit";
import type { Column, Link, Schema, Table } from "./schema";

const column = (name: string, more: Partial<Column> = {}): Column => ({
  name,
  label: name,
  type: name === "id" ? whole : text,
  storage: "plain",
  nullable: true,
  unit: undefined,
  format: undefined,
  note: undefined,
  misfits: 0,
  ...more,
});
const table = (name: string, columns: Column[], more: Partial<Table> = {}): Table => ({ name, label: name, columns, key: ["id"], rows: 10, ...more });
const schemaOf = (tables: Table[], links: Link[] = []): Schema => ({ tables, links, broken: [] });
const crate = (more: Partial<Column> = {}) => table("crate", [column("id"), column("mark", more), column("yard")]);
const yard = table("yard", [column("id"), column("code")]);
const made = (columns: string[]): Link => ({
  id: "l",
  a: { table: "crate", columns, name: "crates", leadsTo: "many" },
  b: { table: "yard", columns: ["code"], name: "yard", leadsTo: "one" },
  operators: ["is"],
  madeBy: "person",
});
const change = { table: "crate", rows: 0, columns: ["mark"] };
const added = { table: "crate", rows: 1, columns: null };

describe("the schema after an edit of the ledger's own", () => {
  it("is as it was, with the rows there are now", () => {
    const before = schemaOf([crate(), yard]);
    expect(schemaAfterEdit(before, change)).toEqual(before);
    expect(schemaAfterEdit(before, added)?.tables.map((t) => t.rows)).toEqual([11, 10]);
    expect(schemaAfterEdit(before, { table: "crate", rows: -3, columns: null })?.tables.map((t) => t.rows)).toEqual([7, 10]);
  });

  it("is read anew where a value that did not fit may have gone", () => {
    const before = schemaOf([crate({ misfits: 1 }), yard]);
    expect(schemaAfterEdit(before, change)).toBeNull();
    expect(schemaAfterEdit(before, added)).toBeNull();
    expect(schemaAfterEdit(before, { ...change, columns: ["yard"] })).not.toBeNull();
  });

  it("is read anew where a link that a person made stands on the column: whether it leads to one is in the values", () => {
    const before = schemaOf([crate(), yard], [made(["mark"])]);
    expect(schemaAfterEdit(before, change)).toBeNull();
    expect(schemaAfterEdit(before, added)).toBeNull();
    expect(schemaAfterEdit(before, { ...change, columns: ["yard"] })).not.toBeNull();
    expect(schemaAfterEdit(before, { table: "yard", rows: 0, columns: ["code"] })).toBeNull();
    const declared = schemaOf([crate(), yard], [{ ...made(["mark"]), madeBy: undefined }]);
    expect(schemaAfterEdit(declared, change)).not.toBeNull();
  });

  it("is read anew where views or generated columns show what was written, and at a table's first and last row", () => {
    expect(schemaAfterEdit(schemaOf([crate(), table("seen", [column("mark")], { view: true })]), change)).toBeNull();
    expect(schemaAfterEdit(schemaOf([table("crate", [column("id"), column("mark"), column("made", { generated: true })])]), change)).toBeNull();
    expect(schemaAfterEdit(schemaOf([{ ...crate(), rows: 0 }]), added)).toBeNull();
    expect(schemaAfterEdit(schemaOf([{ ...crate(), rows: 2 }]), { table: "crate", rows: -2, columns: null })).toBeNull();
    expect(schemaAfterEdit(schemaOf([yard]), change)).toBeNull();
  });
});
