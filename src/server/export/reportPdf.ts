import type Database from "better-sqlite3";
import PDFDocument from "pdfkit";
import { compileRows } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import { measureColumns } from "@/core/report/columns";
import { layOutReport, type ReportOutline } from "@/core/report/layOut";
import type { Page, Tone } from "@/core/report/page";
import { planReport, type ReportPlan } from "@/core/report/plan";
import { ProblemError } from "@/core/types/problem";
import type { FileResult, ReportJob } from "@/server/engine/jobs";
import { inSnapshot, readRows } from "@/server/engine/readers";
import { WholeFile } from "./files";
import { FONTS, fontMetrics, fontPath } from "./fonts";

const INK: Record<Tone, string> = { ink: "#1D2930", faint: "#56626A", green: "#0E5A52", ochre: "#8A5E0C", vermilion: "#A8371F" };

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
export function exportReportPdf(db: Database.Database, job: ReportJob, path: string): Promise<FileResult & { pages: number }> {
  db.exec("BEGIN");
  const file = new WholeFile(path);
  return new Promise<FileResult & { pages: number }>((resolve, reject) => {
    const { layOut } = prepare(db, job);
    const whole = eachPage(layOut(null), () => {});
    const doc = new PDFDocument({
      autoFirstPage: false,
      pdfVersion: "1.7",
      lang: job.locale.locale,
      displayTitle: true,
      info: { Title: job.spec.title, Producer: "Next Ledger", Creator: "Next Ledger" },
    });
    doc.on("data", (chunk: Buffer) => file.write(chunk));
    doc.on("error", reject);
    const outline = { value: whole };
    doc.on("end", () => resolve({ rows: outline.value.rows, bytes: file.bytes, totals: outline.value.totals, pages: outline.value.pages }));
    for (const font of FONTS) {
      doc.registerFont(font, fontPath(font));
      cacheGlyphs(doc, font);
    }
    const bookmarks = bookmarker(doc, whole);
    outline.value = eachPage(layOut(whole.pages), (page) => {
      doc.addPage({ size: [page.width, page.height], margin: 0 });
      drawPage(doc, page);
      bookmarks(page.number);
    });
    doc.end();
  })
    .then(
      (result) => {
        file.finish();
        return result;
      },
      (error) => {
        file.abandon();
        throw error;
      },
    )
    .finally(() => db.exec("COMMIT"));
}

function drawPage(doc: PDFKit.PDFDocument, page: Page): void {
  for (const item of page.items)
    if (item.kind === "rule")
      doc
        .moveTo(item.x, item.y)
        .lineTo(item.x + item.width, item.y)
        .lineWidth(item.weight)
        .stroke(INK.ink);
    else doc.font(item.font, item.size).fillColor(INK[item.tone]).text(item.text, item.x, item.y, { lineBreak: false, baseline: "alphabetic" });
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

type Glyph = { id: number; advanceWidth: number; codePoints: number[] };
type Face = { scale: number; font: { glyphForCodePoint: (code: number) => Glyph }; layout: (text: string, features?: unknown, onlyWidth?: boolean) => unknown };

/**
 * Has a font of a document lay out text glyph by glyph, each looked up once. The writer's own layout shapes every
 * text anew (ligatures, kerning), which for a report's many figures takes longer than all the rest; and places were
 * measured glyph by glyph too (fonts.ts), so that page and preview agree.
 */
function cacheGlyphs(doc: PDFKit.PDFDocument, font: string): void {
  const face = (doc.font(font) as unknown as { _font: Face })._font;
  const known = new Map<string, { glyph: Glyph; position: Record<string, number> }>();
  const lookUp = (character: string) => {
    const seen = known.get(character);
    if (seen) return seen;
    const glyph = face.font.glyphForCodePoint(character.codePointAt(0) ?? 32);
    const advance = glyph.advanceWidth * face.scale;
    const made = { glyph, position: { xAdvance: advance, yAdvance: 0, xOffset: 0, yOffset: 0, advanceWidth: advance } };
    known.set(character, made);
    return made;
  };
  face.layout = (text) => {
    const parts = Array.from(text, lookUp);
    return {
      glyphs: parts.map((p) => p.glyph),
      positions: parts.map((p) => p.position),
      advanceWidth: parts.reduce((sum, p) => sum + (p.position.advanceWidth ?? 0), 0),
    };
  };
}
