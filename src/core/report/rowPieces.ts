import type { Cell } from "../types/valueType";
import { type Draft, toneOf, wordsOf, wrapped } from "./draft";
import type { Piece } from "./fillPages";
import type { FlowSetting } from "./flowSetting";
import { SIZE, type Tag, type Tone } from "./page";
import { headingText, type LaidColumn, LINE } from "./table";
import { COLUMN_GAP } from "./widths";

/** From one line of a wrapped value to the next. */
const WRAPPED = 10;

/* A row of a report as a piece: a line of a table, or a block of its values. */

/** @param previous the row above it in its group; null where it is the first */
export function rowPiece(setting: FlowSetting, row: Cell[], previous: Cell[] | null): Piece {
  const { shape } = setting.report.spec;
  return shape.kind === "blocks" ? blockPiece(setting, row, shape.across) : linePiece(setting, row, previous);
}

const isTrue = (row: Cell[], at: number): boolean => Number(row[at] ?? 0) === 1;

function isShown({ report }: FlowSetting, i: number, row: Cell[]): boolean {
  const when = report.columns[i]?.when;
  return when === null || when === undefined || isTrue(row, when);
}

/** The rule that marks a value, if one does. */
function markOf({ report }: FlowSetting, i: number, row: Cell[]): { tone: Tone; sign: string } | undefined {
  const column = report.columns[i];
  const at = column?.marks.findIndex((when) => isTrue(row, when)) ?? -1;
  return at < 0 ? undefined : column?.spec.marks?.[at];
}

const toneAt = (setting: FlowSetting, c: LaidColumn, i: number, row: Cell[]): Tone => markOf(setting, i, row)?.tone ?? toneOf(c.write(row[c.at] ?? null));

const linesOf = (setting: FlowSetting, c: LaidColumn, i: number, row: Cell[]): string[] =>
  isShown(setting, i, row) ? wrapped(wordsOf(c.write(row[c.at] ?? null)), c.width + 0.5, setting.metrics, SIZE.body) : [""];

function linePiece(setting: FlowSetting, row: Cell[], previous: Cell[] | null): Piece {
  const { columns } = setting;
  const tag = setting.nextRow();
  const lines = columns.map((c, i) => (c.wrap ? linesOf(setting, c, i, row) : null));
  const count = Math.max(1, ...lines.map((l) => l?.length ?? 1));
  const drawLine = (draft: Draft, y: number, n: number) => {
    for (const [i, c] of columns.entries()) {
      const own = lines[i];
      if (own) draft.put(c, y, own[n] ?? "", "sans", toneAt(setting, c, i, row), tag);
      else if (n === 0) drawCell(setting, draft, y, c, i, row, previous, tag);
    }
  };
  const part = (_: unknown, n: number): Piece => ({ kind: "piece", height: WRAPPED, row, draw: (draft, y) => drawLine(draft, y + WRAPPED - 2, n) });
  return {
    kind: "piece",
    height: LINE + (count - 1) * WRAPPED,
    draw: (draft, y) => {
      for (let n = 0; n < count; n++) drawLine(draft, y + LINE - 3 + n * WRAPPED, n);
      for (const c of columns) draft.area(c.x, y, c.width, LINE, { kind: "value", column: c.id });
      draft.fresh = false;
    },
    ...(count > 1 ? { parts: () => Array.from({ length: count }, part) } : {}),
  };
}

function drawCell(setting: FlowSetting, draft: Draft, y: number, c: LaidColumn, i: number, row: Cell[], previous: Cell[] | null, tag: Tag): void {
  if (!isShown(setting, i, row)) return;
  const cell = row[c.at] ?? null;
  const again = setting.report.columns[i]?.spec.once && previous !== null && !draft.fresh && String(previous[c.at] ?? null) === String(cell);
  if (again) return;
  const written = c.write(cell);
  const mark = markOf(setting, i, row);
  // The sign stands beside the value, and is read with it.
  const own = { ...tag, cell: i };
  draft.put(c, y, wordsOf(written), "sans", mark?.tone ?? toneOf(written), own);
  if (mark?.sign) draft.text(c.right ? c.x + c.width + 1 : c.x - 7, y, mark.sign, "sansBold", SIZE.small, mark.tone, own);
}

/** A row as a block: its values beside their headings, some of them side by side. */
function blockPiece(setting: FlowSetting, row: Cell[], across: number): Piece {
  const { columns, metrics, inner, right } = setting;
  const each = (right - inner - COLUMN_GAP * (across - 1)) / across;
  const rows = Math.ceil(columns.length / across);
  const widest = Math.max(0, ...columns.map((c) => metrics.width(headingText(c.column), "sans", SIZE.small)));
  const labelWidth = Math.min(each * 0.4, widest + 6);
  const table = setting.nextTable();
  return {
    kind: "piece",
    height: rows * LINE + 8,
    draw: (draft, y) => {
      for (const [i, c] of columns.entries()) {
        if (!isShown(setting, i, row)) continue;
        const line = Math.floor(i / across);
        const x = inner + (i % across) * (each + COLUMN_GAP);
        const base = y + 14 + line * LINE;
        const tag = (head: boolean): Tag => ({ kind: "cell", table, row: line, head });
        draft.text(x, base, headingText(c.column), "sans", SIZE.small, "faint", tag(true));
        const place = { x: x + labelWidth, width: each - labelWidth, right: false };
        draft.put(place, base, wordsOf(c.write(row[c.at] ?? null)), i === 0 ? "sansBold" : "sans", toneAt(setting, c, i, row), tag(false));
        draft.area(x, base - 10, each, LINE, { kind: "value", column: c.id });
      }
      draft.rule(inner, y + rows * LINE + 6, right - inner, 0.3);
    },
  };
}
