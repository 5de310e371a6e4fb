import type { RowCells } from "../folio/panel";
import { withKeys } from "../query/home";
import type { RunContext } from "../query/operands";
import type { Plan, PlanColumn } from "../query/plan";
import type { QuerySpec } from "../query/spec";
import type { Schema } from "../schema/schema";
import { type Checked, type Problem, problem } from "../types/problem";
import { type Cell, isNumber, TYPE_WORDS, type ValueType } from "../types/valueType";
import type { PaperName } from "./choices";
import { type FiguresPlan, planFigures } from "./figuresPlan";
import { pageFrame } from "./frame";
import { neededOf, planRelated, type RelatedPlan } from "./relatedPlan";
import type { RowFigures } from "./rowFigures";
import {
  type FiguredRows,
  fieldId,
  formulaText,
  keyId,
  neededId,
  parameterNamed,
  planRows,
  restId,
  rowFormulas,
  textsOf,
  valueId,
  whenId,
  windowId,
} from "./rowsPlan";
import type { FootingLine, ReportColumn, ReportLevel, ReportSpec } from "./spec";
import { isFault, type OwnField, parseText } from "./texts";
import { withWindows } from "./windowsPlan";

/*
 * A report checked against its query:
 *
 *   report, query ─▶ rows (groups' keys, values, texts' fields; ranks of groups) ─▶ figures of each level
 *     ─▶ related tables ─▶ texts in pieces ─▶ only the columns that are read
 */

/** A level of groups: its key among the rows' columns. */
export type PlanLevel = {
  spec: ReportLevel;
  column: PlanColumn;
  /** Places of what tells one group from the next in the one around it. */
  places: number[];
  key: number;
  /** The place that says a row is in the group of the rest; null where all groups stand by themselves. */
  rest: number | null;
};

/** A column of the report: what it prints of a row. */
export type PlanReportColumn = { spec: ReportColumn; column: PlanColumn; at: number; when: number | null; marks: number[] };

export type PlanTextPart =
  | { kind: "words"; text: string }
  | { kind: "own"; name: OwnField }
  /** Words that a parameter's value is written by. */
  | { kind: "parameter"; text: string | null; type: ValueType; period: boolean }
  | { kind: "cell"; at: number }
  | { kind: "figure"; formula: string };

export type ReportPlan = {
  spec: ReportSpec;
  query: Plan;
  /** A row of it is a row of the report, in the order they are printed; what tells rows apart stands behind. */
  rows: Plan;
  levels: PlanLevel[];
  columns: PlanReportColumn[];
  /** Of all rows first, then of each level. */
  figures: FiguresPlan[];
  /** The figures of groups that rows hold, with their places among the rows. */
  rowFigures: (RowFigures & { places: number[] })[];
  texts: Record<string, PlanTextPart[]>;
  /** Places of conditions of passages, by formula. */
  whens: Record<string, number>;
  related: RelatedPlan[];
  /** Places of what related tables compare, by join, by column. */
  parents: Record<string, Record<string, number>>;
};

/** The least paper, in mm, that margins must leave. */
const LEAST_WIDTH_MM = 60;
const LEAST_HEIGHT_MM = 60;

/** What is wrong with a report by itself. */
function ownProblems(spec: ReportSpec): Problem[] {
  const problems: Problem[] = [];
  for (const [path, words] of textsOf(spec)) {
    const read = parseText(words);
    if (isFault(read)) problems.push(problem("textBrace", path, { at: read.at + 1 }));
  }
  spec.levels.forEach((level, i) => {
    const double = spec.levels.findIndex((l) => JSON.stringify(l.value) === JSON.stringify(level.value)) < i;
    if (double) problems.push(problem("groupDouble", ["levels", i], { column: level.value.kind === "field" ? level.value.column : level.value.text }));
  });
  if (spec.columns.length === 0 && spec.shape.kind !== "labels") problems.push(problem("noColumns", ["columns"]));
  for (const [i, insert] of (spec.inserts ?? []).entries())
    if (!spec.levels.some((l) => l.id === insert.under)) problems.push(problem("insertGroup", ["inserts", i], { kind: insert.kind }));
  for (const [i, { under }] of (spec.summaries ?? []).entries())
    if (!spec.levels.some((l) => l.id === under)) problems.push(problem("summaryGroup", ["summaries", i]));
  const { inner } = pageFrame(spec);
  const least = spec.shape.kind === "labels" ? { width: 15, height: 10 } : { width: LEAST_WIDTH_MM, height: LEAST_HEIGHT_MM };
  if (inner.width < least.width || inner.height < least.height)
    problems.push(problem("pageTooSmall", ["page"], { width: Math.round(inner.width), height: Math.round(inner.height) }));
  if (spec.shape.kind === "labels" && (spec.shape.widthMm > inner.width + 0.01 || spec.shape.heightMm > inner.height + 0.01))
    problems.push(problem("labelTooLarge", ["shape"], { width: Math.round(inner.width), height: Math.round(inner.height) }));
  return problems;
}

/**
 * Checks a report against its query.
 * @param query the saved query it is made from, or its own
 * @returns the plan; or all problems, with paths into the report
 */
export function planReport(spec: ReportSpec, query: QuerySpec, schema: Schema, context: RunContext): Checked<ReportPlan> {
  const problems = ownProblems(spec);
  const rows = planRows(spec, query, schema, context, neededOf(spec, query, schema));
  if (!rows.ok) return { ok: false, problems: [...problems, ...rows.problems] };
  const related = planRelated(spec, query, schema, context);
  if (!related.ok) problems.push(...related.problems);
  const figures = [0, ...spec.levels.map((_, i) => i + 1)].map((depth) => planFigures(spec, rows.value, depth, context));
  problems.push(...figures.flatMap((f) => (f.ok ? [] : f.problems)));
  if (problems.length > 0) return { ok: false, problems: unique(problems) };
  const plan = assemble(
    spec,
    rows.value,
    figures.flatMap((f) => (f.ok ? [f.value] : [])),
    related.ok ? related.value : [],
  );
  const wrong = summaryProblems(plan);
  return wrong.length > 0 ? { ok: false, problems: wrong } : { ok: true, value: plan };
}

/** Where a formula by itself is read for the groups of a depth: among their figures, or in their first row; null where it is neither. */
export function placeOfFormula(
  { texts, figures, rows }: ReportPlan,
  depth: number,
  formula: string,
): { of: "figures" | "row"; at: number; column: PlanColumn } | null {
  const [part] = texts[formulaText(formula)] ?? [];
  if (part?.kind !== "figure" && part?.kind !== "cell") return null;
  const own = part.kind === "figure" ? figures[depth]?.plan : rows;
  const at = part.kind === "figure" ? (figures[depth]?.fields[part.formula] ?? -1) : part.at;
  const column = own?.columns[at];
  return column ? { of: part.kind === "figure" ? "figures" : "row", at, column } : null;
}

/** Lines of summaries that are no numbers, or whose totals are gone. */
function summaryProblems(plan: ReportPlan): Problem[] {
  return (plan.spec.summaries ?? []).flatMap(({ under, lines }, i) => {
    const depth = plan.levels.findIndex((l) => l.spec.id === under) + 1;
    return lines.flatMap(({ of }, k): Problem[] => {
      const path = ["summaries", i, "lines", k];
      // A formula that is not written yet has no figure, and is no problem.
      if (of.kind === "sum" || (of.kind === "formula" && !of.text.trim())) return [];
      if (of.kind === "related") {
        const table = plan.related.find((r) => r.spec.id === of.table && r.spec.under === under);
        const found = table?.all.columns.some((c) => c.id === of.column && c.totalled && !c.hidden);
        return found ? [] : [problem("summaryGone", path, { column: of.column })];
      }
      const type = placeOfFormula(plan, depth, of.text)?.column.type;
      return type && isNumber(type) ? [] : [problem("summaryNumber", path, { type: type ? TYPE_WORDS[type.kind] : "parameter" })];
    });
  });
}

const unique = (problems: Problem[]): Problem[] => [...new Map(problems.map((p) => [JSON.stringify(p), p])).values()];

function assemble(spec: ReportSpec, made: FiguredRows, figures: FiguresPlan[], related: RelatedPlan[]): ReportPlan {
  const windowed = withWindows(spec, made);
  const { fields, whens } = rowFormulas(spec, made.query);
  const parents = Object.fromEntries(related.map((r) => [r.spec.of, [...new Set(related.filter((o) => o.spec.of === r.spec.of).flatMap((o) => o.needed))]]));
  const used = new Set([
    ...made.levels.flatMap((l) => [l.key, ...(l.rest ? [l.rest] : [])]),
    ...made.plan.order.map((o) => o.column),
    ...spec.columns.map((c) => valueId(c.id)),
    ...spec.columns.flatMap((c) => (c.window ? [windowId(c.id)] : [])),
    ...[...fields.keys()].map(fieldId),
    ...[...whens.keys()].map(whenId),
    ...Object.entries(parents).flatMap(([join, columns]) => columns.map((column) => neededId(join, column))),
    ...figures.flatMap((f) => f.plan.columns.flatMap(columnsRead)),
    ...made.figures.flatMap((f) => [...f.columns.map((c) => c.id), ...f.plan.columns.flatMap(columnsRead)]),
  ]);
  const rows = withKeys({ ...windowed, columns: windowed.columns.filter((c) => used.has(c.id)).map((c) => ({ ...c, hidden: false })) });
  const at = (id: string) => rows.columns.findIndex((c) => c.id === id);
  const levels = made.levels.map((l): PlanLevel => {
    const [key, rest] = [at(keyId(l.level.id)), l.rest ? at(restId(l.level.id)) : null];
    return { spec: l.level, column: rows.columns[key] as PlanColumn, key, rest, places: rest === null ? [key] : [rest, key] };
  });
  const columns = spec.columns.map((c): PlanReportColumn => {
    const place = at(c.window ? windowId(c.id) : valueId(c.id));
    const when = c.when?.trim() ? at(whenId(c.when)) : null;
    return { spec: c, column: rows.columns[place] as PlanColumn, at: place, when, marks: (c.marks ?? []).map((m) => at(whenId(m.when))) };
  });
  const fieldPart = ({ text, figure }: { text: string; figure: boolean }): PlanTextPart => {
    const parameter = parameterNamed(made.query, text);
    if (parameter && !figure) return { kind: "parameter", text: parameter.text, type: parameter.type, period: parameter.period === true };
    return figure ? { kind: "figure", formula: text } : { kind: "cell", at: at(fieldId(text)) };
  };
  const parts = ([, words]: [unknown, string]): [string, PlanTextPart[]] => {
    const read = parseText(words);
    const pieces = isFault(read) ? [] : read;
    return [words, pieces.map((p): PlanTextPart => (p.kind === "formula" ? fieldPart(p) : p))];
  };
  return {
    spec,
    query: made.query,
    rows,
    levels,
    columns,
    figures,
    rowFigures: made.figures.map((f) => ({ ...f, places: f.columns.map((c) => at(c.id)) })),
    texts: Object.fromEntries(textsOf(spec).map(parts)),
    whens: Object.fromEntries([...whens.keys()].map((w) => [w, at(whenId(w))])),
    related,
    parents: Object.fromEntries(
      Object.entries(parents).map(([join, names]) => [join, Object.fromEntries(names.map((column) => [column, at(neededId(join, column))]))]),
    ),
  };
}

/** The columns of the rows that a figure reads. */
function columnsRead(column: PlanColumn): string[] {
  const names: string[] = [];
  const walk = (part: unknown): void => {
    if (typeof part !== "object" || part === null) return;
    if ("node" in part && part.node === "field" && "column" in part) names.push(String(part.column));
    for (const inner of Object.values(part)) walk(inner);
  };
  walk([column.expr, column.by]);
  return names;
}

/** The cells of the row of a table that related rows belong to, of a row of the report. */
export function parentOf({ parents }: Pick<ReportPlan, "parents">, join: string, row: Cell[]): RowCells {
  return Object.fromEntries(Object.entries(parents[join] ?? {}).map(([name, at]) => [name, row[at] ?? null]));
}

/** A report's rows as a file of rows has them: its groups' values, then its columns, in the order they are printed. */
export function reportRows({ rows, levels, columns }: ReportPlan): Plan {
  const printed = [...levels.map((l) => l.key), ...columns.map((c) => c.at)].filter((at, i, all) => all.indexOf(at) === i);
  const shown = printed.flatMap((at) => rows.columns[at] ?? []);
  const double = (c: PlanColumn) =>
    shown.some((o) => o !== c && JSON.stringify(o.expr) === JSON.stringify(c.expr) && c.expr !== null && shown.indexOf(o) < shown.indexOf(c));
  const kept = shown.filter((c) => !double(c));
  const rest = rows.columns.filter((c) => !kept.includes(c));
  return { ...rows, columns: [...kept.map((c) => ({ ...c, hidden: false })), ...rest.map((c) => ({ ...c, hidden: true }))] };
}

export const newLevel = (id: string, value: ReportLevel["value"] = { kind: "field", column: id }): ReportLevel => ({
  id,
  value,
  heading: "{}",
  order: { by: "value" },
  direction: "up",
  newPage: false,
  keepRows: 2,
  repeat: true,
});

const parts = (left = "", center = "", right = "") => ({ left, center, right });

/** A report as it is first made from a query: every column shown, numbers that add up totalled, no groups. */
export function firstReport(query: string, title: string, plan: Plan, paper: PaperName = "A4"): ReportSpec {
  const shown = plan.columns.filter((c) => !c.hidden);
  const line: FootingLine = {
    id: "footing",
    text: "",
    cells: Object.fromEntries(shown.filter((c) => c.totalled).map((c) => [c.id, { kind: "figure" as const, figure: "total" as const }])),
  };
  return {
    version: 2,
    query,
    title,
    showBrief: true,
    levels: [],
    columns: shown.map((c) => ({ id: c.id, value: { kind: "field", column: c.id }, widthMm: null })),
    lines: [line],
    shape: { kind: "table" },
    page: { paper, landscape: false, margins: { top: 16, right: 16, bottom: 16, left: 16 } },
    header: parts(),
    footer: parts("{printed}", "", "page {page} of {pages}"),
    parameters: {},
  };
}
