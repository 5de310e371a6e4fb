import Database from "better-sqlite3";
import { describe, expect, it } from "vitest";
import { registerFunctions } from "@/server/engine/functions";
import { readRows } from "@/server/engine/readers";
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

describe("the example of each function", () => {
  it.each(examples)("%s: %s is true", (_, example) => {
    const column = { name: "n", label: "n", type: { kind: "whole" as const }, storage: "plain" as const, nullable: false, misfits: 0 };
    const schema = { tables: [{ name: "one", label: "one", key: ["n"], rows: 1, columns: [column] }], links: [] };
    const spec = { ...emptyQuery("one"), columns: [{ id: "c", value: { kind: "formula" as const, text: example } }] };
    const plan = resolveQuery(spec, schema, { today: usualDay("2026-09-30"), values: {} });
    if (!plan.ok) throw new Error(JSON.stringify(plan.problems));
    const db = new Database(":memory:");
    registerFunctions(db);
    db.exec("CREATE TABLE one (n INTEGER PRIMARY KEY); INSERT INTO one VALUES (1)");
    db.defaultSafeIntegers();
    expect([...readRows(db, compileRows(plan.value, sqlite))]).toEqual([[1]]);
    db.close();
  });
});
