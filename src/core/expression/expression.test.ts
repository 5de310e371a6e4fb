import { describe, expect, it } from "vitest";
import { carriedTo, text, type ValueType, whole } from "../types/valueType";
import { checkFormula, isProblem } from "./check";
import type { Expr } from "./expr";
import { renameAtEnd } from "./parse";

const column = (name: string, type: ValueType): Expr => ({ node: "field", alias: "t", column: name, type, storage: "plain", guarded: false });
const scope = {
  field: (path: string[]) => ({ name: column("name", text), n: column("n", whole), "odd name": column("odd name", text) })[path.join(".")] ?? null,
  parameter: () => null,
  today: "2026-11-23",
};
const check = (source: string) => checkFormula(source, scope, ["formula"]);
const problemOf = (source: string) => {
  const result = check(source);
  return isProblem(result) ? { code: result.code, at: result.detail.at } : "no problem";
};

describe("formulas", () => {
  it.each([
    ["n +", "syntax", 4],
    ["n + * 2", "syntax", 5],
    ["(n + 1", "syntax", 7],
    ["n # 1", "syntax", 3],
    ["name || 'open", "syntax", 9],
    ["CASE n END", "syntax", 8],
    ["n n", "syntax", 3],
    ["nmae || 'x'", "unknownField", 1],
    ["1 + name", "formulaType", 5],
    ["name * 2", "formulaType", 1],
    ["UPPER(n)", "formulaType", 7],
    ["n = name", "formulaType", 5],
  ])("%s is refused at its place", (source, code, at) => expect(problemOf(source)).toEqual({ code, at }));
  it("refuse unknown functions and wrong counts of arguments", () => {
    expect(problemOf("SOUNDS(name)")).toMatchObject({ code: "unknownFunction" });
    expect(problemOf("TRIM(name, name)")).toMatchObject({ code: "argumentCount" });
    expect(problemOf("DATE '2026-02-30' = DATE '2026-02-28'")).toMatchObject({ code: "valueType" });
    expect(problemOf(":start = 1")).toMatchObject({ code: "parameterGone" });
    expect(problemOf("n < 999999999999999999")).toBe("no problem");
    expect(problemOf("n < 1000000000000000000")).toMatchObject({ code: "numberLong" });
    expect(problemOf("n < 1000000000000.0000001")).toMatchObject({ code: "numberLong" });
  });
  it("follow SQL's precedence", () => {
    const type = (source: string) => {
      const result = check(source);
      return isProblem(result) ? result.code : result.type;
    };
    expect(check("1 + 2 * 3")).toMatchObject({ fn: "add", args: [{ node: "literal" }, { fn: "multiply" }] });
    expect(check("NOT n = 1 AND n = 2")).toMatchObject({ fn: "and" });
    expect(type('"odd name" || n')).toEqual(text);
    expect(type("n * 1.50 * 2.5")).toEqual({ kind: "decimal", scale: 3 });
    expect(type("n / 2")).toEqual(carriedTo(6));
    expect(type("ROUND(n / 2, 2)")).toEqual({ kind: "decimal", scale: 2 });
  });
  it("are refused early where they nest too deep or would make a text too long", () => {
    const said = (formula: string) => {
      const made = checkFormula(formula, scope, []);
      return isProblem(made) ? `${made.code} ${Object.values(made.detail).join(" ")}` : "fine";
    };
    expect(said(`${"(".repeat(1900)}n${")".repeat(1900)}`)).toContain("at most 200 operations");
    expect(said(Array.from({ length: 900 }, () => "n").join(" + "))).toContain("at most 200 operations");
    expect(said(`${"-".repeat(900)}n`)).toContain("at most 200 operations");
    expect(said(Array.from({ length: 150 }, () => "n").join(" + "))).toBe("fine");
    expect(said(`${"(".repeat(150)}n${")".repeat(150)}`)).toBe("fine");
    expect(said("LPAD('x', 1000000000)")).toContain("1,000,000 at most");
  });
});

it("renames the last part of a longer name, and nothing else", () => {
  const rename = (formula: string) => renameAtEnd(formula, (names) => names.join(".") === "a yard.rent", "the fee");
  expect(rename(`"a yard".rent * rent + "a yard" . "rent" - x."a yard".rent + 'a yard.rent'`)).toBe(
    `"a yard"."the fee" * rent + "a yard" . "the fee" - x."a yard".rent + 'a yard.rent'`,
  );
  expect(rename('"a yard".rent.more + (')).toBe('"a yard".rent.more + (');
  expect(rename("'not closed")).toBe("'not closed");
});
