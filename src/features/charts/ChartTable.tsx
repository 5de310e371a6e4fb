"use client";

import { type ChartAnswer, seriesOf } from "@/core/chart/data";
import type { ChartSpec } from "@/core/chart/spec";
import type { AxisField } from "@/core/pivot/pivot";
import { cellWriter, writeCount, writeNumber } from "@/core/types/format";
import { isNumber, scaleOf } from "@/core/types/valueType";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

/** Rows of the table shown at most. */
const MOST_SHOWN = 5000;

/** The figures a chart is drawn from, as a table. */
export function ChartTable({ spec, answer, label }: { spec: ChartSpec; answer: ChartAnswer; label: string }) {
  const locale = useLocale();
  const write = ({ type, format }: AxisField) => cellWriter(type, format, locale);
  const table = (): { heads: string[]; rows: { head: string; cells: { text: string; negative: boolean }[] }[] } => {
    if (answer.shape === "points") {
      const writers = answer.columns.map(write);
      const rows = answer.points.map((row, i) => ({ head: String(i + 1), cells: row.map((cell, k) => writers[k]?.(cell) ?? { text: "", negative: false }) }));
      return { heads: [WORDS.row, ...answer.columns.map((c) => c.heading)], rows };
    }
    if (answer.shape === "values") {
      const scale = 10 ** scaleOf(answer.type);
      const number = new Intl.NumberFormat(locale.locale, { maximumFractionDigits: 4 });
      const cell = (v: number) => ({ text: writeNumber(number, v / scale), negative: v < 0 });
      const rows = answer.boxes.map(({ key, box }) => ({
        head: answer.group ? write(answer.group)(key).text || WORDS.noValue(answer.group.heading.toLowerCase()) : answer.heading,
        cells: [{ text: number.format(box.count), negative: false }, ...[box.least, box.q1, box.median, box.q3, box.greatest].map(cell)],
      }));
      return { heads: [answer.group?.heading ?? "", WORDS.count, WORDS.minimum, WORDS.lowerQuartile, WORDS.median, WORDS.upperQuartile, WORDS.maximum], rows };
    }
    const data = seriesOf(spec, answer.pivot, answer.earlier, locale);
    const writers = data.figures.map((f) => cellWriter(f.type, f.format, locale));
    const rows = data.places.map((place, i) => ({
      head: place.words,
      cells: data.series.map((s) => writers[s.figure]?.(s.cells[i] ?? null) ?? { text: "", negative: false }),
    }));
    return { heads: [answer.pivot.axes.across.map((a) => a.heading).join(", "), ...data.series.map((s) => s.name)], rows };
  };
  const { heads, rows } = table();
  const numeric = answer.shape !== "points" || answer.columns.every((c) => isNumber(c.type));
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keyboard (WCAG 2.1.1)
    <section className="h-full overflow-auto border border-rule bg-sheet" aria-label={WORDS.asATable(label)} tabIndex={0}>
      <table className="w-full">
        <thead>
          <tr className="sticky top-0 border-b border-ink bg-sheet text-small">
            {heads.map((head, i) => (
              <th key={`${i} ${head}`} scope="col" className={`border-r border-column px-2.5 py-1.5 ${i === 0 ? "text-left" : "text-right"}`}>
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.slice(0, MOST_SHOWN).map((row, i) => (
            <tr key={`${i} ${row.head}`} className="border-b border-hairline">
              <th scope="row" className="border-r border-column px-2.5 py-1 text-left font-normal">
                {row.head}
              </th>
              {row.cells.map((cell, k) => (
                <td key={`cell ${k}`} className={`border-r border-column px-2.5 py-1 ${numeric ? "text-right" : ""} ${cell.negative ? "text-vermilion" : ""}`}>
                  {cell.text}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {rows.length > MOST_SHOWN && <p className="px-2.5 py-2 text-soft">{WORDS.firstOf(writeCount(MOST_SHOWN, locale), writeCount(rows.length, locale))}</p>}
    </section>
  );
}
