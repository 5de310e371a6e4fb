import { addsUpByKind } from "../query/aggregates";
import type { Table } from "../schema/schema";
import { isDated, isNumber, type ValueType } from "../types/valueType";
import type { ChartKind } from "./choices";
import type { ChartSpec } from "./spec";

/** What a kind of chart is drawn from: a pivot's figures, rows as points, or the values of one field. */
export type ChartShape = "series" | "parts" | "points" | "values";

type Kind = {
  words: string;
  help: string;
  shape: ChartShape;
  /** How well it suits what is on the shelves, 0 to 3; 0 where it cannot be drawn. */
  suits: (shelves: Shelves) => number;
  /** What the shelves are called. */
  shelves: { across: string; down: string; figures: string };
};

/** What a suggestion goes by: the types along and split by, and of the fields of the figures. */
export type Shelves = { along: ValueType | null; dated: boolean; split: boolean; heights: { adds: boolean; numeric: boolean }[] };

const SERIES = { across: "Axis", down: "Split by", figures: "Values" };
const anyHeight = ({ along, heights }: Shelves) => (along && heights.length > 0 ? 1 : 0);
const adding = (s: Shelves) => (anyHeight(s) && s.heights.every((h) => h.adds) ? 1 : 0);
const numbers = (count: number) => (s: Shelves) => (s.heights.filter((h) => h.numeric).length >= count ? 1 : 0);

/** One record per kind; the picker, the suggestion and the computation read it. */
export const CHARTS: Record<ChartKind, Kind> = {
  bars: { words: "bars", help: "Bars side by side.", shape: "series", shelves: SERIES, suits: (s) => anyHeight(s) * (s.dated ? 2 : s.split ? 2 : 3) },
  stacked: {
    words: "stacked bars",
    help: "The parts of each bar stacked.",
    shape: "series",
    shelves: SERIES,
    suits: (s) => adding(s) * (s.split ? 3 : 0),
  },
  hundred: {
    words: "stacked bars to 100%",
    help: "Each part as a percentage of its bar.",
    shape: "series",
    shelves: SERIES,
    suits: (s) => adding(s) * (s.split ? 2 : 0),
  },
  lines: { words: "lines", help: "For what changes over time.", shape: "series", shelves: SERIES, suits: (s) => anyHeight(s) * (s.dated ? 3 : 1) },
  areas: { words: "areas", help: "Lines with the area below filled.", shape: "series", shelves: SERIES, suits: (s) => adding(s) * (s.dated ? 2 : 1) },
  steps: { words: "steps", help: "Each value holds until the next.", shape: "series", shelves: SERIES, suits: anyHeight },
  points: {
    words: "points",
    help: "One point per row: the first field on the horizontal axis, the second on the vertical.",
    shape: "points",
    shelves: { across: "Label", down: "Colour", figures: "Horizontal, vertical" },
    suits: (s) => numbers(2)(s) * 2,
  },
  bubbles: {
    words: "bubbles",
    help: "Points sized by a third field.",
    shape: "points",
    shelves: { across: "Label", down: "Colour", figures: "Horizontal, vertical, size" },
    suits: (s) => numbers(3)(s) * 2,
  },
  pie: {
    words: "pie",
    help: "For few parts of a whole.",
    shape: "parts",
    shelves: { across: "Parts", down: "Split by", figures: "Size" },
    suits: (s) => adding(s) * (s.dated || s.split ? 0 : 1),
  },
  ring: {
    words: "ring",
    help: "A pie with the total in the middle.",
    shape: "parts",
    shelves: { across: "Parts", down: "Split by", figures: "Size" },
    suits: (s) => adding(s) * (s.dated || s.split ? 0 : 1),
  },
  histogram: {
    words: "histogram",
    help: "Number of rows in each band of a number.",
    shape: "series",
    shelves: { across: "–", down: "Split by", figures: "Number" },
    suits: (s) => numbers(1)(s),
  },
  box: {
    words: "boxes",
    help: "Minimum, quartiles and maximum of a number, per group.",
    shape: "values",
    shelves: { across: "Groups", down: "–", figures: "Number" },
    suits: (s) => numbers(1)(s),
  },
};

/** What is on a chart's shelves, by types. */
export function shelvesOf({ pivot }: ChartSpec, table: Table): Shelves {
  const typeOf = (value: { kind: string; column?: string | null } | null) =>
    value?.kind === "field" ? table.columns.find((c) => c.name === value.column)?.type : undefined;
  const along = pivot.across[0] ? (typeOf(pivot.across[0].value) ?? null) : null;
  const value = pivot.across[0]?.value;
  return {
    along,
    dated: along !== null && isDated(along) && !(value?.kind === "field" && value.part === "weekday"),
    split: pivot.down.length > 0,
    heights: pivot.figures.map((f) => ({ adds: addsUpByKind(f.figure), numeric: f.value !== null && isNumber(typeOf(f.value) ?? { kind: "text" }) })),
  };
}

/** The kinds that suit what is on the shelves, best first. */
export const suitedKinds = (shelves: Shelves): ChartKind[] =>
  (Object.keys(CHARTS) as ChartKind[])
    .map((kind) => ({ kind, suits: CHARTS[kind].suits(shelves) }))
    .filter((k) => k.suits > 0)
    .sort((a, b) => b.suits - a.suits)
    .map((k) => k.kind);
