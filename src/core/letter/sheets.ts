import type { Metrics, PageItem, Tag, Tone } from "../report/page";
import type { FilledBlock } from "./fill";
import type { Align } from "./spec";
import { type WrappedLine, wrapRuns } from "./wrap";

/* The pages of a letter while they fill up, and words on them. Places are in points from the paper's top left corner. */

export const STYLES = {
  body: { size: 10.5, line: 14.5, after: 7 },
  heading1: { size: 17, line: 22, after: 5 },
  heading2: { size: 13, line: 18, after: 4 },
  heading3: { size: 11, line: 15.5, after: 3 },
} as const;
export const INDENT = 18;
export const RULE = 10;

type Frame = { width: number; height: number; left: number; right: number; top: number; bottom: number };

/** The pages of a letter while they fill up. */
export class Sheets {
  readonly pages: PageItem[][] = [[]];
  y: number;
  private blocks = 1;

  constructor(readonly frame: Frame) {
    this.y = frame.top;
  }

  get items(): PageItem[] {
    return this.pages.at(-1) as PageItem[];
  }

  /** What words are to those who have them read: all lines of a block are one heading or paragraph. */
  tagOf({ style }: Words): Tag {
    const of = this.block();
    return style === "body" ? { kind: "paragraph", of } : { kind: "heading", level: Number(style.slice("heading".length)), of };
  }

  /** A number for each block, table or row of the letter. */
  block(): number {
    return this.blocks++;
  }

  /** Whether anything stands on this page above the place that is next. */
  private get begun(): boolean {
    return this.y > this.frame.top;
  }

  next(): void {
    this.pages.push([]);
    this.y = this.frame.top;
  }

  /** Goes on to a new page where so much does not fit on this one. */
  need(height: number): boolean {
    if (this.y + height <= this.frame.bottom || !this.begun) return false;
    this.next();
    return true;
  }
}

export type Drawing = { metrics: Metrics; sheets: Sheets };

export type Words = Extract<FilledBlock, { kind: "words" }>;

/** Lines of a block; never one alone on either side of a page's end. @param after points under it; null for its style's own */
export function drawWords(block: Words, drawing: Drawing, left: number, right: number, after: number | null): void {
  const { metrics, sheets } = drawing;
  const style = STYLES[block.style];
  const from = left + block.indent * INDENT;
  const lines = wrapRuns(block.runs, right - from, metrics, style.size);
  const tag = sheets.tagOf(block);
  lines.forEach((line, i) => {
    const together = i === 0 || i === lines.length - 2 ? Math.min(2, lines.length - i) : 1;
    sheets.need(together * style.line);
    const baseline = sheets.y + style.line * 0.76;
    if (i === 0 && block.marker)
      sheets.items.push({ kind: "text", x: from - INDENT + 4, y: baseline, text: block.marker, font: "sans", size: style.size, tone: "ink", tag });
    drawLine(drawing, { line, align: block.align, left: from, right, y: baseline, size: style.size, tag });
    sheets.y += style.line;
  });
  sheets.y += after ?? style.after;
}

/** A line of words at its place; `y` is its baseline, and it stands between `left` and `right`. */
type PlacedLine = { line: WrappedLine; align: Align; left: number; right: number; y: number; size: number; tone?: Tone; tag?: Tag | undefined };

export function drawLine({ sheets, metrics }: Drawing, { line, align, left, right, y, size, tone, tag }: PlacedLine, items = sheets.items): void {
  let x = align === "right" ? right - line.width : align === "center" ? (left + right - line.width) / 2 : left;
  const end = align === "right" && line.pieces.length === 1 ? { end: right } : {};
  for (const { text, font, tone: own } of line.pieces) {
    items.push({ kind: "text", x, y, text, font, size, tone: tone ?? own, ...end, ...(tag ? { tag } : {}) });
    x += metrics.width(text, font, size);
  }
}
