/** A point of a small line: its place among the numbers, and the number. */
export type SparkPoint = { at: number; value: number };

/** As many points as a line of a cell's width can show; of more, the least and the greatest of each stretch are kept. */
const MOST_POINTS = 400;

/** Between numbers these could be parts of one. */
const OF_NUMBERS = /[\d.+-]/;

/**
 * A list of plain numbers as the points of a small line, the first and the last among them.
 * @param separator what stands between the numbers
 * @returns undefined where there are fewer than two, one is no number, or the separator could be part of one
 * @example sparkOf("3, 1.5, 2", ", ") // points 3, 1.5 and 2 at 0, 1 and 2
 */
export function sparkOf(list: string, separator: string): SparkPoint[] | undefined {
  if (separator === "" || OF_NUMBERS.test(separator)) return undefined;
  const parts = list.split(separator);
  const points = parts.map((part, at): SparkPoint => ({ at, value: part.trim() === "" ? Number.NaN : Number(part) }));
  if (points.length < 2 || points.some((p) => !Number.isFinite(p.value))) return undefined;
  return points.length <= MOST_POINTS ? points : thinned(points);
}

function thinned(points: SparkPoint[]): SparkPoint[] {
  const stretch = Math.ceil(points.length / (MOST_POINTS / 2 - 1));
  const kept = new Set([points[0], points.at(-1)]);
  for (let from = 0; from < points.length; from += stretch) {
    const part = points.slice(from, from + stretch);
    kept.add(part.reduce((a, b) => (b.value < a.value ? b : a)));
    kept.add(part.reduce((a, b) => (b.value > a.value ? b : a)));
  }
  return points.filter((p) => kept.has(p));
}
