import type { Font, Metrics, Tag } from "../report/page";
import { fitWidths } from "../report/widths";
import type { FilledTable, Run, TypedTable, WrittenCell } from "./fill";
import { type Drawing, drawLine, drawWords, STYLES } from "./sheets";
import type { Align } from "./spec";
import { type WrappedLine, wrapRuns } from "./wrap";

/*
 * Tables of a letter: those of related rows, and those that are typed. Headings stand again on each page a table goes on
 * to; a row is not parted by a page's end, but for one that is higher than a page.
 */

const TABLE = { size: 9, line: 12, pad: 3, gap: 10, after: 12 };

type CellLine = { line: WrappedLine; align: Align };
/** A row's cells, each in lines. */
type Row = CellLine[][];

const heightOf = (row: Row): number => Math.max(1, ...row.map((cell) => cell.length)) * TABLE.line + TABLE.pad;
const heightOfAll = (rows: Row[]): number => rows.reduce((sum, row) => sum + heightOf(row), 0);

type Cell = Extract<Tag, { kind: "cell" }>;
type Columns = { lefts: number[]; widths: number[]; headings: Row[]; lines: boolean };

/** Draws rows of a table, and its headings wherever it goes on. */
class TableDrawing {
  private readonly left: number;
  private readonly width: number;
  private readonly table: number;
  private begun = false;

  constructor(
    private readonly columns: Columns,
    private readonly drawing: Drawing,
    /** How far its lines go, in points from the left margin. */
    width: number,
  ) {
    this.left = drawing.sheets.frame.left;
    this.width = width;
    this.table = drawing.sheets.block();
  }

  head(): void {
    // Where they are repeated they are not read once more.
    for (const row of this.columns.headings) this.cells(row, this.begun ? null : this.tag(true));
    this.begun = true;
    if (this.columns.headings.length > 0) this.rule(0.8);
  }

  private tag(head = false): Cell {
    return { kind: "cell", table: this.table, row: this.drawing.sheets.block(), head };
  }

  /** A row, on a new page where it does not fit with so much under it; one that is higher than a page goes on over the next ones. */
  row(row: Row, under = 0): void {
    const { sheets } = this.drawing;
    const { top, bottom } = sheets.frame;
    const most = bottom - top - heightOfAll(this.columns.headings);
    if (heightOf(row) + under <= most && sheets.need(heightOf(row) + under)) this.head();
    const tag = this.tag();
    for (let rest = row; ; this.head()) {
      const fits = Math.floor((bottom - sheets.y - TABLE.pad) / TABLE.line);
      // On a page that holds no line at all, one stands all the same.
      const drawn = fits < 1 && sheets.y <= top + heightOfAll(this.columns.headings) ? 1 : fits;
      if (drawn > 0) {
        this.cells(
          rest.map((cell) => cell.slice(0, drawn)),
          tag,
        );
        rest = rest.map((cell) => cell.slice(drawn));
        if (rest.every((cell) => cell.length === 0)) return;
      }
      sheets.next();
    }
  }

  rule(weight: number, down = 0): void {
    const { sheets } = this.drawing;
    if (this.columns.lines) sheets.items.push({ kind: "rule", x: this.left, y: sheets.y + down, width: this.width, weight });
  }

  /** @param tag of its row; null where it is not read */
  cells(row: Row, tag: Cell | null = this.tag()): void {
    const { sheets } = this.drawing;
    const top = sheets.y + TABLE.line * 0.76 + TABLE.pad / 2;
    for (const [at, cell] of row.entries()) {
      const from = this.columns.lefts[at] ?? this.left;
      const own = tag ? { ...tag, cell: at } : undefined;
      for (const [n, { line, align }] of cell.entries())
        drawLine(this.drawing, { line, align, left: from, right: from + (this.columns.widths[at] ?? 0), y: top + n * TABLE.line, size: TABLE.size, tag: own });
    }
    sheets.y += heightOf(row);
  }
}

const widest = (widths: Iterable<number>): number => {
  let most = 0;
  for (const width of widths) most = Math.max(most, width);
  return most;
};

/** Columns as wide as their widest cells where all fit, those of words narrower where they do not. @param wanted by column its widest cell, and whether it is not to be broken */
function fitted(wanted: { natural: number; whole: boolean }[], room: number): number[] {
  const free = room - TABLE.gap * (wanted.length - 1);
  return fitWidths(wanted, free, (0.2 * free) / wanted.length);
}

function relatedWidths({ columns, rows, footing }: FilledTable, room: number, metrics: Metrics): number[] {
  const width = (text: string | undefined, font: Font) => metrics.width(text ?? "", font, TABLE.size);
  const wanted = columns.map((c, at) => ({
    natural: widest([width(c.heading, "sansBold"), widest(rows.map((row) => width(row[at]?.text, "sans"))), width(footing?.[at]?.text, "sansBold")]),
    whole: c.right,
  }));
  return fitted(wanted, room);
}

type Measured = {
  widths: number[];
  headings: Row;
  rows: Row[];
  footing: Row | null;
  footingHeight: number;
  /** Title, headings and a row, and the footing where that is the only one. */
  least: number;
};

/** A table's cells in lines, as wide as its columns will be. */
function measureRelated(table: FilledTable, { metrics, sheets }: Drawing): Measured {
  const { left, right } = sheets.frame;
  const widths = relatedWidths(table, right - left, metrics);
  const wrap = (cells: WrittenCell[], font: Font): Row =>
    cells.map((cell, at) => {
      const run: Run = { text: cell.text, font, tone: cell.negative ? "vermilion" : "ink" };
      const align = table.columns[at]?.right ? "right" : "left";
      return wrapRuns([run], (widths[at] ?? 0) + 0.5, metrics, TABLE.size).map((line) => ({ line, align }));
    });
  const headings = wrap(
    table.columns.map((c) => ({ text: c.heading, negative: false })),
    "sansBold",
  );
  const none: WrittenCell[] = [{ text: "none", negative: false }];
  const rows = table.rows.length === 0 ? [wrap(none, "sansItalic")] : table.rows.map((row) => wrap(row, "sans"));
  const footing = table.footing && wrap(table.footing, "sansBold");
  const footingHeight = footing ? heightOf(footing) + 4 : 0;
  const title = table.title.trim()
    ? wrapRuns(titleOf(table), right - left, metrics, STYLES.heading3.size).length * STYLES.heading3.line + STYLES.heading3.after
    : 0;
  const least = title + heightOf(headings) + heightOf(rows[0] ?? []) + (rows.length === 1 ? footingHeight : 0);
  return { widths, headings, rows, footing, footingHeight, least };
}

const titleOf = ({ title }: FilledTable): Run[] => [{ text: title.trim(), font: "serifBold", tone: "ink" }];

/** How much of a table of related rows stands together at least. */
export const leastOfRelated = (table: FilledTable, drawing: Drawing): number => measureRelated(table, drawing).least;

/** A table of related rows; its footing stands with at least one row. */
export function drawRelated(table: FilledTable, drawing: Drawing): void {
  const { sheets } = drawing;
  const { left, right } = sheets.frame;
  const { widths, headings, rows, footing, footingHeight, least } = measureRelated(table, drawing);
  const whole = widths.reduce((a, b) => a + b, 0) + TABLE.gap * (widths.length - 1);
  // Where there is room, the last column ends at the margin, so that figures of several tables stand in line.
  const spare = table.columns.length > 1 ? (right - left - whole) / (table.columns.length - 1) : 0;
  const on = new TableDrawing({ lefts: leftsOf(widths, left, spare), widths, headings: [headings], lines: true }, drawing, right - left);
  sheets.need(least);
  if (table.title.trim())
    drawWords({ kind: "words", style: "heading3", runs: titleOf(table), align: "left", indent: 0, marker: "" }, drawing, left, right, null);
  on.head();
  rows.forEach((row, i) => {
    const last = i === rows.length - 1;
    on.row(row, last ? footingHeight : 0);
    if (!last) on.rule(0.2);
  });
  on.rule(footing ? 0.6 : 0.4);
  if (footing) {
    if (sheets.need(footingHeight)) on.head();
    on.cells(footing);
    on.rule(0.6);
    on.rule(0.6, 1.8);
  }
  sheets.y += TABLE.after;
}

const leftsOf = (widths: number[], left: number, spare: number): number[] =>
  widths.map((_, at) => left + widths.slice(0, at).reduce((sum, w) => sum + w + TABLE.gap + spare, 0));

function measureTyped({ rows }: TypedTable, { metrics, sheets }: Drawing): { widths: number[]; rows: Row[] } {
  const { left, right } = sheets.frame;
  const count = widest(rows.map((row) => row.length));
  const wanted = Array.from({ length: count }, (_, at) => ({
    natural: widest(rows.flatMap((row) => (row[at] ?? []).flatMap(({ runs }) => wrapRuns(runs, Infinity, metrics, TABLE.size).map((line) => line.width)))),
    whole: false,
  }));
  const widths = fitted(wanted, right - left);
  const lines = (cell: TypedTable["rows"][number][number], at: number) =>
    cell.flatMap(({ runs, align }) => wrapRuns(runs, (widths[at] ?? 0) + 0.5, metrics, TABLE.size).map((line) => ({ line, align })));
  return { widths, rows: rows.map((row) => row.map(lines)) };
}

/** How much of a table that is typed stands together at least: its headings and a row. */
export const leastOfTyped = (table: TypedTable, drawing: Drawing): number => heightOfAll(measureTyped(table, drawing).rows.slice(0, table.headings + 1));

/** A table that is typed, no wider than its words are. */
export function drawTyped(table: TypedTable, drawing: Drawing): void {
  const { sheets } = drawing;
  const { widths, rows } = measureTyped(table, drawing);
  const whole = widths.reduce((a, b) => a + b, 0) + TABLE.gap * (widths.length - 1);
  const [headings, body] = [rows.slice(0, table.headings), rows.slice(table.headings)];
  const on = new TableDrawing({ lefts: leftsOf(widths, sheets.frame.left, 0), widths, headings, lines: table.lines }, drawing, whole);
  sheets.need(heightOfAll(rows.slice(0, table.headings + 1)));
  on.head();
  body.forEach((row, i) => {
    if (i > 0) on.rule(0.2);
    on.row(row);
  });
  on.rule(0.4);
  sheets.y += TABLE.after;
}
