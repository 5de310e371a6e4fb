import { toast } from "sonner";
import { type BlockProblem, MOST_BLOCK_CELLS, pastedBlock } from "@/core/posting/block";
import { keyOfRow, sheetColumns, typedOver } from "@/core/posting/typeOver";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema, Table } from "@/core/schema/schema";
import { counted, type Locale, writeCount } from "@/core/types/format";
import { readTyped, writeTyped } from "@/core/types/typed";
import { type Cell, text as textType } from "@/core/types/valueType";
import type { RowEdit } from "@/server/posting/edit";
import type { Range } from "@/ui/gridWalk";
import type { SheetEdit } from "@/ui/sheetParts";
import { misread } from "../editors/misread";
import type { Running } from "../queries/useRun";
import { type Read, valueSource } from "./valueSource";
import { WORDS } from "./words";

type Edited = {
  table: Table;
  spec: QuerySpec;
  schema: Schema;
  run: Pick<Running, "rowAt" | "rowsBetween" | "rows">;
  /** Makes a change. @returns what is wrong with it, if anything */
  make: (change: RowEdit) => Promise<string | null>;
  notation: { locale: Locale; day: string };
};

/** A cell's new value, as it is kept; or what is wrong with it. */
type ReadAt = (row: number, at: number) => Promise<Read | null>;

/**
 * How the cells of a table are typed over, pasted and filled: by the row's key, in the workspace's notation, and only where the column is
 * stored. A block is one change, made whole or not at all.
 */
export function sheetEdit({ table, spec, schema, run, make, notation: { locale, day } }: Edited): SheetEdit {
  const columns = sheetColumns(
    table,
    spec.columns.map((c) => c.id),
  );
  const keyOf = (cells: Cell[] | undefined) => keyOfRow(table, columns, cells);
  const typeAt = (at: number) => columns[at]?.type ?? textType;
  const values = valueSource(table, schema, columns);

  async function read(at: number, typed: string): Promise<Read> {
    const written = typed.trim();
    if (written === "") return { text: "" };
    const text = readTyped(typeAt(at), typed, locale, day);
    if (text !== null && !values.isNamed(at)) return { text };
    return (await values.called(at, written, text)) ?? { problem: misread(written, typeAt(at), locale, day) };
  }

  /** Puts values over a range of cells. @param valueAt null leaves a cell as it is */
  async function putOver({ top, bottom, left, right }: Range, valueAt: ReadAt): Promise<string | null> {
    const held = await run.rowsBetween(top, bottom);
    const rows: Extract<RowEdit, { kind: "block" }>["rows"] = [];
    for (const [i, cells] of held.entries()) {
      const changed: (typeof rows)[number]["cells"] = [];
      for (let at = left; at <= right; at++) {
        const next = await valueAt(i, at);
        if (next === null) continue;
        if ("problem" in next) return WORDS.atRow(top + i + 1, next.problem);
        const was = typedOver(columns, cells, at);
        if (was === null) return WORDS.notTyped(columns[at]?.label ?? "");
        if (was !== next.text) changed.push({ column: columns[at]?.name ?? "", text: next.text, was: was === "" ? null : was });
      }
      if (changed.length > 0) rows.push({ key: keyOf(cells), cells: changed });
    }
    const count = rows.reduce((sum, r) => sum + r.cells.length, 0);
    if (count === 0) return WORDS.nothingDiffers;
    const problem = await make({ kind: "block", rows });
    if (problem === null) toast(WORDS.valuesChanged(counted(count, "value", locale)));
    return problem;
  }
  const tell = (problem: string | null) => problem && toast.error(problem, { duration: 12_000 });
  const sentenceOfBlock = (problem: BlockProblem): string => {
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
  };

  return {
    text: (row, at) => {
      const plain = typedOver(columns, run.rowAt(row), at);
      return plain === null ? null : writeTyped(typeAt(at), plain, locale);
    },
    save: async (row, at, typed) => {
      const was = typedOver(columns, run.rowAt(row), at);
      const next = await read(at, typed);
      if ("problem" in next) return next.problem;
      return make({ kind: "change", key: keyOf(run.rowAt(row)), column: columns[at]?.name ?? "", text: next.text, was: was === "" ? null : was });
    },
    suggest: (_, at, typed) => values.suggest(at, typed),
    paste: async (range, text) => {
      // The reader of copied rows is loaded when the first ones come.
      const { parse } = await import("csv-parse/browser/esm/sync");
      const pasted = parse(text.replace(/\r?\n$/, ""), {
        delimiter: "\t",
        relax_quotes: true,
        relax_column_count: true,
        skip_empty_lines: false,
      }) as string[][];
      const block = pastedBlock(pasted, range, { rows: run.rows ?? 0, columns: columns.length });
      if ("kind" in block) return tell(sentenceOfBlock(block));
      const { top, left, texts } = block;
      const over = { top, left, bottom: top + texts.length - 1, right: left + (texts[0]?.length ?? 1) - 1 };
      tell(
        await putOver(over, async (i, at) => {
          const typed = texts[i]?.[at - left] ?? null;
          return typed === null ? null : read(at, typed);
        }),
      );
    },
    fill: async (range) => {
      if ((range.bottom - range.top) * (range.right - range.left + 1) > MOST_BLOCK_CELLS)
        return tell(sentenceOfBlock({ kind: "tooMany", cells: (range.bottom - range.top) * (range.right - range.left + 1) }));
      const first = run.rowAt(range.top);
      const plain = (at: number): Read => ({ text: typedOver(columns, first, at) ?? "" });
      if (range.bottom > range.top) tell(await putOver({ ...range, top: range.top + 1 }, async (_, at) => plain(at)));
    },
    remove: ({ top, bottom }) => {
      const keys = Array.from({ length: Math.min(1000, bottom - top + 1) }, (_, i) => keyOf(run.rowAt(top + i)));
      void make({ kind: "remove", keys }).then((problem) =>
        problem
          ? toast.error(problem)
          : toast(WORDS.rowsRemoved(keys.length === 1 ? WORDS.n1Row : WORDS.manyRows(keys.length), keys.length === 1 ? "it" : "them")),
      );
    },
  };
}
