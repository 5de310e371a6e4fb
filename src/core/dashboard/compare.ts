import { drawnNumber } from "../chart/data";
import type { ShownFigure } from "../pivot/pivot";
import { cellWriter, counted, type Locale, writeNumber } from "../types/format";
import type { Cell } from "../types/valueType";
import type { PlainTile } from "./spec";

type FigureTile = Extract<PlainTile, { kind: "figure" }>;

const BEFORE = {
  year: "the previous year",
  quarter: "the previous quarter",
  month: "the previous month",
  isoWeek: "the previous week",
  day: "yesterday",
} as const;

/** A figure as a tile says it: itself, and what it is held against, in a strong word and the rest. */
export type FigureWords = { words: string; negative: boolean; strong: string; good: boolean; rest: string };

/** @param before of the earlier time; `target` where it is held against one */
export function figureWords(
  tile: Pick<FigureTile, "compare" | "lessIsBetter">,
  { figure, now, before, target, rows }: { figure: ShownFigure; now: Cell; before: Cell; target: number | null; rows: number },
  locale: Locale,
): FigureWords {
  const written = cellWriter(figure.type, figure.format, locale)(now);
  const own = { words: written.text || "–", negative: written.negative };
  const plain = (rest: string): FigureWords => ({ ...own, strong: "", good: true, rest });
  const percent = new Intl.NumberFormat(locale.locale, { style: "percent", maximumFractionDigits: 1 });
  const a = drawnNumber(now, figure.type);
  if (!tile.compare) return plain(counted(rows, "row", locale));
  if (tile.compare.kind === "target") {
    if (target === null) return plain("no target");
    const good = a !== null && (tile.lessIsBetter ? a <= target : a >= target);
    return {
      ...own,
      strong: a === null || target === 0 ? "–" : writeNumber(percent, a / target),
      good,
      rest: ` of ${writeNumber(new Intl.NumberFormat(locale.locale), target)}`,
    };
  }
  const b = drawnNumber(before, figure.type);
  const change = a === null || b === null || b === 0 ? null : (a - b) / Math.abs(b);
  const earlier = BEFORE[tile.compare.by];
  if (change === null) return plain(`nothing to compare with ${earlier}`);
  if (change === 0) return plain(`the same as ${earlier}`);
  return { ...own, strong: `${change > 0 ? "▲" : "▼"} ${percent.format(Math.abs(change))}`, good: change > 0 !== tile.lessIsBetter, rest: ` from ${earlier}` };
}
