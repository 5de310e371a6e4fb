import type { Mark } from "./rows";

/**
 * Where a key leads among the marks of a chart: right and left along a series, down and up from one series to the
 * next, Home and End to the ends of a series. Before any mark is reached, the walk begins at the first series.
 * @param places how many marks each series has, in the order of the series
 * @returns null for a key that does not walk, and where there is no mark to reach
 */
export function markAfter(key: string, at: Mark | null, places: number[]): Mark | null {
  const { series, place } = at ?? { series: 0, place: -1 };
  const last = (places[series] ?? 0) - 1;
  const moves: Record<string, Mark> = {
    ArrowRight: { series, place: Math.min(last, place + 1) },
    ArrowLeft: { series, place: Math.max(0, place - 1) },
    ArrowDown: { series: Math.min(places.length - 1, series + 1), place },
    ArrowUp: { series: Math.max(0, series - 1), place },
    Home: { series, place: 0 },
    End: { series, place: last },
  };
  const to = Object.hasOwn(moves, key) ? moves[key] : undefined;
  const there = to ? (places[to.series] ?? 0) : 0;
  // A series may have fewer marks than the one it is reached from.
  return to && there > 0 ? { series: to.series, place: Math.max(0, Math.min(there - 1, to.place)) } : null;
}
