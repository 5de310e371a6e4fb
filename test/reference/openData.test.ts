import Database from "better-sqlite3";
import { describe, expect, it } from "vitest";
import { emptyPivot, newAxis } from "@/core/pivot/empty";
import { emptyQuery } from "@/core/query/empty";
import type { QuerySpec } from "@/core/query/spec";
import { newLevel, planReport } from "@/core/report/plan";
import type { Insert, ReportSpec } from "@/core/report/spec";
import type { Schema } from "@/core/schema/schema";
import { text, whole } from "@/core/types/valueType";
import { insertReader } from "@/server/jobs/reports/inserts";
import { eachPage, prepare } from "@/server/jobs/reports/pages";
import type { InsertJob } from "@/server/jobs/work";
import { sqliteReading } from "@/server/source/read";
import { registerFunctions } from "@/server/source/sqlite/functions";
import { context, plainReport, textsOf } from "../support/printed";
import { column } from "../support/sample";

/*
 * Published tables, printed from the single rows they were counted from. Data and tables are written down from memory.
 *
 *  - Admissions to six departments at Berkeley in 1973 by sex: P. J. Bickel, E. A. Hammel, J. W. O'Connell, "Sex Bias in Graduate
 *    Admissions: Data from Berkeley", Science 187 (1975); the table as in D. Freedman, R. Pisani, R. Purves, "Statistics", ch. 2.
 *  - Those aboard the Titanic by class, sex, age and whether they lived: R. J. MacG. Dawson, "The 'Unusual Episode' Data
 *    Revisited", Journal of Statistics Education 3 (1995), after the British Board of Trade's inquiry of 1912.
 */

/** A table with a row for each of those counted. */
function counted(table: string, texts: string[], figure: string, counts: [string[], number, number][]) {
  const db = new Database(":memory:");
  registerFunctions(db);
  db.exec(`CREATE TABLE ${table} (id INTEGER PRIMARY KEY, ${texts.map((t) => `${t} TEXT`).join(", ")}, ${figure} INTEGER)`);
  const insert = db.prepare(`INSERT INTO ${table} (${[...texts, figure].join(", ")}) VALUES (${[...texts, figure].map(() => "?").join(", ")})`);
  for (const [values, no, yes] of counts) {
    for (let i = 0; i < no; i++) insert.run(...values, 0);
    for (let i = 0; i < yes; i++) insert.run(...values, 1);
  }
  const columns = [column("id", whole), ...texts.map((t) => column(t, text)), column(figure, whole)];
  const schema: Schema = { tables: [{ name: table, label: table, key: ["id"], rows: 0, columns }], links: [] };
  const query: QuerySpec = { ...emptyQuery(table), columns: [...texts, figure].map((c) => ({ id: c, value: { kind: "field", join: "", column: c } })) };
  return { db, schema, query };
}

/** The footings of a report's groups, as printed: what they say, and the figures beside it. */
function footings({ db, schema, query }: ReturnType<typeof counted>, spec: ReportSpec, inserts: Record<string, InsertJob> = {}) {
  const checked = planReport(spec, query, schema, context);
  if (!checked.ok) throw new Error(JSON.stringify(checked.problems));
  const job = {
    report: checked.value,
    names: {},
    over: { query, schema, context },
    inserts,
    texts: { brief: "", parameters: [], controls: [], printedAt: "now" },
    now: "2026-11-30T08:00:00Z",
    locale: { locale: "en-GB", zone: "UTC" },
    closing: [],
  };
  const lines: string[][] = [];
  const outline = eachPage(prepare(sqliteReading(db), job).layOut(null, 1), (page) => {
    const rows = new Map<number, string[]>();
    for (const t of textsOf(page)) rows.set(Math.round(t.y), [...(rows.get(Math.round(t.y)) ?? []), t.text]);
    lines.push(...rows.values());
  });
  return { lines, proof: outline.proof, job };
}

const rate = (figure: string): ReportSpec["lines"] => [
  {
    id: "l",
    text: "{} {rows}",
    cells: { [figure]: { kind: "formula", text: `100.0 * SUM(${figure}) / COUNT(*)`, format: { decimals: 0 } } },
  },
];

describe("a grouped report", () => {
  it("reproduces the table of Berkeley's admissions: applicants, and percent admitted, worked out anew at each level", () => {
    const berkeley = counted("applicant", ["department", "sex"], "admitted", [
      [["A", "men"], 313, 512],
      [["A", "women"], 19, 89],
      [["B", "men"], 207, 353],
      [["B", "women"], 8, 17],
      [["C", "men"], 205, 120],
      [["C", "women"], 391, 202],
      [["D", "men"], 279, 138],
      [["D", "women"], 244, 131],
      [["E", "men"], 138, 53],
      [["E", "women"], 299, 94],
      [["F", "men"], 351, 22],
      [["F", "women"], 317, 24],
    ]);
    const by = (levels: string[]) =>
      footings(berkeley, plainReport(["admitted"], { details: false, levels: levels.map((l) => newLevel(l)), lines: rate("admitted") }));
    const { lines, proof } = by(["department", "sex"]);
    expect(lines.filter(([said]) => /^(wo)?men \d/.test(said ?? ""))).toEqual([
      ["men 825", "62"],
      ["women 108", "82"],
      ["men 560", "63"],
      ["women 25", "68"],
      ["men 325", "37"],
      ["women 593", "34"],
      ["men 417", "33"],
      ["women 375", "35"],
      ["men 191", "28"],
      ["women 393", "24"],
      ["men 373", "6"],
      ["women 341", "7"],
    ]);
    // Over all six the men seem favoured: 44 against 30 percent, which no adding or averaging of the twelve comes to.
    expect(by(["sex"]).lines.filter(([said]) => /^(wo)?men \d/.test(said ?? ""))).toEqual([
      ["men 2,691", "45"],
      ["women 1,835", "30"],
    ]);
    expect([proof.rows, proof.agrees]).toEqual([4526, true]);
  });

  it("reproduces the table of those aboard the Titanic, with a cross-table of each class", () => {
    const titanic = counted("aboard", ["class", "sex", "age"], "lived", [
      [["1st", "male", "child"], 0, 5],
      [["1st", "male", "adult"], 118, 57],
      [["1st", "female", "child"], 0, 1],
      [["1st", "female", "adult"], 4, 140],
      [["2nd", "male", "child"], 0, 11],
      [["2nd", "male", "adult"], 154, 14],
      [["2nd", "female", "child"], 0, 13],
      [["2nd", "female", "adult"], 13, 80],
      [["3rd", "male", "child"], 35, 13],
      [["3rd", "male", "adult"], 387, 75],
      [["3rd", "female", "child"], 17, 14],
      [["3rd", "female", "adult"], 89, 76],
      [["crew", "male", "adult"], 670, 192],
      [["crew", "female", "adult"], 3, 20],
    ]);
    const insert: Insert = { id: "i", kind: "pivot", of: "p", under: "class", at: "foot", heightMm: 60 };
    const field = (c: string) => ({ kind: "field" as const, join: "", column: c });
    const figures = [{ id: "n", value: field("lived"), figure: "total" as const, showAs: "asIs" as const }];
    const spec = { ...emptyPivot("q"), down: [newAxis("s", field("sex"))], across: [newAxis("a", field("age"))], figures };
    const lines: ReportSpec["lines"] = [
      { id: "l", text: "{} {rows}", cells: { lived: { kind: "figure", figure: "total" } } },
      ...rate("lived").map((l) => ({ ...l, id: "rate", text: "percent" })),
    ];
    const made = footings(titanic, plainReport(["lived"], { details: false, levels: [newLevel("class")], lines, inserts: [insert] }), {
      i: { kind: "pivot", title: "Lived", spec },
    });
    const said = made.lines.filter(([words]) => /^(1st|2nd|3rd|crew) \d|^percent/.test(words ?? ""));
    // Of 2,201 aboard 711 lived: 203 of 325, 118 of 285, 178 of 706 and 212 of 885.
    expect(said).toEqual([
      ["1st 325", "203"],
      ["percent", "62"],
      ["2nd 285", "118"],
      ["percent", "41"],
      ["3rd 706", "178"],
      ["percent", "25"],
      ["crew 885", "212"],
      ["percent", "24"],
      ["percent", "32"],
    ]);
    expect(made.lines).toContainEqual([" 2,201", "711"]);
    expect([made.proof.inserts, made.proof.agrees]).toEqual([{ compared: 4, differ: 0 }, true]);
    const third = insertReader(sqliteReading(titanic.db), made.job)(insert, ["3rd"]);
    if (third.kind !== "pivot") throw new Error("no pivot");
    // Women and children of the third class: 76 and 14, men and boys 75 and 13; 178 together.
    expect(third.pivot.cells[0]?.map(Number).toSorted((a, b) => a - b)).toEqual([13, 14, 27, 75, 76, 88, 90, 151, 178]);
  });
});
