import { toast } from "sonner";
import { type BlockProblem, MOST_BLOCK_CELLS, pastedBlock } from "@/core/posting/block";
import { keyOfRow, type SheetColumns, typedOver } from "@/core/posting/typeOver";
import type { Table } from "@/core/schema/schema";
import { counted, type Locale, writeCount } from "@/core/types/format";
import type { RowEdit } from "@/server/jobs/posting/edit";
import type { Range } from "@/ui/gridWalk";
import type { SheetEdit } from "@/ui/sheetParts";
import { sentenceOf } from "../ask";
import type { Running } from "../queries/useRun";
import type { Read } from "./valueSource";
import { WORDS } from "./words";

type Written = {
  table: Table;
  columns: SheetColumns;
  run: Pick<Running, "rowAt" | "rowsBetween" | "rows">;
  make: (change: RowEdit) => Promise<string | null>;
  /** What was typed for a column, as it is kept. */
  read: (at: number, typed: string) => Promise<Read>;
  locale: Locale;
};

/** Copied cells as rows of texts; what another program wrote otherwise is parted at its lines and tabs. */
export async function copiedRows(text: string): Promise<string[][]> {
  const copied = text.replace(/\r?\n$/, "");
  // The reader of copied rows is loaded when the first ones come.
  const { default: Papa } = await import("papaparse");
  const { data, errors } = Papa.parse<string[]>(copied, { delimiter: "\t" });
  return errors.length === 0 ? data : copied.split(/\r?\n/).map((line) => line.split("\t"));
}

function blockSentence(problem: BlockProblem, locale: Locale): string {
  switch (problem.kind) {
    case "tooMany":
      return WORDS.blockTooLarge(writeCount(problem.cells, locale), writeCount(MOST_BLOCK_CELLS, locale));
    case "rowsBeyond":
      return WORDS.rowsBeyond(counted(problem.count, "row", locale));
    case "columnsBeyond":
      return WORDS.columnsBeyond(counted(problem.count, "column", locale));
    case "nothing":
      return WORDS.nothingCopied;
    default:
      return problem satisfies never;
  }
}

/** Pastes over and fills the cells of a table's sheet: a block is one change, made whole or not at all. */
export function blockEdit({ table, columns, run, make, read, locale }: Written): Required<Pick<SheetEdit, "paste" | "fill">> {
  /** Puts values over a range of cells. @param valueAt by the row's place in the range; null leaves a cell as it is */
  async function putOver({ top, bottom, left, right }: Range, valueAt: (row: number, at: number) => Promise<Read | null>): Promise<string | null> {
    const rows: Extract<RowEdit, { kind: "block" }>["rows"] = [];
    for (const [i, cells] of (await run.rowsBetween(top, bottom)).entries()) {
      const changed: (typeof rows)[number]["cells"] = [];
      for (let at = left; at <= right; at++) {
        const next = await valueAt(i, at);
        if (next === null) continue;
        if ("problem" in next) return WORDS.atRow(top + i + 1, next.problem);
        const was = typedOver(columns, cells, at);
        if (was === null) return WORDS.notTyped(columns[at]?.label ?? "");
        if (was !== next.text) changed.push({ column: columns[at]?.name ?? "", text: next.text, was: was === "" ? null : was });
      }
      if (changed.length > 0) rows.push({ key: keyOfRow(table, columns, cells), cells: changed });
    }
    const count = rows.reduce((sum, r) => sum + r.cells.length, 0);
    if (count === 0) return WORDS.nothingDiffers;
    const problem = await make({ kind: "block", rows });
    if (problem === null) toast(WORDS.valuesChanged(counted(count, "value", locale)));
    return problem;
  }
  /** Says what stood in the way, whatever it was: a key that does nothing says nothing of why. */
  async function told(work: Promise<string | null>): Promise<void> {
    const problem = await work.catch(sentenceOf);
    if (problem !== null) toast.error(problem, { duration: 12_000 });
  }

  async function pasteOver(range: Range, text: string): Promise<string | null> {
    const block = pastedBlock(await copiedRows(text), range, { rows: run.rows ?? 0, columns: columns.length });
    if ("kind" in block) return blockSentence(block, locale);
    const { top, left, texts } = block;
    const over = { top, left, bottom: top + texts.length - 1, right: left + (texts[0]?.length ?? 1) - 1 };
    return putOver(over, async (i, at) => {
      const typed = texts[i]?.[at - left] ?? null;
      return typed === null ? null : read(at, typed);
    });
  }

  async function fillDown(range: Range): Promise<string | null> {
    const cells = (range.bottom - range.top) * (range.right - range.left + 1);
    if (cells === 0) return null;
    if (cells > MOST_BLOCK_CELLS) return blockSentence({ kind: "tooMany", cells }, locale);
    const [first] = await run.rowsBetween(range.top, range.top);
    return putOver({ ...range, top: range.top + 1 }, async (_, at) => ({ text: typedOver(columns, first, at) ?? "" }));
  }

  return { paste: (range, text) => void told(pasteOver(range, text)), fill: (range) => void told(fillDown(range)) };
}
