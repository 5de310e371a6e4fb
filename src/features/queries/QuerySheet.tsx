"use client";

import { type ComponentProps, type ReactNode, useMemo, useRef } from "react";
import { sparkOf } from "@/core/chart/spark";
import type { Mark } from "@/core/query/marks";
import { namesWanted, showsNames } from "@/core/query/namedRows";
import type { Plan, PlanColumn } from "@/core/query/plan";
import { SUBTOTAL_WORD, subtotalOf } from "@/core/query/subtotals";
import { cellWriter, writeCount } from "@/core/types/format";
import { withUnit } from "@/core/types/unit";
import { type Cell, isNumber } from "@/core/types/valueType";
import type { GridPlace, Range } from "@/ui/gridWalk";
import { Sheet, type SheetHandle } from "@/ui/Sheet";
import type { SheetCell } from "@/ui/sheetParts";
import { useLocale } from "../workspace/locale";
import { FindBar } from "./FindBar";
import { useMarks } from "./marks/useMarks";
import type { Question } from "./questions";
import { SheetStatus } from "./SheetStatus";
import { namedWriter, useRowNames } from "./useRowNames";
import type { Running } from "./useRun";
import { type PickedCells, useSheetSelection } from "./useSheetSelection";
import { WORDS } from "./words";

const SPARK_WIDTH = 134;
const NO_MARKS: readonly Mark[] = [];

function widthOf(column: PlanColumn, samples: string[]): number {
  const longest = Math.max(...samples.map((s) => s.length), Math.min(column.heading.length + 2, 18), Math.min(column.origin.length * 0.8, 12));
  return Math.round(Math.max(64, Math.min(300, longest * 6.9 + 22)));
}

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
  /** The rows it shows, where those who only look are told what the rows are called that its cells lead to. */
  behind?: Question;
  /** How its cells are marked. */
  marks?: readonly Mark[];
  /** Single keys, with what they do in the column where they are pressed, by the cells selected in it. */
  keys?: Record<string, (picked: PickedCells) => void> | undefined;
} & Pick<ComponentProps<typeof Sheet>, "menu" | "menuKeys" | "onOpen" | "edit" | "layout">;

/** A query's rows as a sheet, with footing, sorting, selection and its figures in the status line. */
export function QuerySheet({ plan, run, onSort, name, widths: own = {}, cellMenu, keys = {}, question, behind, marks = NO_MARKS, ...more }: SheetProps) {
  const locale = useLocale();
  const handle = useRef<SheetHandle>(null);
  const finding = useRef<HTMLInputElement>(null);
  const wanted = useMemo(() => run.blocks.flatMap((rows) => namesWanted(plan, rows)), [plan, run.blocks]);
  const nameOf = useRowNames(wanted, behind);
  const shown = useMemo(
    () =>
      plan.columns.flatMap((column, at) =>
        column.hidden ? [] : [{ column, at, write: namedWriter(column, cellWriter(column.type, column.format, locale), nameOf) }],
      ),
    [plan, locale, nameOf],
  );
  const cellOf = ({ column, write }: (typeof shown)[number], cell: Cell): SheetCell => {
    const written = write(cell);
    const spark = column.format.spark ? sparkOf(written.text, column.separator ?? ", ") : undefined;
    const missing = cell === null && column.origin.includes("›");
    return { text: missing ? "–" : written.text, spark, tone: written.misfit ? "misfit" : written.negative ? "negative" : missing ? "missing" : undefined };
  };
  const marksOf = useMarks(marks, plan, question);
  /** A line of the sheet; a subtotal says so in the place of the first key that it is not of. */
  const lineOf = (cells: Cell[]): SheetCell[] => {
    const subtotal = subtotalOf(plan, cells);
    if (!subtotal) {
      const marked = marksOf(cells);
      return shown.map((s) => ({ ...cellOf(s, cells[s.at] ?? null), marks: marked.get(s.at) }));
    }
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
  const first = plan.columns.find((c) => c.id === plan.order[0]?.column);
  const sortedBy = first?.orders ?? first?.id;
  const columns = shown.map((s, i) => ({
    id: s.column.id,
    heading: s.column.heading,
    origin: withUnit(s.column.origin, s.column.unit),
    right: isNumber(s.column.type) && !showsNames(s.column),
    width: own[s.column.id] ?? widths[i] ?? 120,
    fixed: own[s.column.id] !== undefined,
    tone: s.column.derived ? ("derived" as const) : undefined,
    sorted: sortedBy === s.column.id ? plan.order[0]?.direction : undefined,
  }));
  const rowCount = run.rows ?? 0;
  const { footing } = run;
  const footingCells =
    footing &&
    shown.map((s, i): SheetCell => {
      if (s.column.id in footing.totals) return cellOf({ ...s, column: { ...s.column, origin: "" } }, footing.totals[s.column.id] ?? null);
      return { text: i === 0 ? writeCount(footing.rows, locale) : "" };
    });

  const { selected, describe, copy, picked } = useSheetSelection(shown, run);
  const ownKeys = Object.fromEntries(
    Object.entries(keys).map(([key, does]) => [
      key,
      (place: GridPlace, range: Range | null) => {
        const cells = picked(place, range);
        if (cells) does(cells);
      },
    ]),
  );

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
      <SheetStatus run={run} columns={shown.length} selected={selected}>
        {question && (
          <FindBar
            question={question}
            at={() => handle.current?.row() ?? -1}
            go={(row) => handle.current?.go(row)}
            field={finding}
            leave={() => handle.current?.focus()}
          />
        )}
      </SheetStatus>
    </>
  );
}
