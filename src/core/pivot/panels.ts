import type { Font, Metrics, PageItem, Tag, Tone } from "../report/page";
import { type CellWriter, cellWriter, type Locale } from "../types/format";
import { type Banner, bannerRows, bannerWords, type Column, cellAt, type Line, lineWords, loneFigure, type PivotLines } from "./lines";
import type { Pivot } from "./pivot";

/*
 * A pivot as a printed table: how wide its columns are, which of them fit beside its headings, and what a row of headings or
 * a line of figures draws. Where it stands on the paper is the caller's: a page of its own (pages.ts), or within a report.
 */

export const SIZE = { title: 15, small: 7.5, body: 8 };
export const LINE = 13;
const GAP = 8;
const INDENT = 10;
/** The widest and the narrowest that the headings of lines may be, and the narrowest column. */
const HEADING = { most: 260, least: 60 };
const LEAST_COLUMN = 28;

type Input = { pivot: Pivot; lines: PivotLines; metrics: Metrics; locale: Locale };
/** The words of lines and cells, and how wide everything is, in points. */
export type MeasuredPivot = Input & { banners: Banner[][]; writers: CellWriter[]; headingWidth: number; widths: number[] };
/** The columns that stand beside the headings: from one to before another. */
export type Panel = { from: number; to: number };

const fontOf = (line: Line): Font => (line.kind === "leaf" ? "sans" : "sansBold");
const indentOf = (line: Line): number => Math.max(0, line.level - 1) * INDENT;
const written = ({ pivot, writers }: Pick<MeasuredPivot, "pivot" | "writers">, line: Line, column: Column) =>
  writers[column.figure]?.(cellAt(pivot, line, column)) ?? { text: "", negative: false };

export function measurePivot(input: Input): MeasuredPivot {
  const { pivot, lines: laid, metrics, locale } = input;
  const { lines, columns } = laid;
  const writers = pivot.figures.map((f) => cellWriter(f.type, f.format, locale));
  const banners = bannerRows(pivot, laid);
  const headings = lines.map((line) => metrics.width(lineWords(pivot, line, locale), fontOf(line), SIZE.body) + indentOf(line));
  const figure = loneFigure(pivot);
  const corner = [cornerOf(pivot), figure].map((words) => metrics.width(words, "sansBold", SIZE.body) + GAP);
  const headingWidth = Math.min(HEADING.most, Math.max(HEADING.least, ...headings, figure ? (corner[0] ?? 0) + (corner[1] ?? 0) : 0) + GAP);
  const widths = columns.map(
    (column) => Math.max(LEAST_COLUMN, ...lines.map((line) => metrics.width(written({ pivot, writers }, line, column).text, fontOf(line), SIZE.body))) + GAP,
  );
  for (const b of banners.flat()) {
    const spanned = widths.slice(b.from, b.from + b.span).reduce((sum, w) => sum + w, 0);
    const lacking = metrics.width(bannerWords(pivot, b, locale), "sansBold", SIZE.body) + GAP - spanned;
    if (lacking > 0 && b.span > 0) for (let i = b.from; i < b.from + b.span; i++) widths[i] = (widths[i] ?? 0) + lacking / b.span;
  }
  return { ...input, banners, writers, headingWidth, widths };
}

const cornerOf = (pivot: Pivot): string => pivot.axes.down.map((a) => a.heading).join(", ");

/** Columns that fit beside the headings of lines in so much room; a column that is too wide stands alone. */
export function panelsOf({ widths, headingWidth }: MeasuredPivot, room: number): Panel[] {
  const panels: Panel[] = [];
  let from = 0;
  do {
    let to = from;
    for (let used = headingWidth; to < widths.length && (to === from || used + (widths[to] ?? 0) <= room); to++) used += widths[to] ?? 0;
    panels.push({ from, to });
    from = to;
  } while (from < widths.length);
  return panels;
}

/** Draws a pivot's rows at a left edge. `tag` makes the tag of a row that is read. */
export class PanelDrawing {
  private readonly lefts: number[] = [];
  private readonly right: number;

  constructor(
    private readonly measured: MeasuredPivot,
    private readonly panel: Panel,
    private readonly left: number,
    private readonly tag: (head: boolean) => Extract<Tag, { kind: "cell" }> | undefined,
  ) {
    let right = left + measured.headingWidth;
    for (let i = panel.from; i < panel.to; i++) {
      this.lefts[i] = right;
      right += measured.widths[i] ?? 0;
    }
    this.right = right;
  }

  get headHeight(): number {
    return this.measured.banners.length * LINE;
  }

  private endOf(column: number): number {
    return (this.lefts[column] ?? 0) + (this.measured.widths[column] ?? 0);
  }

  private rule(y: number, weight: number, x = this.left, width = this.right - this.left): PageItem {
    return { kind: "rule", x, y, width, weight };
  }

  private flushRight(column: number, y: number, text: string, font: Font, tone: Tone, tag: Tag | undefined): PageItem {
    const end = this.endOf(column) - GAP / 2;
    const x = end - this.measured.metrics.width(text, font, SIZE.body);
    return { kind: "text", x, y, text, font, size: SIZE.body, tone, end, ...(tag ? { tag } : {}) };
  }

  /** The rows of headings, under a place. */
  heads(top: number): PageItem[] {
    const { pivot, banners, locale } = this.measured;
    const items: PageItem[] = [];
    let y = top;
    for (const [n, row] of banners.entries()) {
      y += LINE;
      const tag = this.tag(true);
      if (n === banners.length - 1) items.push(...this.corner(y, tag));
      for (const b of row) {
        const [from, to] = [Math.max(b.from, this.panel.from), Math.min(b.from + b.span, this.panel.to)];
        if (to <= from) continue;
        const plain = b.figure !== null;
        const font = b.kind === "leaf" && plain ? "sans" : "sansBold";
        items.push(this.flushRight(to - 1, y, bannerWords(pivot, b, locale), font, plain ? "faint" : "ink", tag));
        if (!plain && b.span > 1) items.push(this.rule(y + 3.5, 0.4, (this.lefts[from] ?? 0) + GAP / 2, this.endOf(to - 1) - (this.lefts[from] ?? 0) - GAP));
      }
    }
    if (banners.length === 0) items.push(...this.corner(y, this.tag(true)));
    items.push(this.rule(y + 4, 0.8));
    return items;
  }

  /** What the headings of lines are of, and the figure, where there is but one and room for it. */
  private corner(y: number, tag: ReturnType<PanelDrawing["tag"]>): PageItem[] {
    const { pivot, metrics, headingWidth } = this.measured;
    const own = tag ? { tag: { ...tag, cell: 0 } } : {};
    const down = cornerOf(pivot);
    const beside = metrics.width(down, "sansBold", SIZE.body) + GAP;
    const items: PageItem[] = [{ kind: "text", x: this.left, y, text: down, font: "sansBold", size: SIZE.body, tone: "ink", ...own }];
    const figure = loneFigure(pivot);
    if (figure && beside < headingWidth) {
      const text = fitted(figure, headingWidth - beside, "sans", metrics, SIZE.body);
      items.push({ kind: "text", x: this.left + beside, y, text, font: "sans", size: SIZE.body, tone: "faint", ...own });
    }
    return items;
  }

  /** A line of figures with its heading; `y` is its baseline. */
  line(line: Line, y: number): PageItem[] {
    const { pivot, lines, locale, metrics, headingWidth } = this.measured;
    const font = fontOf(line);
    const tag = this.tag(false);
    const words = fitted(lineWords(pivot, line, locale), headingWidth - indentOf(line), font, metrics);
    const items: PageItem[] = line.kind === "total" ? [this.rule(y - LINE + 4, 0.6)] : [];
    items.push({ kind: "text", x: this.left + indentOf(line), y, text: words, font, size: SIZE.body, tone: "ink", ...(tag ? { tag } : {}) });
    for (let i = this.panel.from; i < this.panel.to; i++) {
      const cell = written(this.measured, line, lines.columns[i] as Column);
      if (cell.text) items.push(this.flushRight(i, y, cell.text, font, cell.negative ? "vermilion" : "ink", tag));
    }
    if (line.kind === "total") for (const below of [3.5, 5.2]) items.push(this.rule(y + below, 0.6));
    return items;
  }
}

/** A text cut to so many points, with a mark where it was cut. */
export function fitted(text: string, width: number, font: Font, metrics: Metrics, size = SIZE.body): string {
  if (metrics.width(text, font, size) <= width) return text;
  let cut = text;
  while (cut.length > 1 && metrics.width(`${cut}…`, font, size) > width) cut = cut.slice(0, -1);
  return `${cut}…`;
}
