/*
 * Figures of many values that databases reckon each in their own way. Percentages are in hundredths of a percent.
 */

const ascending = <T extends bigint | number>(values: T[]): T[] => [...values].sort((a, b) => (a < b ? -1 : a > b ? 1 : 0));

/** Between which two of so many values in order a percentile lies, and how far from the first to the second. */
function placeOf(count: number, percent: number): { low: number; high: number; tenThousandths: number } {
  const at = (count - 1) * percent;
  const low = Math.floor(at / 10_000);
  return { low, high: Math.min(low + 1, count - 1), tenThousandths: at % 10_000 };
}

/**
 * The percentile of whole numbers, in ten-thousandths of their unit, between two of them in proportion (the continuous
 * percentile of ISO/IEC 9075-2). @example percentileExact([1n, 2n], 5000) // 15000n
 */
export function percentileExact(values: bigint[], percent: number): bigint {
  const sorted = ascending(values);
  const { low, high, tenThousandths } = placeOf(sorted.length, percent);
  const [a, b] = [sorted[low] ?? 0n, sorted[high] ?? 0n];
  return a * 10_000n + (b - a) * BigInt(tenThousandths);
}

/** The same of floating numbers, in their own unit. */
export function percentileFloating(values: number[], percent: number): number {
  const sorted = ascending(values);
  const { low, high, tenThousandths } = placeOf(sorted.length, percent);
  const [a, b] = [sorted[low] ?? 0, sorted[high] ?? 0];
  return a + ((b - a) * tenThousandths) / 10_000;
}

/**
 * The variance, by the differences from the average: in two passes, corrected for what the first leaves (T. F. Chan,
 * G. H. Golub, R. J. LeVeque, The American Statistician 37, 1983). null of a sample of one.
 * @param sample whether the values are a sample of more
 * @example varianceOf([4, 4, 7], true) // 3
 */
export function varianceOf(values: number[], sample: boolean): number | null {
  const count = values.length;
  if (count === 0 || (sample && count === 1)) return null;
  const mean = values.reduce((a, b) => a + b, 0) / count;
  let squares = 0;
  let left = 0;
  for (const value of values) {
    squares += (value - mean) ** 2;
    left += value - mean;
  }
  return (squares - left ** 2 / count) / (sample ? count - 1 : count);
}
