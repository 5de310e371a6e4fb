import type { Font, Metrics, Page, PageItem, Tone } from "../report/page";
import { type CellWriter, cellWriter, type Locale } from "../types/format";
import { type Banner, bannerRows, bannerWords, type Column, cellAt, type Line, lineWords, loneFigure, type PivotLines } from "./lines";
import type { Pivot } from "./pivot";

/*
 * A pivot on paper: as many lines as fit, as many columns as fit; what is too wide goes on in the next pages, with the
 * headings again. Places are in points, as on the pages of a report (report/page.ts).
 *
 *   lines, columns ─▶ measure ─▶ panels of columns × runs of lines ─▶ a page each
 */

export const SIZE = { title: 15, small: 7.5, body: 8 };
export const PAGE = { width: 841.89, height: 595.28, margin: 42 };
const LINE = 13;
const GAP = 8;
const INDENT = 10;
const FOOT = 16;
const BRIEF_LINE = 10;
/** The widest and the narrowest that the headings of lines may be, and the narrowest column. */
const HEADING = { most: 260, least: 60 };
const LEAST_COLUMN = 28;
const LEAST_LINES = 5;

type Texts = { title: string; brief: string; printedAt: string };
type Input = {
  pivot: Pivot;
  lines: PivotLines;
  texts: Texts;
  metrics: Metrics;
  locale: Locale;
  /** How many pages stand before these, and all of them, where these are part of a longer document. */
  within?: { before: number; pages: number } | undefined;
};

/** What every page needs: the words of lines and cells, and how wide everything is. */
type Measured = Input & {
  banners: Banner[][];
  writers: CellWriter[];
  brief: string[];
  headingWidth: number;
  widths: number[];
};

const fontOf = (line: Line): Font => (line.kind === "leaf" ? "sans" : "sansBold");
const indentOf = (line: Line): number => Math.max(0, line.level - 1) * INDENT;
const written = ({ pivot, writers }: Pick<Measured, "pivot" | "writers">, line: Line, column: Column) =>
  writers[column.figure]?.(cellAt(pivot, line, column)) ?? { text: "", negative: false };

/** Lays a pivot out on A4 pages, landscape: down the lines first, then the columns that were left. */
export function layOutPivot(input: Input): Page[] {
  const measured = measure(input);
  const { lines } = input.lines;
  const perPage = Math.max(LEAST_LINES, Math.floor((PAGE.height - PAGE.margin - FOOT - topOf(measured)) / LINE));
  const runs = Array.from({ length: Math.max(1, Math.ceil(lines.length / perPage)) }, (_, i) => lines.slice(i * perPage, (i + 1) * perPage));
  const sheets = panelsOf(measured).flatMap((panel) => runs.map((run) => ({ panel, run })));
  const total = input.within?.pages ?? sheets.length;
  return sheets.map(({ panel, run }, i) => drawPage(measured, panel, run, (input.within?.before ?? 0) + i + 1, total));
}

function measure(input: Input): Measured {
  const { pivot, lines: laid, metrics, locale, texts } = input;
  const { lines, columns } = laid;
  const writers = pivot.figures.map((f) => cellWriter(f.type, f.format, locale));
  const banners = bannerRows(pivot, laid);
  const headings = lines.map((line) => metrics.width(lineWords(pivot, line, locale), fontOf(line), SIZE.body) + indentOf(line));
  const figure = loneFigure(pivot);
  const corner = [pivot.axes.down.map((a) => a.heading).join(", "), figure].map((words) => metrics.width(words, "sansBold", SIZE.body) + GAP);
  const headingWidth = Math.min(HEADING.most, Math.max(HEADING.least, ...headings, figure ? (corner[0] ?? 0) + (corner[1] ?? 0) : 0) + GAP);
  const widths = columns.map(
    (column) => Math.max(LEAST_COLUMN, ...lines.map((line) => metrics.width(written({ pivot, writers }, line, column).text, fontOf(line), SIZE.body))) + GAP,
  );
  for (const b of banners.flat()) {
    const spanned = widths.slice(b.from, b.from + b.span).reduce((sum, w) => sum + w, 0);
    const lacking = metrics.width(bannerWords(pivot, b, locale), "sansBold", SIZE.body) + GAP - spanned;
    if (lacking > 0 && b.span > 0) for (let i = b.from; i < b.from + b.span; i++) widths[i] = (widths[i] ?? 0) + lacking / b.span;
  }
  return { ...input, banners, writers, brief: wrapped(texts.brief, PAGE.width - 2 * PAGE.margin, metrics), headingWidth, widths };
}

const topOf = ({ brief, banners }: Measured): number => PAGE.margin + 24 + brief.length * BRIEF_LINE + banners.length * LINE + 8;

/** Columns that fit beside the headings of lines, page by page; a column too wide has a page to itself. */
function panelsOf({ widths, headingWidth }: Measured): { from: number; to: number }[] {
  const room = PAGE.width - 2 * PAGE.margin - headingWidth;
  const panels: { from: number; to: number }[] = [];
  let from = 0;
  do {
    let to = from;
    for (let used = 0; to < widths.length && (to === from || used + (widths[to] ?? 0) <= room); to++) used += widths[to] ?? 0;
    panels.push({ from, to });
    from = to;
  } while (from < widths.length);
  return panels;
}

function drawPage(measured: Measured, panel: { from: number; to: number }, run: Line[], number: number, total: number): Page {
  const { pivot, lines: laid, texts, metrics, locale, banners, brief, headingWidth, widths } = measured;
  const items: PageItem[] = [];
  const text = (x: number, y: number, words: string, font: Font, size: number, tone: Tone = "ink") =>
    items.push({ kind: "text", x, y, text: words, font, size, tone });
  const flushRight = (end: number, y: number, words: string, font: Font, size: number, tone: Tone = "ink") =>
    items.push({ kind: "text", x: end - metrics.width(words, font, size), y, text: words, font, size, tone, end });
  const rule = (y: number, weight: number, x = PAGE.margin, width = right - PAGE.margin) => items.push({ kind: "rule", x, y, width, weight });
  const lefts: number[] = [];
  let right = PAGE.margin + headingWidth;
  for (let i = panel.from; i < panel.to; i++) {
    lefts[i] = right;
    right += widths[i] ?? 0;
  }
  const endOf = (column: number) => (lefts[column] ?? 0) + (widths[column] ?? 0);

  let y = PAGE.margin + 12;
  text(PAGE.margin, y, texts.title, "serifBold", SIZE.title);
  y += 6;
  for (const line of brief) {
    y += BRIEF_LINE;
    text(PAGE.margin, y, line, "sans", SIZE.small, "faint");
  }
  y += 8;
  for (const row of banners) {
    y += LINE;
    for (const b of row) {
      const [from, to] = [Math.max(b.from, panel.from), Math.min(b.from + b.span, panel.to)];
      if (to <= from) continue;
      const plain = b.figure !== null;
      flushRight(
        endOf(to - 1) - GAP / 2,
        y,
        bannerWords(pivot, b, locale),
        b.kind === "leaf" && plain ? "sans" : "sansBold",
        SIZE.body,
        plain ? "faint" : "ink",
      );
      if (!plain && b.span > 1) rule(y + 3.5, 0.4, (lefts[from] ?? 0) + GAP / 2, endOf(to - 1) - (lefts[from] ?? 0) - GAP);
    }
  }
  const down = pivot.axes.down.map((a) => a.heading).join(", ");
  text(PAGE.margin, y, down, "sansBold", SIZE.body);
  const figure = loneFigure(pivot);
  const beside = metrics.width(down, "sansBold", SIZE.body) + GAP;
  if (figure && beside < headingWidth)
    text(PAGE.margin + beside, y, fitted(figure, headingWidth - beside, "sans", metrics, SIZE.body), "sans", SIZE.body, "faint");
  rule(y + 4, 0.8);
  for (const line of run) {
    y += LINE;
    const font = fontOf(line);
    if (line.kind === "total") rule(y - LINE + 4, 0.6);
    text(PAGE.margin + indentOf(line), y, fitted(lineWords(pivot, line, locale), headingWidth - indentOf(line), font, metrics), font, SIZE.body);
    for (let i = panel.from; i < panel.to; i++) {
      const cell = written(measured, line, laid.columns[i] as Column);
      if (cell.text) flushRight(endOf(i) - GAP / 2, y, cell.text, font, SIZE.body, cell.negative ? "vermilion" : "ink");
    }
    if (line.kind === "total") for (const below of [3.5, 5.2]) rule(y + below, 0.6);
  }
  const foot = PAGE.height - PAGE.margin + 8;
  text(PAGE.margin, foot, texts.printedAt, "sans", SIZE.small, "faint");
  flushRight(PAGE.width - PAGE.margin, foot, `page ${number} of ${total}`, "sans", SIZE.small, "faint");
  return { number, width: PAGE.width, height: PAGE.height, items };
}

/** A text cut to so many points, with a mark where it was cut. */
export function fitted(text: string, width: number, font: Font, metrics: Metrics, size = SIZE.body): string {
  if (metrics.width(text, font, size) <= width) return text;
  let cut = text;
  while (cut.length > 1 && metrics.width(`${cut}…`, font, size) > width) cut = cut.slice(0, -1);
  return `${cut}…`;
}

/** Words in lines no wider than so many points, at the size of a brief; six lines at most. */
export function wrapped(text: string, width: number, metrics: Metrics): string[] {
  const lines: string[] = [];
  for (const word of text.split(" ")) {
    const longer = lines.length === 0 ? word : `${lines.at(-1)} ${word}`;
    if (lines.length > 0 && metrics.width(longer, "sans", SIZE.small) <= width) lines[lines.length - 1] = longer;
    else lines.push(word);
  }
  return lines.slice(0, 6);
}
