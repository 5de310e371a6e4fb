import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { withDerivedFields } from "@/core/derive/derive";
import type { DerivedField } from "@/core/derive/spec";
import { compileRows } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import { emptyQuery } from "@/core/query/empty";
import { resolveQuery } from "@/core/query/resolve";
import type { Condition } from "@/core/query/spec";
import { usualDay } from "@/core/types/calendar";
import { rescale } from "@/core/types/decimal";
import { readRows } from "@/server/source/sqlite/readers";
import { threeEngines } from "../support/engines";
import { sampleDerived, sampleRows, sampleSchema } from "../support/sample";

/* Derived fields against SQL written by hand for DuckDB and PostgreSQL, and rollups made at random against plain loops. */

const SEED = 20261124;
const rows = sampleRows(SEED);
let engines: Awaited<ReturnType<typeof threeEngines>>;
beforeAll(async () => {
  engines = await threeEngines(sampleSchema, rows);
});
afterAll(() => engines.close());

/** The values of derived fields of a table, field by field, all asked for in one query. */
function valuesTogether(fields: DerivedField[], table: string, ids: string[]): unknown[][] {
  const schema = withDerivedFields(sampleSchema, fields, usualDay("2026-11-23"));
  const columns = ["id", ...ids].map((column) => ({ id: column, value: { kind: "field" as const, join: "", column } }));
  const resolved = resolveQuery({ ...emptyQuery(table), columns, order: [{ column: "id", direction: "up" }] }, schema, {
    today: usualDay("2026-11-23"),
    values: {},
  });
  if (!resolved.ok) throw new Error(JSON.stringify([schema.broken, resolved.problems]));
  const rows = [...readRows(engines.lite, compileRows(resolved.value, sqlite))];
  return ids.map((_, i) => rows.map((row) => row[i + 1] ?? null));
}

const valuesOf = (fields: DerivedField[], table: string, id: string): unknown[] => valuesTogether(fields, table, [id])[0] ?? [];

/* The same by hand, as an analyst would write it. Amounts are whole cents. */
const BY_HAND: [string, string, string][] = [
  ["crate", "opened", "SELECT (SELECT y.opened FROM yard y WHERE y.id = t.yard_id) FROM crate t"],
  ["crate", "fees", "SELECT (SELECT SUM(s.fee) FROM stamp s WHERE s.crate_id = t.id) FROM crate t"],
  ["crate", "stamp count", "SELECT (SELECT COUNT(*) FROM stamp s WHERE s.crate_id = t.id) FROM crate t"],
  ["stamp", "deep", "SELECT (SELECT y.name FROM yard y JOIN crate c ON c.yard_id = y.id WHERE c.id = t.crate_id) FROM stamp t"],
  [
    "crate",
    "all fees",
    "SELECT (SELECT SUM(s.fee) FROM stamp s JOIN crate c ON c.id = s.crate_id WHERE c.yard_id = t.yard_id AND EXISTS (SELECT 1 FROM yard y WHERE y.id = c.yard_id)) FROM crate t",
  ],
  ["yard", "crate list", "SELECT (SELECT string_agg(c.mark, ' · ' ORDER BY c.day DESC NULLS LAST, c.mark) FROM crate c WHERE c.yard_id = t.id) FROM yard t"],
  [
    "yard",
    "first mark",
    "SELECT (SELECT c.mark FROM crate c WHERE c.yard_id = t.id AND c.mark IS NOT NULL AND c.day IS NOT NULL ORDER BY c.day, c.mark LIMIT 1) FROM yard t",
  ],
  [
    "yard",
    "last price",
    "SELECT (SELECT c.price FROM crate c WHERE c.yard_id = t.id AND c.price IS NOT NULL AND c.at IS NOT NULL ORDER BY c.at DESC, c.price LIMIT 1) FROM yard t",
  ],
  ["yard", "since opened", "SELECT (SELECT COUNT(*) FROM crate c WHERE c.yard_id = t.id AND c.day >= t.opened) FROM yard t"],
  [
    "yard",
    "dear",
    "SELECT (SELECT CAST(round(AVG(CASE WHEN c.price > 50000 THEN c.price END) * 10000) AS bigint) FROM crate c WHERE c.yard_id = t.id) FROM yard t",
  ],
];

describe("derived fields by hand", () => {
  it.each(BY_HAND)("%s: %s", async (table, id, text) => {
    // Of an average one digit is only carried.
    const written = (v: unknown) => (v === null ? null : id === "dear" ? String(rescale(BigInt(String(v)), 1, 0)) : String(v));
    const ours = valuesOf(sampleDerived, table, id).map(written);
    const sql = (kind: string) => text.replace("SELECT (", "SELECT CAST((").replace(/\) FROM (\w+) t$/, `) AS ${kind}) FROM $1 t ORDER BY t.id`);
    expect(ours.some((v) => v !== null)).toBe(true);
    expect((await engines.handDuck(sql("VARCHAR"))).map((r) => r[0])).toEqual(ours);
    expect((await engines.handPostgres(sql("text"))).map((r) => r[0])).toEqual(ours);
  });
});

it("several fields over one link come to the same together as each alone, whatever their conditions", () => {
  for (const table of ["yard", "crate"]) {
    const ids = sampleDerived.filter((f) => f.table === table).map((f) => f.id);
    expect(ids.length).toBeGreaterThan(3);
    for (const order of ids.map((first) => [first, ...ids.filter((id) => id !== first)]))
      expect(valuesTogether(sampleDerived, table, order)).toEqual(order.map((id) => valuesOf(sampleDerived, table, id)));
  }
});

/* A plain evaluator over arrays: nothing of the ledger's in it. */
type Crate = { yard: number | null; price: number | null; pieces: number | null; day: string | null };
const crates = (rows.crate ?? []).map((r): Crate => ({ yard: r[1] as number, price: r[5] as number, pieces: r[7] as number, day: r[3] as string }));
const yards = (rows.yard ?? []).map((r) => ({ id: r[0] as number, opened: r[2] as string | null }));

const FIGURES = {
  count: (v: (number | null)[]) => v.filter((x) => x !== null).length,
  countDifferent: (v: (number | null)[]) => new Set(v.filter((x) => x !== null)).size,
  total: (v: (number | null)[]) => v.reduce((sum, x) => (x === null ? sum : (sum ?? 0) + x), null),
  least: (v: (number | null)[]) => v.reduce((least, x) => (x === null || (least !== null && least <= x) ? least : x), null),
  greatest: (v: (number | null)[]) => v.reduce((most, x) => (x === null || (most !== null && most >= x) ? most : x), null),
} as const;

type Test = { condition: Condition; holds: (crate: Crate, opened: string | null) => boolean };
const testArbitrary: fc.Arbitrary<Test> = fc.oneof(
  fc.integer({ min: -5, max: 40 }).map(
    (n): Test => ({
      condition: { id: `p${n}`, left: { kind: "field", join: "", column: "pieces" }, operator: "atMost", values: [{ kind: "value", text: String(n) }] },
      holds: (c) => c.pieces !== null && c.pieces <= n,
    }),
  ),
  fc.constantFrom(..."2023-06-01 2024-06-01 2025-06-01".split(" ")).map(
    (day): Test => ({
      condition: { id: `d${day}`, left: { kind: "field", join: "", column: "day" }, operator: "isNot", values: [{ kind: "value", text: day }] },
      holds: (c) => c.day !== day,
    }),
  ),
  fc.constant<Test>({
    condition: { id: "o", left: { kind: "field", join: "", column: "day" }, operator: "less", values: [{ kind: "field", join: "^", column: "opened" }] },
    holds: (c, opened) => c.day !== null && opened !== null && c.day < opened,
  }),
  fc.constant<Test>({
    condition: { id: "e", left: { kind: "field", join: "", column: "price" }, operator: "empty", values: [] },
    holds: (c) => c.price === null,
  }),
);

describe("rollups made at random", () => {
  it("are what a plain loop over the rows comes to, and never repeat a row", () =>
    fc.assert(
      fc.property(
        fc.constantFrom(...(Object.keys(FIGURES) as (keyof typeof FIGURES)[])),
        fc.constantFrom("price", "pieces"),
        fc.uniqueArray(testArbitrary, { maxLength: 3, selector: (t) => t.condition.id }),
        (figure, column, tests) => {
          const query = {
            ...emptyQuery("crate"),
            grouped: true,
            columns: [{ id: "f", value: { kind: "field" as const, join: "", column }, figure }],
            conditions: tests.map((t) => t.condition),
          };
          const field: DerivedField = {
            version: 1,
            id: "r",
            label: "r",
            table: "yard",
            definition: { kind: "rollup", step: { link: "crate.yard_id", toward: "a" }, query },
          };
          const expected = yards.map(({ id, opened }) =>
            FIGURES[figure](crates.filter((c) => c.yard === id && tests.every((t) => t.holds(c, opened))).map((c) => c[column as "price"])),
          );
          expect(valuesOf([field], "yard", "r")).toEqual(expected);
        },
      ),
      { numRuns: 300, seed: SEED },
    ));
});
