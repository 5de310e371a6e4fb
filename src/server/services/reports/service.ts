import { z } from "zod";
import { briefText } from "@/core/brief/brief";
import { pivotBrief } from "@/core/brief/pivotBrief";
import { chartSpecSchema } from "@/core/chart/spec";
import { pivotSpecSchema } from "@/core/pivot/spec";
import { checkControls } from "@/core/query/controls";
import { overlaps } from "@/core/query/home";
import { namePlans } from "@/core/query/namePlan";
import { probeValues } from "@/core/query/parameters";
import type { Plan, PlanColumn } from "@/core/query/plan";
import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import { controlsInWords, parametersInWords } from "@/core/report/around";
import type { ReportProof } from "@/core/report/checks";
import type { ReportFormat } from "@/core/report/choices";
import { type Gone, goneFrom, withoutColumns } from "@/core/report/gone";
import { firstReport, planReport, reportRows } from "@/core/report/plan";
import { repointReport } from "@/core/report/repoint";
import { type ReportSpec, reportSpecSchema } from "@/core/report/spec";
import { isSameAmount } from "@/core/types/amount";
import type { Today } from "@/core/types/calendar";
import { ProblemError, problem } from "@/core/types/problem";
import type { Cell } from "@/core/types/valueType";
import type { ClosingJob, FileResult, InsertJob, ReportJob } from "@/server/jobs/work";
import { bandOf, chartJob, chosenColours } from "@/server/services/charts/service";
import { described, specOf } from "@/server/services/people/described";
import { pivotJob, pivotPlanOf } from "@/server/services/pivots/service";
import { printedBrief } from "@/server/services/queries/printedBrief";
import { savedQuery } from "@/server/services/queries/saved";
import { asItIs, footingOfPlan, type Narrow, planOf } from "@/server/services/queries/service";
import type { Workspace } from "@/server/services/workspace/workspace";

export const reportQuestionSchema = z.object(described(reportSpecSchema));

/** The report that is asked about. */
export const reportOf = (ws: Workspace, asked: z.infer<typeof reportQuestionSchema>): ReportSpec => specOf(ws, asked, "report", reportSpecSchema);

type Caller = { client: string; signal?: AbortSignal | undefined; timeLimitMs?: number };

/** The query a report is made from: its own, or a saved one. @throws ProblemError queryGone */
export const queryOf = (ws: Workspace, spec: Pick<ReportSpec, "query" | "own">): QuerySpec => spec.own ?? savedQuery(ws, spec.query).spec;

/** A report made ready for the engine: its query resolved with the report's parameters (or those of a run). */
export async function reportJob(ws: Workspace, spec: ReportSpec, values: ParameterValues = {}, today = ws.today): Promise<ReportJob> {
  const query = queryOf(ws, spec);
  const context = { today, values: { ...spec.parameters, ...values }, person: ws.knownAs };
  const schema = await ws.schema();
  const checked = planReport(spec, query, schema, context);
  if (!checked.ok) throw new ProblemError(checked.problems);
  const report = checked.value;
  return {
    report,
    names: namePlans(report.rows, schema, { today, values: {}, person: ws.knownAs }),
    over: report.related.length > 0 || spec.inserts?.length ? { query, schema, context } : null,
    inserts: await insertJobs(ws, spec, context.values),
    texts: {
      brief: await printedBrief(ws, query, report.query),
      parameters: spec.showParameters ? parametersInWords(report.query, ws.locale) : [],
      controls: spec.showControls ? await controlsOf(ws, query, report.query) : [],
      printedAt: ws.printedAt(),
    },
    now: ws.now().toISOString(),
    locale: ws.locale,
    closing: await closingJobs(ws, spec, values, today),
  };
}

/** The control totals of a report's query, in words. */
async function controlsOf(ws: Workspace, query: QuerySpec, plan: Plan): Promise<string[]> {
  if (!query.controls?.length) return [];
  return controlsInWords(checkControls(query, plan, await footingOfPlan(ws, plan, { client: "report" })), ws.locale);
}

/** A report laid over another query. Where that has none of its columns, it begins anew with all that the query shows. */
export async function repointed(ws: Workspace, spec: ReportSpec, source: Pick<ReportSpec, "query" | "own">): Promise<ReportSpec> {
  const planned = async (of: Pick<ReportSpec, "query" | "own">): Promise<Plan> => {
    const query = queryOf(ws, of);
    return planOf(ws, query, probeValues(query.parameters));
  };
  const after = await planned(source);
  const before = await planned(spec).catch(() => null);
  const made = repointReport(spec, source, before, after);
  const kept = made.columns.some((c) => c.value.kind === "formula" || after.columns.some((p) => c.value.kind === "field" && p.id === c.value.column));
  if (kept) return made;
  const { columns, lines } = firstReport(source.query, spec.title, after);
  return { ...made, columns, lines, levels: [] };
}

/** The charts and cross-tables of a report's groups, made ready; those that cannot be kept to groups are problems in their places. */
async function insertJobs(ws: Workspace, spec: ReportSpec, values: ParameterValues): Promise<Record<string, InsertJob>> {
  const jobs: Record<string, InsertJob> = {};
  for (const [i, { id, kind, of }] of (spec.inserts ?? []).entries()) {
    const fail = (code: "insertGone" | "insertQuery" | "insertEarlier", name = ""): never => {
      throw new ProblemError([problem(code, ["inserts", i], { kind, name })]);
    };
    const saved = ws.objects.get(of);
    const pivot = saved?.kind === "pivot" && kind === "pivot" ? pivotSpecSchema.safeParse(saved.spec).data : undefined;
    const chart = saved?.kind === "chart" && kind === "chart" ? chartSpecSchema.safeParse(saved.spec).data : undefined;
    if (!saved || !(pivot ?? chart)) return fail("insertGone");
    if ((pivot ?? chart)?.query !== spec.query) return fail("insertQuery", saved.name);
    if (chart?.earlier) return fail("insertEarlier", saved.name);
    // What is wrong with it by itself is told at its place in the report.
    const whole = pivot ? pivotPlanOf(ws, pivot, values) : chart && chartJob(ws, { spec: chart, values }, { client: "report" });
    await whole?.catch((error: unknown) => {
      throw error instanceof ProblemError ? new ProblemError(error.problems.map((p) => ({ ...p, path: ["inserts", i] }))) : error;
    });
    if (pivot) jobs[id] = { kind: "pivot", title: saved.name, spec: pivot };
    else if (chart) jobs[id] = { kind: "chart", title: saved.name, spec: chart, band: await bandOf(ws, chart, values), chosen: chosenColours(ws) };
  }
  return jobs;
}

/** The pivots and charts after a report's rows, made ready; a run's values go to their parameters too. */
const closingJobs = (ws: Workspace, spec: ReportSpec, values: ParameterValues, today: Today): Promise<ClosingJob[]> =>
  Promise.all((spec.closing ?? []).map((closing) => drawnJob(ws, closing, values, today)));

/** A pivot or a chart made ready for pages of its own. @throws ProblemError closingGone */
export async function drawnJob(
  ws: Workspace,
  { kind, id }: { kind: "pivot" | "chart"; id: string },
  values: ParameterValues,
  today: Today,
  narrow: Narrow = asItIs,
): Promise<ClosingJob> {
  const saved = ws.objects.get(id);
  const pivot = kind === "pivot" && saved?.kind === kind ? pivotSpecSchema.safeParse(saved.spec).data : undefined;
  if (saved && pivot) {
    const { plan } = await pivotPlanOf(ws, pivot, values, today, narrow);
    return { kind: "pivot", title: saved.name, brief: briefText(pivotBrief(plan, pivot, ws.locale)).trim(), pivot: pivotJob(ws, plan), spec: pivot };
  }
  const chart = kind === "chart" && saved?.kind === kind ? chartSpecSchema.safeParse(saved.spec).data : undefined;
  if (!saved || !chart) throw new ProblemError([problem("closingGone", ["closing"], { kind })]);
  const job = await chartJob(ws, { spec: chart, values }, { client: "report" }, today, narrow);
  return { kind: "chart", title: saved.name, brief: "", chart: job, chosen: chosenColours(ws) };
}

/**
 * A line of a report's proof: a column's grand footing against the query's own. `overlaps` names the rows that are counted
 * once in the whole but in each group they stand in, so that the groups come to more.
 */
export type FootingCheck = { column: string; printed: Cell; groups: Cell; query: Cell; overlaps: string | null; agrees: boolean };

/** What a related table prints, and how many rows there are of it whatever they belong to. */
export type RelatedCheck = { id: string; title: string; printed: number; tables: number; all: number; cut: boolean };

export type ReportCheck = {
  rows: { printed: number; query: number };
  columns: FootingCheck[];
  related: RelatedCheck[];
  /** What was gathered while the pages were laid out. */
  pages: ReportProof;
  agrees: boolean;
};

/** Holds a report's grand footing against the sum of its groups and the footing of its query, with what its pages were held against. */
export async function checkFootings(ws: Workspace, { report }: ReportJob, pages: ReportProof, caller: Caller): Promise<ReportCheck> {
  const { query, spec } = report;
  const fields = new Map(spec.columns.flatMap((c) => (c.value.kind === "field" && pages.totals[c.id] ? [[c.id, c.value.column] as const] : [])));
  const totalled = new Set(fields.values());
  const plan: Plan = { ...query, columns: query.columns.map((c) => ({ ...c, totalled: totalled.has(c.id) })) };
  const footing = await footingOfPlan(ws, plan, caller);
  const columns = [...fields].map(([id, column]): FootingCheck => {
    const own = plan.columns.find((c) => c.id === column);
    const type = own?.type ?? report.columns.find((c) => c.spec.id === id)?.column.type;
    const { printed, groups, overlaps: apart } = pages.totals[id] ?? { printed: null, groups: null, overlaps: null };
    const q = footing.totals[column] ?? null;
    // The lines of a grouped query are its groups: printed is what those come to.
    const repeated =
      own !== undefined &&
      plan.grouped &&
      overlaps(
        own,
        plan.columns.filter((c) => !c.figure),
      );
    const lines = repeated ? (footing.repeats.find((r) => r.column === column)?.groups ?? null) : q;
    const same = (a: Cell, b: Cell) => type !== undefined && isSameAmount(a, b, type);
    const inGroups = apart !== null || same(printed ?? 0, groups ?? 0);
    return {
      column: id,
      printed,
      groups,
      query: q,
      overlaps: apart ?? (repeated ? (own?.home?.words ?? "rows") : null),
      agrees: inGroups && same(printed, lines),
    };
  });
  const related = await Promise.all(
    report.related.map(async ({ spec: table, all }): Promise<RelatedCheck> => {
      const sum = pages.related.find((r) => r.id === table.id);
      const whole = await footingOfPlan(ws, { ...all, columns: all.columns.map((c) => ({ ...c, totalled: false })) }, caller);
      return { id: table.id, title: table.title, printed: sum?.rows ?? 0, tables: sum?.tables ?? 0, all: whole.rows, cut: sum?.cut ?? false };
    }),
  );
  const agrees = pages.agrees && columns.every((c) => c.agrees) && footing.rows === pages.rows;
  return { rows: { printed: pages.rows, query: footing.rows }, columns, related, pages, agrees };
}

/** Most pages that are laid out for one question. */
const MOST_PAGES = 20;

/** A report that can be laid out, though its query lacks some of what it names; that is told beside. */
async function laidWithout(ws: Workspace, spec: ReportSpec): Promise<{ job: ReportJob; gone: Gone[] }> {
  const query = queryOf(ws, spec);
  const gone = goneFrom(spec, await planOf(ws, query, { ...probeValues(query.parameters), ...spec.parameters }));
  return {
    job: await reportJob(
      ws,
      gone.length === 0
        ? spec
        : withoutColumns(
            spec,
            gone.map((g) => g.column),
          ),
    ),
    gone,
  };
}

/** Pages of a report, with its outline and its proof. */
export async function pagesOf(ws: Workspace, { from, to, ...asked }: z.infer<typeof reportQuestionSchema> & { from: number; to: number }, caller: Caller) {
  const { job, gone } = await laidWithout(ws, reportOf(ws, asked));
  const pages = { from, to: Math.min(to, from + MOST_PAGES) };
  const laid = await ws.engine.run<"reportPages">({ kind: "reportPages", database: ws.database, report: job, ...pages }, caller);
  const proof = await checkFootings(ws, job, laid.outline.proof, caller);
  const { query, columns: printed } = job.report;
  const told = ({ id, heading, type, format, unit }: PlanColumn) => ({ id, heading, type, format, unit });
  const columns = query.columns.filter((c) => !c.orders && !c.id.startsWith("source ")).map(told);
  return {
    ...laid,
    proof,
    gone,
    columns,
    /** The report's own columns, as they are printed, by its ids. */
    printed: printed.map((c) => ({ ...told(c.column), id: c.spec.id })),
    parameters: query.parameters,
  };
}

/** The first page of a report, before all its pages are counted. */
export async function glanceOf(ws: Workspace, asked: z.infer<typeof reportQuestionSchema>, caller: Caller) {
  const { job } = await laidWithout(ws, reportOf(ws, asked));
  return { pages: await ws.engine.run<"reportGlance">({ kind: "reportGlance", database: ws.database, report: job }, caller) };
}

/** The pages of a report on which a text stands. */
export async function findPages(ws: Workspace, { text, ...asked }: z.infer<typeof reportQuestionSchema> & { text: string }, caller: Caller) {
  const { job } = await laidWithout(ws, reportOf(ws, asked));
  return { pages: await ws.engine.run<"reportFind">({ kind: "reportFind", database: ws.database, report: job, text }, caller) };
}

type Written = FileResult & { pages: number | null; proof: ReportProof | null };

/** Writes a report as a file; its rows alone have no proof of footings. */
export async function writeReport(ws: Workspace, job: ReportJob, { format, path }: { format: ReportFormat; path: string }, caller: Caller): Promise<Written> {
  const within = { timeLimitMs: 1_800_000, ...caller };
  if (format !== "csv") return ws.engine.run<"reportFile">({ kind: "reportFile", database: ws.database, report: job, file: { format, path } }, within);
  const rows = await ws.engine.run<"export">({ kind: "export", format, database: ws.database, plan: reportRows(job.report), path, guarded: true }, within);
  return { ...rows, pages: null, proof: null };
}
