import { PAPERS } from "../report/choices";
import { POINTS_PER_MM } from "../report/frame";
import type { Metrics, Page } from "../report/page";
import { pictureSize } from "../types/picture";
import { ADDRESS_WINDOWS, type AddressWindow } from "./choices";
import type { FilledBlock, FilledLetter } from "./fill";
import { type Drawing, drawLine, drawWords, INDENT, RULE, Sheets, STYLES } from "./sheets";
import type { LetterSpec } from "./spec";
import { drawRelated, drawTyped, leastOfRelated, leastOfTyped } from "./tables";
import { wrapRuns } from "./wrap";

/*
 * A filled letter on its pages. Places are in points from the paper's top left corner, as on a report's pages.
 *
 *   letterhead, address ─▶ first page ─▶ body flows over as many pages as it needs ─▶ foot and numbers on each
 */

const FOOT = { size: 8, line: 10.5 };
/** Where the address begins and the earliest the body does on the first page, in mm from the top: the window of a long envelope (common practice). */
const ADDRESS_MM = 50;
const BODY_MM = 92;
const ADDRESS_WIDTH_MM = 80;
/** From line to line of an address behind a window: six in the 27.3 mm that DIN 5008 gives it. */
const ADDRESS_LINE = (27.3 / 6) * POINTS_PER_MM;
/** Marks stand at the left edge, where printers still print (common practice). */
const FOLD_MARK = { from: 5 * POINTS_PER_MM, width: 4 * POINTS_PER_MM };

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
      foot.forEach(({ line, align }, n) =>
        drawLine(drawing, { line, align, left, right, y: y - (foot.length - 1 - n) * FOOT.line - 1, size: FOOT.size, tone: "faint" }, items),
      );
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
    const tag = sheets.tagOf(block);
    for (const line of wrapRuns(block.runs, right - left, drawing.metrics, size)) {
      drawLine(drawing, { line, align: block.align, left, right, y: sheets.y + ADDRESS_LINE * 0.76, size, tag });
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
    const { width: w, height: h } = pictureSize(spec.picture.png);
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
    case "picture":
      return drawPicture(block, drawing);
    case "table":
      return drawRelated(block.table, drawing);
    case "typed":
      return drawTyped(block.table, drawing);
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
    case "picture":
      return sizeOnPage(block, drawing).height;
    case "table":
      return leastOfRelated(block.table, drawing);
    case "typed":
      return leastOfTyped(block.table, drawing);
    default:
      return 0;
  }
}

type Picture = Extract<FilledBlock, { kind: "picture" }>;

/** How large a picture is printed, in points: as wide as asked, or as what the page holds lets it be. */
function sizeOnPage({ data, widthMm }: Picture, { sheets }: Drawing): { width: number; height: number } {
  const { left, right, top, bottom } = sheets.frame;
  const { width, height } = pictureSize(data);
  const across = Math.max(1, Math.min(widthMm * POINTS_PER_MM, right - left, ((bottom - top) * width) / height));
  return { width: across, height: (across * height) / width };
}

function drawPicture(block: Picture, drawing: Drawing): void {
  const { sheets } = drawing;
  const { left, right } = sheets.frame;
  const { width, height } = sizeOnPage(block, drawing);
  sheets.need(height);
  const x = block.align === "left" ? left : block.align === "right" ? right - width : (left + right - width) / 2;
  sheets.items.push({ kind: "picture", x, y: sheets.y, width, height, png: block.data, alt: block.alt });
  sheets.y += height + STYLES.body.after;
}

function drawRule({ sheets }: Drawing): void {
  sheets.need(RULE);
  sheets.items.push({ kind: "rule", x: sheets.frame.left, y: sheets.y + 2, width: sheets.frame.right - sheets.frame.left, weight: 0.6 });
  sheets.y += RULE;
}
