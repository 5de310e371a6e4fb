import type { ChartAnswer } from "@/core/chart/data";
import type { ChartPlan } from "@/core/chart/plan";
import { boxOf } from "@/core/chart/statistics";
import { assemblingPivot } from "@/core/pivot/assemble";
import { compareCells, keyOf } from "@/core/pivot/tree";
import { type Asking, answered, rowsOf } from "@/core/query/asking";
import type { Plan } from "@/core/query/plan";
import { ProblemError, problem } from "@/core/types/problem";
import { type Cell, isMisfit } from "@/core/types/valueType";
import { pivotPlans } from "@/server/jobs/pivots/run";
import type { ChartJob } from "@/server/jobs/work";
import type { Reading } from "@/server/source/reading";

/** Places along a chart at most, and rows drawn as points. */
const MOST_PLACES = 5000;
const MOST_POINTS = 20_000;

/** Works out what a chart is drawn from; whoever answers keeps it all in one moment. */
export function* workingChart({ plan, earlier, locale }: ChartJob): Asking<ChartAnswer> {
  const pivotOf = (p: Extract<ChartPlan, { pivot: unknown }>) => assemblingPivot(p.pivot, locale.locale, MOST_PLACES);
  if (plan.shape === "points") return { ...(yield* pointsOf(plan)), shape: "points" };
  if (plan.shape === "values") return { ...(yield* boxesOf(plan, locale.locale)), shape: "values" };
  return { shape: plan.shape, pivot: yield* pivotOf(plan), earlier: earlier && "pivot" in earlier ? yield* pivotOf(earlier) : null };
}

/** The same of a database alone. */
export const runChart = (reading: Reading, job: ChartJob): ChartAnswer => answered(workingChart(job), reading.ask);

/** The plans a chart reads. */
export const chartPlans = ({ plan, earlier }: ChartJob): Plan[] =>
  [plan, ...(earlier ? [earlier] : [])].flatMap((p) => ("pivot" in p ? pivotPlans(p.pivot) : [p.rows]));

function* pointsOf(plan: Extract<ChartPlan, { shape: "points" }>) {
  const points: Cell[][] = [];
  for (const row of yield* rowsOf(plan.rows)) {
    if (points.length === MOST_POINTS) throw new ProblemError([problem("chartMany", ["kind"], { most: MOST_POINTS })]);
    points.push(row);
  }
  const columns = plan.rows.columns.map(({ heading, type, format, unit }) => ({ heading, type, format, unit }));
  return { points, columns, size: plan.size, group: plan.group, name: plan.name };
}

function* boxesOf(plan: Extract<ChartPlan, { shape: "values" }>, locale: string) {
  const [value, group] = plan.rows.columns;
  const groups = new Map<string, { key: Cell; values: number[] }>();
  for (const [cell = null, key = null] of yield* rowsOf(plan.rows)) {
    if (cell === null || isMisfit(cell)) continue;
    const at = groups.get(keyOf(key)) ?? { key, values: [] };
    at.values.push(Number(cell));
    groups.set(keyOf(key), at);
  }
  const order = compareCells(group?.type ?? { kind: "text" }, locale);
  const boxes = [...groups.values()]
    .sort((a, b) => order(a.key, b.key))
    .flatMap(({ key, values }) => {
      const box = boxOf(values);
      return box ? [{ key, box }] : [];
    });
  return {
    boxes,
    type: value?.type ?? { kind: "floating" as const },
    heading: [value?.heading, value?.unit].filter(Boolean).join(", "),
    group: group ? { heading: group.heading, type: group.type, format: group.format } : null,
  };
}
