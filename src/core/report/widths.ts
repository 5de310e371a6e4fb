import { POINTS_PER_MM } from "./frame";

/** A column as its texts would have it: how wide they are, and whether they must stand whole, as figures and dates. */
export type WantedWidth = { natural: number; whole: boolean };

/**
 * Widths of columns that stand side by side. Where there is room, each is as wide as its widest text. Where there is
 * not, the widest texts give way first: all that give way are as wide as one another, and wider than those that do not.
 * Only where what must stand whole leaves the rest less than `least` each, or nothing else stands there, do all
 * shrink alike.
 * @param room for all of them, in the unit of the widths
 */
export function fitWidths(columns: WantedWidth[], room: number, least = 0): number[] {
  const wanted = columns.map((c) => c.natural);
  const sum = (widths: number[]) => widths.reduce((a, b) => a + b, 0);
  if (sum(wanted) <= room) return wanted;
  const giving = columns.filter((c) => !c.whole).map((c) => c.natural);
  const free = room - sum(columns.filter((c) => c.whole).map((c) => c.natural));
  const floor = sum(giving.map((w) => Math.min(w, least)));
  if (giving.length === 0 || free < floor) {
    const narrowed = columns.map((c) => (c.whole ? c.natural : Math.min(c.natural, least)));
    return narrowed.map((w) => (w * room) / sum(narrowed));
  }
  const most = widest(giving, free);
  return columns.map((c) => (c.whole ? c.natural : Math.min(c.natural, most)));
}

/** The width to which wide ones are cut, so that all come to a sum that is less than theirs. */
function widest(widths: number[], sum: number): number {
  let rest = sum;
  const sorted = widths.toSorted((a, b) => a - b);
  for (const [i, width] of sorted.entries()) {
    const share = rest / (sorted.length - i);
    if (width > share) return share;
    rest -= width;
  }
  return sorted.at(-1) ?? 0;
}

/** Between columns, in points. */
export const COLUMN_GAP = 9;
const LEAST_TEXT_WIDTH = 12 * POINTS_PER_MM;

/** What a column needs by its values, in points; figures stand right. */
export type ColumnNeed = WantedWidth & { right: boolean };

/** How wide columns are in so many points: as set, else as their values need. */
export function columnWidths(columns: (ColumnNeed & { widthMm: number | null })[], room: number): number[] {
  const available = room - COLUMN_GAP * (columns.length - 1);
  const wanted = columns.map(({ widthMm, natural, whole }) => (widthMm === null ? { natural, whole } : { natural: widthMm * POINTS_PER_MM, whole: true }));
  return spread(fitWidths(wanted, available, LEAST_TEXT_WIDTH), available, columns);
}

/**
 * Space left over goes to the text columns whose width is not set, so that figures stand near what they belong to; without
 * any, to all that are not set.
 */
function spread(widths: number[], available: number, columns: { widthMm: number | null; right: boolean }[]): number[] {
  const left = available - widths.reduce((a, b) => a + b, 0);
  const free = columns.map((c) => c.widthMm === null);
  const texts = columns.map((c, i) => free[i] && !c.right);
  const takes = texts.some(Boolean) ? texts : free;
  const takers = takes.filter(Boolean).length;
  return takers === 0 ? widths : widths.map((w, i) => (takes[i] ? w + left / takers : w));
}
