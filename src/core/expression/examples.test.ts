import Database from "better-sqlite3";
import { describe, expect, it } from "vitest";
import { registerFunctions } from "@/server/source/sqlite/functions";
import { readRows } from "@/server/source/sqlite/readers";
import { compileRows } from "../query/compile";
import { sqlite } from "../query/dialect/sqlite";
import { emptyQuery } from "../query/empty";
import { resolveQuery } from "../query/resolve";
import { usualDay } from "../types/calendar";
import { FORMULA_FORMS, FORMULA_FUNCTIONS } from "./formulaFunctions";

const examples = [
  ...Object.entries(FORMULA_FUNCTIONS).map(([name, f]) => [name, f.example] as const),
  ...FORMULA_FORMS.map((f) => [f.form, f.example] as const),
];

/** What a formula comes to for one row without anything in it; the codes of what is wrong where it is refused. */
function worked(formula: string): unknown {
  const column = { name: "n", label: "n", type: { kind: "whole" as const }, storage: "plain" as const, nullable: false, misfits: 0 };
  const schema = { tables: [{ name: "one", label: "one", key: ["n"], rows: 1, columns: [column] }], links: [] };
  const spec = { ...emptyQuery("one"), columns: [{ id: "c", value: { kind: "formula" as const, text: formula } }] };
  const plan = resolveQuery(spec, schema, { today: usualDay("2026-09-30"), values: {} });
  if (!plan.ok) return plan.problems.map((p) => p.code);
  const db = new Database(":memory:");
  registerFunctions(db);
  db.exec("CREATE TABLE one (n INTEGER PRIMARY KEY); INSERT INTO one VALUES (1)");
  db.defaultSafeIntegers();
  const [row] = [...readRows(db, compileRows(plan.value, sqlite))];
  db.close();
  return row?.[0];
}

describe("the example of each function", () => {
  it.each(examples)("%s: %s is true", (_, example) => expect(worked(example)).toBe(1));
});

describe("functions at their edges", () => {
  it.each([
    ["TO_CHAR(CURRENT_DATE, '')", ""],
    ["TO_CHAR(-1234567.891, '#,##0.00')", "-1,234,567.89"],
    ["TO_CHAR(-0.004, '0.00')", "0.00"],
    ["TO_CHAR(999.995, '#,##0.00')", "1,000.00"],
    ["TO_CHAR(7, '000')", "007"],
    ["TO_CHAR(1234, '000')", "1234"],
    ["TO_CHAR(100, '#,##0')", "100"],
    ["TO_CHAR(0, 'EUR #0.0 gross')", "EUR 0.0 gross"],
    ["TO_CHAR(NULLIF(1, 1), '0')", null],
    ["REGEXP_LIKE('a.b', 'a\\.b')", 1],
    ["REGEXP_LIKE('axb', 'a\\.b')", 0],
    ["REGEXP_LIKE('xab', '^ab|xa')", 1],
    ["REGEXP_LIKE('A', '[a-z]')", 0],
    ["REGEXP_LIKE(NULL || '', 'a')", null],
    ["TO_CHAR(CURRENT_DATE, 'HH24:MI')", "00:00"],
    ["MONTHS_BETWEEN(DATE '2026-03-31', DATE '2026-01-31')", -2],
    ["MONTHS_BETWEEN(DATE '2026-03-31', DATE '2026-02-01')", -1],
    ["MONTHS_BETWEEN(DATE '2026-03-31', DATE '2026-03-01')", 0],
    ["YEARS_BETWEEN(DATE '2000-02-29', DATE '2026-03-01')", 26],
    ["YEARS_BETWEEN(DATE '2026-03-01', DATE '2024-03-02')", -1],
    ["SIGN(0)", 0],
    ["SIGN(0.01)", 1],
    ["SIGN(NULLIF(1, 1))", null],
    ["TRUNC(2.679, 2) = 2.67", 1],
    ["TRUNC(-0.999) = 0", 1],
    ["TRUNC(2.5, 4) = 2.5", 1],
    ["TRUNC(1999) = 1999", 1],
    ["GREATEST(1, 2, 3)", 3],
    ["GREATEST(3, 2, 3)", 3],
    ["LEAST(3, NULLIF(1, 1), 2)", null],
    ["LEAST(2.50, 2.5) = 2.5", 1],
    ["GREATEST('Pell', 'Oat') = 'Pell'", 1],
    ["LEAST(DATE '2026-03-01', DATE '2026-02-28') = DATE '2026-02-28'", 1],
    ["LAST_DAY(DATE '2026-12-31') = DATE '2026-12-31'", 1],
    ["LAST_DAY(DATE '2100-02-01') = DATE '2100-02-28'", 1],
    ["CONCAT(NULL)", ""],
    ["CONCAT('a', '', 1.50) = 'a1.50'", 1],
  ])("%s is %s", (formula, wanted) => expect(worked(formula)).toBe(wanted));
  it.each([
    "GREATEST('a', 1)",
    "LAST_DAY('2026-01-01')",
    "TRUNC(CAST(1 AS DOUBLE))",
    "SIGN('1')",
    "GREATEST(1)",
    "TRUNC(1.5, 1 + 1)",
    "CURRENT_DATE + INTERVAL '1' HOUR",
    "TO_CHAR(CURRENT_DATE, CAST(n AS TEXT))",
    "TO_CHAR(1, '#.##')",
    "TO_CHAR(CAST(1 AS DOUBLE), '0')",
    "REGEXP_LIKE('a', 'a**')",
    "REGEXP_LIKE('a', CAST(n AS TEXT))",
  ])("%s is refused", (formula) => expect(worked(formula)).toEqual([expect.stringMatching(/^(formulaType|argumentCount|regexpWrong|numberPattern)$/)]));
  it("refuse an interval in nothing known", () => expect(worked("CURRENT_DATE + INTERVAL '1' CENTURY")).toEqual(["syntax"]));
});
