"use client";

import { type ComponentProps, useMemo, useState } from "react";
import { sparkOf } from "@/core/chart/spark";
import type { Plan, PlanColumn } from "@/core/query/plan";
import { SUBTOTAL_WORD, subtotalOf } from "@/core/query/subtotals";
import { type SelectedFigure, selectionFigures } from "@/core/report/selection";
import { cellWriter, counted, writeCount } from "@/core/types/format";
import { withUnit } from "@/core/types/unit";
import { type Cell, isMisfit, isNumber } from "@/core/types/valueType";
import type { Range } from "@/ui/gridWalk";
import { Sheet } from "@/ui/Sheet";
import type { SheetCell } from "@/ui/sheetParts";
import { copyText } from "../copyText";
import { useLocale } from "../workspace/locale";
import type { Running } from "./useRun";
import { WORDS } from "./words";

/** How much is copied or added up from a selection at most. */
const MOST_SELECTED = 20_000;

const SPARK_WIDTH = 134;

function widthOf(column: PlanColumn, samples: string[]): number {
  const longest = Math.max(...samples.map((s) => s.length), Math.min(column.heading.length + 2, 18), Math.min(column.origin.length * 0.8, 12));
  return Math.round(Math.max(64, Math.min(300, longest * 6.9 + 22)));
}

type SheetProps = {
  plan: Plan;
  run: Running;
  onSort?: ((column: string) => void) | undefined;
  name: string;
} & Pick<ComponentProps<typeof Sheet>, "menu" | "onOpen" | "edit">;

/** A query's rows as a sheet, with footing, sorting, selection and its figures in the status line. */
export function QuerySheet({ plan, run, onSort, name, ...more }: SheetProps) {
  const locale = useLocale();
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
    width: widths[i] ?? 120,
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

  async function copy(range: Range): Promise<void> {
    const rows = await run.rowsBetween(range.top, Math.min(range.bottom, range.top + MOST_SELECTED));
    const parts = shown.slice(range.left, range.right + 1);
    const plain = (cell: Cell, s: (typeof shown)[number]) => (isMisfit(cell) ? cell.misfit : s.write(cell).text).replace(/[\t\r\n]+/g, " ");
    await copyText(rows.map((row) => parts.map((s) => plain(row[s.at] ?? null, s)).join("\t")).join("\n"), WORDS.copied(counted(rows.length, "row", locale)));
  }

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
        onCopy={copy}
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
