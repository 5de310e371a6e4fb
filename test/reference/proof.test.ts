import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { literal, negated } from "@/core/expression/expr";
import { assemblePivot } from "@/core/pivot/assemble";
import { emptyPivot, newAxis } from "@/core/pivot/empty";
import { planPivot } from "@/core/pivot/plan";
import { recountPivot } from "@/core/pivot/recount";
import { agreesWithRecount } from "@/core/pivot/seal";
import type { PivotFigure } from "@/core/pivot/spec";
import { accountOf } from "@/core/proof/account";
import { proofColumn } from "@/core/proof/followed";
import { type Proof, prove } from "@/core/proof/proof";
import { compileRows } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import { emptyQuery } from "@/core/query/empty";
import type { Plan } from "@/core/query/plan";
import { resolveQuery } from "@/core/query/resolve";
import type { Condition, Operand, QuerySpec } from "@/core/query/spec";
import { usualDay } from "@/core/types/calendar";
import { type Cell, floating, isNumber } from "@/core/types/valueType";
import { proveQuery } from "@/server/jobs/queries/prove";
import { readRows, readSingle } from "@/server/source/sqlite/readers";
import { tableReader } from "@/server/source/sqlite/tables";
import { derivedSchema } from "../support/arbitrary";
import { sheetSql } from "../support/charges";
import { threeEngines } from "../support/engines";
import { sampleRows, sampleSchema } from "../support/sample";

/* Totals of what links repeat, held against plain loops; and proofs that must say no, because the plan they are given was broken on purpose. */

const rows = sampleRows(20261128);
let engines: Awaited<ReturnType<typeof threeEngines>>;
beforeAll(async () => {
  engines = await threeEngines(sampleSchema, rows);
});
afterAll(() => engines.close());

const field = (column: string, join = ""): Operand => ({ kind: "field", join, column });
const toYard = { id: "y", from: "", link: "crate.yard_id", toward: "b" as const, way: "keep" as const };
const toStamps = { id: "s", from: "", link: "stamp.crate_id", toward: "a" as const, way: "keep" as const };
const sealed: Condition = { id: "w", left: field("sealed"), operator: "is", values: [{ kind: "value", text: "yes" }] };
const planOf = (spec: QuerySpec): Plan => {
  const resolved = resolveQuery(spec, derivedSchema, { today: usualDay("2026-11-23"), values: {} });
  if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
  return resolved.value;
};
const proofOf = (plan: Plan): Proof => proveQuery(engines.reading, plan, proofColumn(plan)?.id ?? null);

type Crate = { id: number; yard: number | null; price: number | null; day: string | null };
const crates = (rows.crate ?? []).map((r) => ({ id: r[0], yard: r[1], price: r[5], day: r[3] }) as Crate);
const rents = new Map((rows.yard ?? []).map((r) => [r[0] as number, r[3] as number | null]));
const rentOf = (ids: Iterable<number | null>) => [...new Set(ids)].reduce<number>((sum, id) => sum + (id === null ? 0 : (rents.get(id) ?? 0)), 0);

describe("a total of what a link repeats", () => {
  const spec: QuerySpec = {
    ...emptyQuery("crate"),
    joins: [toYard],
    columns: [
      { id: "i", value: field("id") },
      { id: "r", value: field("rent", "y") },
    ],
  };
  it("counts each row of its table once, says whose they are, and adds every row only when told to", () => {
    const wanted = rentOf(crates.map((c) => c.yard));
    const every = crates.reduce((sum, c) => sum + (c.yard === null ? 0 : (rents.get(c.yard) ?? 0)), 0);
    expect(every).not.toBe(wanted);
    const proof = proofOf(planOf(spec));
    const known = new Set(crates.flatMap((c) => (c.yard !== null && rents.has(c.yard) ? [c.yard] : []))).size;
    expect(proof.repeats).toMatchObject([{ column: "r", of: "yards", counted: "once", once: wanted, every, rows: known }]);
    expect(proof).toMatchObject({ agrees: true, sheet: { rows: crates.length, figure: wanted } });
    const told = proofOf(planOf({ ...spec, columns: spec.columns.map((c) => ({ ...c, everyRow: true })) }));
    expect(told).toMatchObject({ agrees: true, sheet: { figure: every }, repeats: [{ counted: "every", once: wanted }] });
  });
  it("counts once in each group, and the whole once, saying what the groups come to", () => {
    const grouped: QuerySpec = {
      ...spec,
      grouped: true,
      columns: [
        { id: "k", value: { kind: "field", join: "", column: "day", part: "year" } },
        { id: "r", value: field("rent", "y"), figure: "total" },
      ],
    };
    const plan = planOf(grouped);
    const yearOf = (c: Crate) => (c.day ? `${c.day.slice(0, 4)}-01-01` : null);
    const wanted = [...new Set(crates.map(yearOf))].map((year): Cell[] => [year, rentOf(crates.filter((c) => yearOf(c) === year).map((c) => c.yard))]);
    const shown = [...readRows(engines.lite, compileRows(plan, sqlite))].map(([k = null, r]): Cell[] => [k, r ?? 0]);
    expect(shown).toHaveLength(wanted.length);
    expect(shown).toEqual(expect.arrayContaining(wanted));
    const groups = wanted.reduce((sum, [, r]) => sum + Number(r), 0);
    expect(proofOf(plan)).toMatchObject({ agrees: true, repeats: [{ once: rentOf(crates.map((c) => c.yard)), groups }] });
  });
  it("counts a row of the source once though a link to many repeats it", () => {
    const many: QuerySpec = {
      ...emptyQuery("crate"),
      joins: [toStamps],
      columns: [
        { id: "p", value: field("price") },
        { id: "f", value: field("fee", "s") },
      ],
    };
    const prices = crates.reduce((sum, c) => sum + (c.price ?? 0), 0);
    const known = new Set(crates.map((c) => c.id));
    const fees = (rows.stamp ?? []).reduce((sum, r) => sum + (known.has(r[1] as number) ? Number(r[2] ?? 0) : 0), 0);
    const proof = proofOf(planOf(many));
    expect(proof.totals.map((t) => [t.column, t.sheet, t.agrees])).toEqual([
      ["p", prices, true],
      ["f", fees, true],
    ]);
  });
  it("is not made of keys, links, years, ratios and averages, unless a person says so", () => {
    const columns = ["id", "yard_id", "pieces", "yard share"].map((name, i) => ({ id: `c${i}`, value: field(name) }));
    const formulas = ["EXTRACT(YEAR FROM day)", "price / NULLIF(pieces, 0)", "price / 2"].map((text, i) => ({
      id: `f${i}`,
      value: { kind: "formula" as const, text },
    }));
    const plan = planOf({ ...emptyQuery("crate"), joins: [toYard], columns: [...columns, ...formulas, { id: "a", value: field("dear", "y") }] });
    expect(plan.columns.filter((c) => c.totalled).map((c) => c.id)).toEqual(["c2", "f2"]);
    const said = planOf({ ...emptyQuery("crate"), columns: columns.map((c) => ({ ...c, footing: "total" as const })) });
    expect(said.columns.every((c) => c.totalled === isNumber(c.type))).toBe(true);
  });
  it("is empty, not 0, where there is no row to look a count up for", () => {
    const spec: QuerySpec = {
      ...emptyQuery("crate"),
      joins: [toYard],
      columns: [
        { id: "y", value: field("name", "y") },
        { id: "n", value: field("since opened", "y") },
      ],
    };
    const found = [...readRows(engines.lite, compileRows(planOf(spec), sqlite))];
    const without = crates.map((c) => c.yard === null || !rents.has(c.yard));
    expect(without.filter(Boolean).length).toBeGreaterThan(0);
    expect(found.map(([, n]) => n === null)).toEqual(without);
  });
});

describe("a proof", () => {
  const spec: QuerySpec = {
    ...emptyQuery("crate"),
    joins: [toStamps, toYard],
    conditions: [sealed],
    columns: [
      { id: "p", value: field("price") },
      { id: "r", value: field("rent", "y") },
      { id: "o", value: field("ratio") },
    ],
  };
  const grouped: QuerySpec = {
    ...spec,
    grouped: true,
    columns: [{ id: "k", value: field("mark") }, ...spec.columns.map((c) => ({ ...c, figure: "total" as const }))],
  };
  const held = (right: Plan, shown: Plan): Proof => {
    const figure = proofColumn(right);
    const sql = sheetSql(shown);
    const sheet = { rows: readSingle(engines.lite, sql.rows), footing: readSingle(engines.lite, sql.footing), lines: null };
    return prove(right, figure, accountOf(right, figure, tableReader(engines.lite)), sql.footing, sheet);
  };
  const joined = (plan: Plan, alias: string, change: object): Plan => ({
    ...plan,
    joins: plan.joins.map((j) => (j.alias === alias ? { ...j, ...change } : j)),
  });
  const column = (plan: Plan, id: string, change: object): Plan => ({ ...plan, columns: plan.columns.map((c) => (c.id === id ? { ...c, ...change } : c)) });
  const swapped = (plan: Plan): Plan => column(plan, "p", { expr: plan.columns.find((c) => c.id === "r")?.expr });
  const BROKEN: [string, (plan: Plan) => Plan][] = [
    ["a condition is lost", (plan) => ({ ...plan, conditions: [] })],
    ["a condition is turned round", (plan) => ({ ...plan, conditions: plan.conditions.map((c) => ({ ...c, expr: negated(c.expr) })) })],
    ["rows without a match are left out", (plan) => joined(plan, "stamps", { way: "only" })],
    ["a link compares other columns", (plan) => joined(plan, "stamps", { on: [{ near: "id", operator: "is", far: "id" }] })],
    ["a link compares another way", (plan) => joined(plan, "yard", { on: [{ near: "yard_id", operator: "less", far: "id" }] })],
    ["a join is lost", (plan) => ({ ...plan, joins: plan.joins.filter((j) => j.alias !== "stamps") })],
    ["a figure is another column's", swapped],
    ["a figure is ignored", (plan) => column(plan, "p", { expr: literal("0", { kind: "decimal", scale: 2 }) })],
    ["a total of a column that is not followed is ignored", (plan) => column(plan, "r", { expr: literal("0", { kind: "decimal", scale: 2 }) })],
    ["repeated values are added", (plan) => column(plan, "p", { everyRow: true })],
    ["repeated values of a column that is not followed are added", (plan) => column(plan, "r", { everyRow: true })],
    ["rows are told apart by the wrong key", (plan) => column(plan, "p", { home: plan.columns.find((c) => c.id === "r")?.home })],
    [
      "a floating total is out by more than rounding",
      (plan) => column(plan, "o", { expr: { node: "call", fn: "multiply", args: [plan.columns.at(-1)?.expr, literal("1.000001", floating)], type: floating } }),
    ],
  ];
  it.each(BROKEN)("says no where %s", (_, broken) => {
    for (const right of [planOf(spec), planOf(grouped)]) {
      expect(held(right, right).agrees).toBe(true);
      expect(held(right, broken(right)).agrees).toBe(false);
    }
  });
  it("says no where nothing but the number of rows differs", () => {
    const right = planOf({ ...spec, columns: [{ id: "m", value: field("mark") }] });
    const proof = held(right, { ...right, conditions: [] });
    expect([proof.totals, proof.agrees, proof.accounted.rows === proof.sheet.rows]).toEqual([[], false, false]);
  });
  it("says no where there are other groups", () => {
    const right = planOf(grouped);
    const proof = held(right, column(right, "k", { expr: planOf(spec).columns[0]?.expr }));
    expect([proof.agrees, proof.groups === proof.accountedGroups]).toEqual([false, false]);
  });
  it("says by how much floating totals may differ, and holds exact ones to the last digit", () => {
    const { totals } = proofOf(planOf(spec));
    expect(totals.map((t) => t.within > 0)).toEqual([false, false, true]);
    expect(totals.at(-1)?.within).toBeLessThan(1e-9);
  });
});

describe("the recount of a pivot", () => {
  const query: QuerySpec = {
    ...emptyQuery("crate"),
    joins: [toYard],
    columns: [
      { id: "m", value: field("mark") },
      { id: "p", value: field("price") },
      { id: "r", value: field("rent", "y") },
      { id: "n", value: field("name", "y") },
    ],
  };
  const pivot = (down: string) => {
    const plan = planPivot(
      {
        ...emptyPivot("q"),
        down: [newAxis("d", field(down))],
        figures: ["p", "r"].map((c) => ({ id: `f${c}`, value: field(c), figure: "total" as const, showAs: "asIs" as const })),
      },
      planOf(query),
      { today: usualDay("2026-11-23"), values: {} },
    );
    if (!plan.ok) throw new Error(JSON.stringify(plan.problems));
    return plan.value;
  };
  const read = (plan: Plan) => readRows(engines.lite, compileRows(plan, sqlite));
  it("agrees with it, also where rows counted once stand under several headings, which is said", () => {
    for (const [down, overlaps] of [
      ["m", "yards"],
      ["n", null],
    ] as const) {
      const plan = pivot(down);
      const { proof } = assemblePivot(plan, read, "en-GB");
      expect(proof.figures.map((f) => f.overlaps)).toEqual([null, overlaps]);
      expect(proof.figures[1]?.query).toBe(rentOf(crates.map((c) => c.yard)));
      expect(agreesWithRecount(proof, recountPivot(plan, tableReader(engines.lite)))).toBe(true);
    }
  });
  it("says no where a figure that does not add up is another over all rows", () => {
    const figures: PivotFigure[] = [
      { id: "avg", value: field("p"), figure: "average", showAs: "asIs" },
      { id: "ratio", value: { kind: "formula", text: "SUM(price) / COUNT(*)" }, figure: "formula", showAs: "asIs" },
      { id: "least", value: field("m"), figure: "least", showAs: "asIs" },
      { id: "deviation", value: field("p"), figure: "deviation", showAs: "asIs" },
    ];
    const made = planPivot({ ...emptyPivot("q"), down: [newAxis("d", field("m"))], figures }, planOf(query), { today: usualDay("2026-11-23"), values: {} });
    if (!made.ok) throw new Error(JSON.stringify(made.problems));
    const { proof } = assemblePivot(made.value, read, "en-GB");
    const recount = recountPivot(made.value, tableReader(engines.lite));
    expect(proof.wholes.map((w) => w.figure)).toEqual(figures.map((f) => f.id));
    expect(agreesWithRecount(proof, recount)).toBe(true);
    for (const { figure } of proof.wholes)
      for (const other of [null, "1"]) expect(agreesWithRecount(proof, { ...recount, totals: { ...recount.totals, [figure]: other } })).toBe(false);
  });
  it("says no where the pivot's rows, a figure or its way of counting are others", () => {
    const right = pivot("m");
    const recount = recountPivot(right, tableReader(engines.lite));
    const inner = (change: (plan: Plan) => Plan) => ({
      ...right,
      plan: { ...right.plan, source: { ...right.plan.source, query: change(right.plan.source.query as Plan) } },
    });
    const figures = (change: object) => ({ ...right, figures: right.figures.map((f) => ({ ...f, column: { ...f.column, ...change } })) });
    const broken = [
      inner((plan) => ({ ...plan, conditions: planOf({ ...query, conditions: [sealed] }).conditions })),
      figures({ expr: literal("100", { kind: "decimal", scale: 2 }) }),
      figures({ everyRow: true }),
    ];
    for (const plan of broken) {
      const { proof } = assemblePivot(plan, read, "en-GB");
      expect([proof.agrees, agreesWithRecount(proof, recount)]).toEqual([true, false]);
    }
  });
});
