import { describe, expect, it } from "vitest";
import { storedExpr } from "../query/operands";
import { decimal, text, timestamp, type ValueType, whole } from "../types/valueType";
import { mayMisfit } from "./column";
import { retypedColumns, withKnownTypes } from "./sampled";
import type { Column, Schema } from "./schema";

const column = (name: string, type: ValueType, more: Partial<Column> = {}): Column => ({
  name,
  label: `the ${name}`,
  type,
  storage: "plain",
  nullable: true,
  misfits: 0,
  ...more,
});
const schemaOf = (columns: Column[], structure = "one"): Schema => ({
  tables: [{ name: "t", label: "things", columns, key: [], rows: 5 }],
  links: [],
  structure,
});
const typesOf = ({ tables }: Schema) => tables[0]?.columns.map((c) => [c.name, c.type.kind, c.storage, c.misfits, c.sampled ?? false]);

describe("a shape from a sample", () => {
  const sampled = schemaOf([
    column("a", whole, { sampled: true, long: true }),
    column("b", whole),
    column("sent", timestamp, { sampled: true, storage: "written" }),
    column("new", whole, { sampled: true }),
  ]);
  const known = schemaOf([column("a", text, { misfits: 3 }), column("b", text), column("sent", timestamp)]);

  it("has the types that a look at all values found before, of what is not sure; timestamps are read as of either kind", () => {
    const made = withKnownTypes(sampled, known);
    expect(typesOf(made)).toEqual([
      ["a", "text", "plain", 3, true],
      ["b", "whole", "plain", 0, false],
      ["sent", "timestamp", "written", 0, true],
      ["new", "whole", "plain", 0, true],
    ]);
    expect(made.tables[0]?.columns[0]?.long).toBeUndefined();
    expect(withKnownTypes(sampled, { ...known, structure: "other" })).toBe(sampled);
  });

  it("is read with a look at each value, as one with values that do not fit", () => {
    const [a, b] = sampled.tables.flatMap((t) => t.columns) as [Column, Column];
    expect([a, b, { ...b, misfits: 1 }].map(mayMisfit)).toEqual([true, false, true]);
    expect([a, b].map((c) => storedExpr("t", c)).map((e) => e.node === "field" && e.guarded)).toEqual([true, false]);
  });

  it("tells which columns all values showed to be of another type, scales among them", () => {
    const before = schemaOf([
      column("a", whole, { sampled: true }),
      column("b", decimal(2), { sampled: true }),
      column("c", whole),
      column("d", text, { sampled: true }),
    ]);
    const after = schemaOf([column("a", text), column("b", decimal(3)), column("c", text), column("d", text)]);
    expect(retypedColumns(before, after)).toEqual([
      { table: "things", column: "the a", from: whole, to: text },
      { table: "things", column: "the b", from: decimal(2), to: decimal(3) },
    ]);
  });
});
