import { mean, quantileSorted, sampleVariance, standardDeviation } from "simple-statistics";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { briefText, queryBrief } from "@/core/brief/brief";
import { valuesEarlier } from "@/core/chart/plan";
import { literal, negated } from "@/core/expression/expr";
import { accountOf } from "@/core/proof/account";
import { holdLines, linesAgree, MOST_LINES } from "@/core/proof/lines";
import { type ProofPick, prove } from "@/core/proof/proof";
import { planProofRows } from "@/core/proof/proofRows";
import type { AggregateName, JoinWay, WindowName } from "@/core/query/choices";
import { compileRows } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import { changeOperator } from "@/core/query/edit";
import { askWhenRun } from "@/core/query/editParameters";
import { emptyQuery } from "@/core/query/empty";
import { overRows, resolveOver } from "@/core/query/over";
import type { Plan } from "@/core/query/plan";
import { type Pair, pairCandidates, pairCounts } from "@/core/query/proposePairs";
import { withQueryTables } from "@/core/query/queryTables";
import { relatedFigure, totalFirst } from "@/core/query/related";
import { resolveQuery } from "@/core/query/resolve";
import type { Condition, Operand, QuerySpec, RelatedFigure, Value } from "@/core/query/spec";
import { findTable, type Table } from "@/core/schema/schema";
import { usualDay } from "@/core/types/calendar";
import { date, floating } from "@/core/types/valueType";
import { readRows, readSingle } from "@/server/source/sqlite/readers";
import { tableReader } from "@/server/source/sqlite/tables";
import { ANSCOMBE, charges, chargesEverywhere, field, planOf, problemsOf, schema, sheetSql, withPaid, withShipper } from "../support/charges";

/*
 * What a query can ask, on rows small enough to be worked out by hand: the classic of a charge whose shipper is gone,
 * what outer joins keep, ratios of totals, changes on the month before, rows put together; figures against published
 * ones. And proofs that say no.
 */
let { engines, held, proofOf, rowsOf }: Awaited<ReturnType<typeof chargesEverywhere>> = {} as never;
beforeAll(async () => {
  ({ engines, held, proofOf, rowsOf } = await chargesEverywhere());
});
afterAll(() => engines.close());

const ids = (plan: Plan | null): string[] => (plan ? engines.sqlite(plan).map((row) => row.split(" | ")[0] ?? "") : []);

describe("a total that misses a row", () => {
  it("lacks what an exact match drops, and the proof names it", () => {
    const [kept, exact] = [proofOf(planOf(withShipper("keep"))), proofOf(planOf(withShipper("only")))];
    expect([kept.sheet.figure, exact.sheet.figure]).toEqual([100_00, 80_00]);
    const step = exact.steps.find((s) => s.kind === "join");
    expect(step).toMatchObject({ missing: { rows: 2, figure: 20_00 } });
    expect(ids(planProofRows(planOf(withShipper("only")), { part: "missing", id: "s" }))).toEqual(["3", "6"]);
  });
});

describe("ways to join", () => {
  it.each<[JoinWay, string[]]>([
    ["keep", ["1", "2", "3", "4", "5", "6"]],
    ["only", ["1", "2", "4", "5"]],
    ["other", ["∅", "1", "2", "4", "5"]],
    ["both", ["∅", "1", "2", "3", "4", "5", "6"]],
    ["has", ["1", "2", "4", "5"]],
    ["hasNone", ["3", "6"]],
  ])("%s", async (way, wanted) => expect((await rowsOf(withShipper(way))).map((r) => r.split(" | ")[0]).sort()).toEqual(wanted.sort()));
  it("keep both sides: matched, missing on the left and missing on the right make the whole", () => {
    const proof = proofOf(planOf(withShipper("both")));
    const [step] = proof.steps.filter((s) => s.kind === "join");
    expect([step?.found.rows, step?.missing.rows, step?.added?.rows, proof.sheet.rows]).toEqual([4, 2, 1, 7]);
    const added = planProofRows(planOf(withShipper("both")), { part: "added", id: "s" } as ProofPick) as Plan;
    expect(engines.sqlite(added).map((r) => r.split(" | ").at(-1))).toEqual(["Cy"]);
  });
  it("tell who has none on the other side, also where those stay out: shipper 3, and 2 once its charges are left out", () => {
    const light = { id: "w", left: field("weight"), operator: "atLeast" as const, values: [{ kind: "value" as const, text: "4" }] };
    const cases: [QuerySpec, string[]][] = [
      [withShipper("keep"), ["3 | Cy"]],
      [{ ...withShipper("only"), conditions: [light] }, ["2 | Bo", "3 | Cy"]],
    ];
    for (const [spec, names] of cases) {
      const step = proofOf(planOf(spec)).steps.find((s) => s.kind === "join");
      expect(step).toMatchObject({ unmatched: names.length, added: null });
      expect(engines.sqlite(planProofRows(planOf(spec), { part: "unmatched", id: "s" }) as Plan)).toEqual(names);
    }
    expect(
      planProofRows(
        { ...planOf(withShipper("keep")), joins: planOf(withShipper("keep")).joins.map((j) => ({ ...j, table: { ...j.table, key: [] } })) },
        { part: "unmatched", id: "s" },
      ),
    ).toBeNull();
  });
  it("by comparisons: the statement’s day is on or before the charge’s, and of the same month", async () => {
    expect(await rowsOf(withPaid)).toEqual(["1 | 1000 | 1", "2 | 2000 | 1", "2 | 2000 | 2"]);
    const proof = proofOf(planOf(withPaid));
    expect(proof.steps.find((s) => s.kind === "join")).toMatchObject({ often: 1, times: 2, repeated: { rows: 1 } });
    expect(proof.sheet).toEqual({ rows: 3, figure: 30_00 });
    expect(proof.steps.find((s) => s.kind === "join")).toMatchObject({ found: { rows: 2 }, missing: { rows: 4 }, repeated: { rows: 1 }, times: 2 });
    expect(ids(planProofRows(planOf(withPaid), { part: "missing", id: "p" }))).toEqual(["3", "4", "5", "6"]);
    expect(ids(planProofRows(planOf(withPaid), { part: "found", id: "p" }))).toEqual(["1", "2"]);
  });
  it("pairs of one table: the other charges of the same shipper", async () => {
    const on: Condition[] = [
      { id: "o1", left: field("shipper_id", "c"), operator: "is", values: [field("shipper_id")] },
      { id: "o2", left: field("id", "c"), operator: "isNot", values: [field("id")] },
    ];
    const spec: QuerySpec = {
      ...charges,
      joins: [{ id: "c", from: "", table: "charge", on, way: "only" }],
      columns: [...charges.columns, { id: "o", value: field("id", "c") }],
    };
    expect(await rowsOf(spec)).toEqual(["1 | 1000 | 4", "2 | 2000 | 5", "4 | 3000 | 1", "5 | 2000 | 2"]);
  });
  it("every pair is chosen on purpose, and refused where it is too many", async () => {
    const pairs = (way: JoinWay, table = "shipper"): QuerySpec => ({ ...charges, joins: [{ id: "s", from: "", table, on: [], way }] });
    expect(problemsOf(pairs("keep"))).toEqual(["joinNoComparison"]);
    expect((await rowsOf(pairs("every"))).length).toBe(18);
    const large = { ...schema, tables: schema.tables.map((t) => ({ ...t, rows: 50_000 })) };
    expect(problemsOf(pairs("every"), large)).toEqual(["joinPairs"]);
  });
});

describe("figures over figures", () => {
  const perShipper = (more: Partial<QuerySpec> = {}): QuerySpec => ({
    ...emptyQuery("charge"),
    grouped: true,
    columns: [
      { id: "k", value: field("shipper_id") },
      { id: "t", value: field("amount"), figure: "total", label: "Freight" },
      { id: "w", value: field("weight"), figure: "total", label: "Weight" },
      { id: "r", value: { kind: "formula", text: "Freight / Weight" }, figure: "formula", label: "Rate" },
      {
        id: "h",
        value: field("amount"),
        figure: "total",
        label: "Heavy",
        where: [{ id: "h1", left: field("weight"), operator: "atLeast", values: [{ kind: "value", text: "5" }] }],
      },
    ],
    ...more,
  });
  const footing = (spec: QuerySpec) => Object.fromEntries(proofOf(planOf(spec)).totals.map((t) => [t.column, t.sheet]));
  it("are worked out anew in the footing, never added or averaged", () => {
    // 100.00 over 22: not the sum of the lines, nor their average. A ratio carries a digit to be rounded by.
    expect(footing(perShipper())).toEqual({ t: 100_00, w: 22, r: 45454545, h: 35_50 });
  });
  it("stand, where they are sorted by a key that is shown by names, in the order of those; who has none comes first", () => {
    const order = (direction: "up" | "down") => [{ column: "k", direction }];
    const turned = { ...schema, tables: schema.tables.map((t) => (t.name === "shipper" ? { ...t, named: "name" } : t)) };
    const named = (direction: "up" | "down") => planOf(perShipper({ order: order(direction) }), turned);
    expect(engines.sqlite(named("up")).map((row) => row.split(" | ")[0])).toEqual(["∅", "9", "1", "2"]);
    expect(engines.sqlite(named("down")).map((row) => row.split(" | ")[0])).toEqual(["2", "1", "9", "∅"]);
    expect(proofOf(named("down"))).toMatchObject({ agrees: true, groups: 4 });
    expect(planProofRows(named("down"), { part: "sheet" })?.columns.some((c) => c.orders !== undefined)).toBe(false);
  });
  it("leave groups out by their figures, and the proof says which", () => {
    const few: Condition = { id: "g", left: { kind: "column", id: "t" }, operator: "atLeast", values: [{ kind: "value", text: "20" }] };
    const spec = perShipper({ groupConditions: [few] });
    expect(footing(spec)).toEqual({ t: 80_00, w: 15, r: 53333333, h: 30_00 });
    const plan = planOf(spec);
    expect(proofOf(plan).steps.at(-1)).toMatchObject({ kind: "groups", groups: 2, leftOut: { rows: 2, figure: 20_00 } });
    expect(ids(planProofRows(plan, { part: "leftOutGroups", id: "g" })).sort()).toEqual(["3", "6"]);
    expect(ids(planProofRows(plan, { part: "sheet" })).sort()).toEqual(["1", "2", "4", "5"]);
  });
  it("open their rows through a window as they stand in the whole", () => {
    const few: Condition = { id: "g", left: { kind: "column", id: "t" }, operator: "atLeast", values: [{ kind: "value", text: "20" }] };
    const behind = planProofRows(planOf(perShipper({ groupConditions: [few], joins: [{ id: "s", from: "", link: "shipper", toward: "b", way: "keep" }] })), {
      part: "sheet",
    }) as Plan;
    const named = { ...behind, columns: [...behind.columns, ...planOf(withShipper("keep")).columns.slice(2)] };
    const all = engines.sqlite(named);
    expect(all.length).toBe(4);
    expect([0, 1, 2, 3].flatMap((offset) => engines.sqlite(named, { offset, rows: 1 }))).toEqual(all);
  });
  it.each([
    ["year", 1],
    ["quarter", 4],
    ["month", 12],
    ["isoWeek", 52],
    ["day", null],
  ] as const)("look a year back from a %s by %s of them", (part, steps) => {
    const spec: QuerySpec = {
      ...emptyQuery("charge"),
      grouped: true,
      columns: [
        { id: "k", value: { ...field("day"), part } },
        { id: "t", value: field("amount"), figure: "total" },
        { id: "y", value: { kind: "column", id: "t" }, figure: "window", window: { kind: "change", back: "year" } },
      ],
    };
    if (steps === null) expect(problemsOf(spec)).toEqual(["windowPeriod"]);
    else expect(planOf(spec).columns[2]?.window?.period).toEqual({ column: "k", part, steps, per: [] });
  });
  it("are empty where a total of zero divides, and refuse to be worked out from themselves", async () => {
    const columns = (text: string): QuerySpec => ({
      ...emptyQuery("charge"),
      grouped: true,
      columns: [{ id: "x", value: { kind: "formula", text }, figure: "formula", label: "x" }],
    });
    expect(await rowsOf(columns("SUM(amount) / SUM(weight - weight)"))).toEqual(["∅"]);
    expect(
      problemsOf(
        perShipper({
          columns: [
            { id: "a", value: { kind: "formula", text: "B + 1" }, figure: "formula", label: "A" },
            { id: "b", value: { kind: "formula", text: "A + 1" }, figure: "formula", label: "B" },
          ],
        }),
      ),
    ).toContain("ownCircle");
  });
  it("look back by the calendar: a month without rows is not skipped", async () => {
    const spec: QuerySpec = {
      ...emptyQuery("charge"),
      grouped: true,
      columns: [
        { id: "k", value: { ...field("day"), part: "month" } },
        { id: "t", value: field("amount"), figure: "total", label: "Freight" },
        { id: "p", value: { kind: "column", id: "t" }, figure: "window", window: { kind: "difference", back: "period" } },
        { id: "b", value: { kind: "column", id: "t" }, figure: "window", window: { kind: "difference", back: "row", by: "k" } },
        { id: "u", value: { kind: "column", id: "t" }, figure: "window", window: { kind: "running", by: "k" } },
        { id: "s", value: { kind: "column", id: "t" }, figure: "window", window: { kind: "share" } },
        { id: "n", value: { kind: "column", id: "t" }, figure: "window", window: { kind: "rank" } },
      ],
    };
    expect(await rowsOf(spec)).toEqual([
      "2026-01-01 | 3000 | ∅ | ∅ | 3000 | 3000000 | 3",
      "2026-03-01 | 3550 | ∅ | 550 | 6550 | 3550000 | 1",
      "2026-04-01 | 3450 | -100 | -100 | 10000 | 3450000 | 2",
    ]);
    const nested = { id: "x", value: { kind: "column" as const, id: "u" }, figure: "window" as const, window: { kind: "share" as const } };
    expect(problemsOf({ ...spec, columns: [...spec.columns, nested] })).toEqual(["windowNested"]);
    expect(problemsOf({ ...spec, columns: [...spec.columns, { ...nested, value: { kind: "column", id: "k" } }] })).toEqual(["windowOf"]);
    expect(problemsOf({ ...spec, columns: spec.columns.map((c) => (c.id === "k" ? { ...c, value: field("shipper_id") } : c)) })).toEqual(["windowPeriod"]);
  });
});

describe("formulas with a heading", () => {
  const named = (label: string, text: string, more: object = {}): QuerySpec["columns"][number] => ({
    id: label,
    value: { kind: "formula", text },
    label,
    ...more,
  });
  const taxed: QuerySpec = {
    ...emptyQuery("charge"),
    columns: [{ id: "i", value: field("id") }, named("With tax", "amount * 1.2", { hidden: true }), named("rounded", 'ROUND("with tax")')],
    conditions: [{ id: "w", left: { kind: "formula", text: "with_tax" }, operator: "atLeast", values: [{ kind: "value", text: "24" }] }],
  };
  it("are used by it in conditions and other formulas", async () => {
    // 20.00, 30.00 and 20.00 with a fifth more.
    expect(await rowsOf(taxed)).toEqual(["2 | 24000 | 24", "4 | 36000 | 36", "5 | 24000 | 24"]);
  });
  it("are used in groups and in figures", async () => {
    const grouped: QuerySpec = {
      ...taxed,
      grouped: true,
      conditions: [],
      columns: [
        named("size", "CASE WHEN amount >= 20 THEN 'large' ELSE 'small' END"),
        { id: "t", value: { kind: "formula", text: "SUM(amount) FILTER (WHERE size = 'large')" }, figure: "formula", label: "large" },
      ],
    };
    expect(await rowsOf(grouped)).toEqual(["large | 7000", "small | ∅"]);
  });
  it("are refused in a circle, by its names; a field of the same name goes first", async () => {
    const circle = (text: string): QuerySpec => ({ ...taxed, conditions: [], columns: [named("a", text), named("b", "a + 1")] });
    const resolved = resolveQuery(circle("b * 2"), schema, { today: usualDay("2026-11-23"), values: {} });
    expect(resolved.ok ? "" : resolved.problems.map((p) => p.detail.names)).toContain("b → a → b");
    expect(problemsOf(circle("a * 2"))).toContain("circle");
    expect(await rowsOf({ ...circle("weight"), columns: [named("weight", "weight * 2")] })).toEqual(["8", "2", "10", "20", "∅", "4"]);
  });
});

describe("groups", () => {
  const by = (value: Operand): QuerySpec => ({
    ...emptyQuery("charge"),
    grouped: true,
    columns: [
      { id: "k", value },
      { id: "n", value: null, figure: "count" },
      { id: "t", value: field("amount"), figure: "total" },
    ],
  });
  const sameEverywhere = async (plan: Plan): Promise<string[]> => {
    const answer = engines.sqlite(plan);
    expect(await engines.duckdb(plan)).toEqual(answer);
    expect(await engines.postgres(plan)).toEqual(answer);
    expect(proofOf(plan).agrees).toBe(true);
    return answer;
  };
  it("are business years as the workspace begins them, to the day", async () => {
    const inYears = (yearStart: string): Plan => {
      const { day, calendar } = usualDay("2026-11-23");
      const resolved = resolveQuery(by({ ...field("day"), part: "businessYear" }), schema, {
        today: { day, calendar: { ...calendar, yearStart } },
        values: {},
      });
      if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
      return resolved.value;
    };
    expect(await sameEverywhere(inYears("04-02"))).toEqual(["2025-04-02 | 5 | 8550", "2026-04-02 | 1 | 1450"]);
    expect(await sameEverywhere(inYears("01-20"))).toEqual(["2025-01-20 | 1 | 1000", "2026-01-20 | 5 | 9000"]);
    expect(await sameEverywhere(inYears("03-31"))).toEqual(["2025-03-31 | 4 | 6550", "2026-03-31 | 2 | 3450"]);
    expect(await sameEverywhere(inYears("01-01"))).toEqual(["2026-01-01 | 6 | 10000"]);
    expect(inYears("04-02").columns[0]?.format).toEqual({ date: "businessYear" });
  });
  it("are bands by limits, each its least, and what lies below them", async () => {
    const limited = by({ ...field("amount"), limits: ["10", "20.00"] });
    expect(await sameEverywhere(planOf(limited))).toEqual(["999 | 1 | 550", "1000 | 2 | 2450", "2000 | 3 | 7000"]);
    expect(planOf(limited).columns[0]).toMatchObject({ totalled: false, format: { limits: ["10", "20.00"] } });
    // What is empty is in no band.
    expect(await sameEverywhere(planOf(by({ ...field("weight"), limits: ["3"] })))).toEqual(["∅ | 1 | 2000", "2 | 2 | 3450", "3 | 3 | 4550"]);
    for (const limits of [["20", "10"], ["10", "10.00"], ["x"], ["0.001"]]) expect(problemsOf(by({ ...field("amount"), limits }))).toEqual(["bandLimits"]);
    expect(problemsOf(by({ ...field("day"), limits: ["1"] }))).toEqual(["bandType"]);
  });
  it("are first letters, upper and lower case together", async () => {
    const letters: QuerySpec = {
      ...by({ ...field("name"), letters: 1 }),
      source: "shipper",
      columns: [
        { id: "k", value: { ...field("name"), letters: 1 } },
        { id: "n", value: null, figure: "count" },
      ],
    };
    expect(await sameEverywhere(planOf(letters))).toEqual(["A | 1", "B | 1", "C | 1"]);
    expect(problemsOf(by({ ...field("amount"), letters: 1 }))).toEqual(["lettersType"]);
  });
});

describe("what is among the rows of a query", () => {
  const large: QuerySpec = {
    ...emptyQuery("charge"),
    columns: [{ id: "who", value: field("shipper_id"), label: "who" }],
    conditions: [{ id: "w", left: field("amount"), operator: "atLeast", values: [{ kind: "parameter", name: "least" }] }],
    parameters: [{ name: "least", type: "decimal", default: { kind: "fixed", text: "20" } }],
  };
  const asked = withQueryTables(schema, [{ id: "l", name: "Large", spec: large }], usualDay("2026-11-23"));
  const among = (operator: "among" | "notAmong", left = field("shipper_id"), table = "query l", from = "who"): QuerySpec => ({
    ...charges,
    conditions: [{ id: "c", left, operator, values: [{ kind: "rows", table, column: from }] }],
  });
  const numbers = async (spec: QuerySpec) => (await rowsOf(spec, asked)).map((row) => row.split(" | ")[0]);
  it("is kept once however often it stands there; the rest, the empty one too, is what is not among them", async () => {
    // Of 20.00 and more are charges 2, 4 and 5: of the shippers 1 and 2, one of them twice.
    expect(await numbers(among("among"))).toEqual(["1", "2", "4", "5"]);
    expect(await numbers(among("notAmong"))).toEqual(["3", "6"]);
    expect(await numbers(among("notAmong", undefined, "shipper", "id"))).toEqual(["3", "6"]);
    expect(await numbers(among("among", field("day"), "paid", "day"))).toEqual(["1", "2"]);
    // 10.00 with two decimals is 10.0 with one.
    expect(await numbers(among("among", field("amount"), "paid", "amount"))).toEqual(["1", "2", "5"]);
  });
  it("is looked up in its own table, also where a window of the sheet is found first", () => {
    const own: QuerySpec = {
      ...withShipper("keep"),
      conditions: [{ id: "c", left: field("id"), operator: "among", values: [{ kind: "rows", table: "charge", column: "weight" }] }],
      order: [{ column: "i", direction: "down" }],
    };
    const sql = compileRows(planOf(own), sqlite, { offset: 1, rows: 2 });
    expect([...readRows(engines.lite, sql)].map((row) => row[0])).toEqual([4, 2]);
  });
  it("is kept once where several values are the same to it: two times of one day", async () => {
    expect(await numbers(among("among", field("day"), "seen", "at"))).toEqual(["1"]);
    expect(await numbers(among("notAmong", field("day"), "seen", "at"))).toEqual(["2", "3", "4", "5", "6"]);
  });
  it("asks for the parameters of that query, and has a line of its own in the proof", () => {
    const plan = planOf(among("among"), asked);
    expect(plan.parameters.map((p) => [p.name, p.text])).toEqual([["least", "20"]]);
    const proof = proofOf(plan);
    expect(proof.steps.find((s) => s.kind === "condition")).toMatchObject({ id: "c", leftOut: { rows: 2 } });
    expect(ids(planProofRows(plan, { part: "leftOut", id: "c" }))).toEqual(["3", "6"]);
    const given = resolveQuery(among("among"), asked, { today: usualDay("2026-11-23"), values: { least: "30" } });
    expect(given.ok && ids(given.value)).toEqual(["1", "4"]);
  });
  it("is refused where there is nothing to compare", () => {
    expect(problemsOf(among("among", undefined, "query gone"), asked)).toEqual(["tableGone"]);
    expect(problemsOf(among("among", undefined, "shipper", "gone"), asked)).toEqual(["columnGone"]);
    expect(problemsOf(among("among", undefined, "shipper", "name"), asked)).toEqual(["amongTypes"]);
    const charged = (left: Operand): QuerySpec => ({
      ...emptyQuery("shipper"),
      columns: [{ id: "i", value: field("id") }],
      joins: [{ id: "c", from: "", link: "shipper", toward: "a", way: "has", where: among("among").conditions.map((c) => ({ ...c, left })) as Condition[] }],
    });
    expect([problemsOf(charged(field("shipper_id", "c")), asked), problemsOf(charged(field("id")), asked)]).toEqual([[], ["amongParent"]]);
    const groups: QuerySpec = { ...charges, grouped: true, columns: [{ id: "t", value: field("amount"), figure: "total" }] };
    const [condition] = among("among").conditions;
    expect(problemsOf({ ...groups, groupConditions: [{ ...condition, left: { kind: "column", id: "t" } } as Condition] }, asked)).toEqual(["amongGroups"]);
    const over = resolveOver({ ...overRows(), conditions: [{ ...condition, left: field("i") } as Condition], columns: [] }, planOf(charges), {
      today: usualDay("2026-11-23"),
      values: {},
    });
    expect(over.ok ? [] : over.problems.map((p) => p.code)).toEqual(["amongOver"]);
  });
});

describe("rows put together", () => {
  const stacked = (how: "all" | "different" | "both" | "first", more: Partial<QuerySpec> = {}): QuerySpec => ({
    ...emptyQuery("charge"),
    stack: { how, parts: ["paid"], pairs: [{ shipper_id: null, weight: null }] },
    columns: [
      { id: "d", value: field("day") },
      { id: "a", value: field("amount") },
    ],
    ...more,
  });
  it("have the columns of the first, by their names, at one scale", async () => {
    expect((await rowsOf(stacked("all"))).length).toBe(9);
    expect(proofOf(planOf(stacked("all"))).sheet).toEqual({ rows: 9, figure: 229_00 });
  });
  it("are the same, or only in the first, by all their columns", async () => {
    const dates: QuerySpec = { ...emptyQuery("charge"), columns: [{ id: "day", value: field("day"), label: "day" }] };
    const paid: QuerySpec = { ...emptyQuery("paid"), columns: [{ id: "day", value: field("day"), label: "day" }] };
    const both = withQueryTables(
      schema,
      [
        { id: "c", name: "charged", spec: dates },
        { id: "p", name: "paid days", spec: paid },
      ],
      usualDay("2026-11-23"),
    );
    const over = (how: "different" | "both" | "first"): QuerySpec => ({
      ...emptyQuery("query c"),
      stack: { how, parts: ["query p"] },
      columns: [{ id: "d", value: field("day") }],
    });
    expect(await rowsOf(over("both"), both)).toEqual(["2026-01-10", "2026-01-20"]);
    expect(await rowsOf(over("first"), both)).toEqual(["2026-03-05", "2026-03-09", "2026-04-01", "2026-04-02"]);
    expect((await rowsOf(over("different"), both)).length).toBe(7);
  });
  it("are different by columns that are not shown", async () => {
    const twice: QuerySpec = { ...emptyQuery("charge"), stack: { how: "different", parts: ["charge"] }, columns: [{ id: "s", value: field("shipper_id") }] };
    expect((await rowsOf(twice)).length).toBe(6);
  });
  it("bring along what the first is linked to, though only columns that are read are read", async () => {
    const linked = stacked("all", {
      joins: [{ id: "s", from: "", link: "shipper", toward: "b", way: "keep" }],
      columns: [
        { id: "n", value: field("name", "s") },
        { id: "a", value: field("amount"), figure: "total" },
      ],
      grouped: true,
    });
    expect(await rowsOf(linked)).toEqual(["∅ | 14900", "Ann | 4000", "Bo | 4000"]);
    expect(compileRows(planOf(linked), sqlite).text).not.toContain("weight");
  });
  it("are shown in windows, also where a table is joined of which nothing is read", () => {
    const spec = stacked("all", { joins: [{ id: "s", from: "", link: "shipper", toward: "b", way: "keep" }], order: [{ column: "d", direction: "up" }] });
    expect([...readRows(engines.lite, compileRows(planOf(spec), sqlite, { offset: 1, rows: 2 }))]).toHaveLength(2);
  });
  it("are refused where no column is paired", () => expect(problemsOf(stacked("all", { stack: { how: "all", parts: ["point"] } }))).toEqual(["stackNothing"]));
  it("are refused where columns are of different types", () =>
    expect(problemsOf(stacked("all", { stack: { how: "all", parts: ["paid"], pairs: [{ amount: "day" }] } }))).toEqual(["stackTypes"]));
});

describe("queries over queries", () => {
  const query = (id: string, source: string): { id: string; name: string; spec: QuerySpec } => ({
    id,
    name: `Query ${id}`,
    spec: { ...charges, source, columns: [{ id: "i", value: field("i") }] },
  });
  it("say the circle they lead into by its names", () => {
    const circle = withQueryTables(schema, [query("a", "query b"), query("b", "query a"), query("c", "query b")], usualDay("2026-11-23"));
    expect(circle.queries?.map((t) => t.rowsOf?.broken)).toEqual([
      "These queries read each other in a circle: Query a → Query b → Query a. Change the source of one of them.",
      "These queries read each other in a circle: Query b → Query a → Query b. Change the source of one of them.",
      "These queries read each other in a circle: Query b → Query a → Query b. Change the source of one of them.",
    ]);
    expect(problemsOf({ ...charges, source: "query a" }, circle)).toEqual(["queryBroken"]);
    expect(problemsOf({ ...charges, source: "query gone" }, circle)).toEqual(["tableGone"]);
  });
});

describe("a period of days", () => {
  const within = (value: Value, operator: Condition["operator"] = "during", more: Partial<QuerySpec> = {}): QuerySpec => ({
    ...charges,
    conditions: [{ id: "c", left: field("day"), operator, values: [value] }],
    parameters: [{ name: "period", type: "period", default: { kind: "fixed", text: "2026-01-10/2026-01-20" } }],
    ...more,
  });
  const asked: Value = { kind: "parameter", name: "period" };
  const first = async (spec: QuerySpec) => (await rowsOf(spec)).map((l) => l[0]);
  it("takes both its ends in, and its opposite everything else, what is empty too", async () => {
    expect(await first(within(asked))).toEqual(["1", "2"]);
    expect(await first(within(asked, "notDuring"))).toEqual(["3", "4", "5", "6"]);
    expect(await first(within({ kind: "value", text: "2026-03-06/2026-04-01" }))).toEqual(["4", "5"]);
    expect(await first(within({ kind: "value", text: "thisYear" }))).toHaveLength(6);
  });
  it("of times, to the end of its last day", async () => {
    const seen: QuerySpec = {
      ...emptyQuery("seen"),
      columns: [{ id: "i", value: field("id") }],
      conditions: [{ id: "c", left: field("at"), operator: "during", values: [{ kind: "value", text: "2026-01-09/2026-01-10" }] }],
    };
    expect(await rowsOf(seen)).toEqual(["1", "2"]);
    expect(await rowsOf({ ...seen, conditions: [{ ...(seen.conditions[0] as Condition), operator: "notDuring" }] })).toEqual(["3"]);
  });
  it("is given by two days or by a name, falls away where it may be left empty, and says what is wrong with it", () => {
    const given = (text: string, spec = within(asked)) => resolveQuery(spec, schema, { today: usualDay("2026-11-23"), values: { period: text } });
    expect(given("lastYear")).toMatchObject({ ok: true, value: { parameters: [{ text: "2025-01-01/2025-12-31", period: true }] } });
    const open = within(asked, "during", { parameters: [{ name: "period", type: "period", optional: true }] });
    expect(given("", open)).toMatchObject({ ok: true, value: { conditions: [] } });
    const code = (text: string, spec?: QuerySpec) => {
      const resolved = given(text, spec);
      return resolved.ok ? [] : resolved.problems.map((p) => p.code);
    };
    expect(code("october")).toEqual(["periodType"]);
    expect(code("2026-02-01/2026-01-01")).toEqual(["rangeTurned"]);
    expect(code("", within(asked, "is"))).toEqual(["periodNeedsWithin"]);
    expect(code("", within({ kind: "value", text: "2026-01-01" }))).toEqual(["periodNeeded"]);
    expect(code("", within({ kind: "value", text: "" }))).toEqual(["valueMissing"]);
    expect(code("", within({ kind: "value", text: "2026-02-01/2026-01-01" }))).toEqual(["rangeTurned"]);
    expect(code("", within(asked, "during", { parameters: [{ name: "period", type: "date" }] }))).toEqual(["parameterMissing"]);
  });
  it("is asked for when run, and moved back with what a chart compares", () => {
    const blank = within({ kind: "value", text: "" }, "during", { parameters: [] });
    const made = askWhenRun(blank, schema, "c", 0, date);
    expect(made.parameters).toEqual([{ name: "period", type: "period" }]);
    expect(changeOperator(made, "c", "is").conditions[0]).toMatchObject({ values: [{ kind: "value", text: "" }] });
    expect(valuesEarlier(planOf(within(asked)), "year")).toEqual({ period: "2025-01-10/2025-01-20" });
    expect(briefText(queryBrief(within({ kind: "value", text: "lastMonth" }), schema, { locale: "en-GB", zone: "UTC" }))).toContain("day is within last month");
  });
});

describe("a choice of a list", () => {
  it("is read as what it is compared with, and refused where it is no such value", async () => {
    const asked = (column: string, choice: string): QuerySpec => ({
      ...charges,
      conditions: [{ id: "c", left: field(column), operator: "is", values: [{ kind: "parameter", name: "one" }] }],
      parameters: [{ name: "one", type: "choice", choices: [choice], default: { kind: "fixed", text: choice } }],
    });
    expect(await rowsOf(asked("amount", "20.00"))).toEqual(["2 | 2000", "5 | 2000"]);
    expect(await rowsOf(asked("day", "2026-03-05"))).toEqual(["3 | 550"]);
    expect(problemsOf(asked("amount", "twenty"))).toEqual(["parameterType"]);
  });
});

describe("a parameter that takes several values", () => {
  const asking = (operator: Condition["operator"], more: object = {}): QuerySpec => ({
    ...charges,
    conditions: [{ id: "w", left: field("shipper_id"), operator, values: [{ kind: "parameter", name: "shippers" }] }],
    parameters: [{ name: "shippers", type: "several", ...more }],
  });
  const given = (spec: QuerySpec, text: string) => {
    const resolved = resolveQuery(spec, schema, { today: usualDay("2026-11-23"), values: { shippers: text } });
    return resolved.ok ? ids(resolved.value) : resolved.problems.map((p) => p.code);
  };
  it("lists them, is dropped where it may be left empty, and keeps to its choices", () => {
    expect(given(asking("oneOf"), "1\n 9 ")).toEqual(["1", "3", "4"]);
    expect(given(asking("notOneOf"), "1\n9")).toEqual(["2", "5", "6"]);
    expect(given(asking("oneOf", { optional: true }), " \n").length).toBe(6);
    expect(given(asking("oneOf"), "")).toEqual(["parameterMissing"]);
    expect(given(asking("oneOf", { choices: ["1", "2"] }), "1\n9")).toEqual(["parameterChoice"]);
    expect(given(asking("oneOf"), "Ann")).toEqual(["valueType"]);
    expect(given(asking("is"), "1")).toEqual(["severalNeedList"]);
  });
});

describe("figures of many values", () => {
  const over = async (figure: AggregateName, name: "x" | "y", percent?: number): Promise<number> => {
    const columns = [{ id: "f", value: field(name), figure, ...(percent === undefined ? {} : { percent }) }];
    return Number((await rowsOf({ ...emptyQuery("point"), grouped: true, columns }))[0]);
  };
  const values = (at: 0 | 1) => ANSCOMBE.map((p) => p[at] as number);
  it("are those Anscombe published: averages 9.0 and 7.5, sums of squares about them 110.0 and 41.27", async () => {
    expect(await over("average", "x")).toBeCloseTo(9, 10);
    expect(await over("average", "y")).toBeCloseTo(7.5, 2);
    expect((await over("variance", "x")) * 10).toBeCloseTo(110, 8);
    expect((await over("variance", "y")) * 10).toBeCloseTo(41.27, 2);
  });
  it("are those of a reference library", async () => {
    const sorted = values(1).sort((a, b) => a - b);
    expect(await over("variance", "y")).toBeCloseTo(sampleVariance(values(1)), 9);
    expect(await over("deviationWhole", "y")).toBeCloseTo(standardDeviation(values(1)), 9);
    expect(await over("average", "y")).toBeCloseTo(mean(values(1)), 9);
    // Its quantiles are of other definitions; where the place falls on a value, all are that value.
    expect(await over("percentile", "y", 50)).toBeCloseTo(quantileSorted(sorted, 0.5), 9);
    expect(await over("percentile", "y", 30)).toBeCloseTo(sorted[3] as number, 9);
    expect(await over("percentile", "y", 35)).toBeCloseTo(((sorted[3] as number) + (sorted[4] as number)) / 2, 9);
  });
});

describe("proofs of what a query can ask", () => {
  const few: Condition = { id: "g", left: { kind: "column", id: "t" }, operator: "atLeast", values: [{ kind: "value", text: "20" }] };
  const grouped: QuerySpec = {
    ...emptyQuery("charge"),
    grouped: true,
    groupConditions: [few],
    columns: [
      { id: "k", value: field("shipper_id") },
      { id: "t", value: field("amount"), figure: "total", label: "Freight" },
      { id: "m", value: field("amount"), figure: "average" },
      { id: "r", value: { kind: "formula", text: "Freight / SUM(weight)" }, figure: "formula" },
    ],
  };
  const column = (plan: Plan, id: string, change: object): Plan => ({ ...plan, columns: plan.columns.map((c) => (c.id === id ? { ...c, ...change } : c)) });
  const join = (plan: Plan, change: object): Plan => ({ ...plan, joins: plan.joins.map((j) => ({ ...j, ...change })) });
  const compared: QuerySpec = {
    ...charges,
    joins: [{ id: "p", from: "", table: "paid", on: [{ id: "o1", left: field("day", "p"), operator: "atMost", values: [field("day")] }], way: "only" }],
  };
  const beside = (kind: WindowName, window: object = {}, of = "t") => ({
    id: kind,
    value: { kind: "column" as const, id: of },
    figure: "window" as const,
    window: { kind, ...window },
  });
  const lined: QuerySpec = {
    ...grouped,
    groupConditions: [],
    columns: [...grouped.columns.slice(0, 3), beside("running", { by: "k" }), beside("rank"), beside("difference", { by: "k" }), beside("share")],
  };
  const window = (plan: Plan, id: string, change: object): Plan =>
    column(plan, id, { window: { ...plan.columns.find((c) => c.id === id)?.window, ...change } });
  const firsts: QuerySpec = {
    ...charges,
    columns: [...charges.columns, { id: "sh", value: field("shipper_id") }, { id: "am", value: field("amount") }],
    order: [{ column: "am", direction: "down" }],
    firstOf: { rows: 1, per: ["sh"] },
  };
  const amongPaid: QuerySpec = {
    ...charges,
    conditions: [{ id: "c", left: field("day"), operator: "among", values: [{ kind: "rows", table: "paid", column: "day" }] }],
  };
  const part = (plan: Plan, how: string): Plan => ({ ...plan, source: { ...plan.source, stack: { ...plan.source.stack, how } as Plan["source"]["stack"] } });
  const stack: QuerySpec = { ...charges, stack: { how: "all", parts: ["charge"] } };
  it.each<[string, QuerySpec, (plan: Plan) => Plan]>([
    ["a condition on groups is lost", grouped, (plan) => ({ ...plan, groupConditions: [] })],
    [
      "a condition on groups is turned round",
      grouped,
      (plan) => ({ ...plan, groupConditions: plan.groupConditions.map((c) => ({ ...c, expr: negated(c.expr) })) }),
    ],
    ["the average in a footing is another figure", grouped, (plan) => column(plan, "m", { foot: plan.columns.find((c) => c.id === "r")?.foot })],
    ["a ratio in a footing is added", grouped, (plan) => column(plan, "r", { foot: literal("99", { kind: "decimal", scale: 7 }) })],
    ["rows of the other side are left out", withShipper("both"), (plan) => join(plan, { way: "keep" })],
    ["rows of the other side come in", withShipper("keep"), (plan) => join(plan, { way: "both" })],
    [
      "those that have none are asked for in place of those that have",
      withShipper("has"),
      (plan) => ({ ...plan, conditions: plan.conditions.map((c) => ({ ...c, expr: negated(c.expr) })) }),
    ],
    ["a comparison is lost", compared, (plan) => join(plan, { when: [] })],
    ["a comparison is turned round", compared, (plan) => ({ ...plan, joins: plan.joins.map((j) => ({ ...j, when: j.when?.map(negated) })) })],
    ["a running total runs the other way", lined, (plan) => window(plan, "running", { order: [{ column: "k", direction: "down" }] })],
    ["a running total is of another figure", lined, (plan) => window(plan, "running", { of: "m" })],
    ["a running total begins again", lined, (plan) => window(plan, "running", { per: ["k"] })],
    ["ranks begin with the least", lined, (plan) => window(plan, "rank", { direction: "up" })],
    ["a difference is a share", lined, (plan) => window(plan, "difference", { kind: "share" })],
    ["a share is of its own row", lined, (plan) => window(plan, "share", { per: ["k"] })],
    ["other rows come first", firsts, (plan) => ({ ...plan, order: [{ column: "am", direction: "up" }] })],
    ["more rows of each are shown", firsts, (plan) => ({ ...plan, firstOf: { rows: 2, per: ["sh"] } })],
    ["what it is among is another column", amongPaid, (plan) => ({ ...plan, joins: plan.joins.map((j) => ({ ...j, when: j.when?.map(negated) })) })],
    ["what it is among is left out", amongPaid, (plan) => ({ ...plan, conditions: plan.conditions.map((c) => ({ ...c, expr: negated(c.expr) })) })],
    ["rows are put together another way", stack, (plan) => part(plan, "different")],
  ])("says no where %s", (_, spec, broken) => {
    const right = planOf(spec);
    expect(held(right, right)).toBe(true);
    expect(held(right, broken(right))).toBe(false);
  });
  it("say of lines too many, or in an order of floating numbers, that they were not recounted", () => {
    const plan = planOf(lined);
    const check = (of: Plan, count: number) => holdLines(of, count, (whole) => readRows(engines.lite, compileRows(whole, sqlite)), tableReader(engines.lite));
    expect(check(plan, MOST_LINES)).toMatchObject({ headings: plan.columns.filter((c) => c.window).map((c) => c.heading), skipped: null, different: [] });
    expect(check(plan, MOST_LINES + 1)).toMatchObject({ skipped: { why: "many" }, lines: null });
    expect(check(column(plan, "t", { type: floating }), 3)).toMatchObject({ skipped: { why: "floating" }, lines: null });
    expect(check(planOf(grouped), 3)).toBeNull();
    expect(linesAgree({ headings: [], skipped: null, lines: { sheet: 3, recount: 2 }, different: [] })).toBe(false);
  });
});

describe("those that have rows of another table, or none, by comparisons", () => {
  const of = (column: string, join = ""): Operand => field(column, join);
  const at = (column: string, operator: Condition["operator"], near: string): Condition => ({
    id: `p${column}`,
    left: of(column, "p"),
    operator,
    values: [{ kind: "field", join: "", column: near }],
  });
  const paid = (way: JoinWay, on: Condition[], more: Partial<QuerySpec> = {}): QuerySpec => ({
    ...charges,
    joins: [{ id: "p", from: "", table: "paid", on, way }],
    ...more,
  });
  it("are asked for without repeating a row: two payments of 20.00 or more, one of a day before", async () => {
    expect(await rowsOf(paid("has", [at("day", "is", "day")]))).toEqual(["1 | 1000", "2 | 2000"]);
    expect((await rowsOf(paid("hasNone", [at("day", "is", "day")]))).map((l) => l[0])).toEqual(["3", "4", "5", "6"]);
    expect((await rowsOf(paid("has", [at("day", "less", "day"), at("amount", "atLeast", "amount")]))).map((l) => l[0])).toEqual(["3", "5", "6"]);
  });
  it("have a line of their own in the proof, and count for a table that is joined, where that has a row", async () => {
    const plan = planOf(paid("has", [at("day", "is", "day")]));
    expect(proofOf(plan).steps[0]).toMatchObject({ kind: "condition", words: "have no paids", leftOut: { rows: 4, figure: 70_00 } });
    const unnamed = { ...withShipper("keep"), joins: [...withShipper("keep").joins, { id: "p", from: "s", table: "paid", way: "hasNone" as const, on: [] }] };
    const asked = (way: JoinWay): QuerySpec => ({
      ...unnamed,
      joins: [
        unnamed.joins[0] as never,
        {
          id: "p",
          from: "s",
          table: "paid",
          way,
          on: [{ id: "q", left: of("id", "p"), operator: "is", values: [{ kind: "field", join: "s", column: "id" }] }],
        },
      ],
    });
    expect((await rowsOf(asked("has"))).map((l) => l[0])).toEqual(["1", "2", "4", "5"]);
    expect(await rowsOf(asked("hasNone"))).toEqual([]);
  });
  it("are told of saved queries on either side", async () => {
    const late = {
      id: "q",
      name: "Late",
      spec: paid("has", [], { joins: [], conditions: [{ id: "c", left: of("day"), operator: "atLeast", values: [{ kind: "value", text: "2026-03-01" }] }] }),
    };
    const within = withQueryTables(schema, [late], usualDay("2026-11-23"));
    const has: QuerySpec = { ...charges, joins: [{ id: "p", from: "", table: "query q", way: "has", on: [{ ...at("i", "is", "id"), left: of("i", "p") }] }] };
    expect((await rowsOf(has, within)).map((l) => l[0])).toEqual(["3", "4", "5", "6"]);
    const over: QuerySpec = {
      ...emptyQuery("query q"),
      columns: [{ id: "i", value: of("i") }],
      joins: [{ id: "p", from: "", table: "charge", way: "hasNone", on: [{ ...at("id", "greater", "i") }] }],
    };
    expect(await rowsOf(over, within)).toEqual(["6"]);
  });
  it("need a comparison, of stored columns of the two", () => {
    expect(problemsOf(paid("has", []))).toEqual(["joinHasNoComparison"]);
    expect(problemsOf(paid("has", [{ ...at("day", "is", "day"), values: [{ kind: "value", text: "2026-01-10" }] }]))).toEqual(["joinHasReach"]);
    const third = paid("hasNone", [{ ...at("id", "is", "id"), values: [{ kind: "field", join: "s", column: "id" }] }]);
    expect(problemsOf({ ...third, joins: [...withShipper("keep").joins, ...third.joins] })).toEqual(["joinHasReach"]);
  });
  it("have a proof that says no where those that have none are shown", () => {
    const right = planOf(paid("has", [at("day", "is", "day")]));
    const other = planOf(paid("hasNone", [at("day", "is", "day")]));
    const account = accountOf(right, null, tableReader(engines.lite));
    const sql = sheetSql(other);
    const answer = { rows: readSingle(engines.lite, sql.rows), footing: readSingle(engines.lite, sql.footing), lines: null };
    expect(prove(other, null, account, sql.footing, answer).agrees).toBe(false);
  });
});

describe("a figure over related rows", () => {
  const step = { link: "shipper", toward: "a" as const };
  const shippers = (more: Partial<RelatedFigure> = {}, figure?: "total"): QuerySpec => ({
    ...emptyQuery("shipper"),
    grouped: figure !== undefined,
    columns: [
      { id: "n", value: field("name") },
      { id: "t", value: { ...relatedFigure("", step, "total", "amount", schema), ...more }, label: "Freight", ...(figure ? { figure } : {}) },
    ],
  });
  it("stands beside each row and repeats none; its footing adds up, and is proved", async () => {
    expect(await rowsOf(shippers())).toEqual(["Ann | 4000", "Bo | 4000", "Cy | ∅"]);
    expect(proofOf(planOf(shippers()))).toMatchObject({ sheet: { rows: 3, figure: 80_00 }, repeats: [] });
    expect(await rowsOf(shippers({}, "total"))).toEqual(["Ann | 4000", "Bo | 4000", "Cy | ∅"]);
  });
  it("counts only rows that meet its conditions, and names none for a count of nothing", async () => {
    const where: Condition[] = [{ id: "w", left: field("weight"), operator: "atLeast", values: [{ kind: "value", text: "4" }] }];
    expect(await rowsOf(shippers({ where }))).toEqual(["Ann | 4000", "Bo | ∅", "Cy | ∅"]);
    expect(await rowsOf(shippers({ figure: "count", column: null, where }))).toEqual(["Ann | 2", "Bo | 0", "Cy | 0"]);
    expect((await rowsOf(shippers({ figure: "average" })))[0]).toBe("Ann | 200000000");
  });
  it("is what the rows joined come to once they are totalled first", async () => {
    const joined: QuerySpec = {
      ...shippers(),
      joins: [{ id: "c", from: "", ...step, way: "only" }],
      columns: [
        { id: "n", value: field("name") },
        { id: "t", value: field("amount", "c") },
      ],
    };
    const first = totalFirst(joined, schema, "c") as QuerySpec;
    expect(await rowsOf(first)).toEqual(["Ann | 4000", "Bo | 4000"]);
    expect([proofOf(planOf(joined)).sheet.figure, proofOf(planOf(first)).sheet.figure]).toEqual([80_00, 80_00]);
  });
  it("says what is gone: its link, its column", () => {
    expect(problemsOf(shippers({ step: { ...step, link: "gone" } }))).toEqual(["linkGone"]);
    expect(problemsOf(shippers({ column: "gone" }))).toEqual(["columnGone"]);
  });
});

describe("comparisons that the data speaks for", () => {
  it("are put to it by names and keys; each says its pairs, and how many rows find one", async () => {
    const [charge, shipper] = [findTable(schema, "charge") as Table, findTable(schema, "shipper") as Table];
    expect(pairCandidates(charge, shipper)).toEqual([
      { near: "shipper_id", far: "id" },
      { near: "id", far: "id" },
      { near: "weight", far: "id" },
    ]);
    const counts = async (pair: Pair): Promise<string[]> => {
      const made = pairCounts({ near: "charge", far: "paid" }, pair, schema, usualDay("2026-11-23"));
      return rowsOf(made.spec, made.schema);
    };
    // Amounts of 20.00 stand twice in charges and once in what was paid.
    expect(await counts({ near: "amount", far: "amount" })).toEqual(["3 | 3 | 6 | 2 | 3"]);
    expect(await counts({ near: "shipper_id", far: "id" })).toEqual(["4 | 4 | 6 | 2 | 3"]);
    expect(await counts({ near: "weight", far: "id" })).toEqual(["2 | 2 | 6 | 2 | 3"]);
  });
});
