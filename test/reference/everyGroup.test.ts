import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { accountOf } from "@/core/proof/account";
import { holdLines, linesAgree } from "@/core/proof/lines";
import { compileRows } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import { emptyQuery } from "@/core/query/empty";
import { tooManyGroups } from "@/core/query/everyGroup";
import type { Plan } from "@/core/query/plan";
import type { Operand, QueryColumn, QuerySpec } from "@/core/query/spec";
import { readRows } from "@/server/source/sqlite/readers";
import { tableReader } from "@/server/source/sqlite/tables";
import { chargesEverywhere, field, planOf, problemsOf, withShipper } from "../support/charges";

/* Groups without rows: shown on request, for every month, every shipper, every band; by hand, in three engines and by the recount. */

let { engines, proofOf, rowsOf }: Awaited<ReturnType<typeof chargesEverywhere>> = {} as never;
beforeAll(async () => {
  ({ engines, proofOf, rowsOf } = await chargesEverywhere());
});
afterAll(() => engines.close());

const count: QueryColumn = { id: "n", value: null, figure: "count", label: "Charges" };
const total: QueryColumn = { id: "t", value: field("amount"), figure: "total", label: "Freight" };
const by = (value: Operand, more: Partial<QueryColumn> = {}): QueryColumn => ({ id: "k", value, everyValue: true, ...more });
const per = (keys: QueryColumn[], more: Partial<QuerySpec> = {}): QuerySpec => ({
  ...emptyQuery("charge"),
  grouped: true,
  columns: [...keys, count, total],
  ...more,
});
const month = by({ ...field("day"), part: "month" });

describe("groups without rows", () => {
  it("are the months between the first and the last: February has no charge", async () => {
    expect(await rowsOf(per([month]))).toEqual(["2026-01-01 | 2 | 3000", "2026-02-01 | 0 | ∅", "2026-03-01 | 2 | 3550", "2026-04-01 | 2 | 3450"]);
    expect(await rowsOf(per([{ ...month, everyValue: false }]))).toHaveLength(3);
  });
  it("are counted by the proof, and held line by line; totals stay what they were", () => {
    const proof = proofOf(planOf(per([month])));
    expect(proof).toMatchObject({ groups: 4, accountedGroups: 4, agrees: true, lines: { skipped: null, lines: { sheet: 4, recount: 4 } } });
    expect(proof.totals.map((t) => t.sheet)).toEqual([6, 100_00]);
  });
  it("are the rows of the table a key comes from: shipper 3 has no charge", async () => {
    const joins = withShipper("only").joins;
    const named = by(field("name", "s"));
    expect(await rowsOf(per([named], { joins }))).toEqual(["Ann | 2 | 4000", "Bo | 2 | 4000", "Cy | 0 | ∅"]);
    // Its number goes with the name as the table has them together, not each with each.
    expect(await rowsOf(per([named, { id: "i", value: field("id", "s") }], { joins }))).toEqual(["Ann | 1 | 2 | 4000", "Bo | 2 | 2 | 4000", "Cy | 3 | 0 | ∅"]);
  });
  it("stand beside each value of the other keys that rows have", async () => {
    const lines = await rowsOf(per([{ id: "s", value: field("shipper_id") }, month]));
    expect(lines).toHaveLength(16);
    expect(lines.filter((l) => l.startsWith("1 "))).toEqual([
      "1 | 2026-01-01 | 1 | 1000",
      "1 | 2026-02-01 | 0 | ∅",
      "1 | 2026-03-01 | 1 | 3000",
      "1 | 2026-04-01 | 0 | ∅",
    ]);
  });
  it("of a year and a month are told by the months alone", async () => {
    const year: QueryColumn = { id: "y", value: { ...field("day"), part: "year" } };
    expect((await rowsOf(per([year, month]))).map((l) => l.split(" | ").slice(0, 2))).toEqual(
      ["01", "02", "03", "04"].map((m) => ["2026-01-01", `2026-${m}-01`]),
    );
  });
  it("are weekdays, bands and limits, and values that other conditions leave out", async () => {
    expect((await rowsOf(per([by({ ...field("day"), part: "weekday" })]))).map((l) => l.slice(0, 1))).toEqual(["1", "2", "3", "4", "5", "6", "7"]);
    // Weights 1, 2, 4, 5, 10 and one that is not known; from 0 to 10 by threes.
    const bands = ["∅ | 1", "0 | 2", "3 | 2", "6 | 0", "9 | 1"];
    expect((await rowsOf(per([by({ ...field("weight"), band: { width: "3" } })]))).map((l) => l.split(" | ").slice(0, 2).join(" | "))).toEqual(bands);
    const limits = by({ ...field("weight"), limits: ["0", "20", "40"] });
    expect((await rowsOf(per([limits]))).map((l) => l.split(" | ").slice(0, 2).join(" | "))).toEqual(["∅ | 1", "0 | 5", "20 | 0", "40 | 0"]);
    const heavy = { id: "w", left: field("weight"), operator: "atLeast" as const, values: [{ kind: "value" as const, text: "5" }] };
    expect(await rowsOf(per([by(field("shipper_id"))], { conditions: [heavy] }))).toEqual(["1 | 1 | 3000", "2 | 0 | ∅", "9 | 1 | 550"]);
  });
  it("meet the conditions on groups as any other, and are never shown empty in place of one that does not", async () => {
    const least = { id: "g", left: { kind: "column" as const, id: "t" }, operator: "atLeast" as const, values: [{ kind: "value" as const, text: "34" }] };
    expect(await rowsOf(per([month], { groupConditions: [least] }))).toEqual(["2026-03-01 | 2 | 3550", "2026-04-01 | 2 | 3450"]);
    const none = { ...least, left: { kind: "column" as const, id: "n" }, operator: "less" as const, values: [{ kind: "value" as const, text: "1" }] };
    expect(await rowsOf(per([month], { groupConditions: [none] }))).toEqual(["2026-02-01 | 0 | ∅"]);
  });
  it("count in formulas over figures, in running totals and in the first n", async () => {
    const formula: QueryColumn = { id: "f", value: { kind: "formula", text: "Charges * 2 + EXTRACT(MONTH FROM MAX(day))" }, figure: "formula" };
    const twice: QueryColumn = { id: "d", value: { kind: "formula", text: "Charges + 1" }, figure: "formula" };
    const running: QueryColumn = { id: "r", value: { kind: "column", id: "n" }, figure: "window", window: { kind: "number" } };
    const spec = per([month]);
    expect(await rowsOf({ ...spec, columns: [month, count, twice, formula, running], order: [{ column: "k", direction: "down" }], limit: 3 })).toEqual([
      "2026-04-01 | 2 | 3 | 8 | 1",
      "2026-03-01 | 2 | 3 | 7 | 2",
      "2026-02-01 | 0 | 1 | ∅ | 3",
    ]);
  });
  it("are all there is where no row is left, and none between nothing", async () => {
    const nobody = [{ id: "w", left: field("id"), operator: "is" as const, values: [{ kind: "value" as const, text: "77" }] }];
    expect(await rowsOf(per([by(field("shipper_id"))], { conditions: nobody }))).toEqual(["1 | 0 | ∅", "2 | 0 | ∅", "9 | 0 | ∅"]);
    expect(await rowsOf(per([month], { conditions: nobody }))).toEqual([]);
  });
  it("are refused of what has no values of its own, and where there would be too many", () => {
    expect(problemsOf(per([by({ kind: "formula", text: "weight + 1" })]))).toEqual(["everyField"]);
    const cents = planOf(per([by({ ...field("amount"), band: { width: "0.01" } })]));
    engines.lite.exec("UPDATE charge SET amount = 200000000 WHERE id = 6");
    try {
      expect(() => [...readRows(engines.lite, compileRows(cents, sqlite))]).toThrow(tooManyGroups().message);
    } finally {
      engines.lite.exec("UPDATE charge SET amount = 1450 WHERE id = 6");
    }
  });
  it("have a proof that says no where one is missing, one is too many, or one is not empty", () => {
    const plan = planOf(per([month]));
    const [every] = plan.every ?? [];
    const agrees = (shown: Plan): boolean => {
      const check = holdLines(plan, 4, () => readRows(engines.lite, compileRows(shown, sqlite)), tableReader(engines.lite));
      return linesAgree(check);
    };
    const [next] = planOf(per([by({ ...field("day"), part: "quarter" })])).every ?? [];
    expect(agrees(plan)).toBe(true);
    expect(agrees({ ...plan, every: [] })).toBe(false);
    expect(agrees({ ...plan, every: [{ ...every, next: next && "next" in next ? next.next : undefined } as never] })).toBe(false);
    expect(agrees({ ...plan, columns: plan.columns.map((c) => (c.id === "t" ? { ...c, figure: "count" as const } : c)) })).toBe(false);
    expect(accountOf({ ...plan, every: [] }, null, tableReader(engines.lite)).groups).toBe(3);
  });
});

describe("parts of equal count", () => {
  const quartered = (rows: number, more: Partial<QueryColumn["window"]> = {}): QuerySpec => ({
    ...emptyQuery("charge"),
    columns: [
      { id: "i", value: field("id") },
      { id: "w", value: field("weight") },
      { id: "s", value: field("shipper_id") },
      { id: "q", value: { kind: "column", id: "w" }, figure: "window", window: { kind: "quantile", rows, ...more } },
    ],
  });
  // Weights 4, 1, 5, 10, none, 2: by size 1, 2, 4, 5, 10.
  it.each<[number, Partial<QueryColumn["window"]>, string]>([
    [2, {}, "1 1 2 2 ∅ 1"],
    [3, {}, "2 1 2 3 ∅ 1"],
    [3, { direction: "down" }, "2 3 1 1 ∅ 2"],
    [9, {}, "3 1 4 5 ∅ 2"],
    [2, { per: ["s"] }, "1 1 1 2 ∅ 1"],
  ])("%s of them %j: the first have one more, and what is empty is in none", async (rows, more, wanted) => {
    const lines = await rowsOf(quartered(rows, more));
    expect(lines.map((l) => l.split(" | ")[3]).join(" ")).toBe(wanted);
  });
});
