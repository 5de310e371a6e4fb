import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { withDerivedFields } from "@/core/derive/derive";
import { FORMULA_FORMS, FORMULA_FUNCTIONS } from "@/core/expression/formulaFunctions";
import type { Amount } from "@/core/proof/account";
import { proofColumn } from "@/core/proof/followed";
import type { Proof, ProofPick } from "@/core/proof/proof";
import { planProofRows } from "@/core/proof/proofRows";
import { AGGREGATES } from "@/core/query/aggregates";
import type { AggregateName } from "@/core/query/choices";
import { compileRows } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import { emptyQuery } from "@/core/query/empty";
import { compileFooting } from "@/core/query/footing";
import { OPERATORS, takesPeriod, valuesNeeded, writtenOperatorsFor } from "@/core/query/operators";
import type { Plan } from "@/core/query/plan";
import { resolveQuery } from "@/core/query/resolve";
import type { Condition, Operand, QuerySpec } from "@/core/query/spec";
import { usualDay } from "@/core/types/calendar";
import { GROUP_PARTS } from "@/core/types/date";
import { isDated } from "@/core/types/valueType";
import { proveQuery } from "@/server/jobs/queries/prove";
import { readRows, readSingle } from "@/server/source/sqlite/readers";
import { specArbitrary, VALUES } from "../support/arbitrary";
import { asWritten, threeEngines } from "../support/engines";
import { isTooLarge } from "../support/everywhere";
import { sampleDerived, sampleRows, sampleSchema } from "../support/sample";

/* Every operator, figure and formula on the same rows in SQLite, DuckDB and PostgreSQL (PGlite): independent engines must agree. */

const SEED = 20261123;
let engines: Awaited<ReturnType<typeof threeEngines>>;
beforeAll(async () => {
  engines = await threeEngines(sampleSchema, sampleRows(SEED));
});
afterAll(() => engines.close());

const field = (column: string, join = ""): Operand => ({ kind: "field", join, column });
const planOf = (spec: QuerySpec, values = {}) => {
  const resolved = resolveQuery(spec, schema, { today: usualDay("2026-11-23"), values });
  if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
  return resolved.value;
};
async function agree(spec: QuerySpec): Promise<string[]> {
  const plan = planOf(spec);
  const answer = engines.sqlite(plan);
  expect(asWritten(await engines.duckdb(plan), answer), "DuckDB").toEqual(answer);
  expect(asWritten(await engines.postgres(plan), answer), "PostgreSQL").toEqual(answer);
  return answer;
}

const PAIRS: [string, string][] = [
  ["apple", "eclair"],
  ["-1", "20"],
];

/** The sample with a derived field of every kind, on every table. */
const schema = withDerivedFields(sampleSchema, sampleDerived, usualDay("2026-11-23"));
const crate = schema.tables[1] as (typeof sampleSchema.tables)[number];
it("works every sample derived field out", () => expect(schema.broken).toEqual([]));

describe("conditions", () => {
  const cases = crate.columns.flatMap((c) => writtenOperatorsFor(c.type).map((operator) => ({ column: c.name, type: c.type, operator })));
  it("lists every comparison of every type", () => expect(cases.length).toBeGreaterThan(80));
  it.each(cases)("$column $operator", async ({ column, type, operator }) => {
    const wanted = OPERATORS[operator].values;
    const texts = takesPeriod(operator) ? ["2024-06-01/2025-12-31"] : VALUES[type.kind].slice(0, wanted === "many" ? 3 : valuesNeeded(operator));
    const ordered =
      wanted === 2 ? (type.kind === "text" ? PAIRS[0] : [...texts].sort((a, b) => (isDated(type) ? a.localeCompare(b) : Number(a) - Number(b)))) : texts;
    const condition: Condition = { id: "w", left: field(column), operator, values: (ordered ?? []).map((text) => ({ kind: "value", text })) };
    const rows = await agree({ ...emptyQuery("crate"), columns: [{ id: "id", value: field("id") }], conditions: [condition] });
    const all = sampleRows(SEED).crate?.length ?? 0;
    const opposite = (Object.keys(OPERATORS) as Condition["operator"][]).find((o) => OPERATORS[o].negates === operator);
    if (!opposite) return;
    const others = await agree({ ...emptyQuery("crate"), columns: [{ id: "id", value: field("id") }], conditions: [{ ...condition, operator: opposite }] });
    expect(rows.length + others.length, "a comparison and its opposite part the rows, empty ones with the opposite").toBe(all);
  });
});

describe("figures", () => {
  const cases = crate.columns.flatMap((c) =>
    (Object.keys(AGGREGATES) as AggregateName[])
      .filter((f) => AGGREGATES[f].takes(c.type))
      .flatMap((figure) => (AGGREGATES[figure].counts ? [0, 1, 3] : [0]).map((count) => ({ column: c.name, figure, count }))),
  );
  it("lists every figure of every type", () => expect(cases.length).toBeGreaterThan(35));
  it.each(cases)("$figure of $column, by yard and over nothing ($count)", async ({ column, figure, count }) => {
    const columns = [
      { id: "k", value: field("yard_id") },
      { id: "n", value: null, figure: "count" as const },
      {
        id: "f",
        value: field(column),
        figure,
        ...(AGGREGATES[figure].order ? { by: field("day"), direction: "down" as const, separator: "; " } : {}),
        ...(AGGREGATES[figure].weighs ? { by: field("pieces") } : {}),
        ...(AGGREGATES[figure].percent ? { percent: 37.5 } : {}),
        ...(count > 0 ? { count } : {}),
      },
    ];
    await agree({ ...emptyQuery("crate"), grouped: true, columns });
    const none: Condition = { id: "w", left: field("id"), operator: "less", values: [{ kind: "value", text: "0" }] };
    await agree({ ...emptyQuery("crate"), grouped: true, columns: columns.slice(1), conditions: [none] });
  });
  it.each(GROUP_PARTS)("groups by %s", async (part) => {
    for (const column of ["day", "at"])
      await agree({
        ...emptyQuery("crate"),
        grouped: true,
        columns: [
          { id: "k", value: { kind: "field", join: "", column, part } },
          { id: "n", value: field("price"), figure: "total" },
        ],
      });
  });
});

describe("bands", () => {
  it.each([
    ["pieces", "5"],
    ["price", "12.5"],
    ["mass", "0.7"],
    ["ratio", "0.25"],
  ])("%s by %s, with negative numbers", async (column, width) => {
    const value = { kind: "field" as const, join: "", column, band: { width } };
    await agree({
      ...emptyQuery("crate"),
      grouped: true,
      columns: [
        { id: "k", value },
        { id: "n", value: null, figure: "count" },
        { id: "l", value: field(column), figure: "least" },
      ],
    });
  });
});

describe("formulas", () => {
  it.each([
    "price + mass",
    "price - pieces",
    "price * mass",
    "price / pieces",
    "pieces / 7",
    "-price",
    "ratio * 2 + pieces",
    "price / 0",
    "price / 0.00",
    "ROUND(price * 0.19, 2)",
    "ROUND(mass)",
    "mark || '/' || pieces",
    "mark || price",
    "UPPER(mark)",
    "LOWER(TRIM('  ' || mark || '  '))",
    "COALESCE(price, mass, 0)",
    "CASE WHEN price > 100 THEN 'dear' WHEN price IS NULL THEN 'none' ELSE 'cheap' END",
    "CASE WHEN sealed THEN price END",
    "price > 10 AND NOT (pieces <= 3 OR sealed)",
    "day < DATE '2025-01-01'",
    "at = day",
    "yard.rent - price",
    "yard.name || mark",
    "mark = 'apple'",
    "ABS(price)",
    "FLOOR(price)",
    "CEILING(price)",
    "FLOOR(-mass / 3)",
    "CEILING(ratio * 10)",
    "MOD(pieces, 7)",
    "MOD(price, 0.3)",
    "MOD(pieces, 0)",
    "CHAR_LENGTH(mark)",
    "SUBSTRING(mark FROM 2 FOR 3)",
    "SUBSTRING(mark, pieces, 2)",
    "SUBSTRING(mark FROM 3)",
    "LEFT(mark, 2)",
    "LEFT(mark, pieces)",
    "RIGHT(mark, 3)",
    "RIGHT(mark, pieces)",
    "POSITION('p' IN mark)",
    "REPLACE(mark, 'p', 'qq')",
    "LPAD(mark, 8, '*')",
    "LPAD(mark, 3)",
    "SPLIT_PART(mark || '-' || mark || '--x', '-', 2)",
    "SPLIT_PART(mark || '-a--b', '-', 3)",
    "SPLIT_PART(mark, '-', 9)",
    "SPLIT_REST(mark || '-a--b', '-', 2)",
    "SPLIT_REST(mark, 'p', 2)",
    "SPLIT_REST(mark, '', 1)",
    "INITCAP('o''neill van der meer ' || mark)",
    "CONCAT_WS(', ', mark, NULLIF(mark, ''), pieces, day)",
    "NULLIF(pieces, 3)",
    "LTRIM('  ' || mark || '  ')",
    "RTRIM('  ' || mark || '  ')",
    "CONCAT(mark, NULLIF(mark, ''), pieces, day)",
    "SIGN(price)",
    "SIGN(pieces - 3)",
    "SIGN(ratio)",
    "SQRT(price)",
    "SQRT(ratio * pieces)",
    "EXP(ratio * 3)",
    "EXP(pieces * 100)",
    "LN(price)",
    "LN(pieces)",
    "LOG10(mass)",
    "POWER(ratio, 2)",
    "POWER(pieces, 0.5)",
    "POWER(pieces - 3, -2)",
    "POWER(price, pieces)",
    "TRUNC(price)",
    "TRUNC(-mass / 3, 2)",
    "TRUNC(price * 1.37, 1)",
    "TRUNC(pieces, 2)",
    "GREATEST(price, pieces, mass)",
    "LEAST(price, 2.5, pieces)",
    "GREATEST(day, DATE '2024-02-29')",
    "LEAST(mark, 'm')",
    "GREATEST(ratio, price)",
    "LAST_DAY(day)",
    "LAST_DAY(at)",
    "CAST(price AS INTEGER)",
    "CAST(price AS DECIMAL(12, 1))",
    "CAST(pieces AS DECIMAL(12, 2))",
    "CAST(ratio AS DECIMAL(12, 3))",
    "CAST(price AS DOUBLE PRECISION)",
    "CAST(at AS DATE)",
    "CAST(day AS TIMESTAMP) = at",
    "CAST(mark AS INTEGER)",
    "CAST('12.345' AS DECIMAL(9, 2))",
    "CAST(price || '' AS DECIMAL(12, 2))",
    "CAST(pieces || '' AS DOUBLE)",
    "CAST(day || '' AS DATE)",
    "CAST(CASE WHEN sealed THEN 'yes' ELSE 'no' END AS BOOLEAN)",
    "CAST(sealed AS INTEGER)",
    "EXTRACT(YEAR FROM day)",
    "EXTRACT(QUARTER FROM at)",
    "EXTRACT(MONTH FROM day)",
    "EXTRACT(WEEK FROM day)",
    "EXTRACT(DAY FROM at)",
    "EXTRACT(DOW FROM day)",
    "EXTRACT(HOUR FROM at)",
    "EXTRACT(MINUTE FROM at)",
    "day + 10",
    "day - pieces",
    "at + 1",
    "CURRENT_DATE - day",
    "day - DATE '2024-02-29'",
    "DATE '2024-01-31' + INTERVAL '1' MONTH",
    "day + INTERVAL '13' MONTH",
    "at - INTERVAL '1' YEAR",
    "day + INTERVAL '6' DAY",
    "day - INTERVAL '2' WEEK",
    "at + INTERVAL '36' HOUR",
    "at - INTERVAL '1441' MINUTE",
    "MINUTES_BETWEEN(at, day)",
    "MINUTES_BETWEEN(DATE '2026-01-01', at)",
    "MONTHS_BETWEEN(day, DATE '2025-03-30')",
    "MONTHS_BETWEEN(DATE '2025-03-30', day)",
    "YEARS_BETWEEN(day, CURRENT_DATE)",
    "YEARS_BETWEEN(at, day)",
    "TO_CHAR(at, 'YYYY-MM-DD HH24:MI')",
    "TO_CHAR(day, 'Q/YYYY, IW')",
    "pieces IN (1, 2, 3)",
    "mark NOT IN ('apple', 'zebra')",
    "mark LIKE '_pp%'",
    "mark NOT LIKE 'A%'",
    "mark LIKE '50!%%' ESCAPE '!'",
    "mark LIKE 'under\\_%'",
    "price IS DISTINCT FROM mass",
    "mark IS NOT DISTINCT FROM NULLIF(mark, 'apple')",
    "CASE pieces WHEN 1 THEN 'one' WHEN 2 THEN 'two' ELSE 'many' END",
    "CASE mark WHEN 'apple' THEN price END",
    "price BETWEEN 10 AND 500.5",
    "day NOT BETWEEN DATE '2024-01-01' AND DATE '2025-01-01'",
    "price * 1.5 >= yard.rent / 3",
  ])("%s", async (text) => {
    const join = { id: "y", from: "", link: "crate.yard_id", toward: "b" as const, way: "keep" as const };
    await agree({
      ...emptyQuery("crate"),
      joins: [join],
      columns: [
        { id: "id", value: field("id") },
        { id: "f", value: { kind: "formula", text } },
      ],
    });
  });
});

describe("the example of each function", () => {
  const examples = [...Object.values(FORMULA_FUNCTIONS), ...FORMULA_FORMS].map((f) => f.example);
  it("is true in every engine", async () => {
    for (const text of examples) {
      const [row] = await agree({ ...emptyQuery("crate"), columns: [{ id: "f", value: { kind: "formula", text } }], limit: 1 });
      expect([text, row]).toEqual([text, "1"]);
    }
  });
});

/** Rows looked at through windows are the rows of the whole, in its order, in every engine. */
async function holdWindows(plan: Plan): Promise<void> {
  const whole = [...readRows(engines.lite, compileRows(plan, sqlite))];
  for (const offset of [0, 11, 60]) {
    const window = { offset, rows: 17 };
    expect([...readRows(engines.lite, compileRows(plan, sqlite, window))]).toEqual(whole.slice(offset, offset + 17));
    const shown = engines.sqlite(plan, window);
    expect(asWritten(await engines.duckdb(plan, window), shown)).toEqual(shown);
    expect(asWritten(await engines.postgres(plan, window), shown)).toEqual(shown);
  }
}

/** Every number of an account opens just the rows it counts, and they come to the figure beside it. */
async function holdRowsBehindNumbers(plan: Plan, account: Proof): Promise<void> {
  const numbers: [ProofPick, Amount][] = [
    [{ part: "source" }, account.source],
    [{ part: "sheet" }, account.sheet],
    ...account.steps.flatMap((step): [ProofPick, Amount][] => {
      if (step.kind === "kept") return [[{ part: "kept" }, step.amount]];
      if (step.kind === "groups") return [[{ part: "leftOutGroups", id: step.id }, step.leftOut]];
      if (step.kind === "condition") return [[{ part: "leftOut", id: step.id }, step.leftOut]];
      return [
        [{ part: "found", id: step.id }, step.found],
        [{ part: "missing", id: step.id }, step.missing],
        ...(step.added ? ([[{ part: "added", id: step.id }, step.added]] as [ProofPick, Amount][]) : []),
      ];
    }),
  ];
  for (const [pick, amount] of numbers) {
    const picked = planProofRows(plan, pick);
    expect(picked, JSON.stringify(pick)).not.toBeNull();
    const footing = compileFooting(picked as Plan, sqlite);
    const [count, ...totals] = readSingle(engines.lite, footing);
    expect(count, JSON.stringify([pick, account])).toBe(amount.rows);
    const figure = totals[footing.totals.findIndex((t) => t.column === account.figure?.column)] ?? null;
    // What is counted once leaves with the last of its rows: the rows left out may hold more of it than leaves.
    const leaves = account.figure?.once != null && ["leftOut", "missing", "leftOutGroups"].includes(pick.part);
    if (!leaves && account.figure?.type.kind === "floating") expect(Number(figure ?? 0)).toBeCloseTo(Number(amount.figure ?? 0), 9);
    else if (!leaves) expect(String(figure ?? 0), JSON.stringify([pick, account])).toBe(String(amount.figure ?? 0));
    const listed = engines.sqlite(picked as Plan);
    expect(listed.length, JSON.stringify(pick)).toBe(amount.rows);
  }
  for (const step of account.steps) {
    if (step.kind !== "join") continue;
    const unmatched = step.added ? null : planProofRows(plan, { part: "unmatched", id: step.id });
    if (unmatched) {
      const rows = engines.sqlite(unmatched);
      expect(rows.length, JSON.stringify(step)).toBe(step.unmatched);
      expect(await engines.duckdb(unmatched)).toEqual(rows);
    }
    if (step.leadsTo !== "many") continue;
    const repeated = planProofRows(plan, { part: "repeated", id: step.id }) as Plan;
    // The rows shown are all that stand more than once, the first of each among them.
    const shown = engines.sqlite(repeated).length;
    expect(shown === 0, JSON.stringify(step)).toBe(step.repeated.rows === 0);
    expect(shown).toBeGreaterThanOrEqual(step.repeated.rows);
  }
}

describe("queries made at random", () => {
  // That their rows are the same in all engines, and by the recount, is held in recount.test.ts.
  it("give the same windows in all engines, and every number of their proof opens its rows", async () => {
    await fc.assert(
      fc.asyncProperty(specArbitrary, async (spec) => {
        const plan = planOf(spec);
        fc.pre(!isTooLarge(() => engines.sqlite(plan)));
        const rows = engines.sqlite(plan);
        const account = proveQuery(engines.reading, plan, proofColumn(plan)?.id ?? null);
        expect(account.agrees, JSON.stringify(account)).toBe(true);
        if (!spec.grouped && !spec.firstOf) expect(Math.min(account.sheet.rows, spec.limit ?? Infinity)).toBe(rows.length);
        if (!spec.grouped) await holdWindows(plan);
        await holdRowsBehindNumbers(plan, account);
      }),
      { numRuns: 150, seed: SEED },
    );
  });
});
