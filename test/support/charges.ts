import { expect } from "vitest";
import { accountOf } from "@/core/proof/account";
import { proofColumn } from "@/core/proof/followed";
import { holdLines } from "@/core/proof/lines";
import { type Proof, prove, sheetPlans } from "@/core/proof/proof";
import type { JoinWay } from "@/core/query/choices";
import { compileRows } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import { emptyQuery } from "@/core/query/empty";
import { compileFooting } from "@/core/query/footing";
import type { Plan } from "@/core/query/plan";
import { resolveQuery } from "@/core/query/resolve";
import type { Operand, QuerySpec } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import { usualDay } from "@/core/types/calendar";
import { date, decimal, floating, text, timestamp, whole } from "@/core/types/valueType";
import { proveQuery } from "@/server/jobs/queries/prove";
import { readRows, readSingle } from "@/server/source/sqlite/readers";
import { tableReader } from "@/server/source/sqlite/tables";
import { asWritten, threeEngines } from "./engines";
import { column } from "./sample";

/* A few charges of a few shippers, small enough to be worked out by hand; figures to be held against published ones. */

/** What a sheet is asked in SQLite: its rows, and its footing. */
export const sheetSql = (plan: Plan) => {
  const { rows, footing } = sheetPlans(plan);
  return { rows: compileFooting(rows, sqlite), footing: compileFooting(footing, sqlite) };
};

export const schema: Schema = {
  tables: [
    { name: "shipper", label: "shipper", key: ["id"], rows: 3, columns: [column("id", whole), column("name", text)] },
    {
      name: "charge",
      label: "charge",
      key: ["id"],
      rows: 6,
      columns: [column("id", whole), column("shipper_id", whole), column("day", date), column("amount", decimal(2)), column("weight", whole)],
    },
    { name: "paid", label: "paid", key: ["id"], rows: 3, columns: [column("id", whole), column("amount", decimal(1)), column("day", date)] },
    { name: "seen", label: "seen", key: ["id"], rows: 3, columns: [column("id", whole), column("at", timestamp)] },
    { name: "point", label: "point", key: [], rows: 11, columns: [column("x", floating), column("y", floating)] },
  ],
  links: [
    {
      id: "shipper",
      a: { table: "charge", columns: ["shipper_id"], name: "charges", leadsTo: "many" },
      b: { table: "shipper", columns: ["id"], name: "shipper", leadsTo: "one" },
    },
  ],
};
/** F. J. Anscombe, Graphs in Statistical Analysis, The American Statistician 27 (1973), the first of its four sets. */
export const ANSCOMBE = [
  [10, 8.04],
  [8, 6.95],
  [13, 7.58],
  [9, 8.81],
  [11, 8.33],
  [14, 9.96],
  [6, 7.24],
  [4, 4.26],
  [12, 10.84],
  [7, 4.82],
  [5, 5.68],
];
// Charge 3 is of a shipper who is gone; shipper 3 has no charge. February has no charges at all.
export const rows = {
  shipper: [
    [1, "Ann"],
    [2, "Bo"],
    [3, "Cy"],
  ],
  charge: [
    [1, 1, "2026-01-10", 10_00, 4],
    [2, 2, "2026-01-20", 20_00, 1],
    [3, 9, "2026-03-05", 5_50, 5],
    [4, 1, "2026-03-09", 30_00, 10],
    [5, 2, "2026-04-01", 20_00, null],
    [6, null, "2026-04-02", 14_50, 2],
  ],
  paid: [
    [1, 10_0, "2026-01-10"],
    [2, 20_0, "2026-01-20"],
    [7, 99_0, "2026-05-01"],
  ],
  seen: [
    [1, "2026-01-10 08:00:00"],
    [2, "2026-01-10 17:30:00"],
    [3, null],
  ],
  point: ANSCOMBE,
};

export const field = (name: string, join = ""): Extract<Operand, { kind: "field" }> => ({ kind: "field", join, column: name });
export const planOf = (spec: QuerySpec, within = schema): Plan => {
  const resolved = resolveQuery(spec, within, { today: usualDay("2026-11-23"), values: {} });
  if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
  return resolved.value;
};
export const problemsOf = (spec: QuerySpec, within = schema): string[] => {
  const resolved = resolveQuery(spec, within, { today: usualDay("2026-11-23"), values: {} });
  return resolved.ok ? [] : resolved.problems.map((p) => p.code);
};

/** The charges in three engines. */
export async function chargesEverywhere() {
  const engines = await threeEngines(schema, rows);
  const proofOf = (plan: Plan): Proof => proveQuery(engines.reading, plan, proofColumn(plan)?.id ?? null);
  /** A query's rows, the same in three engines. */
  const rowsOf = async (spec: QuerySpec, within = schema): Promise<string[]> => {
    const plan = planOf(spec, within);
    const answer = engines.sqlite(plan);
    expect(asWritten(await engines.duckdb(plan), answer)).toEqual(answer);
    expect(asWritten(await engines.postgres(plan), answer)).toEqual(answer);
    expect(proofOf(plan).agrees).toBe(true);
    return answer;
  };
  /** Whether the account of a plan agrees with the sheet of another: a proof has to say no where they differ. */
  const held = (right: Plan, shown: Plan): boolean => {
    const figure = proofColumn(right);
    const sql = sheetSql(shown);
    const read = tableReader(engines.lite);
    const lines = holdLines(right, 1000, (whole) => readRows(engines.lite, compileRows({ ...shown, limit: whole.limit }, sqlite)), read);
    const sheet = { rows: readSingle(engines.lite, sql.rows), footing: readSingle(engines.lite, sql.footing), lines };
    return prove(right, figure, accountOf(right, figure, read), sql.footing, sheet).agrees;
  };
  return { engines, proofOf, rowsOf, held };
}

export const charges: QuerySpec = {
  ...emptyQuery("charge"),
  columns: [
    { id: "i", value: field("id") },
    { id: "a", value: field("amount") },
  ],
};
export const withShipper = (way: JoinWay): QuerySpec => ({
  ...charges,
  joins: [{ id: "s", from: "", link: "shipper", toward: "b", way }],
  columns: way === "has" || way === "hasNone" ? charges.columns : [...charges.columns, { id: "n", value: field("name", "s") }],
});

/** The charges beside what was paid up to their day, in the same month. The charge of 20.00 stands twice, and is counted once. */
export const withPaid: QuerySpec = {
  ...charges,
  joins: [
    {
      id: "p",
      from: "",
      table: "paid",
      on: [
        { id: "o1", left: field("day", "p"), operator: "atMost", values: [field("day")] },
        { id: "o2", left: field("day", "p"), operator: "sameMonth", values: [field("day")] },
      ],
      way: "only",
    },
  ],
  columns: [...charges.columns, { id: "p", value: field("id", "p") }],
};
