import type Database from "better-sqlite3";
import { compileRows } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import { measureColumns } from "@/core/report/columns";
import { layOutReport, type ReportOutline } from "@/core/report/layOut";
import type { Page } from "@/core/report/page";
import { planReport, type ReportPlan } from "@/core/report/plan";
import { ProblemError } from "@/core/types/problem";
import type { FileResult, ReportJob } from "@/server/engine/jobs";
import { inSnapshot, readRows } from "@/server/engine/readers";
import { fontMetrics } from "./fonts";
import { writePdf } from "./pdf";

let metrics: ReturnType<typeof fontMetrics> | null = null;

/** What laying out takes, made once for a report: pages can then be drawn as often as needed. */
function prepare(db: Database.Database, job: ReportJob, known?: number[]) {
  const checked = planReport(job.spec, job.plan);
  if (!checked.ok) throw new ProblemError(checked.problems);
  const report: ReportPlan = checked.value;
  metrics ??= fontMetrics();
  const sql = compileRows(report.plan, sqlite);
  const input = { report, spec: job.spec, metrics, locale: job.locale, texts: { brief: job.brief, printedAt: job.printedAt } };
  const natural = known ?? measureColumns(input, readRows(db, sql));
  return { natural, layOut: (pageCount: number | null, firstDrawn?: number) => layOutReport(input, natural, readRows(db, sql), pageCount, firstDrawn) };
}

/** Runs through a report's pages and gives its outline. */
function eachPage(pages: Generator<Page, ReportOutline>, use: (page: Page) => void): ReportOutline {
  for (;;) {
    const next = pages.next();
    if (next.done) return next.value;
    use(next.value);
  }
}

type Counted = { key: string; natural: number[]; outline: ReportOutline };
let counted: Counted | null = null;

/** Column widths and outline of a report: kept for the next page that is looked at, while neither report nor data change. */
function countReport(db: Database.Database, job: ReportJob): Counted & { layOut: ReturnType<typeof prepare>["layOut"] } {
  const key = JSON.stringify([job.plan, job.spec, job.locale, db.name, db.pragma("data_version", { simple: true })]);
  const { layOut, natural } = prepare(db, job, counted?.key === key ? counted.natural : undefined);
  if (counted?.key !== key) counted = { key, natural, outline: eachPage(layOut(null), () => {}) };
  return { ...counted, layOut };
}

/** The pages from one number to another (from 1), for the preview, with the outline of the whole. */
export function layOutReportPages(db: Database.Database, job: ReportJob, from: number, to: number): { pages: Page[]; outline: ReportOutline } {
  return inSnapshot(db, () => {
    const { layOut, outline } = countReport(db, job);
    const pages: Page[] = [];
    for (const page of layOut(outline.pages, from)) {
      if (page.number > to) break;
      if (page.number >= from) pages.push(page);
    }
    return { pages, outline };
  });
}

/** Writes a report as PDF, page by page; whole or not at all. Groups become bookmarks, text stays text. */
export async function exportReportPdf(db: Database.Database, job: ReportJob, path: string): Promise<FileResult & { pages: number }> {
  db.exec("BEGIN");
  try {
    const { layOut } = prepare(db, job);
    const whole = eachPage(layOut(null), () => {});
    let outline = whole;
    const bytes = await writePdf(path, { title: job.spec.title, lang: job.locale.locale }, (doc, addPage) => {
      const bookmarks = bookmarker(doc, whole);
      outline = eachPage(layOut(whole.pages), (page) => {
        addPage(page);
        bookmarks(page.number);
      });
    });
    return { rows: outline.rows, bytes, totals: outline.totals, pages: outline.pages };
  } finally {
    db.exec("COMMIT");
  }
}

/** Adds the outline's entries to the document as their pages come up. */
function bookmarker(doc: PDFKit.PDFDocument, { entries }: ReportOutline): (page: number) => void {
  type Outline = { addItem: (title: string) => Outline };
  const parents: Outline[] = [doc.outline as unknown as Outline];
  let next = 0;
  return (page) => {
    for (let entry = entries[next]; entry?.page === page; entry = entries[++next])
      parents[entry.level + 1] = (parents[entry.level] ?? (parents[0] as Outline)).addItem(entry.text);
  };
}
