import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { briefText, queryBrief } from "../brief/brief";
import * as edit from "./edit";
import { emptyQuery } from "./empty";
import { relatedFigure, totalFirst } from "./related";
import { type Condition, type LinkedJoin, type Operand, type QueryColumn, type QuerySpec, querySpecSchema } from "./spec";

/* A table that repeats rows, totalled first: what becomes of its columns and conditions, and where it cannot be. */

const field = (column: string, join = ""): Extract<Operand, { kind: "field" }> => ({ kind: "field", join, column });
const is = (id: string, left: Operand, text: string): Condition => ({ id, left, operator: "is", values: [{ kind: "value", text }] });
const mark: QueryColumn = { id: "m", value: field("mark") };
const fee: QueryColumn = { id: "f", value: field("fee", "s"), label: "Fees" };
const link: LinkedJoin = { id: "s", from: "", link: "stamp.crate_id", toward: "a", way: "keep" };
const stamped = (more: Partial<QuerySpec> = {}): QuerySpec => ({
  ...emptyQuery("crate"),
  joins: [link],
  columns: [mark, fee],
  ...more,
});
const step = { link: "stamp.crate_id", toward: "a" as const };
const total = relatedFigure("", step, "total", "fee", sampleSchema);
const turned = (spec: QuerySpec) => totalFirst(spec, sampleSchema, "s");

describe("a table that repeats rows, totalled first", () => {
  it("stands beside each row as a figure, under the heading it had; texts as a list", () => {
    expect(total.words).toBe("total of stamps › fee");
    expect(turned(stamped())).toEqual(stamped({ joins: [], columns: [mark, { ...fee, value: total }] }));
    const note = turned(stamped({ columns: [mark, { id: "n", value: field("note", "s") }] }));
    expect(note?.columns[1]?.value).toMatchObject({ kind: "related", figure: "list", column: "note" });
  });
  it("leaves out who has none only where they were left out before", () => {
    expect(turned(stamped({ joins: [{ ...link, way: "only" }] }))?.joins).toEqual([{ ...link, way: "has" }]);
    const own = is("w", field("fee", "s"), "2");
    const asked = turned(stamped({ conditions: [own, is("x", field("mark"), "apple")] }));
    expect(asked?.joins).toEqual([{ ...link, way: "has", where: [own] }]);
    expect(asked?.conditions.map((c) => c.id)).toEqual(["x"]);
    expect(asked?.columns[1]?.value).toEqual({ ...total, where: [is("w", field("fee"), "2")] });
  });
  it("is totalled again in groups, where it was a total or a count", () => {
    const grouped = (figure: QueryColumn["figure"]) => turned(stamped({ grouped: true, columns: [mark, { ...fee, figure }] }))?.columns[1];
    expect(grouped("total")).toEqual({ ...fee, figure: "total", value: total });
    expect(grouped("count")).toMatchObject({ figure: "total", value: { figure: "count", column: "fee" } });
    expect(grouped("average")).toBeUndefined();
  });
  it.each<[string, Partial<QuerySpec>]>([
    ["a table is joined from it", { joins: [...stamped().joins, { id: "y", from: "s", link: "crate.yard_id", toward: "b", way: "keep" }] }],
    ["rows are grouped by it", { grouped: true, columns: [{ id: "k", value: field("fee", "s") }] }],
    ["a formula names it", { columns: [mark, fee, { id: "x", value: { kind: "formula", text: "stamps.fee * 2" } }] }],
    ["a condition compares it with another table", { conditions: [{ id: "w", left: field("id"), operator: "is", values: [field("fee", "s")] }] }],
    ["rows of its own come in", { joins: [{ ...link, way: "both" }] }],
    ["nothing of it is shown", { columns: [mark] }],
  ])("is not offered where %s", (_, more) => expect(turned(stamped(more))).toBeNull());
  it("can be chosen from the tree, is said in the sentence, and is saved and read again", () => {
    const added = edit.addRelated({ ...emptyQuery("crate"), columns: [mark], grouped: true }, sampleSchema, [], step, "count", null);
    expect(added.columns[1]).toMatchObject({ figure: "total", value: { kind: "related", join: "", figure: "count", column: null, words: "count of stamps" } });
    expect(querySpecSchema.parse(added)).toEqual(added);
    expect(briefText(queryBrief(added, sampleSchema, { locale: "en-GB", zone: "UTC" }))).toContain("total of count of stamps");
    expect(
      edit.removeJoin(
        edit.addRelated({ ...emptyQuery("yard"), columns: [] }, sampleSchema, [{ link: "crate.yard_id", toward: "a" }], step, "count", null),
        "j1",
      ).columns,
    ).toEqual([]);
  });
});
