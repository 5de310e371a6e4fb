import { z } from "zod";
import { briefText } from "@/core/brief/brief";
import { pivotBrief } from "@/core/brief/pivotBrief";
import { chartSpecSchema } from "@/core/chart/spec";
import { pivotSpecSchema } from "@/core/pivot/spec";
import { overlaps } from "@/core/query/home";
import { namePlans } from "@/core/query/namePlan";
import { probeValues } from "@/core/query/parameters";
import type { Plan } from "@/core/query/plan";
import type { ParameterValues } from "@/core/query/spec";
import { firstReport, planReport } from "@/core/report/plan";
import { repointReport } from "@/core/report/repoint";
import { type ReportSpec, reportSpecSchema } from "@/core/report/spec";
import type { Today } from "@/core/types/calendar";
import { ProblemError, problem } from "@/core/types/problem";
import type { Cell } from "@/core/types/valueType";
import { chartJob, chosenColours } from "@/server/charts/service";
import type { ClosingJob, FileResult, ReportJob } from "@/server/engine/work";
import { described, specOf } from "@/server/people/described";
import { pivotJob, pivotPlanOf } from "@/server/pivots/service";
import { printedBrief } from "@/server/queries/printedBrief";
import { savedQuery } from "@/server/queries/saved";
import { footingOfPlan, planOf } from "@/server/queries/service";
import type { Workspace } from "@/server/workspace/workspace";

export const reportQuestionSchema = z.object(described(reportSpecSchema));

/** The report that is asked about. */
export const reportOf = (ws: Workspace, asked: z.infer<typeof reportQuestionSchema>): ReportSpec => specOf(ws, asked, "report", reportSpecSchema);

type Caller = { client: string; signal?: AbortSignal | undefined; timeLimitMs?: number };

/** A report made ready for the engine: its query resolved with the report's parameters (or those of a run). */
export async function reportJob(ws: Workspace, spec: ReportSpec, values: ParameterValues = {}, today = ws.today): Promise<ReportJob> {
  const query = savedQuery(ws, spec.query).spec;
  const plan = await planOf(ws, query, { ...spec.parameters, ...values }, today);
  const checked = planReport(spec, plan);
  if (!checked.ok) throw new ProblemError(checked.problems);
  return {
    plan,
    names: namePlans(plan, await ws.schema(), { today, values: {}, person: ws.knownAs }),
    spec,
    brief: await printedBrief(ws, query, plan),
    locale: ws.locale,
    printedAt: ws.printedAt(),
    closing: await closingJobs(ws, spec, values, today),
  };
}

/** A report laid over another query. Where that has none of its columns, it begins anew with all that the query shows. */
export async function repointed(ws: Workspace, spec: ReportSpec, query: string): Promise<{ spec: ReportSpec; dropped: string[] }> {
  const planned = (id: string): Promise<Plan> => {
    const saved = savedQuery(ws, id).spec;
    return planOf(ws, saved, probeValues(saved.parameters));
  };
  const after = await planned(query);
  const before = ws.objects.get(spec.query) ? await planned(spec.query).catch(() => null) : null;
  const made = repointReport(spec, query, before, after);
  return made.spec.columns.length > 0 ? made : { ...made, spec: { ...made.spec, columns: firstReport(query, spec.title, after).columns } };
}

/** The pivots and charts after a report's rows, made ready; a run's values go to their parameters too. */
function closingJobs(ws: Workspace, spec: ReportSpec, values: ParameterValues, today: Today): Promise<ClosingJob[]> {
  return Promise.all(
    (spec.closing ?? []).map(async ({ kind, id }): Promise<ClosingJob> => {
      const saved = ws.objects.get(id);
      const pivot = kind === "pivot" && saved?.kind === kind ? pivotSpecSchema.safeParse(saved.spec).data : undefined;
      if (saved && pivot) {
        const { plan } = await pivotPlanOf(ws, pivot, values, today);
        return { kind: "pivot", title: saved.name, brief: briefText(pivotBrief(plan, pivot, ws.locale)).trim(), pivot: pivotJob(ws, plan), spec: pivot };
      }
      const chart = kind === "chart" && saved?.kind === kind ? chartSpecSchema.safeParse(saved.spec).data : undefined;
      if (!saved || !chart) throw new ProblemError([problem("closingGone", ["closing"], { kind })]);
      const job = await chartJob(ws, { spec: chart, values }, { client: "report" }, today);
      return { kind: "chart", title: saved.name, brief: "", chart: job, chosen: chosenColours(ws) };
    }),
  );
}

/**
 * A line of a report's proof: a column's grand footing against the query's own. `overlaps` names the rows that are counted
 * once in the whole but in each group they stand in, so that the groups come to more.
 */
export type FootingCheck = { column: string; printed: Cell; groups: Cell; query: Cell; overlaps: string | null; agrees: boolean };

/** Holds a report's grand footing against the sum of its groups and the footing of its query. */
export async function checkFootings(
  ws: Workspace,
  job: ReportJob,
  printed: { totals: Record<string, Cell>; groupTotals?: Record<string, Cell>; rows: number },
  caller: Caller,
): Promise<{ rows: { printed: number; query: number }; columns: FootingCheck[]; agrees: boolean }> {
  const totalled = new Set(job.spec.columns.filter((c) => c.footing === "total").map((c) => c.column));
  const plan: Plan = { ...job.plan, columns: job.plan.columns.map((c) => ({ ...c, totalled: totalled.has(c.id) })) };
  const footing = await footingOfPlan(ws, plan, caller);
  const levels = job.spec.levels.flatMap((level) => plan.columns.find((c) => c.id === level.column) ?? []);
  const groups = plan.grouped ? plan.columns.filter((c) => !c.figure) : levels;
  const columns = [...totalled].map((column): FootingCheck => {
    const own = plan.columns.find((c) => c.id === column);
    const type = own?.type;
    const [p = null, g = null, q = null] = [printed.totals[column], (printed.groupTotals ?? printed.totals)[column], footing.totals[column]];
    const apart = own !== undefined && overlaps(own, groups);
    // The lines of a grouped query are its groups: printed is what those come to.
    const lines = apart && plan.grouped ? (footing.repeats.find((r) => r.column === column)?.groups ?? null) : q;
    const same = (a: Cell, b: Cell) =>
      String(a) === String(b) || (type?.kind === "floating" && Math.abs(Number(a) - Number(b)) <= 1e-9 * Math.max(1, Math.abs(Number(a))));
    return { column, printed: p, groups: g, query: q, overlaps: apart ? (own.home?.words ?? "rows") : null, agrees: (apart || same(p, g)) && same(p, lines) };
  });
  const agrees = columns.every((c) => c.agrees) && footing.rows === printed.rows;
  return { rows: { printed: printed.rows, query: footing.rows }, columns, agrees };
}

/** Most pages that are laid out for one question. */
const MOST_PAGES = 20;

/** Pages of a report, with its outline and its proof. */
export async function pagesOf(ws: Workspace, { from, to, ...asked }: z.infer<typeof reportQuestionSchema> & { from: number; to: number }, caller: Caller) {
  const report = await reportJob(ws, reportOf(ws, asked));
  const pages = { from, to: Math.min(to, from + MOST_PAGES) };
  const laid = await ws.engine.run<"reportPages">({ kind: "reportPages", database: ws.database, report, ...pages }, caller);
  const proof = await checkFootings(ws, report, laid.outline, caller);
  const columns = report.plan.columns.map(({ id, heading, type, format }) => ({ id, heading, type, format }));
  return { ...laid, proof, columns, parameters: report.plan.parameters };
}

/** The first page of a report, before all its pages are counted. */
export async function glanceOf(ws: Workspace, asked: z.infer<typeof reportQuestionSchema>, caller: Caller) {
  const report = await reportJob(ws, reportOf(ws, asked));
  return { pages: await ws.engine.run<"reportGlance">({ kind: "reportGlance", database: ws.database, report }, caller) };
}

/** Writes a report as PDF. */
export async function writeReportPdf(ws: Workspace, job: ReportJob, path: string, caller: Caller): Promise<FileResult & { pages: number }> {
  return ws.engine.run<"reportPdf">({ kind: "reportPdf", database: ws.database, report: job, path }, { timeLimitMs: 1_800_000, ...caller });
}
