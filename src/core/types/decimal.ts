import { digitsOf, scaleOf, type ValueType } from "./valueType";

/** Powers of ten as big integers. */
export const tenTo = (power: number): bigint => 10n ** BigInt(power);

const DECIMAL_TEXT = /^\s*([+-]?)(\d*)(?:\.(\d*))?\s*$/;

/**
 * Reads decimal text ("-12.5") as a scaled integer. Digits beyond the scale must be zero: nothing is rounded away.
 * @returns the scaled integer, or null where the text is no decimal or does not fit the scale
 * @example parseDecimal("12.5", 2) // 1250n
 */
export function parseDecimal(source: string, scale: number): bigint | null {
  const match = DECIMAL_TEXT.exec(source);
  if (!match) return null;
  const [, sign = "", integer = "", fraction = ""] = match;
  if (integer === "" && fraction === "") return null;
  if (/[1-9]/.test(fraction.slice(scale))) return null;
  const scaled = BigInt((integer || "0") + fraction.slice(0, scale).padEnd(scale, "0"));
  return sign === "-" ? -scaled : scaled;
}

/** Digits of an exact number at most: more do not fit the 64 bits that databases keep. */
export const MOST_EXACT_DIGITS = 18;
export const isTooLong = (scaled: bigint): boolean => (scaled < 0n ? -scaled : scaled) >= tenTo(MOST_EXACT_DIGITS);

/**
 * Writes a scaled integer as plain decimal text with all its digits: the form used in files and bound values.
 * @example decimalText(-5n, 2) // "-0.05"
 */
export function decimalText(scaled: bigint, scale: number): string {
  const sign = scaled < 0n ? "-" : "";
  const digits = (scaled < 0n ? -scaled : scaled).toString().padStart(scale + 1, "0");
  if (scale === 0) return sign + digits;
  return `${sign}${digits.slice(0, -scale)}.${digits.slice(-scale)}`;
}

/**
 * A number that is typed to be drawn or held against a figure, not to be counted with.
 * @returns null where the text is none, or has more than 12 digits after the point
 * @example typedNumber(" 12.50 ") // 12.5
 */
export function typedNumber(typed: string): number | null {
  const scaled = parseDecimal(typed, 12);
  return scaled === null ? null : Number(decimalText(scaled, 12));
}

/**
 * Integer division rounding half away from zero, the rounding of every decimal in the ledger.
 * @throws RangeError where the divisor is 0
 * @example divideRounded(-5n, 2n) // -3n
 */
export function divideRounded(dividend: bigint, divisor: bigint): bigint {
  const negative = dividend < 0n !== divisor < 0n;
  const n = dividend < 0n ? -dividend : dividend;
  const d = divisor < 0n ? -divisor : divisor;
  const quotient = (2n * n + d) / (2n * d);
  return negative ? -quotient : quotient;
}

/**
 * Integer division for a quotient that will be rounded later, to fewer digits, half away from zero: cut off. What is cut off is below
 * a half or on it just where the true quotient is, so that rounding once at the end comes out as for the true one.
 * @throws RangeError where the divisor is 0
 * @example divideCarried(49995n, 1000n) // 49n
 */
export const divideCarried = (dividend: bigint, divisor: bigint): bigint => dividend / divisor;

/** An exact number as plain decimal text with the digits that are written of its type: the form used in files. */
export const exactText = (exact: bigint, type: ValueType): string => decimalText(rescale(exact, scaleOf(type), digitsOf(type)), digitsOf(type));

/** Brings a scaled integer from one scale to another, rounding half away from zero where digits are dropped. */
export function rescale(scaled: bigint, from: number, to: number): bigint {
  if (to === from) return scaled;
  if (to > from) return scaled * tenTo(to - from);
  return divideRounded(scaled, tenTo(from - to));
}
