import { statSync } from "node:fs";
import type { ReportOutline } from "@/core/report/layOut";
import type { Page } from "@/core/report/page";
import type { JobResult } from "@/server/engine/protocol";
import { readyInserts } from "@/server/jobs/reports/inserts";
import { closingOf, countedOf, eachPage, prepare, withClosing } from "@/server/jobs/reports/pages";
import type { ReportFile, ReportJob } from "@/server/jobs/work";
import type { Reading } from "@/server/source/reading";
import type { Told } from "@/server/source/rows";
import { writePdf } from "./pdf";
import { writePagesHtml } from "./reportHtml";

/** Writes a report as a file, whole or not at all: page by page, or as a workbook, or its footings. Its proof comes with it. */
export async function writeReportFile(reading: Reading, job: ReportJob, { path, format }: ReportFile, told?: Told): Promise<JobResult["reportFile"]> {
  await readyInserts(job);
  const { layOut } = prepare(reading, job);
  const rows = eachPage(layOut(null, Infinity), () => {});
  const totals = Object.fromEntries(Object.entries(rows.proof.totals).map(([column, { printed }]) => [column, printed]));
  const made = { rows: rows.proof.rows, totals, proof: rows.proof };
  if (format === "xlsx") {
    await (await import("./reportXlsx")).writeReportXlsx(reading, job, path, told);
    return { ...made, bytes: statSync(path).size, pages: null };
  }
  if (format === "totals") return { ...made, ...(await import("./reportTotals")).writeReportTotals(reading, job, path), pages: null };
  const closing = await closingOf(reading, job);
  const { outline: whole, pages: after } = withClosing(rows, closing);
  const each = (use: (page: Page) => void) => {
    eachPage(layOut(countedOf(rows, whole.pages), 1), (page) => {
      use(page);
      told?.(page.number);
    });
    after.forEach(use);
  };
  const info = { title: job.report.spec.title || "Report", lang: job.locale.locale, made: new Date(job.now) };
  if (format === "html") return { ...made, bytes: writePagesHtml(path, info, each), pages: whole.pages };
  const bytes = await writePdf(path, info, (doc, addPage) => {
    const bookmarks = bookmarker(doc, whole);
    each((page) => {
      addPage(page);
      bookmarks(page.number);
    });
  });
  return { ...made, bytes, pages: whole.pages };
}

/** Adds the outline's entries to the document as their pages come up. */
function bookmarker(doc: PDFKit.PDFDocument, { entries }: ReportOutline): (page: number) => void {
  type Outline = { addItem: (title: string) => Outline };
  const parents: Outline[] = [doc.outline as unknown as Outline];
  let next = 0;
  return (page) => {
    for (let entry = entries[next]; entry && entry.page <= page; entry = entries[++next])
      parents[entry.level + 1] = (parents[entry.level] ?? (parents[0] as Outline)).addItem(entry.text);
  };
}
