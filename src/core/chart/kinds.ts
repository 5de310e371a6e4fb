import { AGGREGATES } from "../query/aggregates";
import type { Table } from "../schema/schema";
import { isDated, isNumber, type ValueType } from "../types/valueType";
import type { ChartKind, ChartSpec } from "./spec";

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

const SERIES = { across: "Along", down: "Split by", figures: "Height" };
const anyHeight = ({ along, heights }: Shelves) => (along && heights.length > 0 ? 1 : 0);
const adding = (s: Shelves) => (anyHeight(s) && s.heights.every((h) => h.adds) ? 1 : 0);
const numbers = (count: number) => (s: Shelves) => (s.heights.filter((h) => h.numeric).length >= count ? 1 : 0);

/** One record per kind; the picker, the suggestion and the computation read it. */
export const CHARTS: Record<ChartKind, Kind> = {
  bars: { words: "bars", help: "One beside the other.", shape: "series", shelves: SERIES, suits: (s) => anyHeight(s) * (s.dated ? 2 : s.split ? 2 : 3) },
  stacked: {
    words: "stacked bars",
    help: "The parts of each bar on top of each other.",
    shape: "series",
    shelves: SERIES,
    suits: (s) => adding(s) * (s.split ? 3 : 0),
  },
  hundred: { words: "bars to 100%", help: "Each part as a share of its bar.", shape: "series", shelves: SERIES, suits: (s) => adding(s) * (s.split ? 2 : 0) },
  lines: { words: "lines", help: "For what changes over time.", shape: "series", shelves: SERIES, suits: (s) => anyHeight(s) * (s.dated ? 3 : 1) },
  areas: { words: "areas", help: "Lines filled down to those below them.", shape: "series", shelves: SERIES, suits: (s) => adding(s) * (s.dated ? 2 : 1) },
  steps: { words: "steps", help: "Level until the next value.", shape: "series", shelves: SERIES, suits: anyHeight },
  points: {
    words: "points",
    help: "A point for each row: the first field across, the second up.",
    shape: "points",
    shelves: { across: "Named by", down: "Coloured by", figures: "Across, up" },
    suits: (s) => numbers(2)(s) * 2,
  },
  bubbles: {
    words: "bubbles",
    help: "Points whose size is a third field.",
    shape: "points",
    shelves: { across: "Named by", down: "Coloured by", figures: "Across, up, size" },
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
    help: "A pie with the whole in its middle.",
    shape: "parts",
    shelves: { across: "Parts", down: "Split by", figures: "Size" },
    suits: (s) => adding(s) * (s.dated || s.split ? 0 : 1),
  },
  histogram: {
    words: "histogram",
    help: "How many rows lie in each band of a number.",
    shape: "series",
    shelves: { across: "–", down: "Split by", figures: "Number" },
    suits: (s) => numbers(1)(s),
  },
  box: {
    words: "boxes",
    help: "Least, quarters and greatest of a number, group by group.",
    shape: "values",
    shelves: { across: "Groups", down: "–", figures: "Number" },
    suits: (s) => numbers(1)(s),
  },
};

/** What is on a chart's shelves, by types. */
export function shelvesOf({ pivot }: ChartSpec, table: Table): Shelves {
  const typeOf = (value: { kind: string; column?: string } | null) =>
    value?.kind === "field" ? table.columns.find((c) => c.name === value.column)?.type : undefined;
  const along = pivot.across[0] ? (typeOf(pivot.across[0].value) ?? null) : null;
  const value = pivot.across[0]?.value;
  return {
    along,
    dated: along !== null && isDated(along) && !(value?.kind === "field" && value.part === "weekday"),
    split: pivot.down.length > 0,
    heights: pivot.figures.map((f) => ({ adds: AGGREGATES[f.figure].addsUp, numeric: f.value !== null && isNumber(typeOf(f.value) ?? { kind: "text" }) })),
  };
}

/** The kinds that suit what is on the shelves, best first. */
export const suitedKinds = (shelves: Shelves): ChartKind[] =>
  (Object.keys(CHARTS) as ChartKind[])
    .map((kind) => ({ kind, suits: CHARTS[kind].suits(shelves) }))
    .filter((k) => k.suits > 0)
    .sort((a, b) => b.suits - a.suits)
    .map((k) => k.kind);
