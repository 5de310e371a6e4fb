import { describe, expect, it } from "vitest";
import type { Table } from "../schema/schema";
import { usualDay } from "../types/calendar";
import { date as day, decimal, text, whole } from "../types/valueType";
import { type CreateTable, parseCreateTable } from "./createTable";
import * as edit from "./edit";
import { planShape } from "./plan";
import { madeSql, reshapedSql } from "./reshape";
import { shapeBrief } from "./shapeBrief";
import { endNamed, namesOf, shapedSchema } from "./shapedSchema";
import type { ShapePlan } from "./shapePlan";
import type { ShapeColumn, ShapeSpec } from "./spec";
import { type ShapeSurvey, standsInTheWay } from "./survey";

const column = (name: string, type: Table["columns"][number]["type"], more = {}) => ({
  name,
  label: name,
  type,
  storage: "plain" as const,
  nullable: true,
  misfits: 0,
  ...more,
});
const crate: Table = {
  name: "crate",
  label: "crate",
  columns: [column("id", whole, { nullable: false }), column("mark", text), column("day", text, { misfits: 0 }), column("twice", whole, { generated: true })],
  key: ["id"],
  rows: 3,
};
const SQL = "CREATE TABLE crate (id INTEGER PRIMARY KEY, mark TEXT DEFAULT 'x' CHECK (mark <> ''), day TEXT, twice AS (id * 2), UNIQUE (mark, day))";
const sql = parseCreateTable(SQL) as CreateTable;
const context = { now: { table: crate, sql }, tables: [], taken: ["crate", "yard", "yards", "by_day"], order: "dmy" as const, today: usualDay("2026-11-28") };
const start = edit.startShape(crate);
const plan = (spec: ShapeSpec, on: Parameters<typeof planShape>[1] = context): ShapePlan => {
  const made = planShape(spec, on);
  if (!made.ok) throw new Error(made.problems.map((p) => `${p.code} ${p.path.join(".")}`).join(", "));
  return made.value;
};
const codes = (spec: ShapeSpec, on: Parameters<typeof planShape>[1] = context) => {
  const made = planShape(spec, on);
  return made.ok ? [] : made.problems.map((p) => [p.code, p.path.join(".")]);
};
const set = (id: string, change: Partial<ShapeColumn>) => edit.setColumn(start, id, change);
const sqlOf = (spec: ShapeSpec) => reshapedSql(sql, plan(spec));

describe("a change of a table's shape", () => {
  it("is nothing where nothing is changed, names alone where names are, and rows anew for all else", () => {
    expect(plan(start).how).toBe("nothing");
    expect(plan({ ...start, name: "box" }).how).toBe("names");
    expect(plan(set("mark", { name: "label" }))).toMatchObject({ how: "names", renames: [["mark", "label"]] });
    expect(plan(edit.moveColumn(start, "day", -1)).how).toBe("rebuild");
    expect(plan(set("mark", { required: true })).how).toBe("rebuild");
    expect(plan(edit.removeColumn(start, "day")).how).toBe("rebuild");
  });
  it("adds columns at the end in place, where the rows there are have what new ones get", () => {
    const added = (more: Partial<ShapeColumn>) => plan(edit.setColumn(edit.addColumn(start), "new 1", { name: "paid", ...more })).how;
    expect(added({})).toBe("added");
    expect(added({ fallback: "no", type: { kind: "yesno" }, required: true })).toBe("added");
    expect(added({ fallback: "a", fill: "b" })).toBe("rebuild");
    expect(added({ required: true })).toBe("rebuild");
    expect(added({ different: true })).toBe("rebuild");
    expect(plan(edit.moveColumn(edit.setColumn(edit.addColumn(start), "new 1", { name: "paid" }), "new 1", -1)).how).toBe("rebuild");
  });
  it("leaves all that is not changed as it was written", () => {
    expect(sqlOf(set("day", { type: day }))).toBe(SQL.replace("day TEXT", "day DATE"));
    expect(sqlOf(set("mark", { required: true }))).toBe(SQL.replace("DEFAULT 'x' CHECK (mark <> '')", "DEFAULT 'x' CHECK (mark <> '') NOT NULL"));
    expect(sqlOf(set("mark", { fallback: null, check: null }))).toBe(SQL.replace(" DEFAULT 'x' CHECK (mark <> '')", ""));
    expect(sqlOf(set("mark", { fallback: "it's", different: true }))).toBe(
      SQL.replace("DEFAULT 'x' CHECK (mark <> '')", "CHECK (mark <> '') UNIQUE DEFAULT 'it''s'"),
    );
  });
  it("writes checks of values and of other columns, named by what they say", () => {
    expect(sqlOf(set("mark", { check: { kind: "oneOf", values: ["a", " ", "b'"] } }))).toContain(
      `CONSTRAINT "mark must be one of a, b'" CHECK ("mark" IN ('a', 'b'''))`,
    );
    expect(sqlOf(set("day", { type: day, check: { kind: "compare", operator: "atLeast", to: { kind: "value", text: "1.2.2026" } } }))).toContain(
      `CHECK ("day" >= '2026-02-01')`,
    );
    expect(sqlOf(set("day", { check: { kind: "compare", operator: "isNot", to: { kind: "column", id: "mark" } } }))).toContain(`CHECK ("day" <> "mark")`);
    expect(plan(set("day", { check: { kind: "compare", operator: "less", to: { kind: "value", text: "" } } })).columns[2]?.check).toBeNull();
  });
  it("gives another key: of columns, or a number that is SQLite's own of the row", () => {
    expect(sqlOf({ ...start, key: { kind: "columns", ids: ["mark", "day"] } })).toBe(
      SQL.replace("id INTEGER PRIMARY KEY", "id INTEGER").replace(", UNIQUE (mark, day))", `, UNIQUE (mark, day), PRIMARY KEY ("mark", "day"))`),
    );
    // A lone INTEGER would take the place of the number of the row, by which rows are known.
    const loose = parseCreateTable("CREATE TABLE crate (id INTEGER, mark TEXT, day TEXT, twice AS (id * 2))") as CreateTable;
    const keyed = plan({ ...start, key: { kind: "columns", ids: ["id"] } }, { ...context, now: { table: { ...crate, key: [] }, sql: loose } });
    expect(reshapedSql(loose, keyed)).toBe(`CREATE TABLE crate (id INT, mark TEXT, day TEXT, twice AS (id * 2), PRIMARY KEY ("id"))`);
    expect(plan({ ...start, key: { kind: "columns", ids: ["id"] } }).key).toBeNull();
    const numbered = plan({ ...start, key: { kind: "number", name: "no" } }, { ...context, now: { table: { ...crate, key: [] }, sql: loose } });
    expect(reshapedSql(loose, numbered)).toBe(`CREATE TABLE crate ("no" INTEGER PRIMARY KEY, id INTEGER, mark TEXT, day TEXT, twice AS (id * 2))`);
  });
  it("makes a table with its key", () => {
    const made = { ...edit.startTable(), name: "box", columns: [{ id: "a", from: null, name: "fee", type: decimal(2), required: true, fallback: "1.5" }] };
    expect(madeSql(plan(made, { ...context, now: null }))).toBe(`CREATE TABLE "box" ("id" INTEGER PRIMARY KEY, "fee" INTEGER_SCALED(2) NOT NULL DEFAULT 150)`);
    expect(madeSql(plan({ ...made, key: { kind: "columns", ids: ["a"] } }, { ...context, now: null }))).toContain(`, PRIMARY KEY ("fee"))`);
  });
  it("says what is wrong, and where", () => {
    expect(codes({ ...start, name: "YARD" })).toEqual([["shapeNameTaken", "name"]]);
    expect(codes({ ...start, name: "By_Day" })).toEqual([["shapeNameTaken", "name"]]);
    expect(codes({ ...start, name: "CRATE" })).toEqual([]);
    expect(codes({ ...start, name: "sqlite_x" })).toEqual([["shapeNameReserved", "name"]]);
    expect(codes({ ...start, name: " " })).toEqual([["shapeNameMissing", "name"]]);
    expect(codes(set("mark", { name: "Day" }))).toEqual([["duplicateName", "columns.day.name"]]);
    expect(codes(set("mark", { name: "" }))).toEqual([["shapeNameMissing", "columns.mark.name"]]);
    expect(codes(set("mark", { name: "select" }))).toEqual([]);
    expect(codes({ ...start, columns: [] })).toEqual([["shapeNoColumns", ""]]);
    expect(codes(set("day", { type: day, fallback: "soon" }))).toEqual([["shapeValue", "columns.day.fallback"]]);
    expect(codes(set("day", { type: day, mapped: [{ written: "x", text: "31.9.2026" }] }))).toEqual([["shapeValue", "columns.day.mapped"]]);
    expect(codes(set("twice", { type: text }))).toEqual([["shapeGenerated", "columns.twice.type"]]);
    expect(codes({ ...start, key: { kind: "columns", ids: ["gone"] } })).toEqual([["shapeKeyGone", "key"]]);
    expect(codes({ ...start, columns: [{ id: "a", from: "gone", name: "a" }] })).toEqual([["columnGone", "columns.a.from"]]);
    const strict = { ...context, now: { table: crate, sql: { ...sql, strict: true } } };
    expect(codes(set("day", { type: decimal(2) }), strict)).toEqual([["shapeStrict", "columns.day.type"]]);
    expect(codes(set("day", { type: day }), strict)).toEqual([]);
    const stored = { ...context, now: { table: crate, sql: { ...sql, withoutRowid: true } } };
    expect(codes(edit.removeColumn(start, "id"), stored)).toEqual([["shapeKeyFixed", "key"]]);
    expect(codes(set("id", { type: text }), stored)).toEqual([["shapeKeyFixed", "key"]]);
    expect(codes(set("day", { type: day }), stored)).toEqual([]);
  });
  it("is told in one line", () => {
    const spec = edit.removeColumn(set("day", { type: day, name: "lodged", required: true }), "mark");
    expect(shapeBrief(spec, plan(spec), crate)).toBe("In crate: rename day to lodged; make lodged a date; lodged is required; remove mark.");
    expect(shapeBrief(start, plan(start), crate)).toBe("");
    const moved = edit.moveColumn(start, "day", -1);
    expect(shapeBrief(moved, plan(moved), crate)).toBe("In crate: reorder the columns.");
  });
  it("tells what links to the table, and which links lose a column", () => {
    const end = (table: string, columns: string[]) => ({ table, columns, name: table, leadsTo: "one" as const });
    const schema = {
      tables: [crate, { ...crate, name: "yard" }],
      links: [
        { id: "l", a: end("crate", ["mark"]), b: end("yard", ["id"]) },
        { id: "m", a: end("yard", ["day"]), b: end("crate", ["day"]) },
      ],
    };
    const changed = plan({ ...edit.removeColumn(set("mark", { name: "sign" }), "day"), name: "box" });
    const after = shapedSchema(schema, changed);
    expect(after.links.map((l) => [l.a.table, l.a.columns, l.b.table])).toEqual([["box", ["sign"], "yard"]]);
    expect(after.broken).toMatchObject([{ kind: "link", id: "m", table: "box" }]);
    expect(after.tables.map((t) => [t.name, t.key])).toEqual([
      ["box", ["id"]],
      ["yard", ["id"]],
    ]);
    expect(endNamed({ table: "crate", columns: ["day"] }, namesOf(changed))).toBeNull();
  });
});

describe("what stands in the way of a change", () => {
  const clean = { misfits: { rows: 0, values: [] }, empty: 0, doubled: { rows: 0, values: [] }, broken: 0 };
  const survey: ShapeSurvey = {
    rows: 3,
    columns: { day: clean },
    key: { empty: 0, doubled: { rows: 0, values: [] } },
    dropped: [],
    made: [],
    kept: { indexes: 0, triggers: 0 },
    lostIndexes: [],
    refusal: null,
    sample: [],
    digest: "",
  };
  const odd = { ...survey, columns: { day: { ...clean, misfits: { rows: 1, values: [] } } } };
  it("is every row that does not fit, unless it is to be emptied", () => {
    expect(standsInTheWay(survey, plan(start))).toBe(false);
    expect(standsInTheWay(odd, plan(set("day", { type: day })))).toBe(true);
    expect(standsInTheWay(odd, plan(set("day", { type: day, misfits: "empty" })))).toBe(false);
    for (const one of [{ empty: 1 }, { broken: 1 }, { doubled: { rows: 2, values: [] } }])
      expect(standsInTheWay({ ...survey, columns: { day: { ...clean, ...one } } }, plan(start))).toBe(true);
    expect(standsInTheWay({ ...survey, key: { ...survey.key, empty: 1 } }, plan(start))).toBe(true);
    expect(standsInTheWay({ ...survey, key: { empty: 0, doubled: { rows: 2, values: [] } } }, plan(start))).toBe(true);
    expect(standsInTheWay({ ...survey, refusal: "no" }, plan(start))).toBe(true);
  });
});

describe("editing a table's shape", () => {
  it("adds, moves, removes and puts back columns", () => {
    const ids = (spec: ShapeSpec) => spec.columns.map((c) => c.id);
    expect(ids(edit.addColumn(edit.addColumn(start)))).toEqual(["id", "mark", "day", "twice", "new 1", "new 2"]);
    expect(ids(edit.moveColumn(start, "id", 1))).toEqual(["mark", "id", "day", "twice"]);
    expect(edit.moveColumn(start, "id", -1)).toBe(start);
    expect(ids(edit.moveColumn(start, "id", 99))).toEqual(["mark", "day", "twice", "id"]);
    const without = edit.removeColumn(edit.removeColumn(start, "mark"), "day");
    expect(edit.droppedColumns(without, crate).map((c) => c.name)).toEqual(["mark", "day"]);
    expect(ids(edit.restoreColumn(without, crate, "day"))).toEqual(["id", "day", "twice"]);
    expect(ids(edit.restoreColumn(edit.removeColumn(start, "id"), crate, "id"))).toEqual(["id", "mark", "day", "twice"]);
  });
  it("puts a link before a column of names, under a name that is free", () => {
    const yard: Table = { ...crate, name: "yard", columns: [column("id", whole), column("name", text)], key: ["id"] };
    const linked = edit.linkColumn(edit.linkColumn(start, "mark", yard), "day", yard);
    expect(linked.columns.map((c) => [c.id, c.name, c.lookup?.from])).toEqual([
      ["id", "id", undefined],
      ["new 1", "yard_id", "mark"],
      ["mark", "mark", undefined],
      ["new 2", "yard_id 2", "day"],
      ["day", "day", undefined],
      ["twice", "twice", undefined],
    ]);
    expect(linked.columns[1]?.lookup).toEqual({ from: "mark", table: "yard", match: "name", give: "id", link: true });
    expect(edit.linkColumn(start, "mark", { ...yard, key: [] })).toBe(start);
    expect(edit.unlinkColumn(start, "day", yard).columns.map((c) => c.name)).toEqual(["id", "mark", "yard", "twice"]);
  });
  it("takes columns into the key and out of it", () => {
    const two = edit.toggleKey(start, "mark", ["id"]);
    expect(two.key).toEqual({ kind: "columns", ids: ["id", "mark"] });
    expect(edit.toggleKey(two, "id", ["id"]).key).toEqual({ kind: "columns", ids: ["mark"] });
    expect(edit.removeColumn(two, "mark").key).toEqual({ kind: "columns", ids: ["id"] });
  });
  it("forgets what was said of values once the type is another", () => {
    const said = edit.mapValue(edit.setColumn(start, "day", { type: day, misfits: "empty" }), "day", "x", "1.1.2026");
    expect(said.columns[2]).toMatchObject({ mapped: [{ written: "x", text: "1.1.2026" }], misfits: "empty" });
    expect(edit.mapValue(said, "day", "x", "").columns[2]).not.toHaveProperty("mapped");
    expect(edit.setType(said, "day", whole).columns[2]).toEqual({ id: "day", from: "day", name: "day", type: whole });
    expect(edit.setType(said, "day", undefined).columns[2]).toEqual({ id: "day", from: "day", name: "day" });
  });
});

it("says something else of a column, which the database knows nothing of", () => {
  const measured = { ...crate, columns: crate.columns.map((c) => (c.name === "mark" ? { ...c, unit: "kg" } : c)) };
  const on = { ...context, now: { table: measured, sql } };
  const spec = set("mark", { unit: "t", note: " Net. " });
  expect(plan(spec, on)).toMatchObject({ how: "said", said: [{ column: "mark", before: { unit: "kg", note: null }, after: { unit: "t", note: "Net." } }] });
  expect(shapeBrief(spec, plan(spec, on), measured)).toBe("In crate: mark is in t; describe mark.");
  expect(plan(set("mark", { unit: null }), on).said[0]?.after).toEqual({ unit: null, note: null });
  expect(plan(set("day", { note: "Of arrival." }), on)).toMatchObject({ how: "said", said: [{ column: "day", after: { unit: null, note: "Of arrival." } }] });
  expect(plan(set("mark", { unit: "kg" }), on).how).toBe("nothing");
  // It stays with a column of another name or type.
  expect(plan(set("mark", { name: "label", type: whole }), on)).toMatchObject({ said: [], columns: [{}, { column: { name: "label", unit: "kg" } }, {}, {}] });
  const added = edit.setColumn(edit.addColumn(start), "new 1", { name: "paid", unit: "EUR" });
  expect(plan(added, on)).toMatchObject({ how: "added", said: [{ column: "paid", before: { unit: null }, after: { unit: "EUR" } }] });
});

describe("columns divided, joined and taken out", () => {
  const wide: Table = { ...crate, columns: [...crate.columns, column("fee", decimal(2))] };
  const widely = edit.startShape(wide);
  const on = { ...context, now: { table: wide, sql: parseCreateTable(SQL.replace(", UNIQUE", ", fee INTEGER_SCALED(2), UNIQUE")) as CreateTable } };
  const yards: Table = {
    name: "yard",
    label: "yard",
    columns: [column("id", whole, { nullable: false, filled: "number" }), column("name", text)],
    key: ["id"],
    rows: 2,
  };

  it("are written as formulas that stay open to change", () => {
    const divided = edit.splitColumn(start, crate.columns[1] as Table["columns"][number], { separator: "'", parts: 2 });
    expect(divided.columns.map((c) => [c.id, c.name, c.formula])).toEqual([
      ["id", "id", undefined],
      ["mark", "mark", undefined],
      ["new 1", "mark 1", "NULLIF(TRIM(SPLIT_PART(mark, '''', 1)), '')"],
      ["new 2", "mark 2", "NULLIF(TRIM(SPLIT_REST(mark, '''', 2)), '')"],
      ["day", "day", undefined],
      ["twice", "twice", undefined],
    ]);
    expect(shapeBrief(divided, plan(divided), crate)).toContain("add mark 1 as NULLIF(");
    const joined = edit.joinColumns(widely, [wide.columns[4], wide.columns[1]] as Table["columns"], " - ");
    expect(joined.columns.at(-1)).toMatchObject({ name: "fee mark", formula: "NULLIF(CONCAT_WS(' - ', NULLIF(CAST(fee AS TEXT), ''), NULLIF(mark, '')), '')" });
    expect(plan(joined, on).worked?.identity).toEqual(["rowid"]);
    expect(plan(joined, on).how).toBe("rebuild");
  });
  it("have the type of their formula unless another is chosen, and say what is wrong with it", () => {
    const worked = (more: Partial<ShapeColumn>) =>
      edit.setColumn(edit.setFormula(edit.addColumn(widely), "new 1", "fee * 2"), "new 1", { name: "net", ...more });
    expect(plan(worked({}), on).columns.at(-1)?.column.type).toEqual(decimal(2));
    expect(plan(worked({ type: whole }), on).columns.at(-1)).toMatchObject({ column: { type: whole }, value: { kind: "formula", text: "fee * 2" } });
    expect(codes(worked({ formula: "fee * gone" }), on)).toEqual([["unknownField", "columns.new 1.formula"]]);
    expect(plan(worked({ formula: " " }), on).worked).toBeNull();
    expect(edit.setFormula(worked({}), "new 1", "").columns.at(-1)).toEqual({ id: "new 1", from: null, name: "net", type: text });
    expect(edit.setFormula(worked({ type: whole }), "new 1", "fee").columns.at(-1)?.type).toEqual(whole);
    // Of a column that is there, a formula counts only where it is chosen for what does not fit.
    const fee = (more: Partial<ShapeColumn>) => plan(edit.setColumn(widely, "day", { type: day, formula: "mark", ...more }), on).worked;
    expect([fee({}), fee({ misfits: "formula" })?.identity]).toEqual([null, ["rowid"]]);
  });
  it("offer only what can become of a value", () => {
    const link = edit.linkColumn(start, "mark", yards).columns[1] as ShapeColumn;
    // By the column that is called the same, else by what rows are called by.
    const marked = { ...yards, columns: [...yards.columns, column("Mark", text)] };
    expect([link.lookup?.match, edit.linkColumn(start, "mark", marked).columns[1]?.lookup?.match]).toEqual(["name", "Mark"]);
    // Names that are found nowhere may stay empty beside the names themselves, and not once these are removed.
    const linked = edit.linkColumn(start, "mark", yards);
    expect([edit.misfitsOf(linked, link), edit.misfitsOf(edit.removeColumn(linked, "mark"), link)]).toEqual(["empty", "refuse"]);
    expect(edit.waysOut(link)).toEqual(["refuse", "empty", "make"]);
    expect(edit.waysOut({ ...link, lookup: { ...(link.lookup as NonNullable<ShapeColumn["lookup"]>), link: false } })).toEqual(["refuse", "empty"]);
    expect(edit.waysOut({ id: "x", from: null, name: "x" })).toEqual(["refuse", "empty"]);
    expect(edit.waysOut({ id: "x", from: "x", name: "x" })).toEqual(["refuse", "empty", "formula"]);
    const split = edit.splitTable(widely, { name: "mark", by: "mark", columns: ["day", "fee"] });
    expect(split.columns.map((c) => c.name)).toEqual(["id", "mark_id", "twice"]);
    expect(edit.waysOut(split.columns[1] as ShapeColumn)).toEqual([]);
    expect(plan(split, on).makes).toMatchObject([
      {
        kind: "table",
        name: "mark",
        key: "id",
        columns: [
          { name: "mark", declared: "TEXT" },
          { name: "day", declared: "TEXT" },
          { name: "fee", declared: "INTEGER_SCALED(2)" },
        ],
      },
    ]);
    expect(codes({ ...split, name: "Mark" }, on).map(([code]) => code)).toContain("shapeNameTaken");
    expect(shapeBrief(split, plan(split, on), wide)).toBe(
      "In crate: create the table mark from mark, day and fee; add mark_id, a link to mark by mark (mark); remove mark, day and fee.",
    );
  });
  it("wait for values that differ, unless the most frequent are taken", () => {
    const split = (differing: "refuse" | "most") => {
      const made = edit.splitTable(widely, { name: "mark", by: "mark", columns: ["day"] });
      const lookup = made.columns[1]?.lookup as NonNullable<ShapeColumn["lookup"]>;
      return plan(edit.setColumn(made, "new 1", { lookup: { ...lookup, made: { columns: lookup.made?.columns ?? [], differing } } }), on);
    };
    const survey: ShapeSurvey = {
      rows: 1,
      columns: {},
      key: { empty: 0, doubled: { rows: 0, values: [] } },
      dropped: [],
      made: [{ id: "new 1", table: "mark", label: "mark", rows: 1, differing: { names: 1, values: ["a: day"] } }],
      kept: { indexes: 0, triggers: 0 },
      lostIndexes: [],
      refusal: null,
      sample: [],
      digest: "",
    };
    expect([standsInTheWay(survey, split("refuse")), standsInTheWay(survey, split("most"))]).toEqual([true, false]);
  });
});
