import { cellWriter, counted, type Written } from "../types/format";
import type { Cell } from "../types/valueType";
import { COLUMN_GAP, headingText, INDENT, type LaidColumn, placeColumns } from "./columns";
import { type Font, type LayoutInput, type Metrics, type Page, SIZE, type Tone } from "./page";
import { pageFrame } from "./plan";
import { Tally } from "./tally";

/*
 * Rows in the order of the groups become pages:
 *
 *   rows ─▶ measure (column widths) ─▶ lay out (headings, rows, footings, page breaks) ─▶ pages of text and rules
 *
 * The preview and the PDF draw the same pages. All places are in points from the paper's top left corner; a text's
 * y is its baseline.
 */

/** The groups in order, each with the page its heading stands on. */
export type ReportOutline = {
  entries: { level: number; text: string; page: number; empty: boolean; rows: number }[];
  pages: number;
  /** The page the grand footing stands on; pivots and charts may follow it. */
  totalPage: number;
  rows: number;
  /** Grand footing: figure by column id. */
  totals: Record<string, Cell>;
  /** The outermost groups' totals added together; the same where every row was printed once, unless what is counted once stands in several groups. */
  groupTotals: Record<string, Cell>;
  groups: number;
};

const LINE = 14;
const HEADING_LINE = 16;
/** What the line at the foot of each page takes of the body. */
const FOOT = 16;

/**
 * Lays a report's rows out on pages, one page at a time, so that a report of any length takes the memory of a page.
 * No row is lost or stands twice; a heading is never the last thing on a page; a footing keeps a row with it.
 * @param rows cells in the order of the plan's columns, sorted by the groups
 * @param pageCount the number of pages for "page n of m"; null while it is not known
 * @param firstDrawn the first page whose rows are drawn; those before it are only gone through, as all are with Infinity
 * @returns the outline, after the last page
 */
export function* layOutReport(
  input: LayoutInput,
  natural: number[],
  rows: Iterable<Cell[]>,
  pageCount: number | null,
  firstDrawn = 1,
): Generator<Page, ReportOutline> {
  const ahead = lookAhead(rows, Math.max(1, ...input.spec.levels.map((l) => l.keepRows)));
  try {
    return yield* layOutPages(input, natural, ahead, pageCount, firstDrawn);
  } finally {
    ahead.close();
  }
}

function* layOutPages(
  input: LayoutInput,
  natural: number[],
  ahead: ReturnType<typeof lookAhead>,
  pageCount: number | null,
  firstDrawn: number,
): Generator<Page, ReportOutline> {
  const { report, spec, metrics, locale, texts } = input;
  const frame = pageFrame(spec);
  const columns = placeColumns(input, natural);
  const levelAt = report.levels.map((c) => report.plan.columns.indexOf(c));
  const levelWriters = report.levels.map((c) => cellWriter(c.type, c.format, locale));
  const depth = spec.levels.length;
  const details = spec.details ?? true;
  /** The levels that have headings: without rows, the innermost group is its footing alone. */
  const headed = details ? depth : depth - 1;
  const bodyBottom = frame.bottom - FOOT;
  const outline: ReportOutline = { entries: [], pages: 0, totalPage: 0, rows: 0, totals: {}, groupTotals: {}, groups: 0 };
  const newTallies = () => columns.map((c) => new Tally(c.column.type, c.keys));
  const groups: { tallies: Tally[]; rows: number; entry: ReportOutline["entries"][number] }[] = [];
  const grand = newTallies();
  const outermost = newTallies();

  let page: Page = { number: 0, width: frame.width, height: frame.height, items: [] };
  let y = 0;
  let filled = false;

  const text = (x: number, words: string, font: Font, size: number, tone: Tone = "ink", at = y) =>
    page.items.push({ kind: "text", x, y: at, text: words, font, size, tone });
  const rule = (x: number, width: number, at: number, weight: number) => page.items.push({ kind: "rule", x, y: at, width, weight });

  function startPage(): void {
    page = { number: page.number + 1, width: frame.width, height: frame.height, items: [] };
    y = frame.top;
    if (spec.header && page.number > 1) text(frame.left, spec.header, "sans", SIZE.small, "faint", frame.top - 6);
    if (page.number === 1) titleBlock();
    y += 10;
    for (const c of columns) put(c, headingText(c.column), "sansBold", "ink");
    y += 4;
    rule(frame.left, frame.right - frame.left, y, 0.9);
    filled = false;
  }

  function titleBlock(): void {
    y += SIZE.title;
    text(frame.left, spec.title, "serifBold", SIZE.title);
    if (spec.showBrief)
      for (const line of wrapped(texts.brief, frame.right - frame.left, metrics)) {
        y += 11;
        text(frame.left, line, "sans", SIZE.brief, "faint");
      }
    y += 10;
  }

  function endPage(): Page {
    const foot = frame.bottom + 2;
    const numbers = pageCount === null ? `page ${page.number}` : `page ${page.number} of ${pageCount}`;
    text(frame.left, [spec.footer, texts.printedAt].filter(Boolean).join(" · "), "sans", SIZE.small, "faint", foot);
    text(frame.right - metrics.width(numbers, "sans", SIZE.small), numbers, "sans", SIZE.small, "faint", foot);
    return page;
  }

  /** A text in a column's place: figures flush right and never cut (set smaller if need be), words shortened with an ellipsis. */
  function put(c: LaidColumn, words: string, font: Font, tone: Tone): void {
    if (words === "") return;
    const width = metrics.width(words, font, SIZE.body);
    if (c.right) {
      const size = width <= c.width ? SIZE.body : (SIZE.body * c.width) / width;
      const end = c.x + c.width;
      page.items.push({ kind: "text", x: end - Math.min(width, c.width), y, text: words, font, size, tone, end });
    } else text(c.x, width <= c.width ? words : shortened(words, c.width, font, metrics), font, SIZE.body, tone);
  }

  const putWritten = (c: LaidColumn, written: Written, font: Font) =>
    put(c, written.misfit ? `“${written.text}”` : written.text, font, written.negative || written.misfit ? "vermilion" : "ink");

  function putHeading(level: number, words: string, empty: boolean): void {
    y += HEADING_LINE;
    text(frame.left + level * INDENT, words, "sansBold", SIZE.heading, empty ? "ochre" : level === 0 ? "ink" : "green");
  }

  function headingOf(level: number, row: Cell[]): { words: string; empty: boolean } {
    const cell = row[levelAt[level] ?? 0] ?? null;
    const empty = cell === null;
    const value = empty ? `No ${(report.levels[level]?.heading ?? "value").toLowerCase()}` : (levelWriters[level]?.(cell).text ?? "");
    return { words: (spec.levels[level]?.heading || "{}").replaceAll("{}", value), empty };
  }

  function putFooting(words: string, indent: number, tallies: Tally[], font: Font): void {
    y += LINE;
    rule(frame.left + indent, frame.right - frame.left - indent, y - 10, 0.5);
    const firstFigure = columns.find((c, i) => c.footing !== "none" && tallies[i]?.figure(c.footing) !== null && !(c.footing === "count" && i === 0));
    const room = (firstFigure ? firstFigure.x + (firstFigure.right ? 0 : -COLUMN_GAP) : frame.right) - frame.left - indent;
    const width = metrics.width(words, font, SIZE.body);
    text(frame.left + indent, width <= room ? words : shortened(words, Math.max(room, 40), font, metrics), font, SIZE.body);
    columns.forEach((c, i) => {
      if (c.footing === "none" || (c.footing === "count" && i === 0)) return;
      putWritten(c, c.writeFooting(tallies[i]?.figure(c.footing) ?? null), font);
    });
  }

  /** The outermost level that a row begins anew, given the row before it; depth where it begins none. */
  const opensAt = (row: Cell[], before: Cell[] | null): number => {
    if (before === null) return 0;
    const changed = levelAt.findIndex((at) => row[at] !== before[at]);
    return changed < 0 ? depth : changed;
  };

  /** The space that must be free for a row: its headings, the rows kept with them, and the footings that close after it. */
  function needed(before: Cell[] | null): number {
    const [first, second] = ahead.rows;
    if (!first) return 0;
    const opens = opensAt(first, before);
    if (!details) {
      const most = depth + 1.5;
      const closing = second ? depth - opensAt(second, first) : most;
      // A heading has a footing under it on its page: room for as many as can close together is kept, be it many rows later.
      return Math.max(0, headed - opens) * HEADING_LINE + (opens < headed ? most : closing) * LINE;
    }
    const keep = opens < depth ? Math.max(...spec.levels.slice(opens).map((l) => l.keepRows)) : 1;
    let height = 0;
    let previous = before;
    for (let i = 0; i < keep; i++) {
      const row = ahead.rows[i];
      if (!row) break;
      const level = opensAt(row, previous);
      if (i > 0 && level <= opens && level < depth) break;
      height += (depth - level) * HEADING_LINE + LINE;
      const next = ahead.rows[i + 1];
      height += (next ? depth - opensAt(next, row) : depth + 1.5) * LINE;
      previous = row;
    }
    return height;
  }

  let before: Cell[] | null = null;
  startPage();
  for (let row = ahead.rows[0]; row; row = ahead.rows[0]) {
    const opens = opensAt(row, before);
    const fresh = opens < depth && before !== null && spec.levels.slice(opens).some((l) => l.newPage);
    if (filled && (fresh || y + needed(before) > bodyBottom)) {
      yield endPage();
      startPage();
      for (let level = 0; level < opens && level < headed; level++)
        if (spec.levels[level]?.repeat) {
          const { words, empty } = headingOf(level, row);
          putHeading(level, `${words}, continued`, empty);
        }
    }
    for (let level = opens; level < depth; level++) {
      const { words, empty } = headingOf(level, row);
      if (level < headed) putHeading(level, words, empty);
      const entry = { level, text: words, page: page.number, empty, rows: 0 };
      outline.entries.push(entry);
      groups[level] = { tallies: newTallies(), rows: 0, entry };
      if (level === 0) outline.groups++;
    }
    if (details) y += LINE;
    const drawn = details && page.number >= firstDrawn;
    columns.forEach((c, i) => {
      const cell = row[c.at] ?? null;
      if (drawn) putWritten(c, c.write(cell), "sans");
      grand[i]?.add(cell, row);
      for (const group of groups) group.tallies[i]?.add(cell, row);
    });
    for (const group of groups) group.entry.rows = ++group.rows;
    outline.rows++;
    filled = true;
    ahead.advance();
    const next = ahead.rows[0];
    const closes = next ? opensAt(next, row) : 0;
    for (let level = depth - 1; level >= closes; level--) {
      const group = groups[level];
      if (!group) continue;
      putFooting(`${headingOf(level, row).words}, ${counted(group.rows, "row", locale)}`, level * INDENT + INDENT, group.tallies, "sansItalic");
      if (level === 0) outermost.forEach((tally, i) => tally.merge(group.tallies[i] as Tally));
    }
    before = row;
  }
  if (outline.rows === 0) {
    y += LINE;
    text(frame.left, "No rows.", "sansItalic", SIZE.body, "faint");
  }
  putFooting(`All, ${counted(outline.rows, "row", locale)}`, 0, grand, "sansBold");
  rule(frame.left, frame.right - frame.left, y + 4, 0.5);
  rule(frame.left, frame.right - frame.left, y + 6, 0.5);
  yield endPage();
  outline.pages = page.number;
  outline.totalPage = page.number;
  columns.forEach((c, i) => {
    if (c.footing === "none") return;
    outline.totals[c.column.id] = grand[i]?.figure(c.footing) ?? null;
    outline.groupTotals[c.column.id] = (depth > 0 ? outermost : grand)[i]?.figure(c.footing) ?? null;
  });
  return outline;
}

/** A window of the next rows of a stream: the current one and `most` after it. */
function lookAhead(source: Iterable<Cell[]>, most: number): { rows: Cell[][]; advance: () => void; close: () => void } {
  const iterator = source[Symbol.iterator]();
  const rows: Cell[][] = [];
  const fill = () => {
    while (rows.length <= most) {
      const next = iterator.next();
      if (next.done) return;
      rows.push(next.value);
    }
  };
  fill();
  return {
    rows,
    advance() {
      rows.shift();
      fill();
    },
    /** Lets the stream go where it was not read to its end. */
    close: () => void iterator.return?.(),
  };
}

function shortened(words: string, width: number, font: Font, metrics: Metrics): string {
  let kept = words.length;
  while (kept > 1 && metrics.width(`${words.slice(0, kept)}…`, font, SIZE.body) > width) kept--;
  return `${words.slice(0, kept).trimEnd()}…`;
}

function wrapped(words: string, width: number, metrics: Metrics): string[] {
  const lines: string[] = [];
  let line = "";
  for (const word of words.split(/\s+/)) {
    const longer = line ? `${line} ${word}` : word;
    if (line && metrics.width(longer, "sans", SIZE.brief) > width) {
      lines.push(line);
      line = word;
    } else line = longer;
  }
  return line ? [...lines, line] : lines;
}
