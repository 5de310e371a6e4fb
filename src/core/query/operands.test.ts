import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { isProblem } from "../expression/check";
import { findColumn, findTable } from "../schema/schema";
import { usualDay } from "../types/calendar";
import { decimal, floating, text, type ValueType, whole } from "../types/valueType";
import type { OperatorName } from "./choices";
import * as edit from "./edit";
import { emptyQuery } from "./empty";
import { columnFormat } from "./naming";
import { fieldByNames, operandWords } from "./operands";
import { defaultText, probeValues } from "./parameters";
import { parseValue } from "./parseValue";
import { scopeOf } from "./reach";
import { resolveQuery } from "./resolve";
import { whatIsAsked } from "./resolveConditions";
import type { Condition, Operand, Parameter, QuerySpec, Value } from "./spec";

const today = usualDay("2026-11-24");
const date: ValueType = { kind: "date" };
const yesno: ValueType = { kind: "yesno" };
const field = (column: string, join = ""): Operand => ({ kind: "field", join, column });
const typed = (source: string): Value => ({ kind: "value", text: source });
const asked = (name: string): Value => ({ kind: "parameter", name });
const withYard = edit.bring(emptyQuery("crate"), [{ link: "crate.yard_id", toward: "b" }]);

/** What a value as typed is read as: digits and their scale, or why not. */
function read(source: string, type: ValueType): string {
  const value = parseValue(source, type, []);
  if (isProblem(value)) return value.code;
  return value.node === "literal" ? `${value.value} ${value.type.kind}${value.type.kind === "decimal" ? value.type.scale : ""}` : "?";
}

describe("a value as it is typed", () => {
  it("is an exact number of its own scale, with either minus, and none beyond 18 digits", () => {
    expect(["12.50", " 7 ", "-0.125", "−3"].map((v) => read(v, decimal(2)))).toEqual(["1250 decimal2", "7 whole", "-125 decimal3", "-3 whole"]);
    expect(["999999999999999999", "1000000000000000000", "0.1234567890123", "1,200", "12a", "1e3"].map((v) => read(v, whole))).toEqual([
      "999999999999999999 whole",
      "numberLong",
      "valueType",
      "valueType",
      "valueType",
      "valueType",
    ]);
    expect(read("0.1", floating)).toBe("1 decimal1");
  });
  it("is a day that there is, yes or no in any case, and any text as it stands", () => {
    expect(["2026-02-28", "2026-02-30", "28.2.2026"].map((v) => read(v, date))).toEqual(["2026-02-28 date", "valueType", "valueType"]);
    expect(["yes", "NO", "1", "true"].map((v) => read(v, yesno))).toEqual(["1 yesno", "0 yesno", "valueType", "valueType"]);
    expect([read("  a ", text), read("", text), read("", whole), read(" ", date)]).toEqual(["  a  text", " text", "valueMissing", "valueMissing"]);
  });
});

describe("conditions of which a value is left open", () => {
  const condition = (operator: OperatorName, ...values: Value[]): Condition => ({ id: "w", left: field("day"), operator, values });
  const open = (c: Condition) => {
    const left = whatIsAsked(c, (v) => v.kind === "parameter");
    return left && `${left.operator} ${left.values.map((v) => (v.kind === "value" ? v.text : v.kind)).join(" ")}`;
  };
  it("keep the other end of a range and the other values of a list, and fall away with the last", () => {
    expect(open(condition("between", typed("a"), asked("p")))).toBe("atLeast a");
    expect(open(condition("between", asked("p"), typed("b")))).toBe("atMost b");
    expect(open(condition("notBetween", asked("p"), typed("b")))).toBe("atMost b");
    expect(open(condition("oneOf", typed("a"), asked("p"), typed("c")))).toBe("oneOf a c");
    expect(open(condition("between", asked("p"), asked("q")))).toBe(null);
    expect(open(condition("is", asked("p")))).toBe(null);
    expect(open(condition("is", typed("a")))).toBe("is a");
  });
});

describe("parameters", () => {
  const spec = (parameters: Parameter[], values: Value[], left = field("price"), operator: OperatorName = "between"): QuerySpec => ({
    ...emptyQuery("crate"),
    columns: [{ id: "c", value: field("mark") }],
    conditions: [{ id: "w", left, operator, values }],
    parameters,
  });
  const resolve = (of: QuerySpec, values = {}) => resolveQuery(of, sampleSchema, { today, values });
  const codes = (of: QuerySpec, values = {}) => {
    const made = resolve(of, values);
    return made.ok ? made.value.conditions.length : made.problems.map((p) => p.code).join(" ");
  };
  const [least, most]: Parameter[] = [
    { name: "least", type: "decimal" },
    { name: "most", type: "decimal", optional: true },
  ];
  it("are given, or have a default, or are missing; of optional ones left empty only that end falls away", () => {
    const range = spec([least as Parameter, most as Parameter], [asked("least"), asked("most")]);
    expect(codes(range)).toBe("parameterMissing");
    expect(codes(range, { least: "5" })).toBe(1);
    const made = resolve(range, { least: "5" });
    expect(made.ok && made.value.parameters.map((p) => [p.name, p.text, p.defaulted])).toEqual([
      ["least", "5", false],
      ["most", null, true],
    ]);
    expect(codes(range, { least: "", most: "" })).toBe("parameterMissing");
  });
  it("are refused where a range is the wrong way round, typed or given", () => {
    const range = spec([least as Parameter, most as Parameter], [asked("least"), asked("most")]);
    expect(codes(range, { least: "5", most: "4.99" })).toBe("rangeTurned");
    expect(codes(range, { least: "5", most: "5.00" })).toBe(1);
    expect(codes(spec([], [typed("2026-03-02"), typed("2026-03-01")], field("day")))).toBe("rangeTurned");
    expect(codes(spec([], [typed("10"), typed("9")], field("pieces"), "notBetween"))).toBe("rangeTurned");
  });
  it("have days that move with the day of the run, and one of the choices there are", () => {
    const relative: Parameter = { name: "p", type: "date", default: { kind: "relative", date: "firstOfLastMonth" } };
    expect([defaultText(relative, today), defaultText(relative, usualDay("2026-01-31"))]).toEqual(["2026-10-01", "2025-12-01"]);
    expect([defaultText({ name: "p", type: "text" }, today), defaultText({ name: "p", type: "text", default: { kind: "fixed", text: "" } }, today)]).toEqual([
      null,
      null,
    ]);
    const choice: Parameter = { name: "p", type: "choice", choices: ["a", "b"] };
    const of = spec([choice], [asked("p")], field("mark"), "is");
    expect([codes(of, { p: "b" }), codes(of, { p: "c" })]).toEqual([1, "parameterChoice"]);
  });
  it("are of a type that can be compared with the field, named once, and known where they are used", () => {
    expect(codes(spec([{ name: "p", type: "date" }], [asked("p")], field("price"), "is"), { p: today.day })).toBe("parameterType");
    expect(codes(spec([least as Parameter, least as Parameter], [asked("least")], field("price"), "is"), { least: "1" })).toBe("duplicateName");
    expect(codes(spec([], [asked("gone")], field("price"), "is"))).toBe("parameterGone");
  });
  it("are tried with values of their kind where only the columns matter", () => {
    const kinds: Parameter[] = (["text", "whole", "decimal", "date", "yesno"] as const).map((type) => ({ name: type, type }));
    const probes = probeValues([...kinds, { name: "c", type: "choice", choices: ["x"] }, { name: "d", type: "text", default: { kind: "fixed", text: "y" } }]);
    expect(probes).toMatchObject({ c: "x", date: "2000-01-01", yesno: "no" });
    expect("d" in probes).toBe(false);
    for (const p of kinds)
      expect(isProblem(parseValue(probes[p.name] ?? "", { text, whole, decimal: decimal(6), date, yesno }[p.type as "text"], []))).toBe(false);
  });
});

describe("fields", () => {
  const scope = scopeOf(withYard.spec, sampleSchema);
  const found = (...names: string[]) => {
    const at = fieldByNames(scope, names);
    return at && `${at.at.table.name}.${at.column.name}`;
  };
  it("are named in formulas without regard to case and underscores, after the links that lead to them", () => {
    expect([found("PRICE"), found("yard id"), found("Yard_ID"), found("crate", "price")]).toEqual([
      "crate.price",
      "crate.yard_id",
      "crate.yard_id",
      "crate.price",
    ]);
    expect([found("yard", "name"), found("YARD", "Name")]).toEqual(["yard.name", "yard.name"]);
    expect([found("name"), found("yard", "yard", "name"), found("crate", "name"), found("gone")]).toEqual([null, null, null, null]);
  });
  it("are said by the way to them, with their part or band; what is gone by its own name", () => {
    const words = (operand: Operand | null) => operandWords(operand, scope);
    expect(words(field("name", withYard.join))).toBe("yard › name");
    expect(words({ kind: "field", join: "", column: "day", part: "isoWeek" })).toMatch(/week of day/i);
    expect(words({ kind: "field", join: "", column: "price", band: { width: "50" } })).toBe("price by 50");
    expect([words(null), words({ kind: "formula", text: " price * 2 " }), words({ kind: "formula", text: " " })]).toEqual(["rows", "price * 2", "a formula"]);
    expect([words(field("lost")), words(field("x", "j9"))]).toEqual(["lost", "? › x"]);
  });
  it("are parted and banded only where they can be", () => {
    const codes = (operand: Operand) => {
      const made = resolveQuery({ ...emptyQuery("crate"), grouped: true, columns: [{ id: "c", value: operand }] }, sampleSchema, { today, values: {} });
      return made.ok ? "fine" : made.problems.map((p) => p.code).join(" ");
    };
    const banded = (column: string, width: string): Operand => ({ kind: "field", join: "", column, band: { width } });
    expect(["0.5", "0", "-1", "x", "0.001"].map((w) => codes(banded("price", w)))).toEqual(["fine", "bandWidth", "bandWidth", "bandWidth", "bandWidth"]);
    expect([codes(banded("ratio", "0.1")), codes(banded("mark", "1"))]).toEqual(["fine", "bandType"]);
    expect([codes({ kind: "field", join: "", column: "at", part: "month" }), codes({ kind: "field", join: "", column: "price", part: "month" })]).toEqual([
      "fine",
      "datePartType",
    ]);
  });
});

describe("how a column of a table is written", () => {
  const crate = findTable(sampleSchema, "crate");
  const formatOf = (name: string, more: object = {}) => {
    const column = crate && findColumn(crate, name);
    return crate && column ? columnFormat(sampleSchema, { table: crate, column: { ...column, ...more } }) : null;
  };
  it("is without separators where a number names something, and else as it is set", () => {
    expect([formatOf("id"), formatOf("yard_id"), formatOf("pieces"), formatOf("price")]).toEqual([{ grouping: false }, { grouping: false }, {}, {}]);
    expect(formatOf("pieces", { label: "account no" })).toEqual({ grouping: false });
    expect(formatOf("price", { format: { decimals: 1 } })).toEqual({ decimals: 1 });
  });
  it("keeps what a person set of a key", () => expect(formatOf("id", { format: { grouping: true } })).toEqual({ grouping: true }));
});
