import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { ProofPick } from "@/core/proof/proof";
import { planProofRows } from "@/core/proof/proofRows";
import { emptyQuery } from "@/core/query/empty";
import { numbered, planFind } from "@/core/query/findRows";
import type { Plan } from "@/core/query/plan";
import { planBands, planFigures, planFrequent, readBands, readFigures, readFrequent, spreadOf } from "@/core/query/profile";
import type { QuerySpec } from "@/core/query/spec";
import { lineKeys } from "@/core/query/subtotals";
import { usualDay } from "@/core/types/calendar";
import type { Cell } from "@/core/types/valueType";
import { charges, chargesEverywhere, field, planOf } from "../support/charges";
import { asWritten } from "../support/engines";

/* What a sheet tells of its columns and its groups: by hand, and in three engines. */

let { engines }: Awaited<ReturnType<typeof chargesEverywhere>> = {} as never;
beforeAll(async () => {
  ({ engines } = await chargesEverywhere());
});
afterAll(() => engines.close());

const context = { today: usualDay("2026-11-23"), values: {} };
/** The lines of a plan, the same in three engines. */
async function linesOf(plan: Plan): Promise<string[]> {
  const answer = engines.sqlite(plan);
  expect(asWritten(await engines.duckdb(plan), answer)).toEqual(answer);
  expect(asWritten(await engines.postgres(plan), answer)).toEqual(answer);
  return answer;
}
/** What each shipper is charged. */
const groups: QuerySpec = {
  ...emptyQuery("charge"),
  grouped: true,
  columns: [
    { id: "s", value: field("shipper_id") },
    { id: "t", value: field("amount"), figure: "total" },
  ],
};
const cells = (line: string): Cell[] => line.split(" | ").map((c) => (c === "∅" ? null : /^-?\d+$/.test(c) ? Number(c) : c));

describe("the rows of a group", () => {
  const byShipper: QuerySpec = {
    ...emptyQuery("charge"),
    grouped: true,
    columns: [
      { id: "s", value: field("shipper_id"), subtotal: true },
      { id: "q", value: { ...field("day"), part: "quarter" } },
      { id: "t", value: field("amount"), figure: "total" },
      { id: "w", value: field("weight"), figure: "count" },
      { id: "tw", value: field("weight"), figure: "total" },
      { id: "big", value: null, figure: "count", where: [{ id: "b", left: field("amount"), operator: "atLeast", values: [{ kind: "value", text: "20" }] }] },
    ],
  };
  const idsOf = async (pick: ProofPick, spec = byShipper): Promise<number[]> => {
    const rows = planProofRows(planOf(spec), pick);
    if (!rows) throw new Error("no such rows");
    return (await linesOf(rows)).map((line) => Number(line.split(" | ")[0])).sort();
  };

  it("are told by its keys, empty ones among them; of some keys, those of all groups that have them", async () => {
    expect(await idsOf({ part: "group", keys: [2, "2026-04-01"] })).toEqual([5]);
    expect(await idsOf({ part: "group", keys: [null, "2026-04-01"] })).toEqual([6]);
    expect(await idsOf({ part: "group", keys: [2] })).toEqual([2, 5]);
    expect(await idsOf({ part: "group", keys: [] })).toEqual([1, 2, 3, 4, 5, 6]);
  });
  it("are those that a figure counts, by its values and its conditions", async () => {
    for (const column of ["w", "tw"]) expect(await idsOf({ part: "group", keys: [2], column })).toEqual([2]);
    expect(await idsOf({ part: "group", keys: [1], column: "big" })).toEqual([4]);
    expect(await idsOf({ part: "group", keys: [1], column: "t" })).toEqual([1, 4]);
  });
  it("leave out those of groups that are not shown", async () => {
    const heavy = { id: "g", left: { kind: "column" as const, id: "t" }, operator: "less" as const, values: [{ kind: "value" as const, text: "20" }] };
    expect(await idsOf({ part: "group", keys: [] }, { ...byShipper, groupConditions: [heavy] })).toEqual([3, 6]);
  });
  it("are named by a line of the sheet, a subtotal by its first keys", async () => {
    const plan = planOf(byShipper);
    const lines = engines.sqlite(plan);
    expect(lines.slice(2, 4).map((line) => lineKeys(plan, cells(line)))).toEqual([[1, "2026-01-01"], [1]]);
    const plain = planOf({ ...byShipper, columns: byShipper.columns.map((c) => ({ ...c, subtotal: undefined })) });
    expect(lineKeys(plain, [{ misfit: "x" }, "2026-01-01", 1, 1, 1, 1])).toEqual([null, "2026-01-01"]);
  });
});

describe("the profile of a column", () => {
  const told = <T>(checked: { ok: true; value: T } | { ok: false }): T => {
    if (!checked.ok) throw new Error("not planned");
    return checked.value;
  };
  const profile = async (spec: QuerySpec, id: string) => {
    const plan = planOf(spec);
    const type = plan.columns.find((c) => c.id === id)?.type ?? { kind: "text" };
    const [line = ""] = await linesOf(told(planFigures(plan, id, context)));
    const figures = readFigures(cells(line));
    const frequent = readFrequent((await linesOf(told(planFrequent(plan, id, context)))).map(cells));
    const spread = spreadOf(type, figures);
    const bands = spread ? readBands((await linesOf(told(planBands(plan, id, spread, context)))).map(cells), type, spread) : [];
    return { figures, frequent, spread, bands };
  };
  const all: QuerySpec = {
    ...charges,
    columns: ["shipper_id", "day", "amount", "weight"].map((name) => ({ id: name, value: field(name) })),
  };

  it("counts values, empty and different ones, and tells the ends", async () => {
    expect((await profile(all, "shipper_id")).figures).toEqual({ rows: 6, filled: 5, different: 3, least: 1, greatest: 9 });
    expect((await profile(all, "amount")).figures).toEqual({ rows: 6, filled: 6, different: 5, least: 550, greatest: 3000 });
  });
  it("tells the most frequent first, equal ones by their value, and no empty one", async () => {
    const { frequent } = await profile(all, "shipper_id");
    expect(frequent).toEqual([
      { value: 1, rows: 2 },
      { value: 2, rows: 2 },
      { value: 9, rows: 1 },
    ]);
  });
  it("shows numbers by round bands and dates by periods, each with all its rows", async () => {
    const amounts = await profile(all, "amount");
    expect(amounts.spread).toEqual({ by: "band", width: "5.00" });
    expect(amounts.bands.map(({ from, before, rows }) => [from, before, rows])).toEqual([
      ["5.00", "10.00", 1],
      ["10.00", "15.00", 2],
      ["20.00", "25.00", 2],
      ["30.00", "35.00", 1],
    ]);
    const days = await profile(all, "day");
    expect(days.spread).toEqual({ by: "period", part: "month" });
    expect(days.bands.map(({ from, before, rows }) => [from, before, rows])).toEqual([
      ["2026-01-01", "2026-02-01", 2],
      ["2026-03-01", "2026-04-01", 2],
      ["2026-04-01", "2026-05-01", 2],
    ]);
  });
  it("is of the groups that a sheet of groups shows, and of the first rows where it shows no more", async () => {
    expect((await profile(groups, "t")).figures).toEqual({ rows: 4, filled: 4, different: 3, least: 550, greatest: 4000 });
    const first = { ...all, limit: 2, order: [{ column: "amount", direction: "down" as const }] };
    expect((await profile(first, "amount")).figures).toMatchObject({ rows: 2, least: 2000, greatest: 3000 });
  });
});

describe("finding in a sheet", () => {
  const sheet: QuerySpec = {
    ...emptyQuery("charge"),
    joins: [{ id: "s", from: "", link: "shipper", toward: "b", way: "keep" }],
    columns: [
      { id: "i", value: field("id") },
      { id: "d", value: field("day") },
      { id: "a", value: field("amount") },
      { id: "n", value: field("name", "s") },
      { id: "w", value: field("weight"), hidden: true },
    ],
    // Charges 4, 2, 5, 6, 1, 3.
    order: [{ column: "a", direction: "down" }],
  };
  const typed = { date: "2026-03-09", whole: "30", decimal: "30" } as Record<string, string>;
  const find = async (text: string, from: number, backwards = false, values = typed, spec = sheet) => {
    const plans = planFind(planOf(numbered(spec)), { text, typed: ({ kind }) => values[kind] ?? null }, from, backwards, context);
    if (plans === null || !plans.ok) return plans;
    const [[next], [count]] = await Promise.all([linesOf(plans.value.next), linesOf(plans.value.count)]);
    return [next === undefined ? null : Number(next), Number(count)];
  };

  it("numbers rows in the sheet's order, and goes on from one of them, either way", async () => {
    expect(engines.sqlite(planOf(sheet)).map((line) => line.split(" | ")[0])).toEqual(["4", "2", "5", "6", "1", "3"]);
    expect(await find("b", 1, false, {})).toEqual([2, 2]);
    expect(await find("b", 3, false, {})).toEqual([3, 2]);
    expect(await find("b", 4, false, {})).toEqual([null, 2]);
    expect(await find("b", 6, true, {})).toEqual([3, 2]);
    expect(await find("ANN", 1, false, {})).toEqual([1, 2]);
  });
  it("finds numbers and dates by what they are, each in columns of its type, and nothing in hidden ones", async () => {
    expect(await find("30", 1, false, { whole: "30", decimal: "30" })).toEqual([1, 1]);
    expect(await find("9 March", 1, false, { date: "2026-03-09" })).toEqual([1, 1]);
    expect(await find("10", 1, false, { whole: "10", decimal: "10" })).toEqual([5, 1]);
    expect(await find("none", 1, false, {})).toEqual([null, 0]);
  });
  it("is of groups too, not of a sheet with subtotals, and of nothing for nothing", async () => {
    expect(await find("40", 1, false, { decimal: "40" }, groups)).toEqual([2, 2]);
    const subtotals = {
      ...groups,
      columns: [{ ...groups.columns[0], subtotal: true }, { id: "d", value: field("day") }, groups.columns[1]] as QuerySpec["columns"],
    };
    expect(await find("40", 1, false, { decimal: "40" }, subtotals)).toMatchObject({ ok: false, problems: [{ code: "findSubtotals" }] });
    expect(await find(" ", 1, false, {})).toBeNull();
  });
});
