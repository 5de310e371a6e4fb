import { standsRight } from "../query/namePlan";
import type { PlanColumn } from "../query/plan";
import { type ColumnFooting, columnFooting, footingWriter } from "../report/columnFooting";
import type { Font, Tone } from "../report/page";
import { Tally } from "../report/tally";
import { type CellWriter, cellWriter, type Locale } from "../types/format";
import type { ColumnFormat } from "../types/schemas";
import { withUnit } from "../types/unit";
import type { Cell } from "../types/valueType";
import { TEXTS, type TextName } from "./choices";
import type { LetterPlan } from "./plan";
import type { Align, Block, Doc, Inline, LetterSpec, Marks, TableCell, TableRow, When } from "./spec";

/*
 * A letter's texts with one row's values in them: no fields, passages or empty tables are left, only what is printed.
 */

/** Words in one font; a line break is "\n". */
export type Run = { text: string; font: Font; tone: Tone };
export type WrittenCell = { text: string; negative: boolean };
export type FilledTable = { title: string; columns: { heading: string; right: boolean }[]; rows: WrittenCell[][]; footing: WrittenCell[] | null };
/** A table that is typed: by row its cells, each of paragraphs one under the other; `headings`: how many rows at its top are headings. */
export type TypedTable = { headings: number; lines: boolean; rows: { runs: Run[]; align: Align }[][][] };
export type FilledBlock =
  | { kind: "words"; style: "body" | "heading1" | "heading2" | "heading3"; runs: Run[]; align: Align; indent: number; marker: string }
  | { kind: "rule" }
  | { kind: "break" }
  | { kind: "picture"; data: string; widthMm: number; alt: string; align: Align }
  | { kind: "table"; table: FilledTable }
  | { kind: "typed"; table: TypedTable };
export type FilledLetter = Record<TextName, FilledBlock[]>;

/** The rows of a table for one letter: its visible columns, all of its rows. */
/** `keys` are by column the places of what tells its rows apart where its total counts each once; else null. */
export type RelatedRows = { columns: PlanColumn[]; rows: Cell[][]; keys: (number[] | null)[] };

/** What was filled, for the account: fields that were empty, passages printed, rows of each table. */
export type Filled = { letter: FilledLetter; empty: string[] };

type Filling = {
  spec: LetterSpec;
  plan: LetterPlan;
  cells: Cell[];
  tables: Map<string, RelatedRows>;
  locale: Locale;
  writers: Map<string, CellWriter>;
  empty: Set<string>;
};

/** Whether a passage is printed in a letter. A condition that is empty is not true (SQL). */
export function holds(when: When, plan: LetterPlan, cells: Cell[], tables: Map<string, RelatedRows>): boolean {
  if (when.kind === "formula") return Number(cells[plan.conditions[when.text] ?? -1] ?? 0) === 1;
  return (tables.get(when.table)?.rows.length ?? 0) > 0 === when.some;
}

/**
 * Fills a letter's texts for one row.
 * @param cells the row, in the plan's columns
 * @param tables the rows of each table of related rows, by its id
 * @returns the texts, and the formulas that came out empty in what is printed
 */
export function fillLetter(spec: LetterSpec, plan: LetterPlan, cells: Cell[], tables: Map<string, RelatedRows>, locale: Locale): Filled {
  const filling: Filling = { spec, plan, cells, tables, locale, writers: new Map(), empty: new Set() };
  const letter = Object.fromEntries(TEXTS.map((name) => [name, fillDoc(spec[name], filling)])) as FilledLetter;
  // An address closes up where a line has nothing to say.
  const address = letter.address.flatMap((b) => (b.kind === "words" ? linesSaid(b) : [b]));
  return { letter: { ...letter, address }, empty: [...filling.empty] };
}

function linesSaid(block: Extract<FilledBlock, { kind: "words" }>): FilledBlock[] {
  const lines: Run[][] = [[]];
  for (const run of block.runs)
    for (const [i, text] of run.text.split("\n").entries()) {
      if (i > 0) lines.push([]);
      lines.at(-1)?.push({ ...run, text });
    }
  return lines.filter((runs) => runs.some((r) => r.text.trim() !== "")).map((runs) => ({ ...block, runs }));
}

const fillDoc = (doc: Doc, filling: Filling): FilledBlock[] => doc.content.flatMap((block) => fillBlock(block, filling, 0, ""));

function fillBlock(block: Block, filling: Filling, indent: number, marker: string): FilledBlock[] {
  switch (block.type) {
    case "paragraph":
    case "heading": {
      const style = block.type === "paragraph" ? "body" : (`heading${block.attrs.level}` as "heading1");
      const runs = (block.content ?? []).map((i) => runOf(i, filling, block.type === "heading" ? "serifBold" : null));
      return [{ kind: "words", style, runs, align: block.attrs?.align ?? "left", indent, marker }];
    }
    case "bulletList":
    case "orderedList":
      return block.content.flatMap((item, n) => {
        const mark = block.type === "bulletList" ? "•" : `${n + 1}.`;
        return item.content.flatMap((b, i) => fillBlock(b, filling, indent + 1, i === 0 ? mark : ""));
      });
    case "horizontalRule":
      return [{ kind: "rule" }];
    case "pageBreak":
      return [{ kind: "break" }];
    case "passage":
      return holds(block.attrs.when, filling.plan, filling.cells, filling.tables)
        ? block.content.flatMap((b, i) => fillBlock(b, filling, indent, i === 0 ? marker : ""))
        : [];
    case "related":
      return fillTable(block.attrs.table, filling);
    case "picture":
      return [{ kind: "picture", ...block.attrs, align: block.attrs.align ?? "left" }];
    case "table":
      return [{ kind: "typed", table: typedTable(block, filling) }];
    default:
      return block satisfies never;
  }
}

function typedTable({ attrs, content }: Extract<Block, { type: "table" }>, filling: Filling): TypedTable {
  const isHeading = (row: TableRow) => row.content.length > 0 && row.content.every((cell) => cell.type === "tableHeader");
  const body = content.findIndex((row) => !isHeading(row));
  const paragraphs = (cell: TableCell) =>
    cell.content.flatMap((b) =>
      b.type === "paragraph"
        ? [
            {
              runs: (b.content ?? []).map((i) => runOf(i, filling, cell.type === "tableHeader" ? "sansBold" : null)),
              align: b.attrs?.align ?? ("left" as const),
            },
          ]
        : [],
    );
  return { headings: Math.max(0, body), lines: attrs?.lines ?? true, rows: content.map((row) => row.content.map(paragraphs)) };
}

/** @param all the font of all the words, where what is marked in them makes no difference */
function runOf(inline: Inline, filling: Filling, all: Font | null): Run {
  if (inline.type === "hardBreak") return { text: "\n", font: "sans", tone: "ink" };
  const font = all ?? fontOf(inline.marks);
  if (inline.type === "field") return fieldRun(inline.attrs.formula, inline.attrs.format ?? null, filling, font);
  return { text: inline.text, font, tone: "ink" };
}

function fontOf(marks: Marks): Font {
  const has = (type: "bold" | "italic") => marks?.some((m) => m.type === type) ?? false;
  if (has("bold")) return has("italic") ? "sansBoldItalic" : "sansBold";
  return has("italic") ? "sansItalic" : "sans";
}

function fieldRun(formula: string, format: ColumnFormat | null, filling: Filling, font: Font): Run {
  const at = filling.plan.fields[formula] ?? -1;
  const column = filling.plan.plan.columns[at];
  const cell = filling.cells[at] ?? null;
  if (cell === null) filling.empty.add(formula);
  const key = `${formula} ${JSON.stringify(format)}`;
  const write = filling.writers.get(key) ?? cellWriter(column?.type ?? { kind: "text" }, { ...column?.format, ...format }, filling.locale);
  filling.writers.set(key, write);
  const written = write(cell);
  return { text: written.text, font, tone: written.negative || written.misfit ? "vermilion" : "ink" };
}

function fillTable(id: string, { spec, tables, locale }: Filling): FilledBlock[] {
  const related = spec.tables.find((t) => t.id === id);
  const found = tables.get(id);
  if (!related || !found || (related.hideEmpty && found.rows.length === 0)) return [];
  const columns = found.columns.map((c, at) => ({ c, at, write: cellWriter(c.type, c.format, locale) })).filter(({ c }) => !c.hidden);
  const written = (write: CellWriter, cell: Cell): WrittenCell => {
    const { text, negative, misfit } = write(cell);
    return { text, negative: negative || misfit };
  };
  const footings = footingsOf(found);
  const footing = columns.map(({ c, at }) => {
    const own = footings[at];
    return own ? written(footingWriter(c, own, locale), own.cell()) : { text: "", negative: false };
  });
  return [
    {
      kind: "table",
      table: {
        title: related.title,
        columns: columns.map(({ c }) => ({ heading: withUnit(c.heading, c.unit), right: standsRight(c) })),
        rows: found.rows.map((row) => columns.map(({ at, write }) => written(write, row[at] ?? null))),
        footing: found.rows.length > 1 && columns.some(({ at }) => footings[at]) ? footing : null,
      },
    },
  ];
}

/** The footings of a table's columns over all its rows, in their places; null where nothing stands under one. */
function footingsOf({ columns, rows, keys }: RelatedRows): (ColumnFooting | null)[] {
  const footings = columns.map((c, i) => columnFooting(c, keys[i] ?? null));
  for (const row of rows) for (const [at, footing] of footings.entries()) footing?.add(row[at] ?? null, row);
  return footings;
}

/** The totals of a table's columns that add up, in their places; exact where the columns are. */
export function totalsOf({ columns, rows, keys }: RelatedRows): Cell[] {
  const tallies = columns.map((c, i) => (c.totalled && !c.hidden ? new Tally(c.type, keys[i] ?? null) : null));
  for (const row of rows) for (const [at, tally] of tallies.entries()) tally?.add(row[at] ?? null, row);
  return tallies.map((tally) => tally?.figure("total") ?? null);
}
