import fc from "fast-check";
import { linearRegression } from "simple-statistics";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { ChartKind } from "@/core/chart/choices";
import { LIGHT } from "@/core/chart/colours";
import { drawChart } from "@/core/chart/config";
import type { ChartAnswer } from "@/core/chart/data";
import { newChart } from "@/core/chart/newChart";
import { planChart } from "@/core/chart/plan";
import { markCell } from "@/core/chart/rows";
import type { ChartSpec } from "@/core/chart/spec";
import { emptyPivot, newAxis } from "@/core/pivot/empty";
import { planPivot } from "@/core/pivot/plan";
import { planCellRows } from "@/core/pivot/rows";
import type { PivotFigure, PivotSpec } from "@/core/pivot/spec";
import { compileRows } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import { emptyQuery } from "@/core/query/empty";
import type { Plan } from "@/core/query/plan";
import { resolveQuery } from "@/core/query/resolve";
import { usualDay } from "@/core/types/calendar";
import { ProblemError } from "@/core/types/problem";
import type { Cell } from "@/core/types/valueType";
import { runChart } from "@/server/jobs/charts/run";
import { readRows } from "@/server/source/sqlite/readers";
import { threeEngines } from "../support/engines";
import { sampleRows, sampleSchema } from "../support/sample";

/* Every mark of a chart, and the rows it says it stands for: what is drawn is worked out anew from those rows by a plain loop. */

const rows = sampleRows(20261124);
const names = sampleSchema.tables[1]?.columns.map((c) => c.name) ?? [];
const locale = { locale: "en-GB", zone: "UTC" };
const context = { today: usualDay("2026-11-23"), values: {} };
const drawing = {
  theme: LIGHT,
  locale,
  chosen: {},
  pattern: (colour: string, place: number) => `${colour} ${place}`,
  size: 12,
  compact: false,
  narrow: false,
  animate: false,
};
const field = (column: string) => ({ kind: "field" as const, join: "", column });
const query = { ...emptyQuery("crate"), columns: names.map((c) => ({ id: c, value: field(c) })) };

let engines: Awaited<ReturnType<typeof threeEngines>>;
let inner: Plan;
beforeAll(async () => {
  engines = await threeEngines(sampleSchema, rows);
  const resolved = resolveQuery(query, sampleSchema, context);
  if (!resolved.ok) throw new ProblemError(resolved.problems);
  inner = resolved.value;
});
afterAll(() => engines.close());

const figure = (id: string, column: string | null, name: PivotFigure["figure"]): PivotFigure => ({
  id,
  value: column ? field(column) : null,
  figure: name,
  showAs: "asIs",
});
const chart = (kind: ChartKind, pivot: Partial<PivotSpec>, more: Partial<ChartSpec> = {}): ChartSpec => ({
  ...newChart({ ...emptyPivot("q"), ...pivot }, kind),
  ...more,
});
const planned = (spec: ChartSpec) => planChart(spec, inner, context, spec.band || "1");
function worked(spec: ChartSpec): ChartAnswer {
  const plan = planned(spec);
  if (!plan.ok) throw new ProblemError(plan.problems);
  return runChart(engines.reading, { spec, plan: plan.value, earlier: null, locale });
}
/** The rows behind a mark, each by its columns' names; null where it is no mark. */
function behind(spec: ChartSpec, answer: ChartAnswer, series: number, place: number): Record<string, Cell>[] | null {
  const cell = markCell(spec, answer, drawChart(spec, answer, drawing), { series, place });
  if (!cell) return null;
  const pivot = planPivot(cell.pivot, inner, context);
  if (!pivot.ok) throw new ProblemError(pivot.problems);
  const plan = planCellRows(pivot.value, cell.pick);
  if (!plan) throw new Error("the mark is not of the pivot");
  return [...readRows(engines.lite, compileRows(plan, sqlite))].map((row) => Object.fromEntries(names.map((name, i) => [name, row[i] ?? null])));
}
const total = (list: Record<string, Cell>[], column: string): Cell => {
  const known = list.flatMap((r) => (r[column] === null ? [] : [Number(r[column])]));
  return known.length === 0 ? null : known.reduce((a, b) => a + b, 0);
};

const AXES = [field("mark"), { ...field("day"), part: "quarter" as const }, { ...field("pieces"), band: { width: "10" } }, field("sealed"), field("yard_id")];
const axes = fc.shuffledSubarray(AXES, { minLength: 1, maxLength: 2 });
const firsts = fc.option(fc.integer({ min: 1, max: 4 }));

describe("the rows behind a mark", () => {
  it("come to what is drawn: bars, lines and parts, split or not, with the rest as one", () => {
    fc.assert(
      fc.property(
        fc.constantFrom<ChartKind>("bars", "stacked", "lines", "areas", "steps", "pie", "ring"),
        axes,
        firsts,
        firsts,
        fc.boolean(),
        (kind, [along, split], first, second, two) => {
          const spec = chart(kind, {
            across: [{ ...newAxis("a", along as never), first }],
            down: split ? [{ ...newAxis("s", split), first: second }] : [],
            figures: [figure("t", "price", "total"), ...(two ? [figure("n", null, "count")] : [])],
          });
          const answer = worked(spec);
          if (!("pivot" in answer)) throw new Error("no pivot");
          const { data } = drawChart(spec, answer, drawing);
          const parts = kind === "pie" || kind === "ring";
          let seen = 0;
          for (const [i, series] of (data?.series ?? []).entries())
            for (const [place, cell] of series.cells.entries()) {
              const list = behind(spec, answer, i, place) ?? [];
              expect(data?.figures[series.figure]?.id === "n" ? list.length || null : total(list, "price")).toEqual(cell);
              if (series.figure === 0) seen += list.length;
            }
          // Every row stands behind just one mark of a figure; a pie has no second figure and no split.
          expect(seen).toBe(rows.crate?.length);
          if (parts) expect(data?.series.length).toBe(1);
        },
      ),
      { seed: 20261124, numRuns: 60 },
    );
  });

  it("are those in a histogram's band, and of a box's group", () => {
    const histogram = chart("histogram", { figures: [figure("f", "pieces", "total")] }, { band: "5" });
    const banded = worked(histogram);
    const bands = drawChart(histogram, banded, drawing).data?.series[0]?.cells ?? [];
    expect(bands.length).toBeGreaterThan(8);
    bands.forEach((count, place) => expect(behind(histogram, banded, 0, place)?.length).toBe(count ?? 0));

    const boxes = chart("box", { across: [newAxis("a", field("mark"))], figures: [figure("f", "price", "total")] });
    const boxed = worked(boxes);
    if (boxed.shape !== "values") throw new Error("no boxes");
    expect(boxed.boxes.length).toBeGreaterThan(8);
    boxed.boxes.forEach(({ key, box }, place) => {
      const list = behind(boxes, boxed, 0, place) ?? [];
      const prices = list.flatMap((r) => (r.price === null ? [] : [Number(r.price)])).sort((a, b) => a - b);
      expect([prices.length, prices[0], prices.at(-1)]).toEqual([box.count, box.least, box.greatest]);
      expect(list.every((r) => r.mark === key)).toBe(true);
    });
    expect(drawChart(boxes, boxed, drawing).say(0, 0)).toMatch(/: median \S+, half of \d+ between \S+ and \S+$/);
  });

  it("hold the row of a point; rows without one of the numbers are counted", () => {
    const spec = chart(
      "bubbles",
      { down: [newAxis("s", field("sealed"))], figures: [figure("x", "price", "total"), figure("y", "mass", "total"), figure("r", "pieces", "total")] },
      { trend: true },
    );
    const answer = worked(spec);
    const drawn = drawChart(spec, answer, drawing);
    const known = (rows.crate ?? []).filter((r) => r[5] !== null && r[6] !== null);
    const lacking = (rows.crate?.length ?? 0) - known.length;
    expect(drawn.notice).toBe(`${lacking} rows lack one of the numbers and are not drawn.`);
    const sets = drawn.config.data.datasets as unknown as { label: string; data: { x: number; y: number }[]; pointRadius: number[] }[];
    expect(sets.map((s) => s.label).sort()).toEqual(["No sealed", "no", "trend", "yes"]);
    const points = sets.filter((s) => s.label !== "trend");
    expect(points.reduce((n, s) => n + s.data.length, 0)).toBe(known.length);
    points.forEach((set, series) =>
      set.data.forEach(({ x, y }, place) => {
        const list = behind(spec, answer, series, place) ?? [];
        expect(list.some((r) => Number(r.price) === Math.round(x * 100) && Number(r.mass) === Math.round(y * 10))).toBe(true);
      }),
    );
    // The largest is drawn with 20 pixels, and none with fewer than 3.
    const radii = points.flatMap((s) => s.pointRadius);
    expect(Math.max(...radii)).toBeCloseTo(20, 6);
    expect(Math.min(...radii)).toBeGreaterThanOrEqual(3);
    const { m, b } = linearRegression(known.map((r) => [Number(r[5]) / 100, Number(r[6]) / 10]));
    const [from, to] = sets.find((s) => s.label === "trend")?.data ?? [];
    for (const end of [from, to]) expect(end?.y).toBeCloseTo(m * (end?.x ?? 0) + b, 6);
    expect(drawn.say(0, 0)).toMatch(/: Price \S+, Mass \S+$/);
  });
});

describe("parts that make no whole", () => {
  const split = { across: [newAxis("a", field("mark"))], down: [newAxis("s", field("sealed"))] };
  const codes = (kind: ChartKind, name: PivotFigure["figure"], pivot: Partial<PivotSpec>) => {
    const plan = planned(chart(kind, { ...pivot, figures: [figure("f", "price", name)] }));
    return plan.ok ? [] : plan.problems.map((p) => [p.code, ...p.path]);
  };
  it("are refused in a pie, and on top of each other", () => {
    const wrong = [["chartParts", "pivot", "figures", 0]];
    for (const name of ["average", "median", "countDifferent"] as const) {
      for (const kind of ["pie", "ring", "stacked", "areas"] as const) expect([kind, codes(kind, name, split)]).toEqual([kind, wrong]);
      for (const kind of ["bars", "lines", "steps"] as const) expect(codes(kind, name, split)).toEqual([]);
      for (const kind of ["stacked", "areas"] as const) expect(codes(kind, name, { across: split.across })).toEqual([]);
    }
    for (const kind of ["pie", "ring", "stacked", "areas"] as const) expect(codes(kind, "total", split)).toEqual([]);
  });
  it("of a pie that is split are said to be left out, and an order by a figure that is not drawn is by name", () => {
    const across = [{ ...newAxis("a", field("sealed")), order: { by: "figure" as const, figure: "n", direction: "down" as const } }];
    const spec = chart("ring", { ...split, across, figures: [figure("t", "pieces", "total"), figure("n", null, "count")] });
    const drawn = drawChart(spec, worked(spec), drawing);
    expect(drawn.notice).toMatch(/further figures are not drawn/);
    expect(drawn.data?.places.map((p) => p.words)).toEqual(["no", "yes", "No sealed"]);
    expect(drawn.config.plugins?.map((p) => p.id)).toEqual(["whole"]);
  });
});
