import { withKeys } from "../query/home";
import type { Plan, PlanColumn } from "../query/plan";
import { type Checked, type Problem, problem } from "../types/problem";
import { PAPERS } from "./choices";
import type { ReportSpec } from "./spec";

/** A report checked against the query it is made from: rows in the groups' order, and columns found. */
export type ReportPlan = { plan: Plan; levels: PlanColumn[]; columns: PlanColumn[] };

export const POINTS_PER_MM = 72 / 25.4;

/** The paper and what the margins leave of it, in points. */
export function pageFrame({ page }: ReportSpec) {
  const paper = PAPERS[page.paper];
  const [width, height] = page.landscape ? [paper.height, paper.width] : [paper.width, paper.height];
  const { top, right, bottom, left } = page.margins;
  return {
    width: width * POINTS_PER_MM,
    height: height * POINTS_PER_MM,
    left: left * POINTS_PER_MM,
    right: (width - right) * POINTS_PER_MM,
    top: top * POINTS_PER_MM,
    bottom: (height - bottom) * POINTS_PER_MM,
    inner: { width: width - left - right, height: height - top - bottom },
  };
}

/** The least paper, in mm, that margins must leave. */
const LEAST_WIDTH_MM = 60;
const LEAST_HEIGHT_MM = 60;

/**
 * Checks a report against its query's plan and puts the rows in the order of its groups.
 * @returns the plan whose rows the report prints, or what stands in the way
 */
export function planReport(spec: ReportSpec, plan: Plan): Checked<ReportPlan> {
  const problems: Problem[] = [];
  const find = (id: string, path: (string | number)[]): PlanColumn[] => {
    const column = plan.columns.find((c) => c.id === id);
    if (!column) problems.push(problem("groupGone", path, { column: id }));
    return column ? [column] : [];
  };
  const levels = spec.levels.flatMap((level, i) => find(level.column, ["levels", i]));
  const columns = spec.columns.flatMap((column, i) => find(column.column, ["columns", i]));
  spec.levels.forEach((level, i) => {
    if (spec.levels.findIndex((l) => l.column === level.column) < i) problems.push(problem("groupDouble", ["levels", i], { column: level.column }));
  });
  if (columns.length === 0 && problems.length === 0) problems.push(problem("noColumns", ["columns"]));
  const { inner } = pageFrame(spec);
  if (inner.width < LEAST_WIDTH_MM || inner.height < LEAST_HEIGHT_MM)
    problems.push(problem("pageTooSmall", ["page"], { width: Math.round(inner.width), height: Math.round(inner.height) }));
  if (problems.length > 0) return { ok: false, problems };
  const groupOrder = spec.levels.map(({ column, direction }) => ({ column, direction }));
  const rest = plan.order.filter((o) => !spec.levels.some((l) => l.column === o.column));
  return { ok: true, value: { plan: { ...withKeys(plan), order: [...groupOrder, ...rest] }, levels, columns } };
}

/** A report's rows as a file of rows has them: its groups' columns, then its own, in the order they are printed; no others. */
export function reportRows({ plan, levels, columns }: ReportPlan): Plan {
  const printed = [...levels.filter((c) => !columns.includes(c)), ...columns];
  const rest = plan.columns.filter((c) => !printed.includes(c));
  return { ...plan, columns: [...printed.map((c) => ({ ...c, hidden: false })), ...rest.map((c) => ({ ...c, hidden: true }))] };
}

/** A report as it is first made from a query: every column shown, numbers that add up totalled, no groups. */
export function firstReport(query: string, title: string, plan: Plan, paper: ReportSpec["page"]["paper"] = "A4"): ReportSpec {
  return {
    version: 1,
    query,
    title,
    showBrief: true,
    levels: [],
    columns: plan.columns
      .filter((c) => !c.hidden)
      .map((c, i) => ({ column: c.id, widthMm: null, footing: c.totalled ? ("total" as const) : i === 0 ? ("count" as const) : ("none" as const) })),
    page: { paper, landscape: false, margins: { top: 16, right: 16, bottom: 16, left: 16 } },
    header: "",
    footer: "",
    parameters: {},
  };
}
