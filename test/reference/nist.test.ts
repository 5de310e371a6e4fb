import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { emptyQuery } from "@/core/query/empty";
import { resolveQuery } from "@/core/query/resolve";
import type { QuerySpec } from "@/core/query/spec";
import { recountRows } from "@/core/recount/recount";
import type { Schema } from "@/core/schema/schema";
import { usualDay } from "@/core/types/calendar";
import { decimal, floating } from "@/core/types/valueType";
import { tableReader } from "@/server/source/sqlite/tables";
import { type Rows, threeEngines } from "../support/engines";
import { column } from "../support/sample";

/*
 * Averages and sample standard deviations against the certified values of the Statistical Reference Datasets of NIST,
 * univariate summary statistics, NumAcc1 to NumAcc4: made to show where digits are lost. Their definition and certified
 * values are from memory: one value, then two that lie about it in turns, 500 of each; the average is that value, the
 * deviation 0.1 (of the first set: three whole numbers, 1).
 */

const SETS = [
  { name: "NumAcc1", values: ["10000001", "10000003", "10000002"], mean: "10000002", deviation: 1 },
  ...["1.2", "1000000.2", "10000000.2"].map((middle, i) => {
    const about = [Number(middle) - 0.1, Number(middle) + 0.1].map((n) => n.toFixed(1));
    return { name: `NumAcc${i + 2}`, values: [middle, ...Array.from({ length: 1000 }, (_, k) => about[k % 2] as string)], mean: middle, deviation: 0.1 };
  }),
];

const schema: Schema = {
  tables: SETS.map((s) => ({ name: s.name, label: s.name, key: [], rows: s.values.length, columns: [column("exact", decimal(1)), column("real", floating)] })),
  links: [],
};
const rows: Rows = Object.fromEntries(SETS.map((s) => [s.name, s.values.map((v) => [Math.round(Number(v) * 10), Number(v)])]));

let engines: Awaited<ReturnType<typeof threeEngines>>;
beforeAll(async () => {
  engines = await threeEngines(schema, rows);
});
afterAll(() => engines.close());

describe("averages and deviations certified by NIST", () => {
  it.each(SETS)("$name", async ({ name, values, mean, deviation }) => {
    const field = (of: string) => ({ kind: "field" as const, join: "", column: of });
    const spec: QuerySpec = {
      ...emptyQuery(name),
      grouped: true,
      columns: [
        { id: "n", value: null, figure: "count" },
        { id: "m", value: field("exact"), figure: "average" },
        { id: "d", value: field("exact"), figure: "deviation" },
        { id: "f", value: field("real"), figure: "average" },
        { id: "r", value: field("real"), figure: "deviation" },
      ],
    };
    const resolved = resolveQuery(spec, schema, { today: usualDay("2026-11-23"), values: {} });
    if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
    const plan = resolved.value;
    const recounted = recountRows(plan, tableReader(engines.lite)).map((row) => row.map(String).join(" | "));
    const answers = [engines.sqlite(plan), await engines.duckdb(plan), await engines.postgres(plan), recounted];
    for (const [line = ""] of answers) {
      const [n, m, d, f, r] = line.split(" | ").map(Number);
      expect(n).toBe(values.length);
      // Exact to the last digit: 7 of them, carried to be rounded by.
      expect(m).toBe(Math.round(Number(mean) * 10) * 100_000);
      // The last values have no more than nine digits of the deviation in floating point.
      for (const found of [d, r]) expect(Math.abs((found ?? 0) - deviation) / deviation).toBeLessThan(1e-7);
      expect(Math.abs((f ?? 0) - Number(mean)) / Number(mean)).toBeLessThan(1e-14);
    }
  });
});
