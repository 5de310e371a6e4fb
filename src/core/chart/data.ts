import { headingWords } from "../pivot/lines";
import type { AxisField, Heading, Pivot, ShownFigure } from "../pivot/pivot";
import { keyOf } from "../pivot/tree";
import { typedNumber } from "../types/decimal";
import { cellWriter, type Locale } from "../types/format";
import { type Cell, isDated, isMisfit, scaleOf, type ValueType } from "../types/valueType";
import { daysEarlier } from "./plan";
import type { ChartSpec } from "./spec";
import { type Box, meanOf, trendOf } from "./statistics";

/** What the engine answers for a chart, by its shape. */
export type ChartAnswer = {
  /** The moment (ISO 8601) that it is of, where that is an earlier one. */
  asOf?: string | null;
} & (
  | { shape: "series" | "parts"; pivot: Pivot; earlier: Pivot | null }
  | { shape: "points"; points: Cell[][]; columns: AxisField[]; size: boolean; group: boolean; name: boolean }
  | { shape: "values"; boxes: { key: Cell; box: Box }[]; type: ValueType; heading: string; group: AxisField | null }
);

/** One line of values along: exact cells for the table and for saying, numbers for drawing only. */
export type Series = {
  name: string;
  /** The value it stands for, as a key of colours; "" where nothing splits. */
  key: string;
  figure: number;
  heading: number;
  cells: Cell[];
  values: (number | null)[];
  right: boolean;
  earlier: boolean;
};

/** A chart made ready to be drawn, said and tabled. */
export type ChartData = {
  places: { words: string; heading: number }[];
  series: Series[];
  figures: ShownFigure[];
  target: { words: string; value: number } | null;
  mean: number | null;
  trend: { from: number; to: number } | null;
  /** What a reader has to know: nothing to draw, or what cannot be drawn and why. */
  notice: string | null;
};

/** An exact cell as a number to be drawn. */
export function drawnNumber(cell: Cell, type: ValueType): number | null {
  if (cell === null || isMisfit(cell)) return null;
  return Number(cell) / 10 ** scaleOf(type);
}

/** What a heading's colour goes by. */
export const colourKey = ({ rest, key }: Heading): string => (rest ? "rest" : keyOf(key));

/** The headings without others below them: the marks of a chart. */
const leavesOf = (headings: Heading[]): number[] => {
  const parents = new Set(headings.map((h) => h.parent));
  return headings.flatMap((_, i) => (i > 0 && !parents.has(i) ? [i] : []));
};

function pathWords(pivot: Pivot, side: "down" | "across", index: number, locale: Locale): string {
  const words: string[] = [];
  for (let at = index; at > 0; at = pivot[side][at]?.parent ?? 0) words.unshift(headingWords(pivot.axes[side], pivot[side][at] as Heading, locale));
  return words.join(" · ");
}

/**
 * A pivot as the series of a chart: a place for each leaf across, a series for each leaf down with each figure.
 * @param earlier the same pivot about an earlier time; its places are met by moving its dates on
 */
export function seriesOf(spec: ChartSpec, pivot: Pivot, earlier: Pivot | null, locale: Locale): ChartData {
  const places = leavesOf(pivot.across).map((heading) => ({ words: pathWords(pivot, "across", heading, locale), heading }));
  const own = oneSeries(
    spec,
    pivot,
    places.map((p) => p.heading),
    locale,
    false,
  );
  const series = [
    ...own,
    ...(earlier && spec.earlier
      ? earlierSeries(
          spec,
          pivot,
          earlier,
          places.map((p) => p.heading),
          locale,
        )
      : []),
  ];
  const [first] = own;
  const known = first?.values.flatMap((v, i): [number, number][] => (v === null ? [] : [[i, v]])) ?? [];
  const line = spec.trend ? trendOf(known) : null;
  return {
    places,
    series,
    figures: pivot.figures,
    target: targetOf(spec),
    mean: spec.mean ? meanOf(known.map(([, v]) => v)) : null,
    trend: line && { from: line.intercept, to: line.intercept + line.slope * (places.length - 1) },
    notice: noticeOf(spec, own),
  };
}

function targetOf({ target }: ChartSpec): ChartData["target"] {
  const value = target && typedNumber(target.value);
  return target && value !== null ? { words: target.words || "target", value } : null;
}

function oneSeries(spec: ChartSpec, pivot: Pivot, places: number[], locale: Locale, earlier: boolean): Series[] {
  const leaves = leavesOf(pivot.down);
  const lines = leaves.length > 0 ? leaves : [0];
  return lines.flatMap((heading) =>
    pivot.figures.map((figure, at): Series => {
      const split = leaves.length > 0 ? pathWords(pivot, "down", heading, locale) : "";
      const cells = places.map((a) => (a < 0 ? null : (pivot.cells[at]?.[heading * pivot.across.length + a] ?? null)));
      return {
        name: [split, pivot.figures.length > 1 || split === "" ? figure.heading : ""].filter(Boolean).join(", "),
        key: leaves.length > 0 ? colourKey(pivot.down[heading] as Heading) : "",
        figure: at,
        heading,
        cells,
        values: cells.map((cell) => drawnNumber(cell, figure.type)),
        right: spec.right.includes(figure.id),
        earlier,
      };
    }),
  );
}

/** The series of an earlier time, each value at the place it would stand so much later. */
function earlierSeries(spec: ChartSpec, pivot: Pivot, earlier: Pivot, places: number[], locale: Locale): Series[] {
  const dated = pivot.axes.across.findIndex((a) => isDated(a.type));
  if (dated < 0 || !spec.earlier) return [];
  const by = spec.earlier;
  const pathOf = (p: Pivot, index: number, back: boolean): string => {
    const keys: string[] = [];
    for (let at = index; at > 0; at = p.across[at]?.parent ?? 0) {
      const { key, level, rest } = p.across[at] as Heading;
      keys.unshift(rest ? "rest" : level === dated + 1 && typeof key === "string" && back ? keyOf(daysEarlier(key, by)) : keyOf(key));
    }
    return keys.join(" ");
  };
  const found = new Map(leavesOf(earlier.across).map((i) => [pathOf(earlier, i, false), i]));
  const theirs = places.map((i) => found.get(pathOf(pivot, i, true)) ?? -1);
  const words = { year: "a year", quarter: "a quarter", month: "a month", isoWeek: "a week", day: "a day" }[by];
  return oneSeries(spec, earlier, theirs, locale, true).map((s) => ({ ...s, name: `${s.name}, ${words} before` }));
}

function noticeOf({ kind }: ChartSpec, series: Series[]): string | null {
  const values = series.flatMap((s) => s.values).filter((v) => v !== null);
  if (series.every((s) => s.values.length === 0)) return "No rows meet the conditions, so the chart is empty.";
  if (values.length === 0) return "All values are empty, so the chart is empty. The table counts the rows.";
  if (kind === "pie" || kind === "ring") {
    if (values.some((v) => v < 0)) return "Some values are negative and cannot be parts of a whole. Use bars.";
    if (values.every((v) => v === 0)) return "All values are 0, so there is no whole to divide.";
  }
  if (kind === "hundred" && series.some((s) => s.values.some((v) => v !== null && v < 0)))
    return "Some values are negative, so shares of 100% cannot be drawn. Use bars.";
  return null;
}

/** A mark in words: "Q3 2026, Timber: 40,667.19". */
export function markWords(data: ChartData, series: number, place: number, locale: Locale): string {
  const s = data.series[series];
  const figure = s && data.figures[s.figure];
  if (!s || !figure) return "";
  const cell = s.cells[place] ?? null;
  return `${data.places[place]?.words ?? ""}, ${s.name}: ${cellWriter(figure.type, figure.format, locale)(cell).text || "nothing"}`;
}
