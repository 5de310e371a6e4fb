import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { briefText } from "../brief/brief";
import { postingBrief } from "../brief/postingBrief";
import { emptyQuery } from "../query/empty";
import { findTable, type Table } from "../schema/schema";
import { usualDay } from "../types/calendar";
import { text } from "../types/valueType";
import { withWholeRows } from "./origin";
import { linksOf, originOfTable, pairsByName, resolvePosting } from "./plan";
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
  const made = resolvePosting(spec(more), schema, [{ table: source, origin: null }], usualDay("2026-11-23"));
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
    const made = resolvePosting(spec({ pairs: [...spec().pairs, found] }), sampleSchema, [{ table: source, origin: null }], usualDay("2026-11-23"));
    expect(made.ok && made.value[0]?.posting.pairs[1]?.found).toMatchObject({ by: { name: "name" }, give: { name: "id" }, table: { name: "yard" } });
    expect(codes({ pairs: [{ ...found, found: { link: "stamp.crate_id", by: "name" } }] })).toContain("linkGone");
  });
  it("moves rows from a table by its key, and says why it cannot", () => {
    const yard = findTable(sampleSchema, "yard") as Table;
    const pairs = [{ column: "mark", value: { kind: "field" as const, name: "name" } }];
    const moving = (more: Partial<PostingSpec>, origin = originOfTable(yard), schema = sampleSchema) =>
      resolvePosting(spec({ action: "move", pairs, ...more }), schema, [{ table: yard, origin }], usualDay("2026-11-23"));
    const made = moving({});
    expect(made.ok && made.value[0]?.posting.origin).toMatchObject({
      table: { name: "yard" },
      key: [{ column: { name: "id" }, at: 1, from: { kind: "whole" } }],
    });
    const why = (result: ReturnType<typeof moving>) => (result.ok ? [] : result.problems.map((p) => p.code));
    expect(why(moving({}, null))).toEqual(["postingMoveSource"]);
    expect(why(moving({ target: "yard", pairs: [{ column: "name", value: { kind: "field", name: "name" } }], same: ["name"] }))).toContain("postingMoveSelf");
    expect(why(moving({}, { table: "yard", columns: [] }))).toEqual(["postingMoveKey"]);
    const twoKeys = { ...sampleSchema, tables: sampleSchema.tables.map((t) => (t.name === "yard" ? { ...t, key: ["id", "name"] } : t)) };
    expect(why(moving({}, { table: "yard", columns: [{ column: "id", name: "id" }] }, twoKeys))).toEqual(["postingMoveKey"]);
    const watched = { ...sampleSchema, tables: sampleSchema.tables.map((t) => (t.name === "yard" ? { ...t, trigger: "on_yard" } : t)) };
    expect(why(moving({}, originOfTable(yard), watched))).toEqual(["postingTrigger"]);
  });
  it("takes whole rows of a query, which shows every column of its table then", () => {
    const query = { ...emptyQuery("stamp"), columns: [{ id: "a", value: { kind: "field" as const, join: "", column: "fee" } }] };
    const whole = withWholeRows(query, sampleSchema);
    expect(whole).toMatchObject({ table: "stamp", query: { columns: [{ id: "a" }, { id: "row1" }, { id: "row2" }] } });
    expect(whole?.columns).toEqual([
      { column: "id", id: "row1" },
      { column: "crate_id", id: "row2" },
      { column: "fee", id: "a" },
    ]);
    const hidden = { ...query, columns: query.columns.map((c) => ({ ...c, id: "row1", hidden: true })) };
    expect(withWholeRows(hidden, sampleSchema)?.columns.map((c) => c.id)).toEqual(["row2", "row3", "row4"]);
    expect(withWholeRows({ ...query, grouped: true }, sampleSchema)).toBeNull();
    expect(withWholeRows(emptyQuery("query q1"), sampleSchema)).toBeNull();
  });
  it("names the columns of a moved row that go nowhere", () => {
    const yard = findTable(sampleSchema, "yard") as Table;
    const lost = (pairs: PostingSpec["pairs"]) => {
      const made = resolvePosting(spec({ action: "move", pairs }), sampleSchema, [{ table: yard, origin: originOfTable(yard) }], usualDay("2026-11-23"));
      return made.ok && made.value[0]?.posting.origin?.lost.map((c) => c.name);
    };
    const mark = { column: "mark", value: { kind: "field" as const, name: "name" } };
    expect(lost([mark])).toEqual(["id", "opened", "rent", "open"]);
    expect(lost([{ column: "mark", value: { kind: "formula", text: `name || CAST(Id AS TEXT) || 'rent'` } }])).toEqual(["opened", "rent", "open"]);
  });
  it("watches the totals that its control totals are about", () => {
    const made = (column: string) =>
      resolvePosting(
        spec({ controls: [{ step: 0, figure: "total", column, compare: "is", value: "1" }] }),
        sampleSchema,
        [{ table: source, origin: null }],
        usualDay("2026-11-23"),
      );
    const totals = (column: string) => {
      const resolved = made(column);
      return resolved.ok && resolved.value[0]?.posting.totals.map((c) => c.name);
    };
    expect(totals("price")).toEqual(["price"]);
    expect(totals("mark")).toEqual([]);
  });
  it("knows which links a change could break", () => {
    const { outward, inward } = linksOf(crate, sampleSchema);
    expect(outward.map((l) => [l.near, l.table])).toEqual([[["yard_id"], "yard"]]);
    expect(inward.map((l) => [l.table, l.near, l.far])).toEqual([["stamp", ["crate_id"], ["id"]]]);
  });
  it("says itself in a sentence", () => {
    expect(briefText(postingBrief(spec(), sampleSchema, ["manifest.csv"]))).toBe(
      "Add the rows of manifest.csv to crate. Match rows by mark; existing rows are left unchanged.",
    );
    expect(briefText(postingBrief(spec({ action: "change" }), sampleSchema, ["m"]))).toBe("Change rows of crate from m, matched by mark.");
    expect(briefText(postingBrief(spec({ action: "remove", breaking: "allow" }), sampleSchema, ["m"]))).toBe(
      "Remove the rows of crate that match m by mark; rows that other rows refer to are removed anyway.",
    );
    expect(briefText(postingBrief(spec({ present: "add", same: [] }), sampleSchema, ["m"]))).toContain("each as a new row");
    const { version, source: _, ...step } = spec({ action: "remove" });
    expect(briefText(postingBrief(spec({ action: "move", steps: [{ source: null, ...step }] }), sampleSchema, ["old", "new"]))).toBe(
      "Move the rows of old to crate. Match rows by mark; existing rows are left unchanged; rows that other rows refer to are refused." +
        " Then remove the rows of crate that match new by mark; rows that other rows refer to are refused.",
    );
    expect(version).toBe(1);
  });
});
