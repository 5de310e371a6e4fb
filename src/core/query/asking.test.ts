import { describe, expect, it } from "vitest";
import { crates, field, said } from "../../../test/support/crates";
import { sampleSchema } from "../../../test/support/sample";
import { phraseOfProblem } from "../brief/brief";
import { withoutPhrase } from "../brief/editPhrase";
import { problem } from "../types/problem";
import { comparisonsIn } from "./conditions";
import * as edit from "./edit";
import { firstRows, setFirstRows } from "./editOrder";
import { emptyQuery } from "./empty";
import { ownColumns } from "./reach";
import { rowsToCompare } from "./rowsToCompare";
import type { QuerySpec } from "./spec";

/* What a person does to conditions, figures, groups and limits; and how the sentence says it. */

const idsOf = (list: { id: string }[]) => list.map((x) => x.id);

describe("conditions in groups", () => {
  const beside = edit.addAlternative(crates, sampleSchema, "w1", field("pieces"));
  it("take a condition beside another, in the group that is there", () => {
    expect(beside.conditions[0]).toMatchObject({ holds: "any", of: [{ id: "w1" }, { left: { column: "pieces" } }] });
    const third = edit.addAlternative(beside, sampleSchema, "w1", field("day"));
    expect(third.conditions[0]).toMatchObject({ holds: "any", of: [{ id: "w1" }, {}, { left: { column: "day" }, operator: "between" }] });
    expect(said(beside)).toContain("where any of (mark is apple, pieces is …) and stamps › fee is 1.50");
  });
  it("change what holds, fall apart, and go with their last condition", () => {
    const group = beside.conditions[0]?.id ?? "";
    expect(edit.setHolds(beside, group, "none").conditions[0]).toMatchObject({ holds: "none" });
    expect(edit.dissolveGroup(beside, group).conditions.length).toBe(3);
    const [first, second] = comparisonsIn(beside.conditions);
    const emptied = edit.removeCondition(edit.removeCondition(beside, first?.id ?? ""), second?.id ?? "");
    expect(idsOf(emptied.conditions)).toEqual(["w2"]);
    expect(idsOf(withoutPhrase(beside, { kind: "holds", id: group }).conditions)).toEqual(["w2"]);
  });
  it("are found by their problems, wherever they stand", () => {
    const group = beside.conditions[0]?.id;
    expect(phraseOfProblem(problem("valueMissing", ["conditions", 0, "of", 1, "values"]), beside)).toBe(`value ${comparisonsIn(beside.conditions)[1]?.id} 0`);
    expect(phraseOfProblem(problem("valueMissing", ["conditions", 0]), beside)).toBe(`holds ${group}`);
    const grouped = edit.addGroupCondition({ ...crates, grouped: true, columns: [{ id: "n", value: null, figure: "count" }] }, sampleSchema, "n");
    const [asked] = comparisonsIn(grouped.groupConditions ?? []);
    expect(phraseOfProblem(problem("valueMissing", ["groupConditions", 0, "values"]), grouped)).toBe(`value ${asked?.id} 0`);
    expect(asked).toMatchObject({ left: { kind: "column", id: "n" }, operator: "atLeast" });
  });
});

describe("figures", () => {
  const grouped: QuerySpec = {
    ...emptyQuery("crate"),
    grouped: true,
    columns: [
      { id: "k", value: field("mark") },
      { id: "t", value: field("price"), figure: "total", label: "Price" },
      { id: "x", value: { kind: "column", id: "t" }, figure: "window", window: { kind: "change", back: "period", by: "k", per: ["k"] } },
      { id: "y", value: { kind: "column", id: "t" }, figure: "window", window: { kind: "rank", per: ["k"] } },
    ],
    groupConditions: [{ id: "g", left: { kind: "column", id: "t" }, operator: "notEmpty", values: [] }],
    firstOf: { rows: 2, per: ["k"] },
  };
  it("over the rows shown name what they are of, and go with it", () => {
    expect(said(grouped)).toBe(
      "From crate. One row per mark: Price, change of Price on the previous period, rank of Price. Only groups where Price is not empty. First 2 rows per mark. ",
    );
    const without = edit.removeColumns(grouped, ["t"]);
    expect([idsOf(without.columns), without.groupConditions]).toEqual([["k"], undefined]);
    const keyless = edit.removeColumns(grouped, ["k"]);
    expect([keyless.firstOf, keyless.columns.map((c) => c.window)]).toEqual([undefined, [undefined, { kind: "change", back: "period" }, { kind: "rank" }]]);
  });
  it("are not asked for in conditions on groups where they are of the rows shown", () =>
    expect(ownColumns(grouped, sampleSchema).map((l) => l.words)).toEqual(["mark", "Price"]));
  it("start a percentile at the ninth tenth, and keep what was chosen", () => {
    expect(edit.asFigure({ id: "a", value: null }, "percentile")).toEqual({ figure: "percentile", percent: 90 });
    expect(edit.asFigure({ id: "a", value: null, percent: 25 }, "percentile")).toEqual({ figure: "percentile", percent: 25 });
    expect(edit.asFigure({ id: "a", value: null }, "total")).toEqual({ figure: "total" });
  });
  it("count only some rows by conditions of their own", () => {
    const asked = edit.addFigureCondition(grouped, sampleSchema, "t", field("sealed"));
    expect(asked.columns[1]?.where).toMatchObject([{ left: { column: "sealed" } }]);
    expect(edit.removeCondition(asked, asked.columns[1]?.where?.[0]?.id ?? "").columns[1]?.where).toBeUndefined();
  });
});

describe("the first rows", () => {
  it("are of all, or of each value of a column", () => {
    const each = setFirstRows(crates, 3, "c1");
    expect([each.limit, each.firstOf, firstRows(each)]).toEqual([null, { rows: 3, per: ["c1"] }, { rows: 3, per: "c1" }]);
    const all = setFirstRows(each, 3, null);
    expect([all.limit, all.firstOf, firstRows(all)]).toEqual([3, undefined, { rows: 3, per: null }]);
  });
});

describe("what a group is put together by", () => {
  it("stands with the other groups, before their figures", () => {
    const twice = edit.groupBy(edit.groupBy(crates, sampleSchema, field("mark")), sampleSchema, field("day"));
    expect(twice.columns.map((c) => c.figure ?? "group")).toEqual(["group", "group", "count", "total"]);
  });
  const grouped = edit.groupBy(crates, sampleSchema, field("price"));
  const id = grouped.columns.find((c) => !c.figure)?.id ?? "";
  const typed = (parts: Parameters<typeof edit.setGroupPart>[2]) => edit.setGroupPart(grouped, id, parts).columns.find((c) => c.id === id)?.value;
  it("is typed: one width or limits of its own, first letters, or nothing", () => {
    expect(typed({ band: " 5 " })).toEqual({ ...field("price"), band: { width: "5" } });
    expect(typed({ limits: "10; 20.5 100" })).toEqual({ ...field("price"), limits: ["10", "20.5", "100"] });
    expect([typed({ letters: "2" }), typed({ letters: "99" })]).toEqual([
      { ...field("price"), letters: 2 },
      { ...field("price"), letters: 20 },
    ]);
    for (const none of [{ band: "" }, { limits: " ; " }, { letters: "0" }, { letters: "x" }]) expect(typed(none)).toEqual(field("price"));
    const limited = edit.setGroupPart(grouped, id, { limits: "10; 50" });
    expect(said(limited)).toContain("One row per price by limits 10; 50");
    expect(said(edit.setGroupPart(grouped, id, { letters: "1" }))).toContain("One row per first letter of price");
  });
});

describe("rows to compare with", () => {
  const among = edit.changeOperator(crates, "w1", "notAmong");
  const [first] = rowsToCompare(among, sampleSchema, field("mark"), { kind: "text" });
  it("are offered by the name of the field, and said", () => {
    expect(first?.value).toEqual({ kind: "rows", table: "crate", column: "mark" });
    const chosen = edit.changeCondition(among, "w1", { values: first ? [first.value] : [] });
    expect(said(chosen)).toContain("mark is not among the marks of crates (or is empty)");
    expect(rowsToCompare(among, sampleSchema, field("yard_id"), { kind: "whole" })[0]?.words).toBe("the ids of yards");
    expect(rowsToCompare(among, sampleSchema, field("mark"), { kind: "text" }).map((r) => r.words)).not.toContain("the ids of crates");
  });
  it("take the place of a written value, and give it back empty", () => {
    expect(comparisonsIn(among.conditions)[0]?.values).toEqual([{ kind: "value", text: "" }]);
    const chosen = edit.changeCondition(among, "w1", { values: first ? [first.value] : [] });
    expect(comparisonsIn(edit.changeOperator(chosen, "w1", "among").conditions)[0]?.values).toEqual([first?.value]);
    expect(comparisonsIn(edit.changeOperator(chosen, "w1", "is").conditions)[0]?.values).toEqual([{ kind: "value", text: "" }]);
  });
});
