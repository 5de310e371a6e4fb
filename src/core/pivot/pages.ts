import type { Font, Metrics, Page, PageItem, Tone } from "../report/page";
import { cellWriter, type Locale } from "../types/format";
import type { Pivot } from "./assemble";
import { type Banner, bannerRows, bannerWords, type Column, cellAt, type Line, lineWords, type PivotLines } from "./lines";

/*
 * A pivot on paper: as many lines as fit, as many columns as fit; what is too wide goes on in the next pages, with the
 * headings again. Places are in points, as on the pages of a report (report/page.ts).
 */

export const SIZE = { title: 15, small: 7.5, body: 8 };
const LINE = 13;
const GAP = 8;
const INDENT = 10;
export const PAGE = { width: 841.89, height: 595.28, margin: 42 };
const FOOT = 16;
/** The widest that the headings of lines may be. */
const MOST_HEADING = 260;

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

/** Lays a pivot out on A4 pages, landscape: down the lines first, then the columns that were left. */
export function layOutPivot({ pivot, lines: laid, texts, metrics, locale, within }: Input): Page[] {
  const { lines, columns } = laid;
  const writers = pivot.figures.map((f) => cellWriter(f.type, f.format, locale));
  const cell = (line: Line, column: Column) => writers[column.figure]?.(cellAt(pivot, line, column)) ?? { text: "", negative: false };
  const lineText = (line: Line) => lineWords(pivot, line, locale);
  const fontOf = (line: Line): Font => (line.kind === "leaf" ? "sans" : "sansBold");
  const bannerText = (b: Banner) => bannerWords(pivot, b, locale);
  const rows = bannerRows(pivot, laid);

  const headingWidth = Math.min(
    MOST_HEADING,
    Math.max(60, ...lines.map((line) => metrics.width(lineText(line), fontOf(line), SIZE.body) + Math.max(0, line.level - 1) * INDENT)) + GAP,
  );
  const widths = columns.map((column) => Math.max(28, ...lines.map((line) => metrics.width(cell(line, column).text, fontOf(line), SIZE.body))) + GAP);
  for (const row of rows)
    for (const b of row) {
      const spanned = widths.slice(b.from, b.from + b.span).reduce((sum, w) => sum + w, 0);
      const lacking = metrics.width(bannerText(b), "sansBold", SIZE.body) + GAP - spanned;
      if (lacking > 0 && b.span > 0) for (let i = b.from; i < b.from + b.span; i++) widths[i] = (widths[i] ?? 0) + lacking / b.span;
    }

  const room = PAGE.width - 2 * PAGE.margin - headingWidth;
  const panels: { from: number; to: number }[] = [];
  for (let from = 0; from < columns.length || panels.length === 0; ) {
    let to = from;
    for (let used = 0; to < columns.length && (to === from || used + (widths[to] ?? 0) <= room); to++) used += widths[to] ?? 0;
    panels.push({ from, to });
    if (to >= columns.length) break;
    from = to;
  }
  const briefLines = wrapped(texts.brief, PAGE.width - 2 * PAGE.margin, metrics);
  const top = PAGE.margin + 24 + briefLines.length * 10 + rows.length * LINE + 8;
  const perPage = Math.max(5, Math.floor((PAGE.height - PAGE.margin - FOOT - top) / LINE));
  const pages: Page[] = [];
  const total = within?.pages ?? panels.length * Math.max(1, Math.ceil(lines.length / perPage));
  for (const panel of panels)
    for (let first = 0; first < Math.max(1, lines.length); first += perPage) {
      const items: PageItem[] = [];
      const text = (x: number, y: number, words: string, font: Font, size: number, tone: Tone = "ink", end?: number) =>
        items.push({
          kind: "text",
          x: end === undefined ? x : end - metrics.width(words, font, size),
          y,
          text: words,
          font,
          size,
          tone,
          ...(end === undefined ? {} : { end }),
        });
      const rule = (x: number, y: number, width: number, weight: number) => items.push({ kind: "rule", x, y, width, weight });
      const lefts: number[] = [];
      let right = PAGE.margin + headingWidth;
      for (let i = panel.from; i < panel.to; i++) {
        lefts[i] = right;
        right += widths[i] ?? 0;
      }
      let y = PAGE.margin + 12;
      text(PAGE.margin, y, texts.title, "serifBold", SIZE.title);
      y += 6;
      for (const line of briefLines) {
        y += 10;
        text(PAGE.margin, y, line, "sans", SIZE.small, "faint");
      }
      y += 8;
      rows.forEach((row) => {
        y += LINE;
        for (const b of row) {
          const from = Math.max(b.from, panel.from);
          const to = Math.min(b.from + b.span, panel.to);
          if (to <= from) continue;
          const end = (lefts[to - 1] ?? 0) + (widths[to - 1] ?? 0);
          text(
            0,
            y,
            bannerText(b),
            b.kind === "leaf" && b.figure !== null ? "sans" : "sansBold",
            SIZE.body,
            b.figure === null ? "ink" : "faint",
            end - GAP / 2,
          );
          if (b.figure === null && b.span > 1) rule((lefts[from] ?? 0) + GAP / 2, y + 3.5, end - (lefts[from] ?? 0) - GAP, 0.4);
        }
      });
      text(PAGE.margin, y, pivot.axes.down.map((a) => a.heading).join(", "), "sansBold", SIZE.body);
      rule(PAGE.margin, y + 4, right - PAGE.margin, 0.8);
      for (const line of lines.slice(first, first + perPage)) {
        y += LINE;
        if (line.kind === "total") rule(PAGE.margin, y - LINE + 4, right - PAGE.margin, 0.6);
        text(
          PAGE.margin + Math.max(0, line.level - 1) * INDENT,
          y,
          fitted(lineText(line), headingWidth - Math.max(0, line.level - 1) * INDENT, fontOf(line), metrics),
          fontOf(line),
          SIZE.body,
        );
        for (let i = panel.from; i < panel.to; i++) {
          const written = cell(line, columns[i] as Column);
          if (written.text)
            text(0, y, written.text, fontOf(line), SIZE.body, written.negative ? "vermilion" : "ink", (lefts[i] ?? 0) + (widths[i] ?? 0) - GAP / 2);
        }
        if (line.kind === "total") {
          rule(PAGE.margin, y + 3.5, right - PAGE.margin, 0.6);
          rule(PAGE.margin, y + 5.2, right - PAGE.margin, 0.6);
        }
      }
      const foot = PAGE.height - PAGE.margin + 8;
      text(PAGE.margin, foot, texts.printedAt, "sans", SIZE.small, "faint");
      text(0, foot, `page ${(within?.before ?? 0) + pages.length + 1} of ${total}`, "sans", SIZE.small, "faint", PAGE.width - PAGE.margin);
      pages.push({ number: (within?.before ?? 0) + pages.length + 1, width: PAGE.width, height: PAGE.height, items });
    }
  return pages;
}

function fitted(text: string, width: number, font: Font, metrics: Metrics): string {
  if (metrics.width(text, font, SIZE.body) <= width) return text;
  let cut = text;
  while (cut.length > 1 && metrics.width(`${cut}…`, font, SIZE.body) > width) cut = cut.slice(0, -1);
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
