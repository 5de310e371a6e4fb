import type Database from "better-sqlite3";
import { linesOf } from "@/core/pivot/lines";
import { layOutPivot } from "@/core/pivot/pages";
import { compileRows } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import { namedColumns, readNames } from "@/core/query/namePlan";
import { measureColumns } from "@/core/report/columns";
import { layOutReport, type ReportOutline } from "@/core/report/layOut";
import type { LayoutInput, Page } from "@/core/report/page";
import { planReport } from "@/core/report/plan";
import { ProblemError } from "@/core/types/problem";
import { runChart } from "@/server/charts/run";
import { inLongSnapshot, readRows } from "@/server/engine/readers";
import type { ReportJob } from "@/server/engine/work";
import { fontMetrics } from "@/server/export/fonts";
import { runPivot } from "@/server/pivots/run";

/* A report's rows laid out on pages, in the engine's process: for the preview, and for who prints them. */

let metrics: ReturnType<typeof fontMetrics> | null = null;

function inputOf(db: Database.Database, job: ReportJob): LayoutInput {
  const names = Object.fromEntries(Object.entries(job.names).map(([id, plan]) => [id, readNames(plan, readRows(db, compileRows(plan, sqlite)))]));
  const checked = planReport(job.spec, { ...job.plan, columns: namedColumns(job.plan.columns, names) });
  if (!checked.ok) throw new ProblemError(checked.problems);
  metrics ??= fontMetrics();
  return { report: checked.value, spec: job.spec, metrics, locale: job.locale, texts: { brief: job.brief, printedAt: job.printedAt } };
}

/**
 * What laying out takes, made once for a report: pages can then be drawn as often as needed.
 * @param known the columns' widths, where they were measured before
 */
export function prepare(db: Database.Database, job: ReportJob, known?: number[]) {
  const input = inputOf(db, job);
  const sql = compileRows(input.report.plan, sqlite);
  const natural = known ?? measureColumns(input, readRows(db, sql));
  return { natural, layOut: (pageCount: number | null, firstDrawn: number) => layOutReport(input, natural, readRows(db, sql), pageCount, firstDrawn) };
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

/** The pages of pivots and charts after the rows. @param pages all of the report's, once they have been counted */
type Closing = (before: number, pages: number) => { title: string; pages: Page[] }[];

/** Works out what is printed after the rows, once; it can then be laid out as often as needed. */
export async function closingOf(db: Database.Database, { closing, locale, printedAt }: ReportJob): Promise<Closing> {
  if (closing.length === 0) return () => [];
  metrics ??= fontMetrics();
  const widths = metrics;
  const charts = closing.some((c) => c.kind === "chart") ? await import("@/server/export/chart") : null;
  const laid = closing.map((c): ((before: number, pages: number) => Page[]) => {
    const texts = { title: c.title, brief: c.brief, printedAt };
    if (c.kind === "pivot") {
      const pivot = runPivot(db, c.pivot);
      const lines = linesOf(pivot, c.spec);
      return (before, pages) => layOutPivot({ pivot, lines, texts, metrics: widths, locale, within: { before, pages } });
    }
    const picture = charts?.chartPicture(c.chart, runChart(db, c.chart), c.chosen);
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

/** An outline with what follows the rows. */
export function withClosing(outline: ReportOutline, closing: Closing): { outline: ReportOutline; pages: Page[] } {
  const count = closing(outline.pages, 0).reduce((sum, c) => sum + c.pages.length, 0);
  const pieces = closing(outline.pages, outline.pages + count);
  const entries = pieces.map(({ title, pages }) => ({ level: 0, text: title, page: pages[0]?.number ?? outline.pages, empty: false, rows: 0 }));
  return { outline: { ...outline, entries: [...outline.entries, ...entries], pages: outline.pages + count }, pages: pieces.flatMap((c) => c.pages) };
}

type Counted = { key: string; natural: number[]; outline: ReportOutline };
let counted: Counted | null = null;

/** Column widths and outline of a report: kept for the next page that is looked at, while neither report nor data change. */
function countReport(db: Database.Database, job: ReportJob): Counted & { layOut: ReturnType<typeof prepare>["layOut"] } {
  const key = JSON.stringify([job.plan, job.spec, job.locale, db.name, db.pragma("data_version", { simple: true })]);
  const known = counted?.key === key ? counted : null;
  const { layOut, natural } = prepare(db, job, known?.natural);
  counted = known ?? { key, natural, outline: eachPage(layOut(null, Infinity), () => {}) };
  return { ...counted, layOut };
}

/** The pages from one number to another (from 1), for the preview, with the outline of the whole. */
export async function layOutReportPages(db: Database.Database, job: ReportJob, from: number, to: number): Promise<{ pages: Page[]; outline: ReportOutline }> {
  return inLongSnapshot(db, async () => {
    const closing = await closingOf(db, job);
    const { layOut, outline: rows } = countReport(db, job);
    const { outline, pages: after } = withClosing(rows, closing);
    const pages: Page[] = [];
    for (const page of layOut(outline.pages, from)) {
      if (page.number > to) break;
      if (page.number >= from) pages.push(page);
    }
    return { pages: [...pages, ...after.filter((p) => p.number >= from && p.number <= to)], outline };
  });
}

/** More rows than a page has: by these the columns are measured before all of them are known. */
const GLANCED_ROWS = 500;

/** The first page as far as it can be told at once: its columns as wide as the first rows need, its number without "of m". */
export function glanceAtReport(db: Database.Database, job: ReportJob): Page[] {
  const input = inputOf(db, job);
  const { plan } = input.report;
  const first = { ...plan, limit: Math.min(plan.limit ?? GLANCED_ROWS, GLANCED_ROWS) };
  const rows = [...readRows(db, compileRows(first, sqlite))];
  for (const page of layOutReport(input, measureColumns(input, rows), rows, null)) return [page];
  return [];
}
