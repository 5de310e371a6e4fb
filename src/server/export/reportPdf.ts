import type Database from "better-sqlite3";
import type { ReportOutline } from "@/core/report/layOut";
import type { JobResult } from "@/server/engine/jobs";
import { inLongSnapshot, type Told } from "@/server/engine/readers";
import type { ReportJob } from "@/server/engine/work";
import { closingOf, countedOf, eachPage, prepare, withClosing } from "@/server/reports/pages";
import { writePdf } from "./pdf";

/** Writes a report as PDF, page by page; whole or not at all. Groups become bookmarks, text stays text. */
export async function exportReportPdf(db: Database.Database, job: ReportJob, path: string, told?: Told): Promise<JobResult["reportPdf"]> {
  return inLongSnapshot(db, async () => {
    const { layOut } = prepare(db, job);
    const closing = await closingOf(db, job);
    const rows = eachPage(layOut(null, Infinity), () => {});
    const { outline: whole, pages: after } = withClosing(rows, closing);
    const bytes = await writePdf(path, { title: job.report.spec.title, lang: job.locale.locale }, (doc, addPage) => {
      const bookmarks = bookmarker(doc, whole);
      eachPage(layOut(countedOf(rows, whole.pages), 1), (page) => {
        addPage(page);
        bookmarks(page.number);
        told?.(page.number);
      });
      for (const page of after) {
        addPage(page);
        bookmarks(page.number);
      }
    });
    const totals = Object.fromEntries(Object.entries(rows.proof.totals).map(([column, { printed }]) => [column, printed]));
    return { rows: rows.proof.rows, bytes, totals, pages: whole.pages, proof: rows.proof };
  });
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
