import { cellWriter, type Locale } from "../types/format";
import { pictureSize } from "../types/picture";
import type { Cell } from "../types/valueType";
import { ReportChecks, type ReportProof } from "./checks";
import { Draft, wordsOf, wrapped } from "./draft";
import { type FillReport, fillPages, type Piece, type Slot } from "./fillPages";
import { indentOf, reportFlow } from "./flow";
import type { Entry } from "./flowSetting";
import { type Frame, POINTS_PER_MM, pageFrame } from "./frame";
import type { Sources } from "./groups";
import type { ReadInsert } from "./inserts";
import { type Metrics, type Page, SIZE } from "./page";
import type { ReportPlan } from "./plan";
import type { PlacedColumn } from "./reflow";
import type { RelatedPlan } from "./relatedPlan";
import type { ReadRelated, RelatedLayout } from "./relatedRows";
import type { ThreeParts } from "./spec";
import { INDENT, measureColumns, needOf, placeColumns, type TableColumn } from "./table";
import { pageFields, textFiller } from "./words";

/*
 * A report on its pages:
 *
 *   rows ─▶ measure (widths of columns) ─▶ flow (headings, rows, footings, related tables) ─▶ fill ─▶ pages of text and rules
 *
 * Preview and PDF draw the same pages. All places are in points from the paper's top left corner; a text's y is its baseline.
 * A report is laid out twice: once to count its pages and to prove its figures, once to draw it.
 */

export type ReportTexts = {
  brief: string;
  /** Parameters with their values, and control totals, in words. */
  parameters: string[];
  controls: string[];
  printedAt: string;
};

export type LayoutInput = { report: ReportPlan; metrics: Metrics; locale: Locale; texts: ReportTexts };

/** What the columns of a report need, measured once. */
export type Measures = { columns: number[]; related: Record<string, number[]> };

/** The groups in order with their pages, and what the whole came to. */
export type ReportOutline = {
  entries: Entry[];
  pages: number;
  /** The page the grand footing stands on; pivots and charts may follow it. */
  totalPage: number;
  /** How many pages are numbered together, in order. */
  runs: number[];
  /** Pieces that are higher than a page, and were cut. */
  cut: number;
  /** The report's own columns as its pages have them. */
  columns: PlacedColumn[];
  proof: ReportProof;
};

/** The columns of a report in the terms of its table. */
export const tableColumns = ({ columns }: ReportPlan): TableColumn[] =>
  columns.map((c) => ({ id: c.spec.id, column: c.column, at: c.at, widthMm: c.spec.widthMm, wrap: c.spec.wrap }));

/** The columns of a related table that are shown. */
export const relatedColumns = ({ all, spec }: RelatedPlan): TableColumn[] =>
  all.columns.flatMap((column, at) => (column.hidden ? [] : [{ id: column.id, column, at, widthMm: spec.widths?.[column.id] ?? null }]));

/** Every related table of a report, those within others after them. */
export function allRelated(related: RelatedPlan[]): RelatedPlan[] {
  return related.flatMap((r) => [r, ...allRelated(r.related)]);
}

/**
 * Gathers how wide columns are.
 * @param grand the figures of all rows, where they are known
 * @param relatedRows some rows of each related table, by its id
 */
export function measureReport(
  { report, metrics, locale }: LayoutInput,
  rows: Iterable<Cell[]>,
  grand: Cell[] | null,
  relatedRows: (plan: RelatedPlan) => Iterable<Cell[]>,
): Measures {
  const figures = report.figures[0];
  const under = report.columns.map(({ spec }) =>
    Object.values(figures?.cells ?? {}).flatMap((cells) => {
      const at = cells[spec.id];
      const column = at === undefined ? undefined : figures?.plan.columns[at];
      return column && at !== undefined && grand ? [wordsOf(cellWriter(column.type, column.format, locale)(grand[at] ?? null))] : [];
    }),
  );
  return {
    columns: measureColumns(tableColumns(report), rows, metrics, locale, under),
    related: Object.fromEntries(
      allRelated(report.related).map((plan) => [plan.spec.id, measureColumns(relatedColumns(plan), relatedRows(plan), metrics, locale)]),
    ),
  };
}

/** What the line at the foot of each page takes of the body. */
const FOOT = 16;

/** What counting told, for "page n of m" and the notice on the first page. */
export type Counted = Pick<ReportOutline, "pages" | "runs"> & { notice: string };

/**
 * Lays a report out, one page at a time, so that a report of any length takes the memory of a few pages. No row is lost or
 * stands twice; a heading is never the last thing on a page; a footing keeps a row with it.
 * @param counted what was counted before; null while nothing is known
 * @param firstDrawn the first page that is given; those before it are only gone through, as all are with Infinity
 * @returns the outline, after the last page
 */
export function* layOutReport(
  input: LayoutInput,
  measures: Measures,
  sources: Sources & { related: ReadRelated; inserted: ReadInsert },
  counted: Counted | null,
  firstDrawn = 1,
): Generator<Page, ReportOutline> {
  const { report, metrics, locale, texts } = input;
  const { spec } = report;
  const frame = pageFrame(spec);
  const fill = textFiller(report, locale);
  const checks = new ReportChecks(report);
  const entries: Entry[] = [];
  const { width, dxs } = columnsDown(report, frame);
  const indent = indentOf(report);
  const columns = placeColumns(tableColumns(report), measures.columns, frame.left + indent, frame.left + width, locale);
  const footed = [spec.footer, spec.first?.footer].some((f) => f && (f.left || f.center || f.right));
  let totalPage = 1;
  const flow = reportFlow({
    report,
    metrics,
    locale,
    left: frame.left,
    right: frame.left + width,
    columns,
    tables: relatedLayouts(input, measures, frame.left, frame.left + width),
    fill,
    sources,
    checks,
    entries,
    before: titlePieces(input, frame, counted?.notice ?? ""),
    total: (page) => {
      totalPage = page;
    },
  });
  const filling = fillPages(flow, {
    start: (number) => {
      const own = pageFrame(spec, number);
      const draft = new Draft(number, { width: frame.width, height: frame.height }, metrics, number >= firstDrawn);
      const bottom = frame.bottom - (footed ? FOOT : 0);
      const shift = own.left - frame.left;
      return { draft, slots: dxs.map((dx): Slot => ({ dx: dx + shift, top: frame.top, bottom })) };
    },
    end: (draft, { row, run, inRun }) => {
      const fields = pageFields(draft.number, counted?.pages ?? null, inRun + 1, counted ? (counted.runs[run] ?? 0) : null, locale);
      const own = { ...fields, title: spec.title, printed: texts.printedAt };
      const given = { row, figure: null, own };
      const { header, footer } = draft.number === 1 && spec.first ? spec.first : spec;
      const at = pageFrame(spec, draft.number);
      drawParts(draft, header, at, at.top - 6, "header", (text) => fill(text, given));
      drawParts(draft, footer, at, at.bottom + 2, "footer", (text) => fill(text, given));
    },
  });
  let filled: FillReport;
  let pages = 0;
  try {
    for (;;) {
      const next = filling.next();
      if (next.done) {
        filled = next.value;
        break;
      }
      pages = next.value.number;
      if (pages >= firstDrawn) yield next.value.page();
    }
  } finally {
    // Where a page could not be used, the rows that are read for the next ones are let go.
    flow.return(undefined as never);
  }
  const placed = columns.map((c, i): PlacedColumn => ({ id: c.id, x: c.x, width: c.width, ...needOf(c.column, measures.columns[i] ?? 0) }));
  return { entries, pages, totalPage, runs: filled.runs, cut: filled.cut, columns: placed, proof: checks.proof() };
}

/** Where columns down the page stand: how wide each is, and how far from the margin. */
function columnsDown({ spec }: ReportPlan, frame: Frame): { width: number; dxs: number[] } {
  const whole = frame.right - frame.left;
  if (spec.shape.kind !== "columns") return { width: whole, dxs: [0] };
  const { count, gapMm } = spec.shape;
  const gap = gapMm * POINTS_PER_MM;
  const width = (whole - gap * (count - 1)) / count;
  return { width, dxs: Array.from({ length: count }, (_, i) => i * (width + gap)) };
}

function relatedLayouts({ report, locale }: LayoutInput, measures: Measures, left: number, right: number): RelatedLayout[] {
  const lay = (plan: RelatedPlan, indent: number): RelatedLayout => ({
    plan,
    left: left + indent,
    columns: placeColumns(relatedColumns(plan), measures.related[plan.spec.id] ?? [], left + indent, right, locale),
    related: plan.related.map((r) => lay(r, indent + INDENT)),
  });
  return report.related.map((plan) => {
    const depth = report.levels.findIndex((l) => l.spec.id === plan.spec.under);
    return lay(plan, depth < 0 ? indentOf(report) : depth * INDENT);
  });
}

function drawParts(draft: Draft, parts: ThreeParts, frame: Frame, y: number, kind: "header" | "footer", fill: (text: string) => string): void {
  const line = (text: string, at: "left" | "center" | "right") => {
    const words = fill(text);
    const width = draft.metrics.width(words, "sans", SIZE.small);
    if (at === "left") draft.text(frame.left, y, words, "sans", SIZE.small, "faint");
    else if (at === "right") draft.textTo(frame.right, y, words, "sans", SIZE.small, "faint");
    else draft.text((frame.left + frame.right - width) / 2, y, words, "sans", SIZE.small, "faint");
  };
  line(parts.left, "left");
  line(parts.center, "center");
  line(parts.right, "right");
  draft.area(frame.left, y - 10, frame.right - frame.left, 14, { kind });
}

/** What stands over the rows on the first page: letterhead, title, subtitle, brief, parameters, control totals, a notice. */
function titlePieces({ report, metrics, texts, locale }: LayoutInput, frame: Frame, notice: string): Piece[] {
  const { spec } = report;
  const fill = textFiller(report, locale);
  const own = { title: spec.title, printed: texts.printedAt };
  const words = (text: string) => fill(text, { row: null, figure: null, own });
  const room = frame.right - frame.left;
  const pieces: Piece[] = [];
  const piece = (height: number, draw: Piece["draw"]) => pieces.push({ kind: "piece", wide: true, joined: true, height, draw });
  if (spec.letterhead) {
    const { data, widthMm, alt, at } = spec.letterhead;
    const size = pictureSize(data);
    const width = Math.min(room, widthMm * POINTS_PER_MM);
    const height = (width * size.height) / size.width;
    const x = at === "left" ? frame.left : at === "right" ? frame.right - width : (frame.left + frame.right - width) / 2;
    piece(height + 8, (draft, y) => {
      draft.picture(x, y, width, height, data, alt);
      draft.area(x, y, width, height, { kind: "letterhead" });
    });
  }
  const title = words(spec.title);
  if (title)
    piece(SIZE.title, (draft, y) => {
      draft.text(frame.left, y + SIZE.title, title, "serifBold", SIZE.title, "ink", { kind: "heading", level: 1 });
      draft.area(frame.left, y, room, SIZE.title + 4, { kind: "title" });
    });
  const subtitle = words(spec.subtitle ?? "");
  if (subtitle)
    piece(SIZE.subtitle + 4, (draft, y) => {
      draft.text(frame.left, y + SIZE.subtitle + 4, subtitle, "sans", SIZE.subtitle, "ink", { kind: "paragraph" });
      draft.area(frame.left, y + 2, room, SIZE.subtitle + 4, { kind: "subtitle" });
    });
  const small = [...(spec.showBrief ? [texts.brief] : []), ...(spec.showParameters ? texts.parameters : []), ...(spec.showControls ? texts.controls : [])];
  for (const line of small.filter(Boolean).flatMap((text) => wrapped(text, room, metrics, SIZE.brief)))
    piece(11, (draft, y) => {
      draft.text(frame.left, y + 11, line, "sans", SIZE.brief, "faint", { kind: "paragraph" });
      draft.area(frame.left, y + 2, room, 11, { kind: "brief" });
    });
  for (const line of notice ? wrapped(notice, room, metrics, SIZE.subtitle, "sansBold") : [])
    piece(14, (draft, y) => draft.text(frame.left, y + 14, line, "sansBold", SIZE.subtitle, "vermilion", { kind: "paragraph" }));
  if (pieces.length > 0) piece(10, () => {});
  return pieces;
}
