/**
 * A quantile of sorted numbers by linear interpolation between the two nearest: definition 7 of R. J. Hyndman and
 * Y. Fan, The American Statistician 50 (1996).
 * @param share 0 to 1
 * @example quantile([1, 2, 3, 4], 0.25) // 1.75
 */
export function quantile(sorted: number[], share: number): number {
  const at = (sorted.length - 1) * share;
  const low = Math.floor(at);
  const [a = Number.NaN, b = Number.NaN] = [sorted[low], sorted[Math.min(low + 1, sorted.length - 1)]];
  return a + (b - a) * (at - low);
}

export type Box = {
  least: number;
  q1: number;
  median: number;
  q3: number;
  greatest: number /** ends of the whiskers */;
  low: number;
  high: number;
  outliers: number[];
  count: number;
};

/** A box over numbers: quarters, whiskers to the farthest values within 1.5 times the box (J. W. Tukey, 1977), and what lies beyond. */
export function boxOf(values: number[]): Box | null {
  if (values.length === 0) return null;
  const sorted = [...values].sort((a, b) => a - b);
  const [q1, median, q3] = [quantile(sorted, 0.25), quantile(sorted, 0.5), quantile(sorted, 0.75)];
  const reach = 1.5 * (q3 - q1);
  const within = sorted.filter((v) => v >= q1 - reach && v <= q3 + reach);
  return {
    least: sorted[0] as number,
    q1,
    median,
    q3,
    greatest: sorted.at(-1) as number,
    low: within[0] ?? q1,
    high: within.at(-1) ?? q3,
    outliers: sorted.filter((v) => v < q1 - reach || v > q3 + reach),
    count: sorted.length,
  };
}

/** The straight line nearest to points by least squares; null for fewer than two places across. */
export function trendOf(points: [number, number][]): { slope: number; intercept: number } | null {
  const n = points.length;
  const meanX = points.reduce((s, [x]) => s + x, 0) / n;
  const meanY = points.reduce((s, [, y]) => s + y, 0) / n;
  const spread = points.reduce((s, [x]) => s + (x - meanX) ** 2, 0);
  if (n < 2 || spread === 0) return null;
  const slope = points.reduce((s, [x, y]) => s + (x - meanX) * (y - meanY), 0) / spread;
  return { slope, intercept: meanY - slope * meanX };
}

export const meanOf = (values: number[]): number | null => (values.length === 0 ? null : values.reduce((s, v) => s + v, 0) / values.length);

/**
 * A round width for about so many bands over a range: 1, 2 or 5 times a power of ten, the nearest by ratio.
 * @returns digits of the width as [factor, power of ten], so that exact numbers are divided exactly
 * @example niceWidth(0, 97, 20) // [5, 0]
 */
export function niceWidth(least: number, greatest: number, bands: number): [number, number] {
  const step = (greatest - least) / Math.max(1, bands);
  if (!(step > 0)) return [1, 0];
  const power = Math.floor(Math.log10(step));
  const over = step / 10 ** power;
  const factor = over >= Math.sqrt(50) ? 10 : over >= Math.sqrt(10) ? 5 : over >= Math.sqrt(2) ? 2 : 1;
  return factor === 10 ? [1, power + 1] : [factor, power];
}
