import type { RowCells } from "../folio/panel";
import { counted } from "../types/format";
import type { Cell } from "../types/valueType";
import { RunningCarry } from "./carry";
import { MOST_RELATED } from "./choices";
import { type ColumnFooting, columnFooting, footingWriter } from "./columnFooting";
import { toneOf, wordsOf } from "./draft";
import type { Flow, Piece } from "./fillPages";
import type { FlowSetting, OpenGroup } from "./flowSetting";
import { SIZE } from "./page";
import { headsPiece, notePiece } from "./pieces";
import type { RelatedPlan } from "./relatedPlan";
import type { RelatedLayout, RelatedRows } from "./relatedRows";
import { neededId } from "./rowsPlan";
import { type LaidColumn, LINE } from "./table";
import { Tally } from "./tally";
import { footingWords } from "./words";

/* A table of rows that belong to a row or group, with its own headings, footing and what is carried over a page. */

const TITLE_LINE = 20;

/**
 * @param depth how many headings stand around it
 * @param totals takes what its columns come to, where its group has a summary of them
 */
export function* relatedFlow(
  setting: FlowSetting,
  layout: RelatedLayout,
  parents: RowCells[],
  depth: number,
  totals?: OpenGroup["relatedTotals"],
): Generator<Flow> {
  const { plan } = layout;
  const found = parents.length === 0 ? null : setting.related(plan, parents);
  const rows = found?.rows[Symbol.iterator]();
  try {
    yield* tableFlow(setting, layout, found, rows, depth, totals);
  } finally {
    // Where no more pages are asked for, the rows that are not read are let go.
    rows?.return?.();
  }
}

function* tableFlow(
  setting: FlowSetting,
  layout: RelatedLayout,
  found: RelatedRows | null,
  rows: Iterator<Cell[]> | undefined,
  depth: number,
  told?: OpenGroup["relatedTotals"],
): Generator<Flow> {
  const { plan, columns, left } = layout;
  const { id, hideEmpty, keepWhole, carried } = plan.spec;
  let next = rows?.next();
  const isEmpty = next === undefined || next.done === true;
  if (isEmpty) setting.checks.related(id, 0, []);
  if (isEmpty && hideEmpty) return;
  const title = plan.spec.title.trim();
  const table = setting.nextTable();
  const heads = headsPiece(columns, left, setting.right, setting.nextRow(table, true), (column) => ({ kind: "related", id, column }));
  const titled = (words: string): Piece[] => (title ? [titlePiece(words, id, left, setting.right, Math.min(6, depth + 2))] : []);
  yield { kind: "open", stretch: { again: () => [...titled(`${title}, continued`), heads], ...(keepWhole ? { keepWhole } : {}) } };
  yield* titled(title);
  yield { ...heads, joined: true };
  const footings = new Map(
    columns.flatMap((c) => {
      const footing = columnFooting(c.column, found?.keys(c.column) ?? null);
      return footing ? [[c.id, footing] as const] : [];
    }),
  );
  const totals = columns.filter((c) => c.column.totalled);
  const carry =
    carried && found && totals.length > 0
      ? new RunningCarry(
          totals.map((column) => ({ column, tally: () => new Tally(column.column.type, found.keys(column.column)) })),
          { left, right: setting.right, tag: () => setting.nextRow(table) },
          setting.checks,
        )
      : null;
  const footing = (column: string) => footings.get(column)?.cell();
  if (carry) yield { kind: "open", stretch: { carry, ended: () => setting.checks.carryEnds(carry.ends(), footing) } };
  let count = 0;
  for (; next && !next.done && count < MOST_RELATED; count++) {
    const row: Cell[] = next.value;
    for (const c of columns) footings.get(c.id)?.add(row[c.at] ?? null, row);
    next = rows?.next();
    const last = next === undefined || next.done === true;
    yield { ...rowOf(columns, row, setting.nextRow(table)), joined: last && layout.related.length === 0, placed: () => carry?.add(row) };
    for (const inner of layout.related) yield* relatedFlow(setting, inner, [nestedParent(inner.plan, found, row)], depth + 1);
  }
  const cut = next !== undefined && !next.done;
  if (carry) yield { kind: "close" };
  if (isEmpty) yield notePiece("none", left, "faint");
  if (cut) yield notePiece(`Only the first ${counted(MOST_RELATED, "row", setting.locale)} are printed. Add a condition to this table.`, left, "vermilion");
  const sums = totals.map((c) => ({ column: c.id, cell: footings.get(c.id)?.cell() ?? null, type: c.column.type }));
  if (!isEmpty) setting.checks.related(id, count, sums, cut);
  for (const c of totals) told?.set(`${id}\n${c.id}`, { cell: footings.get(c.id)?.cell() ?? null, type: c.column.type, format: c.column.format });
  yield footingPiece(setting, layout, footingWords(title || "Rows", count, setting.locale), footings, table);
  yield { kind: "close" };
}

/** The row that tables within a related one belong to. */
function nestedParent({ needed }: RelatedPlan, found: RelatedRows | null, row: Cell[]): RowCells {
  const at = (name: string) => found?.columns.findIndex((c) => c.id === neededId("", name)) ?? -1;
  return Object.fromEntries(needed.map((name) => [name, row[at(name)] ?? null]));
}

const titlePiece = (words: string, id: string, left: number, right: number, level: number): Piece => ({
  kind: "piece",
  height: TITLE_LINE,
  joined: true,
  draw: (draft, y) => {
    draft.text(left, y + 14, words, "sansBold", SIZE.heading, "ink", { kind: "heading", level });
    draft.area(left, y, right - left, TITLE_LINE, { kind: "related", id, column: null });
  },
});

const rowOf = (columns: LaidColumn[], row: Cell[], tag: ReturnType<FlowSetting["nextRow"]>): Piece => ({
  kind: "piece",
  height: LINE,
  draw: (draft, y) => {
    for (const c of columns) {
      const written = c.write(row[c.at] ?? null);
      draft.put(c, y + LINE - 3, wordsOf(written), "sans", toneOf(written), tag);
    }
  },
});

function footingPiece(setting: FlowSetting, { columns, left, plan }: RelatedLayout, words: string, footings: Map<string, ColumnFooting>, table: number): Piece {
  const { right } = setting;
  const first = columns.find((c) => footings.has(c.id));
  return {
    kind: "piece",
    height: LINE + 10,
    draw: (draft, y) => {
      const tag = setting.nextRow(table);
      draft.rule(left, y, right - left, 0.5);
      draft.put({ x: left, width: Math.max(40, (first?.x ?? right) - left), right: false }, y + LINE - 4, words, "sansBold", "ink", tag);
      for (const c of columns) {
        const footing = footings.get(c.id);
        if (!footing) continue;
        const written = footingWriter(c.column, footing, setting.locale)(footing.cell());
        draft.put(c, y + LINE - 4, wordsOf(written), "sansBold", toneOf(written), tag);
      }
      draft.rule(left, y + LINE, right - left, 0.5);
      draft.rule(left, y + LINE + 2, right - left, 0.5);
      draft.area(left, y, right - left, LINE, { kind: "related", id: plan.spec.id, column: null });
    },
  };
}
