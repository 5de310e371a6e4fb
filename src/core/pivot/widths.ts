import type { Locale } from "../types/format";
import { bannerRows, bannerWords, type Column, extremesOf, type Line, lineWords, loneFigure, type PivotLines } from "./lines";
import type { Pivot } from "./pivot";

/** What a pivot's grid measures by, in pixels. */
export const GRID = {
  /** The width of a figure; letters of words are as wide at most, nearly all. */
  letter: 6.9,
  /** What a cell keeps free at its sides. */
  sides: 22,
  least: 64,
  /** Lists of values are cut at this width; figures never are. */
  mostText: 320,
  heading: { least: 120, most: 320, step: 16 },
};
/** Lines that are measured whole; of all others the greatest and the least figure of each column. */
const SAMPLED = 60;
const NAMED = 2000;

export type GridWidths = {
  /** The width of each column of figures, and how far it stands from the headings of the lines. */
  columns: number[];
  lefts: number[];
  heading: number;
  whole: number;
};

/**
 * The widths of a pivot's grid, in pixels: no figure and no heading above columns is cut; texts and names of lines are,
 * where they are long.
 * @param textAt the cell of a line and a column as it is written
 * @param scale how much larger than usual type is
 */
export function gridWidths(pivot: Pivot, laid: PivotLines, textAt: (line: Line, column: Column) => string, locale: Locale, scale = 1): GridWidths {
  const { lines, columns } = laid;
  const sample = [...lines.filter((l) => l.kind === "total"), ...lines.slice(0, SAMPLED)];
  const extremes = extremesOf(pivot, lines, columns);
  // What is written bold takes a little more.
  const room = (l: Line, c: Column) => GRID.sides + GRID.letter * (textAt(l, c).length + (l.kind === "leaf" ? 0 : 0.8));
  const wide = columns.map((c, i) => {
    const widest = Math.max(GRID.least, ...[...sample, ...(extremes[i] ?? [])].map((l) => room(l, c)));
    return isTextFigure(pivot, c) ? Math.min(GRID.mostText, widest) : widest;
  });
  for (const { from, span, words } of bannerRows(pivot, laid).flatMap((row) => row.map((b) => ({ ...b, words: bannerWords(pivot, b, locale) })))) {
    const spanned = wide.slice(from, from + span).reduce((sum, w) => sum + w, 0);
    const lacking = GRID.sides + 2 + GRID.letter * words.length - spanned;
    if (lacking > 0) for (let i = from; i < from + span; i++) wide[i] = (wide[i] ?? 0) + lacking / span;
  }
  const { least, most, step } = GRID.heading;
  const figure = loneFigure(pivot).length * GRID.letter + GRID.sides;
  const longest = Math.max(
    figure,
    ...lines.slice(0, NAMED).map((l) => lineWords(pivot, l, locale).length * GRID.letter + Math.max(0, l.level - 1) * step + 46),
  );
  const heading = Math.round(Math.min(most, Math.max(least, longest)) * scale);
  let left = 0;
  const widths = wide.map((w) => Math.round(w * scale));
  const lefts = widths.map((w) => {
    left += w;
    return left - w;
  });
  return { columns: widths, lefts, heading, whole: heading + left };
}

/** Whether a column's figure is text: a list of values, a first or a last one. */
export const isTextFigure = (pivot: Pivot, { figure }: Column): boolean => pivot.figures[figure]?.type.kind === "text";
