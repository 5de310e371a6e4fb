import Database from "better-sqlite3";
import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { proofColumn } from "@/core/proof/followed";
import type { Comparison } from "@/core/query/comparison";
import { ROWS_COMPARED } from "@/core/query/comparison";
import { compileRows } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import { emptyQuery } from "@/core/query/empty";
import { tableOf } from "@/core/query/queryTables";
import type { QuerySpec } from "@/core/query/spec";
import { usualDay } from "@/core/types/calendar";
import { decimal, text, whole } from "@/core/types/valueType";
import { proveQuery } from "@/server/jobs/queries/prove";
import { registerFunctions } from "@/server/source/sqlite/functions";
import { readRows } from "@/server/source/sqlite/readers";
import { field, planOf, problemsOf } from "../support/charges";
import { asWritten, threeEngines } from "../support/engines";
import { SEED } from "../support/everywhere";
import { column } from "../support/sample";

/* Two lists held against each other: by hand, in three engines and by the recount; and random lists against a plain full outer join. */

const list = (name: string) => ({
  name,
  label: name,
  key: [],
  rows: 6,
  columns: [column("no", text), column("part", whole), column("freight", decimal(2)), column("weight", decimal(1)), column("who", text)],
});
const schema = { tables: [list("ours"), list("theirs")], links: [] };
const rows = {
  ours: [
    ["A", 1, 10_00, 5_0, "Ann"],
    ["B", 1, 20_00, 6_0, "Bo"],
    ["C", 1, 30_00, null, null],
    ["D", 1, 40_00, 8_0, "Dee"],
    ["D", 1, 1_00, 1_0, "Dan"],
    [null, 1, 7_00, 1_0, "Nil"],
  ],
  theirs: [
    ["A", 1, 10_01, 5_0, "Ann"],
    ["B", 1, 20_00, 6_0, "Bob"],
    ["C", 1, 30_00, null, null],
    ["D", 1, 41_00, 9_0, "Dan"],
    ["E", 1, 50_00, 2_0, "Eve"],
    [null, 1, 3_00, 1_0, "Nil"],
  ],
};

let engines: Awaited<ReturnType<typeof threeEngines>>;
beforeAll(async () => {
  engines = await threeEngines(schema, rows as never);
});
afterAll(() => engines.close());

const same = (...names: string[]) => names.map((name) => ({ here: name, there: name }));
const compared = (compare: Partial<Comparison>, columns: string[], more: Partial<QuerySpec> = {}): QuerySpec => ({
  ...emptyQuery(ROWS_COMPARED),
  compare: { here: "ours", there: "theirs", key: same("no"), fields: same("freight"), tolerance: "0", ...compare },
  columns: columns.map((name) => ({ id: name, value: field(name) })),
  order: [{ column: columns[1] ?? "", direction: "up" }],
  ...more,
});
async function linesOf(spec: QuerySpec, within = schema): Promise<string[]> {
  const plan = planOf(spec, within as never);
  const answer = engines.sqlite(plan);
  expect(asWritten(await engines.duckdb(plan), answer)).toEqual(answer);
  expect(asWritten(await engines.postgres(plan), answer)).toEqual(answer);
  expect(proveQuery(engines.reading, plan, proofColumn(plan)?.id ?? null)).toMatchObject({ agrees: true });
  return answer;
}

type Line = [string | null, number, number | null];

/** The same by loops: each side's rows put together by their key, then each with the other's of that key. */
function byHand(ours: Line[], theirs: Line[], tolerance: number): string[] {
  const perKey = (lines: Line[]) => {
    const keys = new Map<string, { key: Line; rows: number; sum: number | null }>();
    for (const line of lines) {
      const at = JSON.stringify(line.slice(0, 2));
      const known = keys.get(at) ?? { key: line, rows: 0, sum: null };
      keys.set(at, { ...known, rows: known.rows + 1, sum: line[2] === null ? known.sum : (known.sum ?? 0) + line[2] });
    }
    return keys;
  };
  const [here, there] = [perKey(ours), perKey(theirs)];
  const matched = [...here].map(([at, h]) => ({ h, t: h.key[0] === null ? undefined : there.get(at) }));
  const rest = [...there].filter(([at, t]) => t.key[0] === null || !here.has(at)).map(([, t]) => ({ h: undefined, t }));
  const differs = (a: number | null, b: number | null) => (a === null || b === null ? a !== b : Math.abs(a - b) > tolerance);
  const stateOf = ({ h, t }: (typeof matched)[number] | (typeof rest)[number]): string => {
    if ((h?.rows ?? 0) > 1 || (t?.rows ?? 0) > 1) return "doubled";
    if (!h) return "only there";
    if (!t) return "only here";
    return differs(h.sum, t.sum) ? "different" : "the same";
  };
  const lines = [...matched, ...rest].map((pair) => {
    const key = (pair.h ?? pair.t)?.key;
    return [stateOf(pair), key?.[0], key?.[1], pair.h?.sum, pair.t?.sum, pair.h?.rows ?? 0, pair.t?.rows ?? 0].map((v) => v ?? "").join(" | ");
  });
  return lines.sort();
}

describe("a comparison", () => {
  it("tells what is only here, only there, different, doubled and the same; rows without a key match none", async () => {
    expect(await linesOf(compared({}, ["state", "k0", "here 0", "there 0", "difference 0", "rows_here", "rows_there"]))).toEqual([
      "only here | ∅ | 700 | ∅ | -700 | 1 | 0",
      "only there | ∅ | ∅ | 300 | 300 | 0 | 1",
      "different | A | 1000 | 1001 | 1 | 1 | 1",
      "the same | B | 2000 | 2000 | 0 | 1 | 1",
      "the same | C | 3000 | 3000 | 0 | 1 | 1",
      "doubled | D | 4100 | 4100 | 0 | 2 | 1",
      "only there | E | ∅ | 5000 | 5000 | 0 | 1",
    ]);
  });
  it("lets differences up to a tolerance pass, and no larger one", async () => {
    const states = async (tolerance: string) => (await linesOf(compared({ tolerance }, ["state", "k0"]))).filter((l) => l.endsWith("A"));
    expect([await states("0.01"), await states("0.009"), await states("0")]).toEqual([["the same | A"], ["different | A"], ["different | A"]]);
  });
  it("compares texts as they stand, an empty one only with an empty one", async () => {
    const spec = compared({ fields: same("who", "weight") }, ["state", "k0", "here 0", "there 0", "difference 1"]);
    expect((await linesOf(spec)).filter((l) => /\| [BC] \|/.test(l))).toEqual(["different | B | Bo | Bob | 0", "the same | C | ∅ | ∅ | 0"]);
  });
  it("carries fields along: what both sides have is said as it is here; one side's own are empty where it has no row", async () => {
    const carried = [...same("who"), { here: "weight", there: "" }, { here: "", there: "weight" }, { here: "", there: "who" }, { here: "", there: "part" }];
    expect(await linesOf(compared({ carried }, ["state", "k0", "carried 0", "carried 1", "carried 2", "carried 3", "carried 4"]))).toEqual([
      "only here | ∅ | Nil | 10 | ∅ | ∅ | ∅",
      "only there | ∅ | Nil | ∅ | 10 | Nil | 1",
      "different | A | Ann | 50 | 50 | Ann | 1",
      "the same | B | Bo | 60 | 60 | Bob | 1",
      "the same | C | ∅ | ∅ | ∅ | ∅ | 1",
      "doubled | D | Dan | 10 | 90 | Dan | 1",
      "only there | E | Eve | ∅ | 20 | Eve | 1",
    ]);
    const headings = planOf(compared({ carried: same("who") }, ["state", "carried 0"]), schema as never).columns.map((c) => c.heading);
    expect(headings).toEqual(["State", "Who"]);
  });
  it("adds up to its sides, whatever is doubled: grouped by what its rows are", async () => {
    const spec = compared({}, [], {
      grouped: true,
      order: [{ column: "s", direction: "up" }],
      columns: [
        { id: "s", value: field("state") },
        { id: "h", value: field("here 0"), figure: "total" },
        { id: "t", value: field("there 0"), figure: "total" },
        { id: "nh", value: field("rows_here"), figure: "total" },
        { id: "nt", value: field("rows_there"), figure: "total" },
      ],
    });
    const lines = await linesOf(spec);
    expect(lines).toEqual([
      "different | 1000 | 1001 | 1 | 1",
      "doubled | 4100 | 4100 | 2 | 1",
      "only here | 700 | ∅ | 1 | 0",
      "only there | ∅ | 5300 | 0 | 2",
      "the same | 5000 | 5000 | 2 | 2",
    ]);
    const sum = (at: number) => lines.reduce((all, line) => all + Number(line.split(" | ")[at]?.replace("∅", "0")), 0);
    expect([sum(1), sum(2), sum(3), sum(4)]).toEqual([10800, 15401, 6, 6].map((n, i) => (i === 1 ? rows.theirs.reduce((all, r) => all + Number(r[2]), 0) : n)));
  });
  it("matches by several fields, and holds a query against a table; its parameters are asked for", async () => {
    const ours = { id: "o", name: "Ours", spec: { ...emptyQuery("ours"), columns: ["no", "part", "freight"].map((c) => ({ id: c, value: field(c) })) } };
    const within = { ...schema, queries: [tableOf(ours, schema, usualDay("2026-11-23"))] };
    const spec = compared({ here: "query o", key: same("no", "part") }, ["state", "k0", "k1", "here 0"]);
    expect(await linesOf(spec, within as never)).toContain("different | A | 1 | 1000");
  });
  it("holds a query against itself at an earlier time, by parameters of the other side", async () => {
    const after = { id: "w", left: field("freight"), operator: "atLeast" as const, values: [{ kind: "parameter" as const, name: "least" }] };
    const ours = {
      id: "o",
      name: "Ours",
      spec: {
        ...emptyQuery("ours"),
        columns: ["no", "freight"].map((c) => ({ id: c, value: field(c) })),
        conditions: [after],
        parameters: [{ name: "least", type: "decimal" as const, default: { kind: "fixed" as const, text: "15" } }],
      },
    };
    const within = { ...schema, queries: [tableOf(ours, schema, usualDay("2026-11-23"))] };
    const spec = compared({ here: "query o", there: "query o" }, ["state", "k0"]);
    const plan = planOf(spec, within as never);
    expect(plan.parameters.map((p) => p.name).sort()).toEqual(["least", "least there"]);
    expect(engines.sqlite(plan)).toEqual(["the same | B", "the same | C", "the same | D"]);
  });
  it(`tells of random lists what a full outer join by hand tells (seed ${SEED})`, () => {
    const line = fc.tuple(fc.constantFrom("A", "B", "C", null), fc.integer({ min: 1, max: 2 }), fc.option(fc.integer({ min: -300, max: 300 })));
    const lists = fc.record({ ours: fc.array(line, { maxLength: 6 }), theirs: fc.array(line, { maxLength: 6 }), tolerance: fc.constantFrom("0", "0.5") });
    const spec = (tolerance: string) => compared({ key: same("no", "part"), tolerance }, ["state", "k0", "k1", "here 0", "there 0", "rows_here", "rows_there"]);
    fc.assert(
      fc.property(lists, ({ tolerance, ...given }) => {
        const lite = new Database(":memory:").defaultSafeIntegers();
        registerFunctions(lite);
        for (const [name, all] of Object.entries(given)) {
          lite.exec(`CREATE TABLE ${name} (no, part, freight)`);
          for (const l of all) lite.prepare(`INSERT INTO ${name} VALUES (?, ?, ?)`).run(l[0], BigInt(l[1]), l[2] === null ? null : BigInt(l[2]));
        }
        const told = [...readRows(lite, compileRows(planOf(spec(tolerance), schema as never), sqlite))].map((row) => row.join(" | ")).sort();
        lite.close();
        expect(told).toEqual(byHand(given.ours, given.theirs, Number(tolerance) * 100));
      }),
      { numRuns: 200, seed: SEED },
    );
  });
  it("says what is missing: the other side, a key, a field that is gone, a tolerance that is none", () => {
    expect(problemsOf(compared({ there: "" }, ["state"]), schema as never)).toEqual(["compareWith"]);
    expect(problemsOf(compared({ there: "lost" }, ["state"]), schema as never)).toEqual(["tableGone"]);
    expect(problemsOf(compared({ key: [] }, ["state"]), schema as never)).toEqual(["compareKey"]);
    expect(problemsOf(compared({ key: [{ here: "no", there: "part" }] }, ["state"]), schema as never)).toEqual(["comparePair"]);
    for (const pair of [
      { here: "gone", there: "" },
      { here: "who", there: "part" },
      { here: "", there: "" },
    ])
      expect(problemsOf(compared({ carried: [pair] }, ["state"]), schema as never)).toEqual(["compareCarried"]);
    expect(problemsOf(compared({ tolerance: "-1" }, ["state"]), schema as never)).toEqual(["compareTolerance"]);
    expect(problemsOf(compared({ tolerance: "1); DROP" }, ["state"]), schema as never)).toEqual(["compareTolerance"]);
  });
});
