import { addsUpByKind, aggregateOf, figureWords as wordsOf } from "../query/aggregates";
import { overlaps } from "../query/home";
import { namePlan } from "../query/namePlan";
import type { Path, RunContext } from "../query/operands";
import { overRows, resolveOver } from "../query/over";
import type { Plan, PlanColumn } from "../query/plan";
import type { QueryColumn, QuerySpec } from "../query/spec";
import type { Schema } from "../schema/schema";
import { type Checked, type Problem, problem } from "../types/problem";
import { isNumber, TYPE_WORDS, whole } from "../types/valueType";
import type { PivotPlan, PlannedAxis, PlannedFigure } from "./pivot";
import { SHOWN } from "./show";
import type { PivotAxis, PivotSpec } from "./spec";

/** The id of the count of rows that every grouping carries beside the figures. */
export const ROW_COUNT = "row count";

/**
 * Checks a pivot against its query's plan.
 * @returns the plan, or all problems, each with its path into the pivot ("down.0.value")
 */
export function planPivot(spec: PivotSpec, inner: Plan, context: RunContext): Checked<PivotPlan> {
  const problems: Problem[] = [];
  if (spec.figures.length === 0) problems.push(problem("pivotEmpty", ["figures"]));
  // Of nothing on its shelves no more is to be said.
  if (spec.figures.length + spec.down.length + spec.across.length === 0) return { ok: false, problems };
  const resolved = resolveOver(asQuery(spec), inner, context);
  if (!resolved.ok) return { ok: false, problems: [...problems, ...resolved.problems.map((p) => ({ ...p, path: ownPath(p.path, spec) }))] };
  const { columns } = resolved.value;
  const find = (id: string): PlanColumn => columns.find((c) => c.id === id) as PlanColumn;
  const axes = (list: PivotAxis[]): PlannedAxis[] => list.map((axis) => ({ spec: axis, column: find(axis.id) }));
  const fields = [...spec.down, ...spec.across].map((axis) => find(axis.id));
  const figures = spec.figures.map((figure): PlannedFigure => {
    const column = find(figure.id);
    return { spec: figure, column, overlaps: overlaps(column, fields) };
  });
  figures.forEach((planned, i) => {
    const { spec: figure, column } = planned;
    const shown = SHOWN[figure.showAs];
    if (shown.numbersOnly && !isNumber(column.type))
      problems.push(
        problem("showAsType", ["figures", i, "showAs"], { shown: shown.words, figure: wordsOf(figure.figure), type: TYPE_WORDS[column.type.kind] }),
      );
    else if (shown.partsOnly && !addsUp(planned))
      problems.push(problem("showAsParts", ["figures", i, "showAs"], { shown: shown.words, figure: figureWords(planned) }));
  });
  for (const side of ["down", "across"] as const)
    spec[side].forEach(({ order }, i) => {
      if (order.by === "figure" && !spec.figures.some((f) => f.id === order.figure)) problems.push(problem("pivotOrderGone", [side, i, "order"]));
    });
  if (problems.length > 0) return { ok: false, problems };
  return { ok: true, value: { inner, plan: resolved.value, down: axes(spec.down), across: axes(spec.across), figures } };
}

/** A pivot's plan with what its headings are called. @param schema with the rules on rows of the one it is for */
export function withAxisNames(plan: PivotPlan, schema: Schema, context: RunContext): PivotPlan {
  const named = (axis: PlannedAxis): PlannedAxis => {
    const names = namePlan(axis.column, schema, context);
    return names ? { ...axis, names } : axis;
  };
  return { ...plan, down: plan.down.map(named), across: plan.across.map(named) };
}

/** The pivot as one grouped query over the rows of its own: down, across and figures are its columns, in that order. */
export function asQuery(spec: PivotSpec): QuerySpec {
  const groups = [...spec.down, ...spec.across].map((axis): QueryColumn => ({ id: axis.id, value: axis.value, ...(axis.label ? { label: axis.label } : {}) }));
  const figures = spec.figures.map(({ showAs: _, ...figure }): QueryColumn => figure);
  return {
    ...overRows(),
    conditions: spec.conditions,
    parameters: spec.asked,
    grouped: true,
    columns: [...groups, ...figures, { id: ROW_COUNT, value: null, figure: "count", hidden: true }],
  };
}

function ownPath(path: Path, spec: PivotSpec): Path {
  const [part, index, ...rest] = path;
  if (part !== "columns" || typeof index !== "number") return path;
  if (index < spec.down.length) return ["down", index, ...rest];
  const after = index - spec.down.length;
  return after < spec.across.length ? ["across", after, ...rest] : ["figures", after - spec.across.length, ...rest];
}

/**
 * The grouping of a pivot by its first fields down and across, as a plan without order. Its columns are those fields,
 * then the figures, then the count of rows.
 */
export function groupingPlan(pivot: PivotPlan, down: PlanColumn[], across: PlanColumn[], figures: PlannedFigure[]): Plan {
  const count: PlanColumn = { id: ROW_COUNT, expr: null, figure: "count", type: whole, heading: "", origin: "", hidden: false, format: {}, totalled: false };
  return { ...pivot.plan, columns: [...down, ...across, ...figures.map((f) => f.column), count], order: [], tieBreak: [] };
}

/** Whether the cells of a figure add up to its whole. */
export const addsUp = ({ spec, overlaps: apart }: PlannedFigure): boolean => addsUpByKind(spec.figure) && !apart;

/** A figure in words, with what it counts once where that is why its cells do not add up. */
export const figureWords = ({ spec, column, overlaps: apart }: PlannedFigure): string =>
  apart ? `${wordsOf(spec.figure)} of ${column.home?.words ?? "rows"}, each counted once,` : wordsOf(spec.figure);

/** Whether the figures of a pivot's parts make those of its wholes; others are asked of the rows for each grouping. */
export const merges = ({ column, spec, overlaps: apart }: PlannedFigure): boolean => {
  const merge = apart ? undefined : aggregateOf(spec.figure)?.merges;
  return merge === "add" || (merge !== undefined && column.type.kind !== "text");
};
