import type { Font, Metrics, Page, PageItem, Tone } from "../report/page";
import type { Locale } from "../types/format";
import type { Line, PivotLines } from "./lines";
import { LINE, type MeasuredPivot, measurePivot, type Panel, PanelDrawing, panelsOf, SIZE } from "./panels";
import type { Pivot } from "./pivot";

/*
 * A pivot on paper: as many lines as fit, as many columns as fit; what is too wide goes on in the next pages, with the
 * headings again. Places are in points, as on the pages of a report (report/page.ts).
 *
 *   lines, columns ─▶ measure ─▶ panels of columns × runs of lines ─▶ a page each
 */

export const PAGE = { width: 841.89, height: 595.28, margin: 42 };
const FOOT = 16;
const BRIEF_LINE = 10;
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

type Measured = MeasuredPivot & { texts: Texts; brief: string[] };

/** Lays a pivot out on A4 pages, landscape: down the lines first, then the columns that were left. */
export function layOutPivot(input: Input): Page[] {
  const { texts, metrics } = input;
  const measured: Measured = { ...measurePivot(input), texts, brief: wrapped(texts.brief, PAGE.width - 2 * PAGE.margin, metrics) };
  const { lines } = input.lines;
  const perPage = Math.max(LEAST_LINES, Math.floor((PAGE.height - PAGE.margin - FOOT - topOf(measured)) / LINE));
  const runs = Array.from({ length: Math.max(1, Math.ceil(lines.length / perPage)) }, (_, i) => lines.slice(i * perPage, (i + 1) * perPage));
  const sheets = panelsOf(measured, PAGE.width - 2 * PAGE.margin).flatMap((panel) => runs.map((run) => ({ panel, run })));
  const total = input.within?.pages ?? sheets.length;
  return sheets.map(({ panel, run }, i) => drawPage(measured, panel, run, i, (input.within?.before ?? 0) + i + 1, total));
}

const topOf = ({ brief, banners }: Measured): number => PAGE.margin + 24 + brief.length * BRIEF_LINE + banners.length * LINE + 8;

/** @param sheet its place among the pivot's own pages: each holds a table of its own */
function drawPage(measured: Measured, panel: Panel, run: Line[], sheet: number, number: number, total: number): Page {
  const { texts, metrics, brief } = measured;
  const text = (x: number, y: number, words: string, font: Font, size: number, tone: Tone = "ink"): PageItem => ({
    kind: "text",
    x,
    y,
    text: words,
    font,
    size,
    tone,
  });
  let rows = sheet * 10_000;
  const drawing = new PanelDrawing(measured, panel, PAGE.margin, (head) => ({ kind: "cell", table: sheet, row: ++rows, head }));
  let y = PAGE.margin + 12;
  const items: PageItem[] = [{ ...text(PAGE.margin, y, texts.title, "serifBold", SIZE.title), tag: { kind: "heading", level: 1 } } as PageItem];
  y += 6;
  for (const line of brief) {
    y += BRIEF_LINE;
    items.push({ ...text(PAGE.margin, y, line, "sans", SIZE.small, "faint"), tag: { kind: "paragraph", of: 1 } } as PageItem);
  }
  y += 8;
  items.push(...drawing.heads(y));
  y += drawing.headHeight;
  for (const line of run) {
    y += LINE;
    items.push(...drawing.line(line, y));
  }
  const foot = PAGE.height - PAGE.margin + 8;
  const pages = `page ${number} of ${total}`;
  const end = PAGE.width - PAGE.margin;
  items.push(text(PAGE.margin, foot, texts.printedAt, "sans", SIZE.small, "faint"), {
    ...text(end - metrics.width(pages, "sans", SIZE.small), foot, pages, "sans", SIZE.small, "faint"),
    end,
  } as PageItem);
  return { number, width: PAGE.width, height: PAGE.height, items };
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
