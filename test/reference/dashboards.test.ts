import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { unmetWords } from "@/core/brief/dashboardBrief";
import { filteredQuery, relativeText } from "@/core/dashboard/filters";
import type { DashboardSpec, FilterValue, FilterValues, PlainTile } from "@/core/dashboard/spec";
import { emptyDashboard } from "@/core/dashboard/tiles";
import { emptyQuery } from "@/core/query/empty";
import { resolveQuery } from "@/core/query/resolve";
import type { QuerySpec } from "@/core/query/spec";
import { usualDay } from "@/core/types/calendar";
import { threeEngines } from "../support/engines";
import { filterOn } from "../support/filters";
import { sampleRows, sampleSchema } from "../support/sample";

/* Filters of a dashboard with values made at random, in tiles of different tables, against plain loops over the rows. */

const SEED = 20261128;
const rows = sampleRows(SEED);
let engines: Awaited<ReturnType<typeof threeEngines>>;
beforeAll(async () => {
  engines = await threeEngines(sampleSchema, rows);
});
afterAll(() => engines.close());

/** Names that stand in the rows, and one that a filter can be asked for as somebody's own. */
const NAMES = [...new Set(rows.yard?.flatMap(([, name]) => (name ? [String(name)] : [])))];
const PERSON = "it's";
const today = usualDay("2026-11-28");
const toCrate = { link: "stamp.crate_id", toward: "b" as const };
const toYard = { link: "crate.yard_id", toward: "b" as const };
const idsOf = (source: string): QuerySpec => ({ ...emptyQuery(source), columns: [{ id: "id", value: { kind: "field", join: "", column: "id" } }] });
const QUERIES: Record<string, QuerySpec> = { stamps: idsOf("stamp"), crates: idsOf("crate"), yards: idsOf("yard") };
/** Each filter meets some tiles in its own column, some in another of its kind, some not at all. */
const spec: DashboardSpec = {
  ...emptyDashboard(),
  filters: [
    filterOn("name", "yard", "name", { stamps: { steps: [toCrate, toYard] }, crates: { steps: [toYard] }, yards: { steps: [] } }),
    filterOn("days", "crate", "day", { stamps: { steps: [toCrate], column: "at" }, crates: { steps: [] }, yards: { steps: [], column: "opened" } }),
    filterOn("price", "crate", "price", { stamps: { steps: [], column: "fee" }, crates: { steps: [] }, yards: null }),
    filterOn("sealed", "crate", "sealed", { stamps: { steps: [toCrate] }, crates: null, yards: { steps: [], column: "open" } }),
  ],
};

type Value = string | number | null;
type Yard = { name: Value; opened: Value; rent: Value; open: Value };
type Crate = { yard: Yard | undefined; day: Value; at: Value; price: Value; sealed: Value };
const named = <T>(list: unknown[][] | undefined, make: (r: Value[]) => T) => new Map((list ?? []).map((r) => [Number(r[0]), make(r as Value[])]));
const yards = named(
  rows.yard,
  ([, name, opened, rent, open]): Yard => ({ name: name ?? null, opened: opened ?? null, rent: rent ?? null, open: open ?? null }),
);
const crates = named(
  rows.crate,
  ([, yard, , day, at, price, , , , sealed]): Crate => ({
    yard: yards.get(Number(yard)),
    day: day ?? null,
    at: at ?? null,
    price: price ?? null,
    sealed: sealed ?? null,
  }),
);
const stamps = named(rows.stamp, ([, crate, fee]) => ({ crate: crates.get(Number(crate)), fee: fee ?? null }));

/** What each filter looks at in a row of each tile; undefined where it does not meet the tile. */
const LOOKED: Record<string, Map<number, Record<string, Value | undefined>>> = {
  stamps: new Map(
    [...stamps].map(([id, s]) => [id, { name: s.crate?.yard?.name ?? null, days: s.crate?.at ?? null, price: s.fee, sealed: s.crate?.sealed ?? null }]),
  ),
  crates: new Map([...crates].map(([id, c]) => [id, { name: c.yard?.name ?? null, days: c.day, price: c.price, sealed: undefined }])),
  yards: new Map([...yards].map(([id, y]) => [id, { name: y.name, days: y.opened, price: undefined, sealed: y.open }])),
};
const FIRST_OF_YEAR = "2026-01-01";

/** What a filter's value means, by hand. "is not" keeps what is empty; a span takes in both its days. */
function lets(id: string, value: FilterValue | null | undefined, looked: Value | undefined): boolean {
  if (!value || looked === undefined) return true;
  if (value.kind === "person") return looked === PERSON;
  if (value.kind === "set") {
    const wanted = value.values.filter((v) => v !== "").map((v) => (id === "sealed" ? (v === "yes" ? 1 : 0) : v));
    if (wanted.length === 0) return true;
    return wanted.includes(looked as never) !== value.not;
  }
  const end = (text: string): Value => {
    if (text === "") return null;
    if (id === "price") return Math.round(Number(text) * 100);
    return text === relativeText("firstOfThisYear") ? FIRST_OF_YEAR : text;
  };
  const own = id === "days" && looked !== null ? String(looked).slice(0, 10) : looked;
  const [from, to] = [end(value.from), end(value.to)];
  if (from === null && to === null) return true;
  return own !== null && (from === null || own >= from) && (to === null || own <= to);
}

const set = (...values: string[]) =>
  fc.record({ kind: fc.constant("set" as const), not: fc.boolean(), values: fc.subarray(values) }) satisfies fc.Arbitrary<FilterValue>;
const span = (...ends: string[]) =>
  fc.record({ kind: fc.constant("span" as const), from: fc.constantFrom("", ...ends), to: fc.constantFrom("", ...ends) }) satisfies fc.Arbitrary<FilterValue>;
const valuesArbitrary: fc.Arbitrary<FilterValues> = fc.record(
  {
    name: fc.oneof(fc.constant(null), fc.constant({ kind: "person" as const }), set(...NAMES.slice(0, 5), "no such yard")),
    days: fc.oneof(fc.constant(null), span("2024-03-01", "2025-06-30", relativeText("firstOfThisYear"))),
    price: fc.oneof(fc.constant(null), span("0", "7.50", "-12.25", "4000")),
    sealed: fc.oneof(fc.constant(null), set("yes"), set("no")),
  },
  { requiredKeys: [] },
);

describe("filters with values made at random", () => {
  it("are asked for names that there are", () => expect(NAMES).toContain(PERSON));
  it("let through, in every tile they meet, just the rows that loops do, on three engines", async () => {
    await fc.assert(
      fc.asyncProperty(fc.constantFrom("stamps", "crates", "yards"), valuesArbitrary, async (tile, values) => {
        const query = filteredQuery(spec, tile, QUERIES[tile] as QuerySpec, values, today);
        const plan = resolveQuery(query, sampleSchema, { today, values: {}, person: PERSON });
        const wanted = [...(LOOKED[tile] ?? [])].flatMap(([id, looked]) => (spec.filters.every((f) => lets(f.id, values[f.id], looked[f.id])) ? [id] : []));
        // A range the wrong way round is refused, and nothing would lie in it.
        if (!plan.ok) return void expect([plan.problems.every((p) => p.code === "rangeTurned"), wanted]).toEqual([true, []]);
        const found = engines.sqlite(plan.value);
        expect(found.map(Number).sort((a, b) => a - b)).toEqual([...wanted].sort((a, b) => a - b));
        expect(await engines.duckdb(plan.value)).toEqual(found);
        expect(await engines.postgres(plan.value)).toEqual(found);
      }),
      { numRuns: 150, seed: SEED },
    );
  });
  it("and a tile says of just those that do not meet it, and narrow something, that it is not narrowed by them", () => {
    fc.assert(
      fc.property(valuesArbitrary, (values) => {
        for (const id of ["stamps", "crates", "yards"]) {
          const unmet = spec.filters.filter((f) => {
            const looked = [...(LOOKED[id]?.values() ?? [])].map((l) => l[f.id]);
            return looked.every((l) => l === undefined) && [...crates.values()].some((c) => !lets(f.id, values[f.id], f.id === "price" ? c.price : c.sealed));
          });
          const words = unmetWords(spec, { id, kind: "table" } as PlainTile, values);
          for (const f of spec.filters) expect([id, f.label, words.includes(f.label)]).toEqual([id, f.label, unmet.includes(f)]);
        }
      }),
      { numRuns: 100, seed: SEED },
    );
  });
});
