import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Asked } from "@/core/page/asked";
import { planSearch } from "@/core/page/search";
import type { SearchField, SearchSpec } from "@/core/page/spec";
import { compileRows } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import { emptyQuery } from "@/core/query/empty";
import { compileFooting } from "@/core/query/footing";
import type { QuerySpec } from "@/core/query/spec";
import { usualDay } from "@/core/types/calendar";
import { readRows, readSingle } from "@/server/source/sqlite/readers";
import { threeEngines } from "../support/engines";
import { sampleRows, sampleSchema } from "../support/sample";

/* Searches made at random, on SQLite, DuckDB and PostgreSQL, against plain loops over the page's rows. */

const SEED = 20261126;
const rows = sampleRows(SEED);
let engines: Awaited<ReturnType<typeof threeEngines>>;
beforeAll(async () => {
  engines = await threeEngines(sampleSchema, rows);
});
afterAll(() => engines.close());

const field = (column: string) => ({ kind: "field" as const, join: "", column });
const query: QuerySpec = {
  ...emptyQuery("crate"),
  columns: ["id", "mark", "day", "pieces", "price", "sealed"].map((c) => ({ id: c, value: field(c) })),
  conditions: [{ id: "own", left: field("pieces"), operator: "atLeast", values: [{ kind: "value", text: "3" }] }],
  order: [{ column: "day", direction: "down" }],
};
const FIELDS: SearchField[] = [
  { kind: "column", column: "mark", label: "Mark", input: "typed", operators: ["contains", "is", "beginsWith", "notEmpty"] },
  { kind: "column", column: "mark", label: "Marks", input: "several", operators: [] },
  { kind: "column", column: "day", label: "Day", input: "range", operators: [] },
  { kind: "column", column: "pieces", label: "Pieces", input: "range", operators: [] },
  { kind: "column", column: "sealed", label: "Sealed", input: "choice", operators: [] },
];
const search: SearchSpec = {
  kind: "search",
  query: "q",
  fields: FIELDS,
  columns: ["id", "mark", "day"],
  perPage: 10,
  sortable: true,
  atOnce: true,
  details: { columns: [], panels: [] },
  changes: null,
};

type Crate = { id: number; mark: string | null; day: string | null; pieces: number | null; sealed: number | null };
const crates = (rows.crate ?? []).map((r) => ({ id: r[0], mark: r[2], day: r[3], pieces: r[7], sealed: r[9] }) as Crate);
/** Without case and accents, as text conditions compare. */
const folded = (text: string) => text.normalize("NFD").replace(/\p{M}/gu, "").toLowerCase().replaceAll("æ", "ae").replaceAll("ø", "o");

/** What the asking means, by hand. */
function meets(crate: Crate, asked: Asked): boolean {
  const [typed, several, day, pieces, sealed] = asked.fields;
  const [words = ""] = (typed?.values ?? []).map((v) => v.trim()).filter(Boolean);
  const { mark } = crate;
  if (typed?.operator === "notEmpty") {
    if (mark === null) return false;
  } else if (words !== "") {
    if (mark === null) return false;
    if (
      typed?.operator === "is"
        ? mark !== words
        : typed?.operator === "beginsWith"
          ? !folded(mark).startsWith(folded(words))
          : !folded(mark).includes(folded(words))
    )
      return false;
  }
  const chosen = (several?.values ?? []).filter(Boolean);
  if (chosen.length > 0 && !(mark !== null && chosen.includes(mark))) return false;
  const between = <T extends string | number>(value: T | null, from: T | null, to: T | null) =>
    (from === null && to === null) || (value !== null && (from === null || value >= from) && (to === null || value <= to));
  const [d1 = "", d2 = ""] = day?.values ?? [];
  const [p1 = "", p2 = ""] = pieces?.values ?? [];
  const number = (text: string) => (text === "" ? null : Number(text));
  if (!between(crate.day, d1 || null, d2 || null) || !between(crate.pieces, number(p1), number(p2))) return false;
  const [yes = ""] = sealed?.values ?? [];
  return yes === "" || crate.sealed === (yes === "yes" ? 1 : 0);
}

const part = (...texts: string[]) => fc.constantFrom("", ...texts);
const dates = part("2023-06-01", "2024-02-29", "2025-12-31");
const numbers = part("0", "5", "12", "30");
const askedArbitrary = fc
  .record({
    typed: fc.record({
      operator: fc.constantFrom("contains" as const, "is" as const, "beginsWith" as const, "notEmpty" as const, "isNot" as const),
      values: fc.tuple(part("a", "E", "apple", "50%", "_", "zz")),
    }),
    several: fc.subarray(["apple", "zebra", "it's", "none of these"]),
    day: fc.tuple(dates, dates),
    pieces: fc.tuple(numbers, numbers),
    sealed: part("yes", "no"),
    sort: fc.option(fc.record({ column: fc.constantFrom("id", "mark", "day", "price"), direction: fc.constantFrom("up" as const, "down" as const) }), {
      nil: null,
    }),
  })
  .map(
    ({ typed, several, day, pieces, sealed, sort }): Asked => ({
      fields: [typed, { values: several }, { values: day }, { values: pieces }, { values: [sealed] }],
      sort,
    }),
  );

describe("searches made at random", () => {
  it("find just the rows that loops find, count them, and turn their pages without losing or repeating one", async () => {
    await fc.assert(
      fc.asyncProperty(askedArbitrary, async (asked) => {
        const made = planSearch(search, query, sampleSchema, { today: usualDay("2026-11-23") }, asked);
        const wanted = crates.filter((c) => c.pieces !== null && c.pieces >= 3 && meets(c, asked)).map((c) => c.id);
        // A range the wrong way round is refused, and nothing would lie in it.
        if (!made.ok) return void expect([made.problems.every((p) => p.code === "rangeTurned"), wanted]).toEqual([true, []]);
        const { plan } = made.value;
        const whole = [...readRows(engines.lite, compileRows(plan, sqlite))];
        expect(whole.map((r) => Number(r[0])).sort((a, b) => a - b)).toEqual([...wanted].sort((a, b) => a - b));
        expect(readSingle(engines.lite, compileFooting(plan, sqlite))[0]).toBe(wanted.length);
        const turned = [0, 1, 2, 3, 4, 5, 6, 7, 8, 9].flatMap((page) => [
          ...readRows(engines.lite, compileRows(plan, sqlite, { offset: page * 10, rows: 10 })),
        ]);
        expect(turned).toEqual(whole);
        expect(await engines.duckdb(plan)).toEqual(engines.sqlite(plan));
        expect(await engines.postgres(plan)).toEqual(engines.sqlite(plan));
      }),
      { numRuns: 120, seed: SEED },
    );
  });
  it("are in the order asked for, of a column that is shown; else in the query's own", () => {
    const order = (sort: Asked["sort"]) => {
      const made = planSearch(search, query, sampleSchema, { today: usualDay("2026-11-23") }, { fields: [], sort });
      return made.ok ? [...readRows(engines.lite, compileRows(made.value.plan, sqlite))] : [];
    };
    const ids = order({ column: "id", direction: "down" }).map((r) => Number(r[0]));
    expect(ids).toEqual([...ids].sort((a, b) => b - a));
    const days = order(null).map((r) => String(r[2] ?? ""));
    expect(days).toEqual([...days].sort().reverse());
    expect(order({ column: "price", direction: "up" })).toEqual(order(null));
  });
});
