import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { briefText, phraseOfProblem, queryBrief } from "../brief/brief";
import { withoutPhrase } from "../brief/editPhrase";
import { findTable } from "../schema/schema";
import { usualDay } from "../types/calendar";
import { problem } from "../types/problem";
import { WRITTEN_FIGURES } from "./aggregates";
import { comparisonsIn } from "./conditions";
import * as edit from "./edit";
import { addMatchCondition, joinTable, setWay } from "./editJoins";
import { firstRows, setFirstRows } from "./editOrder";
import { removeParameter, renameParameter } from "./editParameters";
import { addToStack, pairInStack, removeFromStack } from "./editStack";
import { emptyQuery } from "./empty";
import { lastingValues, openParameters } from "./parameters";
import { proposePairs } from "./proposePairs";
import { queriesRead, readsItself, withQueryTables } from "./queryTables";
import { ownColumns, reachable } from "./reach";
import { resolveQuery } from "./resolve";
import { withGiven } from "./resolveConditions";
import { rowsToCompare } from "./rowsToCompare";
import { samplePairs } from "./samplePairs";
import type { Condition, Operand, QuerySpec } from "./spec";
import { FIRST_VALUES, firstValues, formulaNames, formulaProblem, formulaType } from "./writtenFormula";

/* What a person does to joins, groups of conditions, figures, stacks and limits; and how the sentence says it. */

const field = (column: string, join = ""): Extract<Operand, { kind: "field" }> => ({ kind: "field", join, column });
const is = (id: string, left: Operand, text: string): Condition => ({ id, left, operator: "is", values: [{ kind: "value", text }] });
const crates: QuerySpec = {
  ...emptyQuery("crate"),
  joins: [{ id: "s", from: "", link: "stamp.crate_id", toward: "a", way: "keep" }],
  conditions: [is("w1", field("mark"), "apple"), is("w2", field("fee", "s"), "1.50")],
  columns: [
    { id: "c1", value: field("mark") },
    { id: "c2", value: field("fee", "s") },
  ],
  order: [{ column: "c2", direction: "up" }],
};
const said = (spec: QuerySpec): string => briefText(queryBrief(spec, sampleSchema, { locale: "en-GB", zone: "UTC" }));
const idsOf = (list: { id: string }[]) => list.map((x) => x.id);

describe("the way a table is joined", () => {
  it("moves what is asked of it alone into the match, where it brings no columns, and back", () => {
    const has = setWay(crates, "s", "hasNone");
    expect([idsOf(has.joins), idsOf(has.conditions), idsOf(has.columns), has.order]).toEqual([["s"], ["w1"], ["c1"], []]);
    expect(has.joins[0]).toMatchObject({ way: "hasNone", where: [{ id: "w2" }] });
    expect(said(has)).toBe("From crate, only those that have no stamps where fee is 1.50, where mark is apple. Show 1 column. ");
    const back = setWay(has, "s", "only");
    expect([idsOf(back.conditions), "where" in (back.joins[0] ?? {})]).toEqual([["w1", "w2"], false]);
  });
  it("stays in its place among the joins", () => {
    const two = edit.bring(crates, [{ link: "crate.yard_id", toward: "b" }]).spec;
    const joined = edit.toggleColumn(two, sampleSchema, [{ link: "crate.yard_id", toward: "b" }], "name");
    expect(idsOf(setWay(joined, "s", "has").joins)).toEqual(["s", "j1"]);
  });
  it("is said of the other side and of both", () => {
    expect(said(setWay(crates, "s", "other"))).toContain("stamps (every one of the stamps, with or without a match)");
    expect(said(setWay(crates, "s", "both"))).toContain("stamps (all crates and all stamps, matched or not)");
  });
});

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

describe("tables joined by comparisons", () => {
  const [yard, crate] = [findTable(sampleSchema, "yard"), findTable(sampleSchema, "crate")] as const;
  it("are proposed by keys that others are named by, either way, and by nothing else", () => {
    if (!yard || !crate) throw new Error("no sample");
    expect(proposePairs(crate, yard)).toEqual([{ near: "yard_id", far: "id" }]);
    expect(proposePairs(yard, crate)).toEqual([{ near: "id", far: "yard_id" }]);
    expect(proposePairs(yard, { ...yard, name: "other", key: [] })).toEqual([]);
  });
  it("lead to one row only where they compare its whole key as the same", () => {
    const twoKeys = { ...sampleSchema, tables: sampleSchema.tables.map((t) => (t.name === "yard" ? { ...t, key: ["id", "name"] } : t)) };
    const leads = (pairs: { near: string; far: string }[], operator: Condition["operator"] = "is") => {
      const joined = joinTable({ ...crates, joins: [], conditions: [], columns: crates.columns.slice(0, 1), order: [] }, "", "yard", pairs);
      const [first] = joined.joins;
      const spec = { ...joined, joins: first && "on" in first ? [{ ...first, on: first.on.map((c) => ({ ...c, operator })) as Condition[] }] : [] };
      const plan = resolveQuery(spec, twoKeys, { today: usualDay("2026-11-23"), values: {} });
      return plan.ok ? plan.value.joins[0]?.leadsTo : plan.problems.map((p) => p.code);
    };
    const [id, name] = [
      { near: "yard_id", far: "id" },
      { near: "mark", far: "name" },
    ];
    expect([leads([id]), leads([id, name]), leads([name]), leads([id, name], "isNot")]).toEqual(["many", "one", "many", "many"]);
  });
  it("are said with what they compare, and their fields can be picked and ticked", () => {
    const joined = joinTable(crates, "", "yard", [{ near: "yard_id", far: "id" }]);
    expect(said(joined)).toContain("yard (if any; yard › id is yard_id)");
    expect(said(joinTable(crates, "", "yard", []))).toContain("yard (if any; no comparison yet)");
    expect(
      reachable(joined, sampleSchema, 0)
        .filter((f) => f.join !== undefined)
        .map((f) => f.words),
    ).toContain("yard › rent");
    const ticked = edit.toggleJoined(joined, sampleSchema, "j1", "rent");
    expect(ticked.columns.at(-1)?.value).toEqual(field("rent", "j1"));
    expect(idsOf(edit.toggleJoined(ticked, sampleSchema, "j1", "rent").columns)).toEqual(["c1", "c2"]);
    const more = addMatchCondition(joined, sampleSchema, "j1", "opened");
    expect(phraseOfProblem(problem("valueMissing", ["joins", 1, "on", 1, "values"]), more)).toMatch(/^value w\d+ 0$/);
  });
});

describe("a formula while it is written", () => {
  const named: QuerySpec = { ...crates, columns: [...crates.columns, { id: "f", value: { kind: "formula", text: "price * 2" }, label: "double price" }] };
  const grouped: QuerySpec = {
    ...crates,
    grouped: true,
    columns: [
      { id: "k", value: field("mark") },
      { id: "t", value: field("price"), figure: "total", label: "all prices" },
    ],
  };
  it("may name fields by their paths, and the query's own formulas and figures", () => {
    const names = (spec: QuerySpec, over: "rows" | "figures") => formulaNames(spec, sampleSchema, over).map((n) => n.written);
    expect(names(named, "rows")).toEqual(expect.arrayContaining(["price", "stamps.fee", '"double price"']));
    expect(names(grouped, "figures").slice(0, 2)).toEqual(["Mark", '"all prices"']);
    expect(names(grouped, "rows")).not.toContain('"all prices"');
  });
  it("may write figures by words that are read as those", () => {
    expect(WRITTEN_FIGURES.map((f) => f.word)).toEqual(expect.arrayContaining(["SUM", "COUNT", "AVG"]));
    for (const { word } of WRITTEN_FIGURES)
      expect(formulaProblem(formulaType(grouped, sampleSchema, `${word}(nothing, 1)`, "figures"))?.code).not.toBe("unknownFunction");
  });
  it("says what it comes to, or what is wrong with it alone", () => {
    const told = (spec: QuerySpec, text: string, over: "rows" | "figures" = "rows") => {
      const found = formulaType(spec, sampleSchema, text, over);
      return formulaProblem(found)?.code ?? (found as { kind: string } | null)?.kind ?? null;
    };
    expect(["", "price", '"double price" > 5', "pric", "price +", "SUM(price)"].map((text) => told(named, text))).toEqual([
      null,
      "decimal",
      "yesno",
      "unknownField",
      "syntax",
      "figureInFormula",
    ]);
    expect(['"all prices" / COUNT(*)', "price"].map((text) => told(grouped, text, "figures"))).toEqual(["decimal", "unknownField"]);
    // What else is wrong with the query is no fault of the formula.
    expect(told({ ...named, conditions: [is("w9", field("gone"), "")], limit: -1 }, "price")).toBe("decimal");
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

describe("sample pairs", () => {
  it("are the rows a join's comparisons put together, by what they compare", () => {
    const joined = joinTable(crates, "", "yard", [{ near: "yard_id", far: "id" }]);
    const id = joined.joins.at(-1)?.id ?? "";
    const pairs = samplePairs({ ...joined, limit: 500, grouped: true }, id);
    expect(pairs).toMatchObject({ grouped: false, limit: 3, conditions: [], order: [] });
    expect(pairs?.columns.map((c) => c.value)).toEqual([field("id", id), field("yard_id")]);
    expect(pairs?.joins.at(-1)).toMatchObject({ id, way: "only" });
    expect(samplePairs(crates, "s")).toBeNull();
    expect(samplePairs(joinTable(crates, "", "yard", []), id)).toBeNull();
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

describe("sources", () => {
  it("are put together, paired and let go", () => {
    const two = addToStack(addToStack(crates, "stamp"), "yard");
    const paired = pairInStack(two, 1, "mark", "name");
    expect(paired.stack).toEqual({ how: "all", parts: ["stamp", "yard"], pairs: [{}, { mark: "name" }] });
    expect(said(paired)).toMatch(/^From crate, stamp and yard \(all rows\)/);
    expect(removeFromStack(paired, 0).stack).toEqual({ how: "all", parts: ["yard"], pairs: [{ mark: "name" }] });
    expect(removeFromStack(removeFromStack(paired, 0), 0).stack).toBeUndefined();
  });
  it("may be saved queries, none of which reads itself", () => {
    const named = (id: string, source: string) => ({ id, name: `Q ${id}`, spec: { ...emptyQuery(source), columns: [] } });
    expect(queriesRead({ ...emptyQuery("query a"), stack: { how: "all", parts: ["crate", "query b"] } })).toEqual(["a", "b"]);
    expect(readsItself(named("a", "query b"), [named("b", "query c"), named("c", "crate")])).toBeNull();
    expect(readsItself(named("a", "query b"), [named("a", "crate"), named("b", "query c"), named("c", "query a")])).toBe("Q a → Q b → Q c → Q a");
    // One that joins another reads it too, whichever is listed first.
    const joins = (id: string, table: string) => ({
      ...named(id, "crate"),
      spec: {
        ...crates,
        joins: [...crates.joins, { id: "q", from: "", table, on: [{ ...is("w3", field("c1", "q"), ""), values: [field("mark")] }], way: "keep" as const }],
      },
    });
    expect(queriesRead(joins("a", "query b").spec)).toEqual(["b"]);
    const among: Condition = { ...is("w9", field("mark"), ""), operator: "among", values: [{ kind: "rows", table: "query c", column: "c1" }] };
    expect(queriesRead({ ...crates, conditions: [{ id: "g", holds: "none", of: [among] }] })).toEqual(["c"]);
    expect(readsItself(joins("a", "query b"), [joins("b", "query a")])).toBe("Q a → Q b → Q a");
    const both = withQueryTables(sampleSchema, [joins("a", "query b"), { ...named("b", "crate"), spec: crates }], usualDay("2026-11-23"));
    expect(both.queries?.map((t) => t.rowsOf?.broken)).toEqual([undefined, undefined]);
    const lost = withQueryTables(sampleSchema, [named("a", "query gone")], usualDay("2026-11-23"));
    expect(lost.queries?.[0]?.rowsOf?.broken).toMatch(/has no table/);
  });
});

describe("parameters", () => {
  const asking: QuerySpec = {
    ...crates,
    conditions: [
      { id: "g", holds: "any", of: [{ ...is("w1", field("mark"), ""), values: [{ kind: "parameter", name: "a" }] }, is("w2", field("pieces"), "1")] },
    ],
    parameters: [
      { name: "a", type: "text" },
      { name: "b", type: "text" },
    ],
  };
  it("left empty are any, by their own words; in print what was given stands in their place", () => {
    const several: QuerySpec = {
      ...crates,
      conditions: [
        { ...is("w1", field("mark"), ""), operator: "oneOf", values: [{ kind: "parameter", name: "marks" }] },
        {
          ...is("w2", field("pieces"), ""),
          operator: "between",
          values: [
            { kind: "parameter", name: "least" },
            { kind: "parameter", name: "most" },
          ],
        },
      ],
      parameters: [
        { name: "marks", type: "several", optional: true },
        { name: "least", type: "whole", optional: true },
        { name: "most", type: "whole", optional: true, default: { kind: "fixed", text: "9" } },
      ],
    };
    const today = usualDay("2026-11-23");
    expect(openParameters(several.parameters, { marks: " " }, today)).toEqual(["marks", "least"]);
    expect(openParameters(several.parameters, { marks: "a", least: "1" }, today)).toEqual([]);
    expect(briefText(queryBrief(several, sampleSchema, { locale: "en-GB", zone: "UTC" }, { open: ["least"] }))).toContain(
      "pieces is between least (any) and most",
    );
    const resolved = resolveQuery(several, sampleSchema, { today, values: { marks: "apple\n fig " } });
    expect(resolved.ok && said(withGiven(several, resolved.value.parameters))).toContain("mark is one of apple, fig and pieces is at most 9");
    expect(lastingValues(several.parameters, { marks: "a", least: "", most: "3", gone: "x" })).toEqual({ marks: "a" });
  });
  it("compared with a timestamp may have a time of day, which a date has not", () => {
    const from = (name: string, text: string): QuerySpec => ({ ...crates, conditions: [{ ...is("w1", field(name), text), operator: "atLeast" }] });
    const codes = (spec: QuerySpec) => {
      const resolved = resolveQuery(spec, sampleSchema, { today: usualDay("2026-11-23"), values: {} });
      return resolved.ok ? [] : resolved.problems.map((p) => p.code);
    };
    expect([codes(from("at", "2026-03-01 14:05")), codes(from("at", "2026-03-01 25:00")), codes(from("day", "2026-03-01 14:05"))]).toEqual([
      [],
      ["valueType"],
      ["valueType"],
    ]);
    expect(said(from("at", "2026-03-01 14:05:00"))).toContain("at is on or after 1 Mar 2026 14:05");
  });
  it("take any value of a column they are chosen from", () => {
    const chosen = (from?: { table: string; column: string }): QuerySpec => ({
      ...crates,
      conditions: [{ ...is("w1", field("mark"), ""), values: [{ kind: "parameter", name: "mark" }] }],
      parameters: [{ name: "mark", type: "choice", choices: ["fig"], ...(from ? { from } : {}) }],
    });
    const codes = (spec: QuerySpec) => {
      const resolved = resolveQuery(spec, sampleSchema, { today: usualDay("2026-11-23"), values: { mark: "apple" } });
      return resolved.ok ? [] : resolved.problems.map((p) => p.code);
    };
    expect([codes(chosen()), codes(chosen({ table: "query q", column: "c" }))]).toEqual([["parameterChoice"], []]);
    expect(queriesRead(chosen({ table: "query q", column: "c" }))).toEqual(["q"]);
  });
  it("are renamed and removed wherever conditions ask for them", () => {
    expect(comparisonsIn(renameParameter(asking, "a", "mark").conditions)[0]?.values).toEqual([{ kind: "parameter", name: "mark" }]);
    expect(renameParameter(asking, "a", "b")).toBe(asking);
    expect(renameParameter(asking, "a", "1x")).toBe(asking);
    const without = removeParameter(asking, "a");
    expect([comparisonsIn(without.conditions).map((c) => c.id), without.parameters.map((p) => p.name)]).toEqual([["w2"], ["b"]]);
    // A group goes with the last of its conditions.
    const [group] = asking.conditions;
    const alone: QuerySpec = { ...asking, conditions: group && "of" in group ? [{ ...group, of: group.of.slice(0, 1) }] : [] };
    expect(removeParameter(alone, "a").conditions).toEqual([]);
  });
});

describe("a formula's first values", () => {
  it("are asked of the query as it stands, without its order, limits and figures; of groups with them", () => {
    const spec: QuerySpec = {
      ...crates,
      columns: [...crates.columns, { id: "n", value: { kind: "formula", text: "price * 2" }, label: "Twice" }],
      firstOf: { rows: 1, per: [] },
    };
    const asked = firstValues(spec, "Twice + 1", "rows");
    expect(asked).toMatchObject({ conditions: spec.conditions, joins: spec.joins, grouped: false, order: [], limit: FIRST_VALUES });
    expect(asked?.firstOf).toBeUndefined();
    expect(asked?.columns.map((c) => [c.id, c.hidden ?? false])).toEqual([
      ["n", true],
      ["first values", false],
    ]);
    expect(resolveQuery(asked as QuerySpec, sampleSchema, { today: usualDay("2026-11-23"), values: {} }).ok).toBe(true);
    expect(firstValues({ ...spec, grouped: true }, "COUNT(*)", "figures")?.columns.at(-1)).toMatchObject({ figure: "formula" });
  });
  it("are none of nothing, nor over the rows of a query", () => {
    expect(firstValues(crates, "  ", "rows")).toBeNull();
    expect(firstValues({ ...crates, source: "rows" }, "1", "rows")).toBeNull();
  });
});
