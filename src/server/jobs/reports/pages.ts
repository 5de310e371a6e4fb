import type { RowCells } from "@/core/folio/panel";
import { linesOf } from "@/core/pivot/lines";
import { layOutPivot } from "@/core/pivot/pages";
import { keyPlaces, withKeys } from "@/core/query/home";
import { type Names, namedColumns, namePlans, readNames } from "@/core/query/namePlan";
import type { Plan, PlanColumn } from "@/core/query/plan";
import { resolveQuery } from "@/core/query/resolve";
import type { Sources } from "@/core/report/groups";
import type { ReadInsert } from "@/core/report/inserts";
import { type Counted, type LayoutInput, layOutReport, type Measures, measureReport, type ReportOutline } from "@/core/report/layOut";
import type { Page } from "@/core/report/page";
import { type Parents, tellParents } from "@/core/report/parents";
import type { ReportPlan } from "@/core/report/plan";
import { type RelatedPlan, relatedQuery } from "@/core/report/relatedPlan";
import type { ReadRelated } from "@/core/report/relatedRows";
import type { Locale } from "@/core/types/format";
import { ProblemError } from "@/core/types/problem";
import { fold } from "@/core/types/text";
import type { Cell } from "@/core/types/valueType";
import { runChart } from "@/server/jobs/charts/run";
import { fontMetrics } from "@/server/jobs/export/fonts";
import { runPivot } from "@/server/jobs/pivots/run";
import type { ClosingJob, ReportJob } from "@/server/jobs/work";
import { LastOf } from "@/server/source/lastOf";
import type { Reading } from "@/server/source/reading";
import { insertReader, readyInserts } from "./inserts";
import { KeptRows } from "./keptRows";

/* A report's rows laid out on pages, in the engine's process: for the preview, and for who prints them. */

let metrics: ReturnType<typeof fontMetrics> | null = null;

const read = (reading: Reading, plan: Plan, rows?: number): Iterable<Cell[]> =>
  reading.ask({ of: "rows", plan, window: rows === undefined ? undefined : { offset: 0, rows } });

const keptOf = new WeakMap<Reading, WeakMap<ReportJob, Map<string, KeptRows>>>();

/** The rows of a plan of a report's, which is gone through several times for one job. @param name tells it from the report's other plans */
function kept(reading: Reading, job: ReportJob, name: string, plan: Plan): KeptRows {
  const jobs = keptOf.get(reading) ?? new WeakMap<ReportJob, Map<string, KeptRows>>();
  keptOf.set(reading, jobs);
  const plans = jobs.get(job) ?? new Map<string, KeptRows>();
  jobs.set(job, plans);
  const rows = plans.get(name) ?? new KeptRows(() => read(reading, plan));
  plans.set(name, rows);
  return rows;
}

const keptRowsOf = (reading: Reading, job: ReportJob, report: ReportPlan): KeptRows => kept(reading, job, "rows", report.rows);
const keptFigures = (reading: Reading, job: ReportJob, { figures }: ReportPlan, depth: number): KeptRows =>
  kept(reading, job, `figures ${depth}`, (figures[depth] as ReportPlan["figures"][number]).plan);

/** What the rows of tables are called, each table's read once for a job. */
class NamesRead {
  private readonly known = new Map<string, Names>();

  constructor(private readonly reading: Reading) {}

  columns<C extends PlanColumn>(columns: C[], plans: Record<string, Plan>): C[] {
    const names = Object.entries(plans).map(([id, plan]): [string, Names] => {
      const { name } = plan.source.table;
      const found = this.known.get(name) ?? readNames(plan, read(this.reading, plan));
      this.known.set(name, found);
      return [id, found];
    });
    return namedColumns(columns, Object.fromEntries(names));
  }
}

/** A report's plan with its columns written by names. */
function named(job: ReportJob, names: NamesRead): ReportPlan {
  const { report, over } = job;
  const rows = { ...report.rows, columns: names.columns(report.rows.columns, job.names) };
  const own = (column: PlanColumn): PlanColumn => rows.columns.find((c) => c.id === column.id) ?? column;
  const within = (plan: RelatedPlan): RelatedPlan => ({
    ...plan,
    all: { ...plan.all, columns: over ? names.columns(plan.all.columns, namePlans(plan.all, over.schema, over.context)) : plan.all.columns },
    related: plan.related.map(within),
  });
  return {
    ...report,
    rows,
    levels: report.levels.map((l) => ({ ...l, column: own(l.column) })),
    columns: report.columns.map((c) => ({ ...c, column: own(c.column) })),
    related: report.related.map(within),
  };
}

/** Reads the rows of a related table for those they belong to. @throws ProblemError where they cannot be asked */
function relatedReader(reading: Reading, { over }: ReportJob): ReadRelated {
  return (plan, rows) => {
    if (!over) return { columns: [], rows: [], keys: () => null };
    const made = relatedQuery(plan, over.query, rows, over.schema);
    const resolved = made.ok ? resolveQuery(made.value, over.schema, over.context) : made;
    if (!resolved.ok) throw new ProblemError(resolved.problems);
    const keyed = withKeys(resolved.value);
    return { columns: keyed.columns, rows: read(reading, keyed), keys: (column) => keyPlaces(column, keyed) };
  };
}

/** What a report is read from: its rows, the figures of its groups, the rows of its related tables, and its charts and cross-tables. */
export type ReportSources = Sources & {
  related: ReadRelated;
  inserted: ReadInsert;
  relatedOf: (plan: RelatedPlan, parents: RowCells[]) => Iterable<Cell[]>;
  parentsOf: (report: ReportPlan, plan: RelatedPlan, locale: Locale) => Iterable<Parents>;
};

/** A report's plan, written by names, with what it is read from; each reading begins anew. */
export function sourcesOf(reading: Reading, job: ReportJob): { report: ReportPlan; sources: () => ReportSources } {
  const report = named(job, new NamesRead(reading));
  const related = relatedReader(reading, job);
  const inserted = insertReader(reading, job);
  const anew = (): Sources => ({
    rows: keptRowsOf(reading, job, report),
    figures: (depth) => keptFigures(reading, job, report, depth),
  });
  return {
    report,
    sources: () => ({
      ...anew(),
      related,
      inserted,
      relatedOf: (plan, parents) => related(plan, parents).rows,
      parentsOf: (of, plan, locale) => tellParents(of, plan, anew(), locale),
    }),
  };
}

function inputOf(reading: Reading, job: ReportJob): { input: LayoutInput; sources: () => ReportSources } {
  metrics ??= fontMetrics();
  const { report, sources } = sourcesOf(reading, job);
  return { input: { report, metrics, locale: job.locale, texts: job.texts }, sources };
}

/** Rows of a related table by which its columns are measured. */
const MEASURED = 2000;

const grandFigures = (reading: Reading, job: ReportJob, report: ReportPlan): Cell[] | null =>
  (report.figures[0] && [...keptFigures(reading, job, report, 0)][0]) ?? null;

/** A report that is laid out as often as needed; its columns are measured once. @param known their widths, where they were measured before */
export function prepare(reading: Reading, job: ReportJob, known?: Measures) {
  const { input, sources } = inputOf(reading, job);
  const measures =
    known ??
    measureReport(input, keptRowsOf(reading, job, input.report), grandFigures(reading, job, input.report), (plan) => read(reading, plan.all, MEASURED));
  return { measures, layOut: (counted: Counted | null, firstDrawn: number) => layOutReport(input, measures, sources(), counted, firstDrawn) };
}

/** Runs through a report's pages and gives its outline. */
export function eachPage(pages: Generator<Page, ReportOutline>, use: (page: Page) => void): ReportOutline {
  try {
    for (;;) {
      const next = pages.next();
      if (next.done) return next.value;
      use(next.value);
    }
  } finally {
    // Where a page could not be used, the rows that are read for the next ones are let go.
    pages.return(undefined as never);
  }
}

/** What counting a report told, for those who draw it: how many pages, and what is said on the first where it does not foot. */
export const countedOf = ({ runs, proof }: ReportOutline, pages: number): Counted => ({
  pages,
  runs,
  notice: proof.agrees ? "" : "This report does not foot: figures and rows differ. Do not use it. Its proof says which.",
});

/** The pages of pivots and charts after the rows. @param pages all of the report's, once they have been counted */
type Closing = (before: number, pages: number) => { title: string; pages: Page[] }[];

/** Works out what is printed after the rows, once; it can then be laid out as often as needed. */
export async function closingOf(
  reading: Reading,
  { closing, locale, texts: { printedAt } }: Pick<ReportJob, "closing" | "locale"> & { texts: Pick<ReportJob["texts"], "printedAt"> },
): Promise<Closing> {
  if (closing.length === 0) return () => [];
  metrics ??= fontMetrics();
  const widths = metrics;
  const charts = closing.some((c) => c.kind === "chart") ? await import("@/server/jobs/export/chart") : null;
  const laid = closing.map((c): ((before: number, pages: number) => Page[]) => {
    const texts = { title: c.title, brief: c.brief, printedAt };
    if (c.kind === "pivot") {
      const pivot = runPivot(reading, c.pivot);
      const lines = linesOf(pivot, c.spec);
      return (before, pages) => layOutPivot({ pivot, lines, texts, metrics: widths, locale, within: { before, pages } });
    }
    const picture = charts?.chartPicture(c.chart, runChart(reading, c.chart), c.chosen);
    return (before) => (charts && picture ? [charts.chartPage(picture, texts, widths, before + 1)] : []);
  });
  return (before, pages) => {
    let at = before;
    return laid.map((layOut, i) => {
      const made = layOut(at, pages);
      at += made.length;
      return { title: closing[i]?.title ?? "", pages: made };
    });
  };
}

/** A pivot or a chart on pages of its own. */
export async function drawnPages(reading: Reading, drawn: ClosingJob, { locale, printedAt }: { locale: Locale; printedAt: string }): Promise<Page[]> {
  const closing = await closingOf(reading, { closing: [drawn], locale, texts: { printedAt } });
  const count = closing(0, 0).reduce((sum, c) => sum + c.pages.length, 0);
  return closing(0, count).flatMap((c) => c.pages);
}

/** An outline with what follows the rows. */
export function withClosing(outline: ReportOutline, closing: Closing): { outline: ReportOutline; pages: Page[] } {
  const count = closing(outline.pages, 0).reduce((sum, c) => sum + c.pages.length, 0);
  const pieces = closing(outline.pages, outline.pages + count);
  const entries = pieces.map(({ title, pages }) => ({ level: 0, text: title, page: pages[0]?.number ?? outline.pages, empty: false, rows: 0 }));
  return { outline: { ...outline, entries: [...outline.entries, ...entries], pages: outline.pages + count }, pages: pieces.flatMap((c) => c.pages) };
}

const lastCounted = new LastOf<{ measures: Measures; outline: ReportOutline }>();

/** Column widths and outline of a report: kept for the next page that is looked at. */
function countReport(reading: Reading, job: ReportJob): { layOut: ReturnType<typeof prepare>["layOut"]; outline: ReportOutline } {
  // All that may change how many pages there are; when it is printed does not.
  const { printedAt: _, ...texts } = job.texts;
  const { measures, outline } = lastCounted.of(reading, [job.report, texts, job.locale], () => {
    const { layOut, measures } = prepare(reading, job);
    return { measures, outline: eachPage(layOut(null, Infinity), () => {}) };
  });
  return { layOut: prepare(reading, job, measures).layOut, outline };
}

/** The pages from one number to another (from 1), for the preview, with the outline of the whole. */
export async function layOutReportPages(reading: Reading, job: ReportJob, from: number, to: number): Promise<{ pages: Page[]; outline: ReportOutline }> {
  await readyInserts(job);
  const closing = await closingOf(reading, job);
  const { layOut, outline: rows } = countReport(reading, job);
  const { outline, pages: after } = withClosing(rows, closing);
  const pages: Page[] = [];
  const laid = layOut(countedOf(rows, outline.pages), from);
  for (const page of laid) {
    if (page.number > to) break;
    pages.push(page);
  }
  return { pages: [...pages, ...after.filter((p) => p.number >= from && p.number <= to)], outline };
}

/** Pages that are named as holding a text, at the most. */
const MOST_FOUND = 2000;

/** The pages of a report on which a text stands, whatever its letter case and accents. */
export async function findInReport(reading: Reading, job: ReportJob, text: string): Promise<number[]> {
  await readyInserts(job);
  const { layOut, outline } = countReport(reading, job);
  const wanted = fold(text.trim());
  const found: number[] = [];
  for (const page of layOut(countedOf(outline, outline.pages), 1)) {
    if (page.items.some((item) => item.kind === "text" && fold(item.text).includes(wanted))) found.push(page.number);
    if (found.length === MOST_FOUND) break;
  }
  return found;
}

/** More rows than a page has: by these the columns are measured before all of them are known. */
const GLANCED_ROWS = 500;

/**
 * The first page as far as it can be told at once: its columns as wide as the first rows need, its number without "of m",
 * figures of groups only where their rows are on it. None where the first rows do not fill it.
 */
export async function glanceAtReport(reading: Reading, job: ReportJob): Promise<Page[]> {
  await readyInserts(job);
  const { input } = inputOf(reading, job);
  const { report } = input;
  const first = { ...report.rows, limit: Math.min(report.rows.limit ?? GLANCED_ROWS, GLANCED_ROWS) };
  const rows = [...read(reading, first)];
  let taken = 0;
  const counting = function* () {
    for (const row of rows) {
      taken++;
      yield row;
    }
  };
  const measures = measureReport(input, rows, null, (plan) => read(reading, plan.all, GLANCED_ROWS));
  for (const page of layOutReport(
    input,
    measures,
    { rows: counting(), figures: null, related: relatedReader(reading, job), inserted: insertReader(reading, job) },
    null,
  ))
    return taken >= GLANCED_ROWS ? [] : [page];
  return [];
}
