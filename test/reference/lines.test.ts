import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { negated } from "@/core/expression/expr";
import type { ProofPick } from "@/core/proof/proof";
import { planProofRows } from "@/core/proof/proofRows";
import { emptyQuery } from "@/core/query/empty";
import { losingSteps } from "@/core/query/onOneSide";
import { overRows, resolveOver } from "@/core/query/over";
import type { Plan } from "@/core/query/plan";
import { valuesToCompare } from "@/core/query/profile";
import type { Condition, QueryColumn, QuerySpec } from "@/core/query/spec";
import { usualDay } from "@/core/types/calendar";
import { charges, chargesEverywhere, field, planOf, problemsOf, withPaid } from "../support/charges";

/*
 * Conditions on the lines of a sheet once all their columns are there, on rows small enough to be worked out by hand:
 * months whose freight fell, a running total that is not yet too high, the first of those that are left. And proofs
 * that say no.
 */
let { engines, held, proofOf, rowsOf }: Awaited<ReturnType<typeof chargesEverywhere>> = {} as never;
beforeAll(async () => {
  ({ engines, held, proofOf, rowsOf } = await chargesEverywhere());
});
afterAll(() => engines.close());

const behind = (plan: Plan, pick: ProofPick): string[] => engines.sqlite(planProofRows(plan, pick) as Plan).map((row) => row.split(" | ")[0] ?? "");
const asks = (id: string, operator: Condition["operator"], text: string): Condition => ({
  id: `l ${id}`,
  left: { kind: "column", id },
  operator,
  values: [{ kind: "value", text }],
});
const beside = (kind: "difference" | "running" | "rank", of: string, by: string): QueryColumn => ({
  id: kind,
  value: { kind: "column", id: of },
  figure: "window",
  window: { kind, by },
});

/** January 30.00, March 35.50, April 34.50; each against the month before that has rows. */
const months: QuerySpec = {
  ...emptyQuery("charge"),
  grouped: true,
  columns: [{ id: "k", value: { ...field("day"), part: "month" } }, { id: "t", value: field("amount"), figure: "total" }, beside("difference", "t", "k")],
  lineConditions: [asks("difference", "less", "0")],
};
/** 10.00, 30.00, 35.50, then 65.50 and more. */
const running: QuerySpec = {
  ...charges,
  columns: [...charges.columns, { id: "sh", value: field("shipper_id") }, beside("running", charges.columns[1]?.id ?? "", charges.columns[0]?.id ?? "")],
  lineConditions: [asks("running", "atMost", "40")],
};

describe("conditions on lines", () => {
  it("hold when all lines are there: April fell against March, which is not shown", async () => {
    expect(await rowsOf(months)).toEqual(["2026-04-01 | 3450 | -100"]);
    const proof = proofOf(planOf(months));
    expect(proof).toMatchObject({ agrees: true, groups: 1, sheet: { rows: 2, figure: 34_50 } });
    expect(proof.steps.at(-1)).toMatchObject({ kind: "groups", groups: 2, leftOut: { rows: 4, figure: 65_50 } });
    expect(behind(planOf(months), { part: "leftOutGroups", id: "l difference" }).sort()).toEqual(["1", "2", "3", "4"]);
    expect(behind(planOf(months), { part: "sheet" }).sort()).toEqual(["5", "6"]);
  });
  it("hold of columns that nothing beside decides, too", async () => {
    const spec = { ...months, columns: months.columns.slice(0, 2), lineConditions: [asks("t", "atLeast", "35")] };
    expect(await rowsOf(spec)).toEqual(["2026-03-01 | 3550"]);
    expect(proofOf(planOf(spec)).steps.at(-1)).toMatchObject({ kind: "groups", groups: 2 });
    const rows = { ...charges, lineConditions: [asks(charges.columns[0]?.id ?? "", "atMost", "2")] };
    expect(await rowsOf(rows)).toEqual(["1 | 1000", "2 | 2000"]);
  });
  it("come behind those on groups: without March, April is held against January", async () => {
    const least = { ...asks("t", "less", "35"), id: "g" };
    const spec = { ...months, groupConditions: [least], lineConditions: [asks("difference", "greater", "0")] };
    expect(await rowsOf(spec)).toEqual(["2026-04-01 | 3450 | 450"]);
    const [ofGroups, ofLines] = proofOf(planOf(spec)).steps.slice(-2);
    expect(ofGroups).toMatchObject({ id: "g", groups: 1, leftOut: { rows: 2, figure: 35_50 } });
    expect(ofLines).toMatchObject({ id: "l difference", groups: 1, leftOut: { rows: 2, figure: 30_00 } });
    expect(behind(planOf(spec), { part: "leftOutGroups", id: "l difference" }).sort()).toEqual(["1", "2"]);
    expect(behind(planOf(spec), { part: "leftOutGroups", id: "g" }).sort()).toEqual(["3", "4"]);
  });
  it("part rows that are not grouped, with their account and the rows behind it", async () => {
    const rows = ["1 | 1000 | 1 | 1000", "2 | 2000 | 2 | 3000", "3 | 550 | 9 | 3550"];
    expect(await rowsOf(running)).toEqual(rows);
    const plan = planOf(running);
    const proof = proofOf(plan);
    expect(proof).toMatchObject({ agrees: true, sheet: { rows: 3, figure: 35_50 } });
    expect(proof.steps.at(-1)).toMatchObject({ kind: "condition", leftOut: { rows: 3, figure: 64_50 } });
    expect(behind(plan, { part: "leftOut", id: "l running" })).toEqual(["4", "5", "6"]);
    expect(engines.sqlite(planProofRows(plan, { part: "sheet" }) as Plan)).toEqual(rows);
    // Of two, the second is asked of what the first leaves: its rows are told apart from those.
    const two = { ...running, lineConditions: [...(running.lineConditions ?? []), { ...asks("running", "less", "30"), id: "less" }] };
    expect(behind(planOf(two), { part: "leftOut", id: "less" })).toEqual(["2", "3"]);
    expect(proofOf(planOf(two)).steps.at(-1)).toMatchObject({ id: "less", leftOut: { rows: 2, figure: 25_50 } });
  });
  it("take what is counted once from a figure with the last of its rows", () => {
    const spec: QuerySpec = {
      ...withPaid,
      lineConditions: [asks("p", "less", "2"), asks(charges.columns[0]?.id ?? "", "atMost", "1")],
    };
    const proof = proofOf(planOf(spec));
    expect(proof).toMatchObject({ agrees: true, sheet: { rows: 1, figure: 10_00 } });
    expect(proof.steps.slice(-2)).toMatchObject([{ leftOut: { rows: 1, figure: 0 } }, { leftOut: { rows: 1, figure: 20_00 } }]);
  });
  it("come before the first of each and the limit", async () => {
    const amount = charges.columns[1]?.id ?? "";
    const first: QuerySpec = { ...running, order: [{ column: amount, direction: "down" }], firstOf: { rows: 1, per: ["sh"] } };
    const own = { ...first, columns: first.columns.map((c) => (c.window ? { ...c, window: { kind: "running" as const, by: charges.columns[0]?.id } } : c)) };
    // Shipper 1's largest charge, 30.00, is beyond 40.00 in all: 10.00 is the first of what is left.
    expect(await rowsOf(own as QuerySpec)).toEqual(["2 | 2000 | 2 | 3000", "1 | 1000 | 1 | 1000", "3 | 550 | 9 | 3550"]);
    expect(await rowsOf({ ...own, limit: 2 } as QuerySpec)).toEqual(["2 | 2000 | 2 | 3000", "1 | 1000 | 1 | 1000"]);
    expect(proofOf(planOf(own as QuerySpec)).agrees).toBe(true);
  });
  it("compare columns with each other, and are read by what reads the query", async () => {
    const least: Condition = { ...asks("running", "greater", ""), values: [{ kind: "column", id: charges.columns[1]?.id ?? "" }] };
    expect((await rowsOf({ ...running, lineConditions: [least] })).map((row) => row[0])).toEqual(["2", "3", "4", "5", "6"]);
    const counted: QuerySpec = { ...overRows(), grouped: true, columns: [{ id: "n", value: null, figure: "count" }] };
    const over = resolveOver(counted, planOf(running), { today: usualDay("2026-11-23"), values: {} });
    expect(over.ok && engines.sqlite(over.value)).toEqual(["3"]);
  });
  it("are told as steps that leave rows out, and are not asked of the values there are to compare with", () => {
    expect(losingSteps(planOf(months)).at(-1)).toEqual({
      pick: { part: "leftOutGroups", id: "l difference" },
      words: expect.stringMatching(/^groups left out by/),
    });
    expect(losingSteps(planOf(running)).at(-1)?.pick).toEqual({ part: "leftOut", id: "l running" });
    expect(problemsOf(valuesToCompare(months, field("shipper_id"), ""))).toEqual([]);
  });
  it("say nothing of a column whose own figure is not whole: that is said there", () => {
    const weighed = { ...months, columns: months.columns.map((c) => (c.id === "t" ? { ...c, figure: "weightedAverage" as const } : c)), lineConditions: [] };
    expect(problemsOf(weighed)).toEqual(["figureNeedsWeight"]);
  });
  it("ask of the query's own columns alone", () => {
    const asked = (condition: Condition) => problemsOf({ ...months, lineConditions: [condition] });
    expect(asked({ ...asks("k", "less", "1"), left: field("amount") })).toEqual(["joinGone"]);
    expect(asked({ ...asks("k", "less", "1"), left: { kind: "formula", text: "amount" } })).not.toEqual([]);
    expect(asked(asks("gone", "less", "1"))).toEqual(["ownColumnGone"]);
    expect(asked({ ...asks("t", "among", ""), values: [{ kind: "rows", table: "paid", column: "amount" }] })).toEqual(["amongGroups"]);
  });
});

describe("a proof of lines", () => {
  const turned = (plan: Plan): Plan => ({ ...plan, lineConditions: (plan.lineConditions ?? []).map((c) => ({ ...c, expr: negated(c.expr) })) });
  const lost = (plan: Plan): Plan => ({ ...plan, lineConditions: [] });
  it.each<[string, QuerySpec, (plan: Plan) => Plan]>([
    ["one of groups is lost", months, lost],
    ["one of groups is turned round", months, turned],
    ["one of rows is lost", running, lost],
    ["one of rows is turned round", running, turned],
    [
      "only the first of it is asked",
      { ...running, lineConditions: [asks("running", "atMost", "40"), { ...asks("running", "greater", "20"), id: "m" }] },
      (plan) => ({ ...plan, lineConditions: (plan.lineConditions ?? []).slice(0, 1) }),
    ],
  ])("says no where %s", (_, spec, broken) => {
    const right = planOf(spec);
    expect(held(right, right)).toBe(true);
    expect(held(right, broken(right))).toBe(false);
  });
});
