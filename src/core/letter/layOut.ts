import { PAPERS } from "../report/choices";
import { POINTS_PER_MM } from "../report/frame";
import type { Font, Metrics, Page, PageItem, Tone } from "../report/page";
import { fitWidths } from "../report/widths";
import { ADDRESS_WINDOWS, type AddressWindow } from "./choices";
import type { FilledBlock, FilledLetter, FilledTable, Run, WrittenCell } from "./fill";
import type { Align, LetterSpec } from "./spec";
import { type WrappedLine, wrapRuns } from "./wrap";

/*
 * A filled letter on its pages. Places are in points from the paper's top left corner, as on a report's pages.
 *
 *   letterhead, address ─▶ first page ─▶ body flows over as many pages as it needs ─▶ foot and numbers on each
 */

const STYLES = {
  body: { size: 10.5, line: 14.5, after: 7 },
  heading1: { size: 17, line: 22, after: 5 },
  heading2: { size: 13, line: 18, after: 4 },
  heading3: { size: 11, line: 15.5, after: 3 },
} as const;
const TABLE = { size: 9, line: 12, pad: 3, gap: 10 };
const FOOT = { size: 8, line: 10.5 };
const INDENT = 18;
const RULE = 10;
/** Where the address begins and the earliest the body does on the first page, in mm from the top: the window of a long envelope (common practice). */
const ADDRESS_MM = 50;
const BODY_MM = 92;
const ADDRESS_WIDTH_MM = 80;
/** From line to line of an address behind a window: six in the 27.3 mm that DIN 5008 gives it. */
const ADDRESS_LINE = (27.3 / 6) * POINTS_PER_MM;
/** Marks stand at the left edge, where printers still print (common practice). */
const FOLD_MARK = { from: 5 * POINTS_PER_MM, width: 4 * POINTS_PER_MM };

type Frame = { width: number; height: number; left: number; right: number; top: number; bottom: number };

/** The pages of a letter while they fill up. */
class Sheets {
  readonly pages: PageItem[][] = [[]];
  y: number;

  constructor(readonly frame: Frame) {
    this.y = frame.top;
  }

  get items(): PageItem[] {
    return this.pages.at(-1) as PageItem[];
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

type Drawing = { metrics: Metrics; sheets: Sheets };

/**
 * Lays a letter out.
 * @returns its pages, numbered from 1
 */
export function layOutLetter(spec: LetterSpec, letter: FilledLetter, metrics: Metrics): Page[] {
  const { margins, paper, addressOn, numbers } = spec.page;
  const window: AddressWindow | undefined = spec.page.window && ADDRESS_WINDOWS[spec.page.window];
  const [width, height] = [PAPERS[paper].width * POINTS_PER_MM, PAPERS[paper].height * POINTS_PER_MM];
  const [left, right] = [margins.left * POINTS_PER_MM, width - margins.right * POINTS_PER_MM];
  const foot = letter.foot.flatMap((b) =>
    b.kind === "words" ? wrapRuns(b.runs, right - left - 70, metrics, FOOT.size).map((line) => ({ line, align: b.align })) : [],
  );
  const footed = foot.some(({ line }) => line.pieces.length > 0);
  const footHeight = Math.max(footed ? foot.length * FOOT.line : 0, numbers === "never" ? 0 : FOOT.line) + 10;
  const sheets = new Sheets({ width, height, left, right, top: margins.top * POINTS_PER_MM, bottom: height - margins.bottom * POINTS_PER_MM - footHeight });
  const drawing = { metrics, sheets };

  drawHead(spec, letter, drawing);
  if (window) drawBehindWindow(letter, window, spec.page.foldMarks === true, drawing);
  else if (letter.address.length > 0) {
    const addressLeft = addressOn === "left" ? left : right - ADDRESS_WIDTH_MM * POINTS_PER_MM;
    sheets.y = Math.max(sheets.y + 8, ADDRESS_MM * POINTS_PER_MM);
    for (const block of letter.address) if (block.kind === "words") drawWords(block, drawing, addressLeft, addressLeft + ADDRESS_WIDTH_MM * POINTS_PER_MM, 0);
    sheets.y = Math.max(sheets.y + 22, BODY_MM * POINTS_PER_MM);
  } else sheets.y += sheets.items.length > 0 ? 18 : 0;
  letter.body.forEach((block, i) => drawBlock(block, letter.body.slice(i + 1), drawing));

  const count = sheets.pages.length;
  const numbered = numbers === "always" || (numbers === "several" && count > 1);
  return sheets.pages.map((items, i) => {
    const y = height - margins.bottom * POINTS_PER_MM;
    if (footed) {
      items.push({ kind: "rule", x: left, y: y - foot.length * FOOT.line - 2, width: right - left, weight: 0.4 });
      foot.forEach(({ line, align }, n) => drawLine(items, line, align, left, right, y - (foot.length - 1 - n) * FOOT.line - 1, FOOT.size, metrics, "faint"));
    }
    if (numbered) {
      const words = `page ${i + 1} of ${count}`;
      items.push({
        kind: "text",
        x: right - metrics.width(words, "sans", FOOT.size),
        y: y - 1,
        text: words,
        font: "sans",
        size: FOOT.size,
        tone: "faint",
        end: right,
      });
    }
    return { number: i + 1, width, height, items };
  });
}

/** The address at its place behind a window, whatever stands above it; and the marks by which the paper is folded. */
function drawBehindWindow(letter: FilledLetter, window: AddressWindow, marks: boolean, drawing: Drawing): void {
  const { sheets } = drawing;
  const head = sheets.y;
  sheets.y = window.top * POINTS_PER_MM;
  const left = window.left * POINTS_PER_MM;
  const right = left + window.width * POINTS_PER_MM;
  for (const block of letter.address) {
    if (block.kind !== "words") continue;
    const { size } = STYLES[block.style];
    for (const line of wrapRuns(block.runs, right - left, drawing.metrics, size)) {
      drawLine(sheets.items, line, block.align, left, right, sheets.y + ADDRESS_LINE * 0.76, size, drawing.metrics);
      sheets.y += ADDRESS_LINE;
    }
  }
  sheets.y = Math.max(head + 8, sheets.y + 8, window.body * POINTS_PER_MM);
  if (marks)
    for (const fold of window.folds) sheets.items.push({ kind: "rule", x: FOLD_MARK.from, y: fold * POINTS_PER_MM, width: FOLD_MARK.width, weight: 0.3 });
}

/** What of an address its window does not show, or what covers it, in sentences. */
export function addressNotes(spec: LetterSpec, letter: FilledLetter, metrics: Metrics): string[] {
  const window: AddressWindow | undefined = spec.page.window && ADDRESS_WINDOWS[spec.page.window];
  if (!window) return [];
  const lines = letter.address.flatMap((b) => (b.kind === "words" ? wrapRuns(b.runs, window.width * POINTS_PER_MM, metrics, STYLES[b.style].size) : [])).length;
  const over = lines > window.lines ? [`The address has ${lines} lines, the window shows ${window.lines}. Make it shorter.`] : [];
  const head = headHeight(spec, letter, metrics);
  return head > window.top * POINTS_PER_MM ? [...over, "The letterhead is so high that it covers the address. Make it lower."] : over;
}

/** How far down the letterhead reaches, in points. */
function headHeight(spec: LetterSpec, letter: FilledLetter, metrics: Metrics): number {
  const { margins, paper } = spec.page;
  const [width, height] = [PAPERS[paper].width * POINTS_PER_MM, PAPERS[paper].height * POINTS_PER_MM];
  const frame = {
    width,
    height,
    left: margins.left * POINTS_PER_MM,
    right: width - margins.right * POINTS_PER_MM,
    top: margins.top * POINTS_PER_MM,
    bottom: height,
  };
  const sheets = new Sheets(frame);
  drawHead(spec, letter, { metrics, sheets });
  return sheets.y;
}

/** The letterhead, with its picture on the other side of the paper than its words begin. */
function drawHead(spec: LetterSpec, letter: FilledLetter, drawing: Drawing): void {
  const { sheets } = drawing;
  const { left, right, top } = sheets.frame;
  const width = spec.picture ? spec.picture.widthMm * POINTS_PER_MM : 0;
  let beside = top;
  if (spec.picture) {
    const { width: w, height: h } = pngSize(spec.picture.png);
    beside = top + (width * h) / w + 4;
    sheets.items.push({ kind: "picture", x: right - width, y: top, width, height: (width * h) / w, png: spec.picture.png, alt: spec.picture.alt });
  }
  for (const block of letter.letterhead) {
    if (block.kind === "words") drawWords(block, drawing, left, right - (width ? width + 12 : 0), 2);
    else if (block.kind === "rule") {
      // A line runs under both the words and the picture.
      sheets.y = Math.max(sheets.y, beside);
      drawRule(drawing);
    }
  }
  sheets.y = Math.max(sheets.y, beside);
}

/** Pixels across and down, from a PNG's header (ISO/IEC 15948, 11.2.2); a square where it cannot be read. */
function pngSize(base64: string): { width: number; height: number } {
  const bytes = Uint8Array.from(atob(base64.slice(0, 48)), (c) => c.charCodeAt(0));
  const read = (at: number) => new DataView(bytes.buffer).getUint32(at);
  if (bytes.length < 24 || read(16) === 0 || read(20) === 0) return { width: 1, height: 1 };
  return { width: read(16), height: read(20) };
}

function drawBlock(block: FilledBlock, after: FilledBlock[], drawing: Drawing): void {
  const { sheets } = drawing;
  const { left, right } = sheets.frame;
  switch (block.kind) {
    case "words":
      // A heading does not stand alone at the foot of a page.
      if (block.style !== "body") sheets.need(leastHeight([block, ...after], drawing));
      return drawWords(block, drawing, left, right, null);
    case "rule":
      return drawRule(drawing);
    case "break":
      return sheets.next();
    case "table":
      return drawTable(block.table, drawing);
    default:
      return block satisfies never;
  }
}

/** How much of blocks stands together at least: headings with what they are of, and of that as much as does not stand alone. */
function leastHeight([block, ...after]: FilledBlock[], drawing: Drawing): number {
  switch (block?.kind) {
    case "words": {
      const style = STYLES[block.style];
      const { left, right } = drawing.sheets.frame;
      const lines = wrapRuns(block.runs, right - left - block.indent * INDENT, drawing.metrics, style.size).length;
      return block.style === "body" ? Math.min(2, lines) * style.line : lines * style.line + style.after + leastHeight(after, drawing);
    }
    case "rule":
      return RULE + leastHeight(after, drawing);
    case "table":
      return measureTable(block.table, drawing).least;
    default:
      return 0;
  }
}

function drawRule({ sheets }: Drawing): void {
  sheets.need(RULE);
  sheets.items.push({ kind: "rule", x: sheets.frame.left, y: sheets.y + 2, width: sheets.frame.right - sheets.frame.left, weight: 0.6 });
  sheets.y += RULE;
}

type Words = Extract<FilledBlock, { kind: "words" }>;

/** Lines of a block; never one alone on either side of a page's end. @param after points under it; null for its style's own */
function drawWords(block: Words, { metrics, sheets }: Drawing, left: number, right: number, after: number | null): void {
  const style = STYLES[block.style];
  const from = left + block.indent * INDENT;
  const lines = wrapRuns(block.runs, right - from, metrics, style.size);
  lines.forEach((line, i) => {
    const together = i === 0 || i === lines.length - 2 ? Math.min(2, lines.length - i) : 1;
    sheets.need(together * style.line);
    const baseline = sheets.y + style.line * 0.76;
    if (i === 0 && block.marker)
      sheets.items.push({ kind: "text", x: from - INDENT + 4, y: baseline, text: block.marker, font: "sans", size: style.size, tone: "ink" });
    drawLine(sheets.items, line, block.align, from, right, baseline, style.size, metrics);
    sheets.y += style.line;
  });
  sheets.y += after ?? style.after;
}

function drawLine(
  items: PageItem[],
  line: WrappedLine,
  align: Align,
  left: number,
  right: number,
  y: number,
  size: number,
  metrics: Metrics,
  tone?: Tone,
): void {
  let x = align === "right" ? right - line.width : align === "center" ? (left + right - line.width) / 2 : left;
  for (const { text, font, tone: own } of line.pieces) {
    const width = metrics.width(text, font, size);
    items.push({ kind: "text", x, y, text, font, size, tone: tone ?? own, ...(align === "right" && line.pieces.length === 1 ? { end: right } : {}) });
    x += width;
  }
}

/** How wide each column is: as wide as its widest cell where all fit, columns of words narrower where they do not. */
function columnWidths({ columns, rows, footing }: FilledTable, room: number, metrics: Metrics): number[] {
  const natural = columns.map((c, at) =>
    Math.max(
      metrics.width(c.heading, "sansBold", TABLE.size),
      ...rows.map((row) => metrics.width(row[at]?.text ?? "", "sans", TABLE.size)),
      metrics.width(footing?.[at]?.text ?? "", "sansBold", TABLE.size),
    ),
  );
  const free = room - TABLE.gap * (columns.length - 1);
  const wanted = natural.map((w, at) => ({ natural: w, whole: columns[at]?.right ?? false }));
  return fitWidths(wanted, free, (0.2 * free) / columns.length);
}

type Measured = {
  widths: number[];
  headings: WrappedLine[][];
  rows: WrappedLine[][][];
  footing: WrappedLine[][] | null;
  footingHeight: number;
  /** Title, headings and a row, and the footing where that is the only one. */
  least: number;
};

const rowHeight = (cells: WrappedLine[][]): number => Math.max(1, ...cells.map((c) => c.length)) * TABLE.line + TABLE.pad;

/** A table's cells in lines, as wide as its columns will be. */
function measureTable(table: FilledTable, { metrics, sheets }: Drawing): Measured {
  const { left, right } = sheets.frame;
  const widths = columnWidths(table, right - left, metrics);
  const wrap = (cells: WrittenCell[], font: Font) =>
    cells.map((cell, at) =>
      wrapRuns([{ text: cell.text, font, tone: cell.negative ? "vermilion" : "ink" } satisfies Run], (widths[at] ?? 0) + 0.5, metrics, TABLE.size),
    );
  const headings = wrap(
    table.columns.map((c) => ({ text: c.heading, negative: false })),
    "sansBold",
  );
  const none: WrittenCell[] = [{ text: "none", negative: false }];
  const rows = table.rows.length === 0 ? [wrap(none, "sansItalic")] : table.rows.map((row) => wrap(row, "sans"));
  const footing = table.footing && wrap(table.footing, "sansBold");
  const footingHeight = footing ? rowHeight(footing) + 4 : 0;
  const title = table.title.trim()
    ? wrapRuns(titleOf(table), right - left, metrics, STYLES.heading3.size).length * STYLES.heading3.line + STYLES.heading3.after
    : 0;
  const least = title + rowHeight(headings) + rowHeight(rows[0] ?? []) + (rows.length === 1 ? footingHeight : 0);
  return { widths, headings, rows, footing, footingHeight, least };
}

const titleOf = ({ title }: FilledTable): Run[] => [{ text: title.trim(), font: "serifBold", tone: "ink" }];

/** A table of related rows: its heading again on each page it goes on to, its footing with at least one row. */
function drawTable(table: FilledTable, drawing: Drawing): void {
  const { metrics, sheets } = drawing;
  const { left, right } = sheets.frame;
  const { widths, headings, rows, footing, footingHeight, least } = measureTable(table, drawing);
  const whole = widths.reduce((a, b) => a + b, 0) + TABLE.gap * (widths.length - 1);
  // Where there is room, the last column ends at the margin, so that figures of several tables stand in line.
  const spare = table.columns.length > 1 ? (right - left - whole) / (table.columns.length - 1) : 0;
  const lefts = widths.map((_, at) => left + widths.slice(0, at).reduce((sum, w) => sum + w + TABLE.gap + spare, 0));
  const draw = (cells: WrappedLine[][]) => {
    cells.forEach((lines, at) => {
      const from = lefts[at] ?? left;
      const align = table.columns[at]?.right ? "right" : "left";
      const top = sheets.y + TABLE.line * 0.76 + TABLE.pad / 2;
      lines.forEach((line, n) => drawLine(sheets.items, line, align, from, from + (widths[at] ?? 0), top + n * TABLE.line, TABLE.size, metrics));
    });
    sheets.y += rowHeight(cells);
  };
  const rule = (weight: number, down = 0) => sheets.items.push({ kind: "rule", x: left, y: sheets.y + down, width: right - left, weight });
  const head = () => {
    draw(headings);
    rule(0.8);
  };
  sheets.need(least);
  if (table.title.trim())
    drawWords({ kind: "words", style: "heading3", runs: titleOf(table), align: "left", indent: 0, marker: "" }, drawing, left, right, null);
  head();
  rows.forEach((row, i) => {
    const last = i === rows.length - 1;
    if (sheets.need(rowHeight(row) + (last ? footingHeight : 0))) head();
    draw(row);
    if (!last) rule(0.2);
  });
  rule(footing ? 0.6 : 0.4);
  if (footing) {
    draw(footing);
    rule(0.6);
    rule(0.6, 1.8);
  }
  sheets.y += 12;
}
