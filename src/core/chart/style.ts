import type { ChartConfiguration, ChartDataset, LegendItem } from "chart.js";
import { type Locale, writeNumber } from "../types/format";
import type { ChartTheme } from "./colours";
import type { ChartData } from "./data";

/* What all kinds of charts have in common when they are drawn. */

/** What differs between the places a chart is drawn in. */
export type Drawing = {
  locale: Locale;
  theme: ChartTheme;
  /** Colours chosen for values, by key. */
  chosen: Record<string, number>;
  /** A fill that carries a sign beside its colour; the n-th differs from the others. */
  pattern: (colour: string, place: number) => string | CanvasPattern;
  /** Sizes of type on screen; larger on paper. */
  size: number;
  /** Little height: no legend, fewer ticks. */
  compact: boolean;
  /** Little width: the parts of a pie are named without their amounts. */
  narrow: boolean;
  animate: boolean;
};

export type Drawn = {
  config: ChartConfiguration;
  data: ChartData | null;
  notice: string | null;
  /** A mark in words, as it is said and shown beside the pointer; "" for what is no mark: a target, a mean, a trend. */
  say: (series: number, place: number) => string;
};

const SIGNS = ["circle", "rect", "triangle", "rectRot", "crossRot", "star", "cross"] as const;
const DASHES = [[], [6, 3], [2, 2], [8, 3, 2, 3], [1, 3], [10, 4], [4, 2, 1, 2]];

/** Once the colours begin again the signs go one on, so that no two of the first 49 have both alike. */
const shifted = <T>(list: readonly T[], nth: number): T => list[(nth + Math.floor(nth / list.length)) % list.length] as T;

/** Signs of points and strokes of lines, by which series are told apart without colour. */
export const signOf = (nth: number) => shifted(SIGNS, nth);
export const dashOf = (nth: number) => shifted(DASHES, nth);

export const font = (size: number) => ({ family: "'Source Sans 3 Variable', 'Source Sans 3', sans-serif", size });

/** Amounts along an axis, short: "30k". */
export function tickWriter({ locale }: Drawing, percent: boolean) {
  const number = new Intl.NumberFormat(locale.locale, percent ? { style: "percent" } : { notation: "compact", maximumFractionDigits: 1 });
  return (value: string | number) => writeNumber(number, Number(value));
}

/** A line across a chart that is no series: a target, a mean, a trend. */
export const rule = (label: string, data: number[], colour: string, dash: number[]) =>
  ({
    type: "line",
    label,
    data,
    borderColor: colour,
    borderDash: dash,
    borderWidth: 1.5,
    pointRadius: 0,
    pointHitRadius: 0,
    order: -1,
    stack: label,
    backgroundColor: "transparent",
  }) as ChartDataset<"line">;

/** How a chart is drawn in the room it has, by the size of its type; all in pixels. */
export const fitsIn = ({ width, height }: { width: number; height: number }, size: number): Pick<Drawing, "compact" | "narrow"> => ({
  compact: height < 15 * size,
  narrow: width < 27 * size,
});

/** What is drawn over the rest does not stand before it in the legend. */
const asGiven = (a: LegendItem, b: LegendItem): number => (a.datasetIndex ?? 0) - (b.datasetIndex ?? 0);

/** Options of every chart: still, written in the workspace's type, with its legend below. */
export function shared({ locale, theme, size, compact, animate }: Drawing, legend: boolean) {
  return {
    responsive: animate,
    maintainAspectRatio: false,
    animation: false as const,
    locale: locale.locale,
    layout: { padding: { top: 14, right: 10 } },
    plugins: {
      legend: {
        display: legend && !compact,
        position: "bottom" as const,
        labels: { color: theme.ink, font: font(size), usePointStyle: false, boxWidth: 22, boxHeight: 10, sort: asGiven },
      },
      tooltip: { enabled: false },
    },
    interaction: { mode: "nearest" as const, intersect: true },
  };
}
