import type Database from "better-sqlite3";
import type { ChartAnswer } from "@/core/chart/data";
import type { ChartPlan } from "@/core/chart/plan";
import { boxOf } from "@/core/chart/statistics";
import { assemblePivot } from "@/core/pivot/assemble";
import { compareCells, keyOf } from "@/core/pivot/tree";
import { compileRows } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import type { Plan } from "@/core/query/plan";
import { ProblemError, problem } from "@/core/types/problem";
import { type Cell, isMisfit } from "@/core/types/valueType";
import type { ChartJob } from "@/server/jobs/work";
import { readRows } from "@/server/source/sqlite/readers";

/** Places along a chart at most, and rows drawn as points. */
const MOST_PLACES = 5000;
const MOST_POINTS = 20_000;

/** Works out what a chart is drawn from; the caller keeps it all in one moment. */
export function runChart(db: Database.Database, { plan, earlier, locale }: ChartJob): ChartAnswer {
  const read = (p: Plan) => readRows(db, compileRows(p, sqlite));
  const pivotOf = (p: Extract<ChartPlan, { pivot: unknown }>) => assemblePivot(p.pivot, read, locale.locale, MOST_PLACES);
  if (plan.shape === "points") return { ...pointsOf(plan, read), shape: "points" };
  if (plan.shape === "values") return { ...boxesOf(plan, read, locale.locale), shape: "values" };
  return { shape: plan.shape, pivot: pivotOf(plan), earlier: earlier && "pivot" in earlier ? pivotOf(earlier) : null };
}

type Read = (plan: Plan) => Iterable<Cell[]>;

function pointsOf(plan: Extract<ChartPlan, { shape: "points" }>, read: Read) {
  const points: Cell[][] = [];
  for (const row of read(plan.rows)) {
    if (points.length === MOST_POINTS) throw new ProblemError([problem("chartMany", ["kind"], { most: MOST_POINTS })]);
    points.push(row);
  }
  const columns = plan.rows.columns.map(({ heading, type, format, unit }) => ({ heading, type, format, unit }));
  return { points, columns, size: plan.size, group: plan.group, name: plan.name };
}

function boxesOf(plan: Extract<ChartPlan, { shape: "values" }>, read: Read, locale: string) {
  const [value, group] = plan.rows.columns;
  const groups = new Map<string, { key: Cell; values: number[] }>();
  for (const [cell = null, key = null] of read(plan.rows)) {
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
