import { readFileSync } from "node:fs";
import { resolve } from "node:path";
import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { assemblePivot } from "@/core/pivot/assemble";
import { emptyPivot, newAxis } from "@/core/pivot/empty";
import type { CellPick } from "@/core/pivot/pick";
import type { Pivot } from "@/core/pivot/pivot";
import { planPivot } from "@/core/pivot/plan";
import { planCellRows } from "@/core/pivot/rows";
import type { PivotAxis, PivotFigure, PivotSpec } from "@/core/pivot/spec";
import { keyOf } from "@/core/pivot/tree";
import { aggregateOf } from "@/core/query/aggregates";
import { compileRows } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import { emptyQuery } from "@/core/query/empty";
import type { Plan } from "@/core/query/plan";
import { resolveQuery } from "@/core/query/resolve";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import { usualDay } from "@/core/types/calendar";
import { rescale } from "@/core/types/decimal";
import { ProblemError } from "@/core/types/problem";
import { type Cell, date, decimal, floating, text, whole } from "@/core/types/valueType";
import { readRows } from "@/server/source/sqlite/readers";
import { seeded } from "../../demo/random";
import { type Rows, threeEngines } from "../support/engines";

/*
 * Pivots against DuckDB's GROUPING SETS, CUBE and PIVOT written by hand, and against a plain loop over the rows. The
 * table has empties, doubled texts, and keys made to collide when they are joined or taken for another type.
 */

const column = (name: string, type: Schema["tables"][number]["columns"][number]["type"]) => ({
  name,
  label: name,
  type,
  storage: type.kind === "decimal" ? ("scaledInteger" as const) : ("plain" as const),
  nullable: true,
  misfits: 0,
});
const schema: Schema = {
  tables: [
    {
      name: "goods",
      label: "goods",
      key: ["id"],
      rows: 0,
      columns: [
        column("id", whole),
        column("kind", text),
        column("grade", text),
        column("lot", whole),
        column("day", date),
        column("price", decimal(2)),
        column("mass", floating),
      ],
    },
  ],
  links: [],
};
const KINDS = ["a_b", "a", "b", "A", "", "1", "null", null];
const GRADES = ["c", "b_c", "1", "Übel", "ubel", null];
const { next: random, pick } = seeded(20261123);
const rows: Rows = {
  goods: Array.from({ length: 400 }, (_, i) => [
    i + 1,
    pick(KINDS),
    pick(GRADES),
    random() < 0.1 ? null : Math.floor(random() * 40) - 20,
    random() < 0.1 ? null : `202${5 + Math.floor(random() * 2)}-0${1 + Math.floor(random() * 9)}-1${Math.floor(random() * 9)}`,
    random() < 0.15 ? null : Math.floor(random() * 400_000) - 100_000,
    random() < 0.1 ? null : Math.round(random() * 1000) / 8,
  ]),
};
let engines: Awaited<ReturnType<typeof threeEngines>>;
beforeAll(async () => {
  engines = await threeEngines(schema, rows);
});
afterAll(() => engines.close());

const field = (name: string) => ({ kind: "field" as const, join: "", column: name });
const all: QuerySpec = { ...emptyQuery("goods"), columns: schema.tables[0]?.columns.map((c) => ({ id: c.name, value: field(c.name) })) ?? [] };
const read = (plan: Plan): Cell[][] => [...readRows(engines.lite, compileRows(plan, sqlite))];
const context = { today: usualDay("2026-11-23"), values: {} };

function planned(spec: PivotSpec, query: QuerySpec = all) {
  const inner = resolveQuery(query, schema, context);
  if (!inner.ok) throw new ProblemError(inner.problems);
  const plan = planPivot(spec, inner.value, context);
  if (!plan.ok) throw new ProblemError(plan.problems);
  return plan.value;
}
const pivotOf = (spec: PivotSpec, query?: QuerySpec): Pivot => assemblePivot(planned(spec, query), read, "en-GB");

const figure = (name: PivotFigure["figure"], of: string | null, showAs: PivotFigure["showAs"] = "asIs"): PivotFigure => ({
  id: `${name} ${of}`,
  value: of ? field(of) : null,
  figure: name,
  showAs,
  ...(aggregateOf(name)?.order ? { by: field("id"), direction: "down" as const } : {}),
});
const axis = (name: string, more: Partial<PivotAxis> = {}): PivotAxis => ({ ...newAxis(`${name} axis`, field(name)), ...more });
const pivot = (down: PivotAxis[], across: PivotAxis[], figures: PivotFigure[]): PivotSpec => ({ ...emptyPivot("q"), down, across, figures });

/** The steps to a heading, and whether a row stands under it. */
const stepsTo = (headings: Pivot["down"], index: number) => {
  const steps: Pivot["down"] = [];
  for (let at = index; at > 0; at = headings[at]?.parent ?? 0) steps.unshift(headings[at] as Pivot["down"][number]);
  return steps;
};
const asPick = (steps: Pivot["down"]): CellPick["down"] => steps.map((s) => (s.rest ? { rest: s.rest as string[] } : { key: s.key as string }));

const FIELDS = ["kind", "grade", "lot", "day", "day by month", "lot by 7"];
const valueIn = (row: (string | number | null)[], name: string): Cell => {
  const at = (n: string) => row[schema.tables[0]?.columns.findIndex((c) => c.name === n) ?? 0] ?? null;
  if (name === "day by month") return at("day") === null ? null : `${String(at("day")).slice(0, 7)}-01`;
  if (name === "lot by 7") return at("lot") === null ? null : Math.floor(Number(at("lot")) / 7) * 7;
  return at(name);
};
const axisOf = (name: string, more: Partial<PivotAxis> = {}): PivotAxis => {
  const value =
    name === "day by month" ? { ...field("day"), part: "month" as const } : name === "lot by 7" ? { ...field("lot"), band: { width: "7" } } : field(name);
  return { ...newAxis(`${name} axis`, value), ...more };
};

/** The figures by plain loops over the rows; amounts in whole cents. */
const NAIVE: Record<string, (values: (string | number)[], rows: (string | number | null)[][]) => Cell> = {
  "count null": (_, r) => r.length,
  "total price": (v) => (v.length ? v.reduce<number>((s, x) => s + Number(x), 0) : null),
  "countDifferent price": (v) => new Set(v).size,
  "median price": (v) => {
    if (v.length === 0) return null;
    const s = v.map(Number).sort((a, b) => a - b);
    return 5 * ((s[Math.floor((s.length - 1) / 2)] ?? 0) + (s[Math.ceil((s.length - 1) / 2)] ?? 0));
  },
  "greatest price": (v) => (v.length ? Math.max(...v.map(Number)) : null),
  "least kind": (v) => (v.length ? ([...v].sort((a, b) => (String(a) < String(b) ? -1 : 1))[0] ?? null) : null),
  "last price": (_, r) => [...r].filter((x) => x[5] !== null).sort((a, b) => Number(a[0]) - Number(b[0]))[0]?.[5] ?? null,
};

const some = fc.record({
  fields: fc.shuffledSubarray(FIELDS, { minLength: 0, maxLength: 4 }),
  cut: fc.nat(4),
  firsts: fc.array(fc.option(fc.integer({ min: 1, max: 3 })), { minLength: 4, maxLength: 4 }),
  orders: fc.array(fc.constantFrom("name", "total price", "median price"), { minLength: 4, maxLength: 4 }),
  empty: fc.boolean(),
});

describe("pivots made at random", () => {
  it("have in each cell what a plain loop over the rows gives, and the rows behind it are those", () => {
    fc.assert(
      fc.property(some, ({ fields, cut, firsts, orders, empty }) => {
        const axes = fields.map((name, i) => {
          const by = orders[i] ?? "name";
          const order = by === "name" ? { by: "name" as const, direction: "up" as const } : { by: "figure" as const, direction: "down" as const, figure: by };
          return axisOf(name, { first: firsts[i] ?? null, order, empty: empty && i === 0 });
        });
        const at = Math.min(cut, axes.length);
        const figures = [
          figure("count", null),
          figure("total", "price"),
          figure("countDifferent", "price"),
          figure("median", "price"),
          figure("greatest", "price"),
          figure("least", "kind"),
          figure("last", "price"),
        ];
        const spec = pivot(axes.slice(0, at), axes.slice(at), figures);
        const plan = planned(spec);
        const made = assemblePivot(plan, read, "en-GB");
        expect(made.proof.agrees).toBe(true);
        const under = (steps: Pivot["down"], names: string[]) => (row: (string | number | null)[]) =>
          steps.every((s, i) => {
            const value = valueIn(row, names[i] ?? "");
            return s.rest ? value !== null && !s.rest.some((k) => keyOf(k) === keyOf(value)) : keyOf(value) === keyOf(s.key);
          });
        fields.slice(0, at).forEach((name, level) => {
          const { order, first } = axes[level] as PivotAxis;
          const f = figures.findIndex((x) => order.by === "figure" && x.id === order.figure);
          made.down.forEach((parent, p) => {
            const kept = made.down.flatMap((h, i) => (h.parent === p && h.level === level + 1 && h.key !== null ? [i] : []));
            const before = (rows.goods ?? []).filter(under(stepsTo(made.down, p), fields));
            const all = new Set(before.map((r) => keyOf(valueIn(r, name))).filter((k) => k !== "null"));
            if (parent.level === level && parent.rest === null && !(empty && level === 0)) expect(kept.length).toBe(Math.min(first ?? all.size, all.size));
            const sizes = kept.map((i) => made.cells[f]?.[i * made.across.length] ?? null).filter((c) => c !== null);
            if (f >= 0) expect(sizes).toEqual(sizes.toSorted((a, b) => Number(b) - Number(a)));
          });
        });
        let looked = 0;
        made.down.forEach((_, d) =>
          made.across.forEach((_, a) => {
            const steps = { down: stepsTo(made.down, d), across: stepsTo(made.across, a) };
            const here = (rows.goods ?? []).filter(under(steps.down, fields.slice(0, at))).filter(under(steps.across, fields.slice(at)));
            figures.forEach((f, i) => {
              const value = f.value?.kind === "field" ? f.value.column : null;
              const values = value ? here.map((r) => valueIn(r, value)).filter((v): v is string | number => v !== null) : [];
              const shown = made.cells[i]?.[d * made.across.length + a] ?? null;
              expect(String(shown), `${f.id} at ${d}, ${a}`).toBe(String(here.length === 0 ? null : (NAIVE[f.id]?.(values, here) ?? null)));
            });
            if (looked++ % 7 !== 0) return;
            const behind = planCellRows(plan, { down: asPick(steps.down), across: asPick(steps.across) });
            expect(behind && read(behind).map((r) => r[0])).toEqual(here.map((r) => r[0]));
          }),
        );
      }),
      { seed: 20261123, numRuns: 40 },
    );
  });
});

describe("pivots against DuckDB", () => {
  const cellsByPath = (made: Pivot, at: number) => {
    const found = new Map<string, Cell>();
    made.down.forEach((_, d) =>
      made.across.forEach((_, a) => {
        const cell = made.cells[at]?.[d * made.across.length + a] ?? null;
        const path = [stepsTo(made.down, d), stepsTo(made.across, a)].map((steps) => steps.map((s) => s.key));
        if (cell !== null) found.set(JSON.stringify(path), cell);
      }),
    );
    return found;
  };
  it("two by one: GROUPING SETS give the same subtotals", async () => {
    const made = pivotOf(
      pivot([axis("kind"), axis("grade")], [axisOf("day by month")], [figure("total", "price"), figure("average", "price"), figure("countDifferent", "lot")]),
    );
    const sets = "(k, g, m), (k, g), (k, m), (k), (m), ()";
    const hand = await engines.handDuck(`
      SELECT k, g, CAST(m AS VARCHAR), GROUPING(k), GROUPING(g), GROUPING(m), CAST(SUM(price) AS VARCHAR), COUNT(price), COUNT(DISTINCT lot)
      FROM (SELECT kind AS k, grade AS g, date_trunc('month', day)::DATE AS m, price, lot FROM goods) GROUP BY GROUPING SETS (${sets})`);
    expect(hand.length).toBeGreaterThan(300);
    const [totals, averages, different] = [0, 1, 2].map((i) => cellsByPath(made, i));
    for (const [k, g, m, noK, noG, noM, sum, count, lots] of hand) {
      const path = JSON.stringify([[...(noK ? [] : [k]), ...(noG ? [] : [g])], noM ? [] : [m]]);
      expect(String(totals?.get(path) ?? null), path).toBe(String(sum));
      expect(Number(different?.get(path) ?? 0), path).toBe(Number(lots));
      // Half away from zero, four digits more, once the digit that is only carried is rounded away.
      if (Number(count) > 0) {
        const exact = BigInt(String(sum)) * 10_000n;
        const n = BigInt(String(count));
        const size = ((exact < 0n ? -exact : exact) * 2n + n) / (2n * n);
        expect(rescale(BigInt(String(averages?.get(path))), 1, 0), path).toBe(exact < 0n ? -size : size);
      }
    }
  });
  it("a formula over figures is worked out anew at every total, with a condition of its own", async () => {
    const ratio: PivotFigure = {
      id: "r",
      value: { kind: "formula", text: "paid / NULLIF(COUNT(lot), 0)" },
      figure: "formula",
      showAs: "asIs",
      where: [{ id: "w", left: field("grade"), operator: "is", values: [{ kind: "value", text: "c" }] }],
    };
    const made = cellsByPath(pivotOf(pivot([axis("kind")], [axis("lot")], [{ ...figure("total", "price"), label: "paid" }, ratio])), 1);
    const hand = await engines.handDuck(`
      SELECT kind, lot, GROUPING(kind), GROUPING(lot), CAST(SUM(price) FILTER (WHERE grade = 'c') AS DOUBLE) / 100 / NULLIF(COUNT(lot) FILTER (WHERE grade = 'c'), 0)
      FROM goods GROUP BY CUBE (kind, lot)`);
    const told = hand.filter((row) => row[4] !== null);
    expect(told.length).toBe(78);
    expect(made.size).toBe(told.length);
    for (const [k, l, noK, noL, of] of told) {
      const path = JSON.stringify([noK ? [] : [k], noL ? [] : [l === null ? null : Number(l)]]);
      expect(Number(made.get(path)) / 1e7, path).toBeCloseTo(Number(of), 4);
    }
  });
  it("one by one: CUBE", async () => {
    const made = cellsByPath(pivotOf(pivot([axis("kind")], [axis("grade")], [figure("count", null)])), 0);
    const hand = await engines.handDuck("SELECT kind, grade, GROUPING(kind), GROUPING(grade), COUNT(*) FROM goods GROUP BY CUBE (kind, grade)");
    expect(made.size).toBe(hand.length);
    for (const [k, g, noK, noG, n] of hand) expect(made.get(JSON.stringify([noK ? [] : [k], noG ? [] : [g]]))).toBe(Number(n));
  });
  it("texts across: PIVOT", async () => {
    const made = cellsByPath(pivotOf(pivot([axis("lot")], [axis("grade")], [figure("total", "price")])), 0);
    const hand = await engines.handDuck(
      `PIVOT (SELECT lot, grade, price FROM goods) ON grade IN ('c', 'b_c', '1', 'Übel', 'ubel') USING CAST(SUM(price) AS VARCHAR) GROUP BY lot`,
    );
    expect(hand.length).toBe(41);
    for (const [lot, ...sums] of hand)
      ["c", "b_c", "1", "Übel", "ubel"].forEach((grade, i) => {
        expect(String(made.get(JSON.stringify([[lot === null ? null : Number(lot)], [grade]])) ?? null)).toBe(String(sums[i] ?? null));
      });
  });
  it("over a grouped and a limited query: their rows are the rows", async () => {
    const grouped: QuerySpec = {
      ...emptyQuery("goods"),
      grouped: true,
      columns: [
        { id: "k", value: field("kind") },
        { id: "g", value: field("grade") },
        { id: "p", value: field("price"), figure: "total" },
      ],
    };
    const made = cellsByPath(pivotOf(pivot([axis("k")], [], [figure("average", "p"), figure("count", null)]), grouped), 1);
    const hand = await engines.handDuck("SELECT kind, COUNT(*) FROM (SELECT DISTINCT kind, grade FROM goods) GROUP BY kind");
    for (const [k, n] of hand) expect(made.get(JSON.stringify([[k], []]))).toBe(Number(n));
    const limited: QuerySpec = { ...all, order: [{ column: "id", direction: "down" }], limit: 50 };
    const few = planned(pivot([axis("grade")], [], [figure("count", null)]), limited);
    const shown = assemblePivot(few, read, "en-GB");
    expect(shown.proof.rows).toEqual({ down: 50, across: 50, query: 50 });
    const behind = planCellRows(few, { down: [{ key: "c" }], across: [] });
    const ids = await engines.handDuck("SELECT id FROM (SELECT * FROM goods ORDER BY id DESC LIMIT 50) WHERE grade = 'c' ORDER BY id DESC");
    expect(behind && read(behind).map((r) => r[0])).toEqual(ids.map((r) => Number(r[0])));
  });
});

describe("figures shown otherwise", () => {
  const shares = ["shareOfRow", "shareOfColumn", "shareOfWhole", "shareOfParent"] as const;
  it.each(shares)("%s: the parts of each whole come to the whole, exactly", (showAs) => {
    const made = pivotOf(pivot([axis("kind"), axis("grade")], [axis("lot")], [figure("count", null, showAs), { ...figure("count", null), id: "plain" }]));
    const width = made.across.length;
    const [shown, plain] = [made.cells[0] ?? [], made.cells[1] ?? []];
    const whole = (d: number, a: number) =>
      ({
        shareOfRow: plain[d * width],
        shareOfColumn: plain[a],
        shareOfWhole: plain[0],
        shareOfParent: plain[Math.max(0, made.down[d]?.parent ?? 0) * width + a],
      })[showAs] ?? null;
    for (let d = 0; d < made.down.length; d++)
      for (let a = 0; a < width; a++) {
        const [part, of] = [plain[d * width + a] ?? null, whole(d, a)];
        const expected =
          part === null || of === null ? null : Number((2n * BigInt(Number(part)) * 1_000_000n + BigInt(Number(of))) / (2n * BigInt(Number(of))));
        const share = shown[d * width + a] ?? null;
        expect(share === null ? null : Number(rescale(BigInt(String(share)), 1, 0))).toBe(expected);
      }
    // Before they are rounded, the shares of a whole are its parts over it: the parts come to it.
    const leaves = made.down.flatMap((h, d) => (h.level === 2 ? [d] : []));
    const sum = leaves.reduce((s, d) => s + Number(plain[d * width] ?? 0), 0);
    expect(sum).toBe(Number(plain[0]));
  });
  it("running totals end at the total; differences and ranks follow the columns", () => {
    const of = (showAs: PivotFigure["showAs"]) =>
      pivotOf(pivot([axis("kind")], [axisOf("day by month")], [{ ...figure("total", "price", showAs) }, { ...figure("total", "price"), id: "plain" }]));
    const running = of("running");
    const width = running.across.length;
    running.down.forEach((_, d) => expect(String(running.cells[0]?.[d * width + width - 1])).toBe(String(running.cells[1]?.[d * width])));
    const difference = of("difference");
    expect(difference.cells[0]?.[1]).toBe(null);
    expect(difference.cells[0]?.[3]).toBe(Number(difference.cells[1]?.[3]) - Number(difference.cells[1]?.[2]));
    const ranks = of("rank");
    const sized = ranks.down.map((h, d) => ({ rank: ranks.cells[0]?.[d * width], size: ranks.cells[1]?.[d * width], h })).filter(({ h }) => h.level === 1);
    const largest = sized.toSorted((a, b) => Number(b.size) - Number(a.size));
    expect(largest.map((s) => s.rank)).toEqual(largest.map((_, i) => i + 1));
  });
  it("refuses a share of what does not add up, and says where", () => {
    expect(() => planned(pivot([axis("kind")], [], [figure("average", "price", "shareOfRow")]))).toThrow(/does not add up/);
    expect(() => planned(pivot([axis("kind")], [], [figure("greatest", "day", "rank")]))).toThrow(/cannot be shown as/);
    expect(() => planned(pivot([axis("gone")], [], []))).toThrow(/No figures yet.*no column/);
  });
});

describe("too much", () => {
  it("a pivot across 100,000 values is refused with the number; the first 50 and the rest are shown", () => {
    engines.lite.exec(
      "CREATE TEMP TABLE IF NOT EXISTS many AS WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 100000) SELECT i AS id, i % 7 AS lot FROM n",
    );
    const many: Schema = { tables: [{ name: "many", label: "many", key: ["id"], rows: 0, columns: [column("id", whole), column("lot", whole)] }], links: [] };
    const query = resolveQuery(
      {
        ...emptyQuery("many"),
        columns: [
          { id: "id", value: field("id") },
          { id: "lot", value: field("lot") },
        ],
      },
      many,
      context,
    );
    if (!query.ok) throw new Error();
    const of = (first: number | null) => planPivot(pivot([axis("lot")], [axis("id", { first })], [figure("count", null)]), query.value, context);
    const [wide, cut] = [of(null), of(50)];
    if (!wide.ok || !cut.ok) throw new Error();
    expect(() => assemblePivot(wide.value, read, "en-GB")).toThrow(/100000 columns/);
    const made = assemblePivot(cut.value, read, "en-GB");
    expect(made.across.length).toBe(52);
    expect(made.across.at(-1)?.rows).toBe(99_950);
    expect(made.proof.agrees).toBe(true);
  });
});

/* Yields of barley in bushels over three replicates, 1931 and 1932 (F. R. Immer, H. K. Hayes, L. Powers, Journal of the
   American Society of Agronomy 26 (1934), as tabled by W. N. Venables and B. D. Ripley, 2002; the table is from memory). */
const IMMER: Record<string, Record<string, [number, number]>> = {
  "University Farm": { Manchuria: [81.0, 80.7], Svansota: [105.4, 82.3], Velvet: [119.7, 80.4], Trebi: [109.7, 87.2], Peatland: [98.3, 84.2] },
  Waseca: { Manchuria: [146.6, 100.4], Svansota: [142.0, 115.5], Velvet: [150.7, 112.2], Trebi: [191.5, 147.7], Peatland: [145.7, 108.1] },
  Duluth: { Manchuria: [86.9, 67.7], Svansota: [77.1, 66.7], Velvet: [78.9, 67.4], Trebi: [101.8, 91.8], Peatland: [96.0, 94.1] },
};

describe("a published cross-table", () => {
  it("barley by site and variety across the years is the table of 1934", () => {
    const file = resolve("node_modules/vega-datasets/data/barley.json");
    const barley = JSON.parse(readFileSync(file, "utf8")) as { site: string; variety: string; year: number; yield: number }[];
    engines.lite.exec("CREATE TEMP TABLE barley (site, variety, year, yield)");
    const insert = engines.lite.prepare("INSERT INTO barley VALUES (?, ?, ?, ?)");
    for (const b of barley) insert.run(b.site, b.variety, BigInt(b.year), b.yield);
    const shape: Schema = {
      tables: [
        {
          name: "barley",
          label: "barley",
          key: [],
          rows: 0,
          columns: [column("site", text), column("variety", text), column("year", whole), column("yield", floating)],
        },
      ],
      links: [],
    };
    const inner = resolveQuery(
      { ...emptyQuery("barley"), columns: ["site", "variety", "year", "yield"].map((c) => ({ id: c, value: field(c) })) },
      shape,
      context,
    );
    if (!inner.ok) throw new Error();
    const plan = planPivot(pivot([axis("site"), axis("variety")], [axis("year")], [figure("total", "yield")]), inner.value, context);
    if (!plan.ok) throw new Error();
    const made = assemblePivot(plan.value, read, "en-US");
    let found = 0;
    made.down.forEach((h, d) => {
      if (h.level !== 2) return;
      const published = IMMER[String(made.down[h.parent]?.key)]?.[String(h.key)];
      published?.forEach((value, year) => {
        found++;
        expect(3 * Number(made.cells[0]?.[d * made.across.length + 1 + year])).toBeCloseTo(value, 1);
      });
    });
    expect(found).toBe(30);
    expect(made.proof.agrees).toBe(true);
  });
});
