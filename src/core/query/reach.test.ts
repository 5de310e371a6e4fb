import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { PARENT } from "../derive/parent";
import { findTable } from "../schema/schema";
import { usualDay } from "../types/calendar";
import { decimal, isComparable, text, type ValueType } from "../types/valueType";
import type { OperatorName } from "./choices";
import { comparisonsIn } from "./conditions";
import * as edit from "./edit";
import { addOrder, dropOrder, raiseOrder, sortBy, turnOrder } from "./editOrder";
import { askWhenRun, isAsked, PARAMETER_FOR, removeParameter, renameParameter, suits, withValue } from "./editParameters";
import { emptyQuery } from "./empty";
import { queriesRead } from "./queryTables";
import { comparableFields, foundFields, reachable, scopeOf, valuesBeside, withReached } from "./reach";
import { relatedFigure } from "./related";
import { renameColumn } from "./renameColumn";
import { resolveQuery } from "./resolve";
import type { Condition, Operand, QuerySpec, Value } from "./spec";

const toYard = { link: "crate.yard_id", toward: "b" as const };
const field = (column: string, join = ""): Operand => ({ kind: "field", join, column });
const crates = emptyQuery("crate");
const withYard = edit.bring(crates, [toYard]).spec;

describe("the fields that can be picked", () => {
  const words = (spec: QuerySpec, depth: number) => reachable(spec, sampleSchema, depth).map((f) => f.words);
  it("are those of the source, then along links to one, as far as is looked", () => {
    expect(words(crates, 0)).toContain("mark");
    expect(words(crates, 0).some((w) => w.includes(" › "))).toBe(false);
    expect(words(crates, 1)).toContain("yard › name");
    expect(words(emptyQuery("stamp"), 1)).not.toContain("crate › yard › name");
    expect(words(emptyQuery("stamp"), 2)).toContain("crate › yard › name");
  });
  it("are those of a table that is brought, however it is brought, and none of one to many that is not", () => {
    expect(words(withYard, 0)).toContain("yard › name");
    const toMany = { link: "crate.yard_id", toward: "a" as const };
    expect(words(emptyQuery("yard"), 3).some((w) => w.startsWith("crates"))).toBe(false);
    expect(words(edit.bring(emptyQuery("yard"), [toMany]).spec, 0)).toContain("crates › mark");
  });
  it("are sought by words in any order, dates by their parts too where those can be picked", () => {
    const sought = (words: string, parts = true) => foundFields(reachable(crates, sampleSchema, 1), words, parts).map((f) => f.words);
    expect(sought("name yard")).toEqual(["yard › name"]);
    expect(sought("quarter day")).toEqual(["quarter of day"]);
    expect(sought("quarter day", false)).toEqual([]);
    expect(sought("day")[0]).toBe("day");
    expect(sought("quarter price")).toEqual([]);
    const [found] = foundFields(reachable(crates, sampleSchema, 1), "quarter opened", true);
    expect(found && withReached(crates, found)).toMatchObject({ spec: { joins: [{ link: toYard.link }] }, operand: { column: "opened", part: "quarter" } });
  });
  it("lead by their steps to a join that a tick brings", () => {
    const name = reachable(crates, sampleSchema, 1).find((f) => f.words === "yard › name");
    const brought = edit.bring(crates, name?.steps ?? []);
    expect(brought.spec.joins.map((j) => [j.id, "link" in j && j.link])).toEqual([[brought.join, "crate.yard_id"]]);
  });
  it("have no table where the source is gone", () => {
    expect(scopeOf(emptyQuery("lost"), sampleSchema)).toEqual([]);
    expect(reachable(emptyQuery("lost"), sampleSchema, 2)).toEqual([]);
    expect(scopeOf(withYard, sampleSchema).map((s) => s.path.join(" "))).toEqual(["", "yard"]);
  });
});

describe("what a field can be compared with", () => {
  const types: ValueType[] = [text, { kind: "whole" }, decimal(2), { kind: "floating" }, { kind: "date" }, { kind: "timestamp" }, { kind: "yesno" }];
  it("is of its own kind: numbers with numbers, days with days, either way round", () => {
    const said = types.map((a) =>
      types
        .filter((b) => isComparable(a, b))
        .map((b) => b.kind)
        .join(" "),
    );
    const [numbers, days] = ["whole decimal floating", "date timestamp"];
    expect(said).toEqual(["text", numbers, numbers, numbers, days, days, "yesno"]);
  });
  it("are the fields of all tables that are brought, without itself", () => {
    const prices = comparableFields(withYard, sampleSchema, field("price"), decimal(2)).map((f) => f.words);
    expect(prices).toContain("yard › rent");
    expect(prices).not.toContain("price");
    expect(prices).not.toContain("mark");
    // The same column of another table is another field.
    expect(comparableFields(withYard, sampleSchema, field("id"), { kind: "whole" }).map((f) => f.words)).toContain("yard › id");
  });
  it("are in a rollup the stored fields of the row it belongs to as well, first", () => {
    const yard = findTable(sampleSchema, "yard");
    const parent = yard && { ...yard, columns: yard.columns.map((c) => (c.name === "rent" ? { ...c, derived: { table: "yard", broken: null } as never } : c)) };
    const offered = comparableFields(crates, sampleSchema, field("price"), decimal(2), parent);
    expect(offered.filter((f) => f.join === PARENT).map((f) => f.words)).toEqual(["this row › id"]);
    expect(offered[0]?.join).toBe(PARENT);
  });
});

describe("a value that is asked for when the query is run", () => {
  const spec = (operator: OperatorName, values: Value[], left = field("day")): QuerySpec => ({
    ...crates,
    columns: [{ id: "c1", value: field("mark") }],
    conditions: [{ id: "w", left, operator, values }],
  });
  const typed = (source: string): Value => ({ kind: "value", text: source });
  it("is named start and end in a range, else by its field, and keeps what was typed as its default", () => {
    const range = spec("between", [typed("2026-01-01"), typed("")]);
    const asked = askWhenRun(askWhenRun(range, sampleSchema, "w", 0, { kind: "date" }), sampleSchema, "w", 1, { kind: "date" });
    expect(asked.parameters).toEqual([
      { name: "start", type: "date", default: { kind: "fixed", text: "2026-01-01" } },
      { name: "end", type: "date" },
    ]);
    expect(comparisonsIn(asked.conditions)[0]?.values).toEqual([
      { kind: "parameter", name: "start" },
      { kind: "parameter", name: "end" },
    ]);
    expect(askWhenRun(spec("is", [typed("")], field("mark")), sampleSchema, "w", 0, text).parameters).toEqual([{ name: "mark", type: "text" }]);
  });
  it("has a name of its own where that is taken, one that a parameter may have, and can be run", () => {
    const first = askWhenRun(spec("is", [typed("a")], field("mark")), sampleSchema, "w", 0, text);
    const twice = askWhenRun({ ...first, conditions: spec("is", [typed("b")], field("mark")).conditions }, sampleSchema, "w", 0, text);
    expect(twice.parameters.map((p) => p.name)).toEqual(["mark", "mark 2"]);
    expect(resolveQuery(twice, sampleSchema, { today: usualDay("2026-11-24"), values: {} }).ok).toBe(true);
    const odd = askWhenRun(spec("is", [typed("1")], { kind: "formula", text: "2 + 2" }), sampleSchema, "w", 0, { kind: "whole" });
    expect(odd.parameters[0]?.name).toMatch(/^[\p{L}_][\p{L}\p{N}_ ]*$/u);
  });
  it("is one for all of a list; a condition that is gone changes nothing", () => {
    const many = spec("oneOf", [typed("a"), typed("b")], field("mark"));
    expect(withValue(many, "w", 1, typed("c"))).toEqual([typed("c")]);
    expect(withValue(spec("between", [typed("a"), typed("b")]), "w", 1, typed("c"))).toEqual([typed("a"), typed("c")]);
    expect(withValue(many, "gone", 0, typed("c"))).toEqual([]);
    expect(askWhenRun(many, sampleSchema, "gone", 0, text)).toBe(many);
  });
  it("offers the parameters there are that suit it: choices for all, either kind of number for numbers", () => {
    const parameters = (["text", "whole", "decimal", "date", "yesno", "choice"] as const).map((type) => ({ name: type, type }));
    const offered = (type: ValueType) =>
      parameters
        .filter((p) => suits(p, type, "is"))
        .map((p) => p.name)
        .join(" ");
    expect(offered(text)).toBe("text choice");
    expect(offered({ kind: "whole" })).toBe("whole decimal choice");
    expect(offered({ kind: "floating" })).toBe("whole decimal choice");
    expect(offered({ kind: "timestamp" })).toBe("date choice");
    expect(offered({ kind: "yesno" })).toBe("yesno choice");
    for (const type of ["text", "whole", "decimal", "floating", "date", "timestamp", "yesno"] as const) expect(PARAMETER_FOR[type]).toBeDefined();
  });
});

describe("a column by another heading", () => {
  const formula = (text: string): Operand => ({ kind: "formula", text });
  const spec: QuerySpec = {
    ...crates,
    grouped: true,
    columns: [
      { id: "k", value: formula("mark || 'Fee'"), label: "Fee" },
      { id: "t", value: field("price"), figure: "total", label: "Net" },
      { id: "r", value: formula('Net / "NET" + yard.Net - Net(1) + Nets'), figure: "formula" },
      { id: "q", value: formula("Fee || ("), figure: "formula" },
    ],
    conditions: [{ id: "w", left: formula("Fee || 'Fee'"), operator: "notEmpty", values: [] }],
  };
  const texts = (changed: QuerySpec) => changed.columns.map((c) => (c.value?.kind === "formula" ? c.value.text : ""));
  it("is named by it in formulas, but for longer names, functions and texts", () => {
    const renamed = renameColumn(spec, sampleSchema, "t", "Net of tax");
    expect(texts(renamed)[2]).toBe('"Net of tax" / "Net of tax" + yard.Net - Net(1) + Nets');
    const key = renameColumn(spec, sampleSchema, "k", "Mark");
    expect(key.conditions).toMatchObject([{ left: { text: "Mark || 'Fee'" } }]);
    expect(texts(key).slice(0, 4)).toEqual(["mark || 'Fee'", "", 'Net / "NET" + yard.Net - Net(1) + Nets', "Mark || ("]);
  });
  it("goes by what it is of where it has none; another letter case changes nothing", () => {
    expect(texts(renameColumn({ ...spec, columns: spec.columns.slice(0, 3) }, sampleSchema, "t", "nET"))[2]).toBe('Net / "NET" + yard.Net - Net(1) + Nets');
    const bare = renameColumn(
      {
        ...spec,
        conditions: [],
        columns: [
          { id: "t", value: field("price"), figure: "total", label: "Net" },
          { id: "r", value: formula("Net * 2"), figure: "formula" },
        ],
      },
      sampleSchema,
      "t",
      undefined,
    );
    expect(texts(bare)[1]).toBe("Price * 2");
  });
});

describe("a parameter that nothing asks for", () => {
  const parameters = ["a", "b b"].map((name) => ({ name, type: "text" as const }));
  const asking = (more: Partial<QuerySpec>): boolean[] => ["a", "b b"].map((name) => isAsked({ ...emptyQuery("crate"), parameters, ...more }, name));
  const by = (name: string): Condition => ({ id: "w", left: field("mark"), operator: "is", values: [{ kind: "parameter", name }] });
  it("is told from one that a condition, a formula or a figure over related rows names", () => {
    expect(asking({})).toEqual([false, false]);
    expect(asking({ conditions: [by("a")] })).toEqual([true, false]);
    expect(asking({ columns: [{ id: "c", value: { kind: "formula", text: 'mark || :"b b"' } }] })).toEqual([false, true]);
    const related = { ...relatedFigure("", { link: "stamp.crate_id", toward: "a" }, "count", null, sampleSchema), where: [by("b b")] };
    expect(asking({ columns: [{ id: "c", value: related }] })).toEqual([false, true]);
    const spec: QuerySpec = { ...emptyQuery("crate"), parameters, columns: [{ id: "c", value: related }] };
    expect(asking(removeParameter(spec, "b b"))).toEqual([false, false]);
    expect(renameParameter(spec, "b b", "d").columns[0]?.value).toMatchObject({ where: [{ values: [{ name: "d" }] }] });
    const among: Condition = { id: "w", left: field("note"), operator: "among", values: [{ kind: "rows", table: "query q", column: "x" }] };
    expect(queriesRead({ ...spec, columns: [{ id: "c", value: { ...related, where: [among] } }] })).toEqual(["q"]);
    expect(asking({ parameters: [...parameters, { name: "c", type: "choice", from: { table: "query q", column: "x" } }] })).toEqual([true, true]);
  });
});

describe("an order as it is arranged", () => {
  const ordered = addOrder(addOrder({ ...crates, columns: ["a", "b", "c"].map((id) => ({ id, value: field("mark") })) }, "a"), "b");
  const said = (spec: QuerySpec) => spec.order.map((o) => `${o.column} ${o.direction}`).join(", ");
  it("is added to, turned round, raised and taken from, each by its place", () => {
    expect(said(ordered)).toBe("a up, b up");
    expect(said(turnOrder(ordered, 1))).toBe("a up, b down");
    expect(said(turnOrder(turnOrder(ordered, 1), 1))).toBe("a up, b up");
    expect(said(raiseOrder(ordered, 1))).toBe("b up, a up");
    expect(said(raiseOrder(ordered, 0))).toBe("a up, b up");
    expect(said(dropOrder(ordered, 0))).toBe("b up");
    expect(said(dropOrder(ordered, 9))).toBe("a up, b up");
  });
  it("goes up, then down, then not at all by a heading, which comes before the others", () => {
    const once = sortBy(ordered, "c");
    expect(said(once)).toBe("c up, a up, b up");
    expect(said(sortBy(once, "c"))).toBe("c down, a up, b up");
    expect(said(sortBy(sortBy(once, "c"), "c"))).toBe("a up, b up");
    expect(said(sortBy(ordered, "b"))).toBe("b up, a up");
  });
});

describe("what stands beside a condition’s column", () => {
  it("are the query’s own columns it can be compared with, on lines those worked out from the lines beside too", () => {
    const asks = (id: string, column: string): Condition => ({ id, left: { kind: "column", id: column }, operator: "atLeast", values: [] });
    const spec: QuerySpec = {
      ...crates,
      grouped: true,
      columns: [
        { id: "m", value: field("mark") },
        { id: "p", value: field("price"), figure: "total" },
        { id: "n", value: null, figure: "count" },
        { id: "r", value: { kind: "column", id: "p" }, figure: "window", window: { kind: "running" } },
        { id: "k", value: { kind: "column", id: "p" }, figure: "window", window: { kind: "rank" } },
      ],
      groupConditions: [asks("g", "p")],
      lineConditions: [asks("l", "r")],
    };
    const beside = (condition: Condition, type: ValueType) =>
      valuesBeside(spec, sampleSchema, condition, type).map((b) => b.value.kind === "column" && b.value.id);
    expect(beside(asks("g", "p"), decimal(2))).toEqual(["n"]);
    expect(beside(asks("l", "r"), decimal(2))).toEqual(["p", "n", "k"]);
    expect(beside(asks("g", "m"), text)).toEqual([]);
  });
});
