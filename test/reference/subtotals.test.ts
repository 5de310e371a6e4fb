import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { holdLines, linesAgree } from "@/core/proof/lines";
import { sqlite } from "@/core/query/dialect/sqlite";
import { emptyQuery } from "@/core/query/empty";
import type { Plan } from "@/core/query/plan";
import type { QueryColumn, QuerySpec } from "@/core/query/spec";
import { compileLineCount, compileSheet } from "@/core/query/subtotals";
import { readRows, readSingle } from "@/server/source/sqlite/readers";
import { tableReader } from "@/server/source/sqlite/tables";
import { chargesEverywhere, field, planOf, problemsOf } from "../support/charges";

/* Subtotals by levels in one sheet: by hand, in three engines and by the recount. */

let { engines, proofOf, rowsOf }: Awaited<ReturnType<typeof chargesEverywhere>> = {} as never;
beforeAll(async () => {
  ({ engines, proofOf, rowsOf } = await chargesEverywhere());
});
afterAll(() => engines.close());

const shipper: QueryColumn = { id: "s", value: field("shipper_id"), subtotal: true };
const quarter: QueryColumn = { id: "q", value: { ...field("day"), part: "quarter" } };
const month: QueryColumn = { id: "m", value: { ...field("day"), part: "month" } };
const count: QueryColumn = { id: "n", value: null, figure: "count" };
const total: QueryColumn = { id: "t", value: field("amount"), figure: "total" };
const average: QueryColumn = { id: "a", value: field("weight"), figure: "average" };
const per = (keys: QueryColumn[], figures: QueryColumn[], more: Partial<QuerySpec> = {}): QuerySpec => ({
  ...emptyQuery("charge"),
  grouped: true,
  columns: [...keys, ...figures],
  ...more,
});

describe("subtotals", () => {
  it("stand behind the lines of each value, in its place even where that is empty", async () => {
    expect(await rowsOf(per([shipper, quarter], [count, total]))).toEqual([
      "∅ | 2026-04-01 | 1 | 1450 | 2",
      "∅ | ∅ | 1 | 1450 | 1",
      "1 | 2026-01-01 | 2 | 4000 | 2",
      "1 | ∅ | 2 | 4000 | 1",
      "2 | 2026-01-01 | 1 | 2000 | 2",
      "2 | 2026-04-01 | 1 | 2000 | 2",
      "2 | ∅ | 2 | 4000 | 1",
      "9 | 2026-01-01 | 1 | 550 | 2",
      "9 | ∅ | 1 | 550 | 1",
    ]);
  });
  it("are worked out anew, never added: an average of 7, not of 4 and 10; and each is held by the proof", () => {
    const plan = planOf(per([shipper, month], [average]));
    const subtotal = engines.sqlite(plan).find((l) => l.startsWith("1 | ∅"));
    expect(subtotal).toBe("1 | ∅ | 700000 | 1");
    expect(proofOf(plan)).toMatchObject({ agrees: true, lines: { lines: { sheet: 10, recount: 10 }, headings: ["subtotals"] } });
  });
  it("stand at several levels, and a window of the sheet shows its part of them", async () => {
    const spec = per([shipper, { ...quarter, subtotal: true }, month], [count]);
    const lines = await rowsOf(spec);
    expect(lines.filter((l) => l.startsWith("1 |"))).toEqual([
      "1 | 2026-01-01 | 2026-01-01 | 1 | 3",
      "1 | 2026-01-01 | 2026-03-01 | 1 | 3",
      "1 | 2026-01-01 | ∅ | 2 | 2",
      "1 | ∅ | ∅ | 2 | 1",
    ]);
    expect(engines.sqlite(planOf(spec), { offset: 3, rows: 4 })).toEqual(lines.slice(3, 7));
    expect(readSingle(engines.lite, compileLineCount(planOf(spec), sqlite))[0]).toBe(lines.length);
  });
  it("keep their lines together in any order, and cover only groups that are shown", async () => {
    const heavy = { id: "g", left: { kind: "column" as const, id: "t" }, operator: "atLeast" as const, values: [{ kind: "value" as const, text: "15" }] };
    const spec = per([shipper, month], [total], {
      order: [
        { column: "t", direction: "down" },
        { column: "s", direction: "down" },
      ],
      groupConditions: [heavy],
    });
    expect(await rowsOf(spec)).toEqual([
      "2 | 2026-01-01 | 2000 | 2",
      "2 | 2026-04-01 | 2000 | 2",
      "2 | ∅ | 4000 | 1",
      "1 | 2026-03-01 | 3000 | 2",
      "1 | ∅ | 3000 | 1",
    ]);
  });
  it("are nothing where a column has no footing, or another key decides it; of groups without rows too", async () => {
    const named: QueryColumn = { id: "f", value: { kind: "formula", text: "COUNT(*) + EXTRACT(MONTH FROM MIN(day))" }, figure: "formula" };
    const spec = per([shipper, { ...month, everyValue: true }], [{ ...total, footing: "none" }, count, named]);
    const lines = (await rowsOf(spec)).filter((l) => l.startsWith("9 |"));
    expect(lines).toEqual([
      "9 | 2026-01-01 | ∅ | 0 | ∅ | 2",
      "9 | 2026-02-01 | ∅ | 0 | ∅ | 2",
      "9 | 2026-03-01 | 550 | 1 | 4 | 2",
      "9 | 2026-04-01 | ∅ | 0 | ∅ | 2",
      "9 | ∅ | ∅ | 1 | 4 | 1",
    ]);
    const none = [{ id: "w", left: field("id"), operator: "is" as const, values: [{ kind: "value" as const, text: "77" }] }];
    expect(await rowsOf(per([{ ...shipper, everyValue: true }, { ...month }], [count], { conditions: none }))).toEqual([]);
  });
  it("are refused beside a limit, and are none of the last key or of rows", () => {
    expect(problemsOf(per([shipper, month], [count], { limit: 3 }))).toEqual(["subtotalsCut"]);
    expect(problemsOf(per([shipper, month], [count], { firstOf: { rows: 1, per: ["s"] } }))).toEqual(["subtotalsCut"]);
    expect(planOf(per([month, shipper], [count])).subtotals).toEqual([]);
    expect(planOf({ ...per([shipper], []), grouped: false }).subtotals).toEqual([]);
  });
  it("have a proof that says no where a figure, a level or an order is another", () => {
    const plan = planOf(per([shipper, { ...quarter, subtotal: true }, month], [total, average]));
    const agrees = (shown: Plan): boolean =>
      linesAgree(holdLines(plan, 9, () => readRows(engines.lite, compileSheet(shown, sqlite)), tableReader(engines.lite)));
    expect(agrees(plan)).toBe(true);
    expect(agrees({ ...plan, subtotals: ["s"] })).toBe(false);
    expect(agrees({ ...plan, subtotals: [] })).toBe(false);
    expect(agrees({ ...plan, order: plan.order.map((o) => ({ ...o, direction: "down" as const })) })).toBe(false);
    expect(agrees({ ...plan, columns: plan.columns.map((c) => (c.id === "a" ? { ...c, figure: "least" as const } : c)) })).toBe(false);
    expect(agrees({ ...plan, columns: plan.columns.map((c) => (c.id === "t" ? { ...c, totalled: false } : c)) })).toBe(false);
  });
});
