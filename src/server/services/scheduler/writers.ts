import { CHART_FORMATS } from "@/core/chart/choices";
import { chartSpecSchema } from "@/core/chart/spec";
import { DASHBOARD_FORMATS } from "@/core/dashboard/choices";
import { dashboardSpecSchema } from "@/core/dashboard/spec";
import { LETTER_FORMATS } from "@/core/letter/choices";
import { letterSpecSchema } from "@/core/letter/spec";
import { PIVOT_FORMATS } from "@/core/pivot/choices";
import { pivotSpecSchema } from "@/core/pivot/spec";
import { type QuerySpec, querySpecSchema } from "@/core/query/spec";
import { firstReport, reportRows } from "@/core/report/plan";
import { type ReportSpec, reportSpecSchema } from "@/core/report/spec";
import { type Format, ROW_FORMATS } from "@/core/schedule/choices";
import type { Narrowed, NarrowedBy } from "@/core/schedule/each";
import type { ScheduleSpec } from "@/core/schedule/spec";
import type { Today } from "@/core/types/calendar";
import { ProblemError, problem } from "@/core/types/problem";
import type { JobResult } from "@/server/engine/protocol";
import type { ReportJob } from "@/server/jobs/work";
import { writeChart } from "@/server/services/charts/service";
import { writeDashboard } from "@/server/services/dashboards/write";
import { writeLetters } from "@/server/services/letters/service";
import { writePivot } from "@/server/services/pivots/service";
import { savedQuery } from "@/server/services/queries/saved";
import { planOf } from "@/server/services/queries/service";
import { checkFootings, queryOf, reportJob, writeReport } from "@/server/services/reports/service";
import type { Workspace } from "@/server/services/workspace/workspace";

/* How the subjects of schedules are made into files. */

/** Who asks the engine for a schedule's files. */
export const CALLER = { client: "schedules", timeLimitMs: 3_600_000 };

/** Keeps a subject to one of those it is made for. */
export type Narrowing = <Q extends QuerySpec | null>(query: Q) => Narrowed<Q>;

export type Write = (format: Format, path: string) => Promise<JobResult["export"] | JobResult["dashboardFile"]>;

/** What a subject can be narrowed by. @throws ProblemError where it is gone */
export function narrowedBy(ws: Workspace, { subject }: Pick<ScheduleSpec, "subject">): NarrowedBy {
  const saved = ws.objects.get(subject.id);
  if (subject.kind === "dashboard" && saved?.kind === subject.kind) return { query: null, filters: dashboardSpecSchema.parse(saved.spec).filters };
  return { query: queryOfSubject(ws, { subject }), filters: [] };
}

/** The query of a subject that is made from one. @throws ProblemError where it is gone, or is of another kind */
export function queryOfSubject(ws: Workspace, { subject }: Pick<ScheduleSpec, "subject">): QuerySpec {
  const saved = ws.objects.get(subject.id);
  if (saved?.kind === "query") return querySpecSchema.parse(saved.spec);
  if (saved?.kind === "report") return queryOf(ws, reportSpecSchema.parse(saved.spec));
  if (saved?.kind === "letter") return savedQuery(ws, letterSpecSchema.parse(saved.spec).query).spec;
  if (saved?.kind === "pivot") return savedQuery(ws, pivotSpecSchema.parse(saved.spec).query).spec;
  if (saved?.kind === "chart") return savedQuery(ws, chartSpecSchema.parse(saved.spec).query).spec;
  throw new ProblemError([problem("subjectGone", ["subject"], { kind: subject.kind })]);
}

/**
 * How the subject of a schedule is made into a file.
 * @param narrow keeps it to one of those it is made for
 * @throws ProblemError where the subject is gone
 */
export async function writerOf(
  ws: Workspace,
  name: string,
  spec: ScheduleSpec,
  given: Record<string, string>,
  today: Today,
  narrow: Narrowing = (query) => ({ query, values: {}, filters: {} }),
): Promise<Write> {
  const { values: own, filters } = narrow(null);
  const values = { ...given, ...own };
  const saved = ws.objects.get(spec.subject.id);
  if (!saved || saved.kind !== spec.subject.kind) throw new ProblemError([problem("subjectGone", ["subject"], { kind: spec.subject.kind })]);
  const kept = (query: QuerySpec) => narrow(query).query;
  switch (spec.subject.kind) {
    case "pivot": {
      const pivot = { spec: pivotSpecSchema.parse(saved.spec), values };
      return (format, path) => writePivot(ws, pivot, { format: formatIn(PIVOT_FORMATS, format), path, title: name }, CALLER, today, kept);
    }
    case "chart": {
      const chart = { spec: chartSpecSchema.parse(saved.spec), values };
      return (format, path) => writeChart(ws, chart, { format: formatIn(CHART_FORMATS, format), path, title: name }, CALLER, today, kept);
    }
    case "dashboard": {
      const dashboard = { spec: dashboardSpecSchema.parse(saved.spec), values: filters };
      return (format, path) => writeDashboard(ws, dashboard, { format: formatIn(DASHBOARD_FORMATS, format), path, title: name }, CALLER, today);
    }
    case "letter": {
      const letter = letterSpecSchema.parse(saved.spec);
      const { query } = narrow(savedQuery(ws, letter.query).spec);
      return (format, path) =>
        writeLetters(ws, { spec: letter, values }, { format: formatIn(LETTER_FORMATS, format), path, title: name }, CALLER, today, query);
    }
    case "report":
      return reportWriter(ws, await reportJob(ws, narrowed(ws, reportSpecSchema.parse(saved.spec), narrow), values, today), "report");
    case "query": {
      const { query } = narrow(querySpecSchema.parse(saved.spec));
      const plain = firstReport(saved.id, saved.name, await planOf(ws, query, values, today));
      const report = { ...plain, own: query, page: { ...plain.page, landscape: plain.columns.length > 6 } };
      return reportWriter(ws, await reportJob(ws, report, values, today), "query");
    }
    case "posting":
      throw new TypeError("A posting is made before its outcomes are written");
    default:
      return spec.subject.kind satisfies never;
  }
}

/** A report kept to one of those it is made for. */
function narrowed(ws: Workspace, report: ReportSpec, narrow: Narrowing): ReportSpec {
  const own = queryOf(ws, report);
  const { query } = narrow(own);
  return query === own ? report : { ...report, own: query };
}

/** The format, where it is one of those that can be made: the description's shape has seen to that. */
function formatIn<F extends Format>(formats: readonly F[], format: Format): F {
  const found = formats.find((f) => f === format);
  if (!found) throw new TypeError(`${format} is not available here`);
  return found;
}

/** The files of a report that are laid out, with their proof; of a query laid out as a plain list, its pages alone. */
const LAID_OUT = { report: ["pdf", "html", "xlsx"], query: ["pdf"] } as const;

/** Writes a report, or a query laid out as a plain list: as it is laid out, proved, or its rows. */
const reportWriter =
  (ws: Workspace, job: ReportJob, of: keyof typeof LAID_OUT): Write =>
  async (wanted, path) => {
    const format = LAID_OUT[of].find((f) => f === wanted);
    if (!format)
      return ws.engine.run<"export">(
        { kind: "export", format: formatIn(ROW_FORMATS, wanted), database: ws.database, plan: reportRows(job.report), path },
        CALLER,
      );
    const printed = await writeReport(ws, job, { format, path }, CALLER);
    const proof = printed.proof && (await checkFootings(ws, job, printed.proof, CALLER));
    if (!proof?.agrees) throw new Error("The printed totals and the query differ. The data changed while printing. Run it again.");
    return printed;
  };
