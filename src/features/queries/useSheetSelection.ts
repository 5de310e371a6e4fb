import { useState } from "react";
import { writtenOut } from "@/core/posting/coerce";
import type { PlanColumn } from "@/core/query/plan";
import { type SelectedFigure, selectionFigures } from "@/core/report/selection";
import { type CellWriter, cellWriter, counted, writeCount } from "@/core/types/format";
import { type Cell, isMisfit } from "@/core/types/valueType";
import type { GridPlace, Range } from "@/ui/gridWalk";
import { copyText } from "../copyText";
import { useLocale } from "../workspace/locale";
import type { Running } from "./useRun";
import { WORDS } from "./words";

/** How much is copied or added up from a selection at most. */
const MOST_SELECTED = 20_000;
/** How many cells of a selection are asked for in a condition at most. */
const MOST_PICKED = 1000;

/** A column that is shown: where its cells stand in a row, and how they are written. */
export type ShownColumn = { column: PlanColumn; at: number; write: ReturnType<typeof cellWriter> };

/** How cells are copied: with the headings of their columns, and as they are kept instead of as they are shown. */
export type CopyHow = { headings?: boolean; exact?: boolean };
/** The selected cells of one column, as what is done with them reads them. */
export type PickedCells = {
  column: PlanColumn;
  /** null where there are more than are here. */
  cells: Cell[] | null;
  row: number;
  /** All cells of that row; undefined while it is on its way, and of a heading. */
  line: Cell[] | undefined;
  copy: (how: CopyHow) => void;
  /** How cells of the column are written. */
  write: CellWriter;
};

/** What is done with the cells selected in a query's sheet: their figures told, copied, asked for in a condition. */
export function useSheetSelection(shown: ShownColumn[], run: Running) {
  const locale = useLocale();
  const [selected, setSelected] = useState({ words: "", repeated: false });

  async function describe(range: Range | null): Promise<void> {
    const cells = range ? (range.bottom - range.top + 1) * (range.right - range.left + 1) : 0;
    if (!range || cells < 2) return setSelected({ words: "", repeated: false });
    const words = WORDS.selected(writeCount(cells, locale));
    if (cells > MOST_SELECTED) return setSelected({ words: WORDS.tooManySelected(words, writeCount(MOST_SELECTED, locale)), repeated: false });
    const rows = await run.rowsBetween(range.top, range.bottom).catch(() => []);
    const figures = selectionFigures(shown.slice(range.left, range.right + 1), rows);
    if (!figures) return setSelected({ words, repeated: false });
    const write = ({ value, type, format }: SelectedFigure) => cellWriter(type, format, locale)(value).text || "–";
    const added = figures.repeated ? WORDS.repeatedValuesAdded2 : "";
    setSelected({ words: WORDS.selectionFigures(words, write(figures.total), added, write(figures.average)), repeated: figures.repeated });
  }

  async function copy(range: Range, { headings = false, exact = false }: CopyHow = {}): Promise<void> {
    const rows = await run.rowsBetween(range.top, Math.min(range.bottom, range.top + MOST_SELECTED));
    const parts = shown.slice(range.left, range.right + 1);
    const written = (cell: Cell, s: ShownColumn) => {
      if (isMisfit(cell)) return cell.misfit;
      return exact ? (cell === null ? "" : writtenOut(cell, s.column.type)) : s.write(cell).text;
    };
    const lines = [...(headings ? [parts.map((s) => s.column.heading)] : []), ...rows.map((row) => parts.map((s) => written(row[s.at] ?? null, s)))];
    const text = lines.map((line) => line.map((cell) => cell.replace(/[\t\r\n]+/g, " ")).join("\t")).join("\n");
    await copyText(text, WORDS.copied(counted(rows.length, "row", locale)));
  }

  /** The cells of a column within a selection; of a place without one, its own. */
  function picked({ row, column }: GridPlace, range: Range | null): PickedCells | null {
    const at = shown[column];
    if (!at) return null;
    const { top, bottom } = range ?? { top: row, bottom: row };
    const rows = row < 0 ? [] : Array.from({ length: Math.min(bottom - top + 1, MOST_PICKED + 1) }, (_, i) => run.rowAt(top + i));
    const here = rows.filter((r) => r !== undefined);
    const cells = here.length === rows.length && rows.length <= MOST_PICKED ? here.map((r) => r[at.at] ?? null) : null;
    const copied = range ?? { top: row, bottom: row, left: column, right: column };
    return { column: at.column, cells, row, line: row < 0 ? undefined : run.rowAt(row), copy: (how) => void copy(copied, how), write: at.write };
  }

  return { selected, describe, copy, picked };
}
