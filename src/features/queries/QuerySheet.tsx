"use client";

import { type ComponentProps, type ReactNode, useMemo, useRef, useState } from "react";
import { sparkOf } from "@/core/chart/spark";
import { writtenOut } from "@/core/posting/coerce";
import type { Plan, PlanColumn } from "@/core/query/plan";
import { SUBTOTAL_WORD, subtotalOf } from "@/core/query/subtotals";
import { type SelectedFigure, selectionFigures } from "@/core/report/selection";
import { cellWriter, counted, writeCount } from "@/core/types/format";
import { withUnit } from "@/core/types/unit";
import { type Cell, isMisfit, isNumber } from "@/core/types/valueType";
import type { GridPlace, Range } from "@/ui/gridWalk";
import { Sheet, type SheetHandle } from "@/ui/Sheet";
import type { SheetCell } from "@/ui/sheetParts";
import { copyText } from "../copyText";
import { useLocale } from "../workspace/locale";
import { FindBar } from "./FindBar";
import type { Question, Running } from "./useRun";
import { WORDS } from "./words";

/** How much is copied or added up from a selection at most. */
const MOST_SELECTED = 20_000;

/** How many cells of a selection are asked for in a condition at most. */
const MOST_PICKED = 1000;

const SPARK_WIDTH = 134;

function widthOf(column: PlanColumn, samples: string[]): number {
  const longest = Math.max(...samples.map((s) => s.length), Math.min(column.heading.length + 2, 18), Math.min(column.origin.length * 0.8, 12));
  return Math.round(Math.max(64, Math.min(300, longest * 6.9 + 22)));
}

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
};

type SheetProps = {
  plan: Plan;
  run: Running;
  onSort?: ((column: string) => void) | undefined;
  name: string;
  /** Pixels of columns whose width a person set. */
  widths?: Record<string, number | undefined>;
  cellMenu?: ((picked: PickedCells, close: () => void) => ReactNode) | undefined;
  /** What its rows answer, where they can be searched. */
  question?: Question | undefined;
  /** Single keys, with what they do in the column where they are pressed, by the cells selected in it. */
  keys?: Record<string, (picked: PickedCells) => void> | undefined;
} & Pick<ComponentProps<typeof Sheet>, "menu" | "menuKeys" | "onOpen" | "edit" | "layout">;

/** A query's rows as a sheet, with footing, sorting, selection and its figures in the status line. */
export function QuerySheet({ plan, run, onSort, name, widths: own = {}, cellMenu, keys = {}, question, ...more }: SheetProps) {
  const locale = useLocale();
  const handle = useRef<SheetHandle>(null);
  const finding = useRef<HTMLInputElement>(null);
  const [selected, setSelected] = useState({ words: "", repeated: false });
  const shown = useMemo(
    () => plan.columns.flatMap((column, at) => (column.hidden ? [] : [{ column, at, write: cellWriter(column.type, column.format, locale) }])),
    [plan, locale],
  );
  const cellOf = ({ column, write }: (typeof shown)[number], cell: Cell): SheetCell => {
    const written = write(cell);
    const spark = column.format.spark ? sparkOf(written.text, column.separator ?? ", ") : undefined;
    const missing = cell === null && column.origin.includes("›");
    return { text: missing ? "–" : written.text, spark, tone: written.misfit ? "misfit" : written.negative ? "negative" : missing ? "missing" : undefined };
  };
  /** A line of the sheet; a subtotal says so in the place of the first key that it is not of. */
  const lineOf = (cells: Cell[]): SheetCell[] => {
    const subtotal = subtotalOf(plan, cells);
    if (!subtotal) return shown.map((s) => cellOf(s, cells[s.at] ?? null));
    return shown.map((s): SheetCell => {
      const cell = s.at === subtotal.label ? { text: SUBTOTAL_WORD } : subtotal.empty.includes(s.at) ? { text: "" } : cellOf(s, cells[s.at] ?? null);
      return { ...cell, tone: "subtotal" };
    });
  };
  const widths = useMemo(() => {
    const samples = Array.from({ length: 60 }, (_, i) => run.rowAt(i)).filter((r) => r !== undefined);
    return shown.map((s) =>
      s.column.format.spark
        ? SPARK_WIDTH
        : widthOf(s.column, [
            ...samples.map((r) => s.write(r[s.at] ?? null).text),
            run.footing?.totals[s.column.id] == null ? "" : s.write(run.footing.totals[s.column.id] ?? null).text,
          ]),
    );
  }, [shown, run.footing, run.rowAt]);
  const columns = shown.map((s, i) => ({
    id: s.column.id,
    heading: s.column.heading,
    origin: withUnit(s.column.origin, s.column.unit),
    right: isNumber(s.column.type),
    width: own[s.column.id] ?? widths[i] ?? 120,
    fixed: own[s.column.id] !== undefined,
    tone: s.column.derived ? ("derived" as const) : undefined,
    sorted: plan.order[0]?.column === s.column.id ? plan.order[0].direction : undefined,
  }));
  const rowCount = run.rows ?? 0;
  const { footing } = run;
  const footingCells =
    footing &&
    shown.map((s, i): SheetCell => {
      if (s.column.id in footing.totals) return cellOf({ ...s, column: { ...s.column, origin: "" } }, footing.totals[s.column.id] ?? null);
      return { text: i === 0 ? writeCount(footing.rows, locale) : "" };
    });

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
    const written = (cell: Cell, s: (typeof shown)[number]) => {
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
    return { column: at.column, cells, row, line: row < 0 ? undefined : run.rowAt(row), copy: (how) => void copy(copied, how) };
  }
  const ownKeys = Object.fromEntries(
    Object.entries(keys).map(([key, does]) => [
      key,
      (place: GridPlace, range: Range | null) => {
        const cells = picked(place, range);
        if (cells) does(cells);
      },
    ]),
  );

  const misfits = Object.values(footing?.misfits ?? {}).reduce((a, b) => a + b, 0);
  return (
    <>
      <Sheet
        label={name}
        columns={columns}
        rowCount={rowCount}
        footing={footingCells}
        onWindow={run.onWindow}
        onSort={onSort}
        onSelect={describe}
        onCopy={(range) => void copy(range)}
        keys={ownKeys}
        handle={handle}
        onFind={question && (() => finding.current?.focus())}
        cellMenu={
          cellMenu &&
          ((place, range, close) => {
            const cells = picked(place, range);
            return cells && cellMenu(cells, close);
          })
        }
        row={(index) => {
          const cells = run.rowAt(index);
          return cells && lineOf(cells);
        }}
        {...more}
        empty={run.running || run.rows === null ? null : <p className="px-14 py-6 text-soft">{WORDS.noRowsMeetAllConditions}</p>}
      />
      <div className="flex min-h-9 shrink-0 items-center justify-between gap-4 px-1 text-small text-soft" role="status" data-testid="status">
        <span>
          {run.rows === null ? "" : counted(footing?.rows ?? rowCount, "row", locale)}
          {footing ? "" : run.running ? WORDS.soFar : ""} <span className="ml-4">{counted(shown.length, "column", locale)}</span>
          {misfits > 0 && " "}
          {misfits > 0 && <span className="ml-4 text-vermilion">{WORDS.misfits(counted(misfits, "value", locale))}</span>}
        </span>
        {question && (
          <FindBar
            question={question}
            at={() => handle.current?.row() ?? -1}
            go={(row) => handle.current?.go(row)}
            field={finding}
            leave={() => handle.current?.focus()}
          />
        )}
        <span className={selected.repeated ? "text-ochre" : ""}>
          {selected.words ||
            footing?.repeats.map((r) => (
              <span key={r.column} className={`ml-4 ${r.counted === "every" ? "text-ochre" : ""}`}>
                {r.heading}: {r.counted === "once" ? WORDS.eachOnce(writeCount(r.rows ?? 0, locale), r.of) : WORDS.repeatedValuesAdded}
              </span>
            ))}
        </span>
      </div>
    </>
  );
}
