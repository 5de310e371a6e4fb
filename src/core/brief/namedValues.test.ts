import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { emptyQuery } from "../query/empty";
import type { QuerySpec } from "../query/spec";
import type { Schema } from "../schema/schema";
import { briefText, queryBrief } from "./brief";
import { namesInConditions, withRowNames } from "./namedValues";

const named: Schema = { ...sampleSchema, tables: sampleSchema.tables.map((t) => (t.name === "yard" ? { ...t, named: "name" } : t)) };
const value = (text: string) => ({ kind: "value" as const, text });
const spec: QuerySpec = {
  ...emptyQuery("crate"),
  parameters: [{ name: "7", type: "whole" }],
  conditions: [
    { id: "a", left: { kind: "field", join: "", column: "yard_id" }, operator: "is", values: [value("3")] },
    { id: "b", holds: "any", of: [{ id: "c", left: { kind: "field", join: "", column: "yard_id" }, operator: "oneOf", values: [value("4"), value("5")] }] },
    { id: "d", left: { kind: "field", join: "", column: "pieces" }, operator: "is", values: [value("3")] },
    { id: "e", left: { kind: "field", join: "", column: "yard_id" }, operator: "isNot", values: [{ kind: "parameter", name: "7" }] },
  ],
};
const NAMES: Record<string, string> = { 3: "North", 4: "East", 7: "no value" };

describe("the values of a brief that are keys of rows with names", () => {
  it("are said by the names, each of several, and by the key where there is none", () => {
    const phrases = queryBrief(spec, named, { locale: "en-GB", zone: "UTC" });
    const text = briefText(withRowNames(phrases, spec, named, (table, key) => (table === "yard" ? NAMES[key] : undefined)));
    expect(text).toContain("yard_id is North");
    expect(text).toContain("yard_id is one of East, 5");
    expect(text).toContain("pieces is 3");
    expect(text).toContain("yard_id is not 7");
  });
  it("are asked for by the table, without parameters and other fields", () => {
    expect(namesInConditions(spec, named)).toEqual([
      { table: "yard", keys: ["3"] },
      { table: "yard", keys: ["4", "5"] },
    ]);
    const parts = [{ part: "year" as const }, { band: { width: "10" } }, { limits: ["5"] }, { letters: 1 }].map((part, i) => ({
      id: `p${i}`,
      left: { kind: "field" as const, join: "", column: "yard_id", ...part },
      operator: "is" as const,
      values: [value("3")],
    }));
    expect(namesInConditions({ ...spec, conditions: parts }, named), "a part of a key is no key").toEqual([]);
    expect(namesInConditions({ ...spec, conditions: [] }, named)).toEqual([]);
    const nameless: Schema = { ...named, tables: named.tables.map((t) => ({ ...t, named: "" })) };
    expect(namesInConditions(spec, nameless)).toEqual([]);
  });
});
