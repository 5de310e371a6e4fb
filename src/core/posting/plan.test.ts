import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { briefText } from "../brief/brief";
import { postingBrief } from "../brief/postingBrief";
import { findTable, type Table } from "../schema/schema";
import { usualDay } from "../types/calendar";
import { text } from "../types/valueType";
import { linksOf, pairsByName, resolvePosting } from "./plan";
import type { PostingSpec } from "./spec";

const crate = findTable(sampleSchema, "crate") as Table;
const column = (name: string): Table["columns"][number] => ({ name, label: name, type: text, storage: "plain", nullable: true, misfits: 0 });
const source: Table = { name: "rows", label: "file", key: [], rows: 3, columns: ["Mark", "YARD id", "Preis", "Day"].map(column) };
const spec = (more: Partial<PostingSpec> = {}): PostingSpec => ({
  version: 1,
  source: { kind: "table", table: "rows" },
  action: "add",
  target: "crate",
  same: ["mark"],
  present: "leave",
  breaking: "refuse",
  pairs: [{ column: "mark", value: { kind: "field", name: "Mark" } }],
  ...more,
});
const codes = (more: Partial<PostingSpec>, schema = sampleSchema) => {
  const made = resolvePosting(spec(more), schema, source, usualDay("2026-11-23"));
  return made.ok ? [] : made.problems.map((p) => p.code);
};

describe("a posting", () => {
  it("pairs columns by their names, however they are written", () =>
    expect(pairsByName(source, crate, sampleSchema).map((p) => [p.column, p.value.kind === "field" && p.value.name, p.found?.by])).toEqual([
      ["yard_id", "YARD id", "name"],
      ["mark", "Mark", undefined],
      ["day", "Day", undefined],
    ]));
  it("pairs columns that share their words with one column alone", () => {
    const paired = (from: string[], to: string[]) => {
      const target: Table = { ...source, name: "target", columns: to.map(column) };
      return pairsByName({ ...source, columns: from.map(column) }, target, sampleSchema).map((p) => [p.column, p.value.kind === "field" && p.value.name]);
    };
    expect(paired(["Name of the shop", "Unit price"], ["shop_name", "price", "id"])).toEqual([
      ["shop_name", "Name of the shop"],
      ["price", "Unit price"],
    ]);
    // Two that it could be are none; what is paired already is not paired twice.
    expect(paired(["net total", "gross total"], ["total"])).toEqual([]);
    expect(paired(["total"], ["net total", "gross total"])).toEqual([]);
    expect(paired(["price", "unit"], ["price", "unit price"])).toEqual([
      ["price", "price"],
      ["unit price", "unit"],
    ]);
  });
  it("is refused with every reason at once", () => {
    expect(codes({ target: "gone" })).toEqual(["tableGone"]);
    expect(codes({ pairs: [{ column: "gone", value: { kind: "field", name: "Mark" } }] })).toContain("columnGone");
    expect(codes({ pairs: [{ column: "mark", value: { kind: "field", name: "gone" } }] })).toContain("columnGone");
    expect(codes({ pairs: [...spec().pairs, ...spec().pairs] })).toContain("duplicateName");
    expect(codes({ pairs: [{ column: "mark", value: { kind: "formula", text: "Mark +" } }] })).toContain("syntax");
    expect(codes({ pairs: [{ column: "mark", value: { kind: "formula", text: "nothing || 'x'" } }] })).toContain("unknownField");
    expect(codes({ same: ["day"] })).toContain("postingSame");
    expect(codes({ same: [] })).toContain("postingNoSame");
    expect(codes({ same: [], present: "add" })).toEqual([]);
    expect(codes({ action: "change" })).toContain("postingNothing");
    const strict = {
      ...sampleSchema,
      tables: sampleSchema.tables.map((t) => ({ ...t, columns: t.columns.map((c) => (c.name === "pieces" ? { ...c, nullable: false } : c)) })),
    };
    expect(codes({}, strict)).toEqual(["postingRequired"]);
    const view = { ...sampleSchema, tables: sampleSchema.tables.map((t) => ({ ...t, view: true })) };
    expect(codes({}, view)).toContain("postingView");
    const watched = { ...sampleSchema, tables: sampleSchema.tables.map((t) => ({ ...t, trigger: "on_crate" })) };
    expect(codes({}, watched)).toEqual(["postingTrigger"]);
  });
  it("finds a value through a link by a column of the other table", () => {
    const found = { column: "yard_id", value: { kind: "field" as const, name: "YARD id" }, found: { link: "crate.yard_id", by: "name" } };
    const made = resolvePosting(spec({ pairs: [...spec().pairs, found] }), sampleSchema, source, usualDay("2026-11-23"));
    expect(made.ok && made.value.posting.pairs[1]?.found).toMatchObject({ by: { name: "name" }, give: { name: "id" }, table: { name: "yard" } });
    expect(codes({ pairs: [{ ...found, found: { link: "stamp.crate_id", by: "name" } }] })).toContain("linkGone");
  });
  it("knows which links a change could break", () => {
    const { outward, inward } = linksOf(crate, sampleSchema);
    expect(outward.map((l) => [l.near, l.table])).toEqual([[["yard_id"], "yard"]]);
    expect(inward.map((l) => [l.table, l.near, l.far])).toEqual([["stamp", ["crate_id"], ["id"]]]);
  });
  it("says itself in a sentence", () => {
    expect(briefText(postingBrief(spec(), sampleSchema, "manifest.csv"))).toBe(
      "Add the rows of manifest.csv to crate. Match rows by mark; existing rows are left unchanged.",
    );
    expect(briefText(postingBrief(spec({ action: "change" }), sampleSchema, "m"))).toBe("Change rows of crate from m, matched by mark.");
    expect(briefText(postingBrief(spec({ action: "remove", breaking: "allow" }), sampleSchema, "m"))).toBe(
      "Remove the rows of crate that match m by mark; rows that other rows refer to are removed anyway.",
    );
    expect(briefText(postingBrief(spec({ present: "add", same: [] }), sampleSchema, "m"))).toContain("each as a new row");
  });
});
