import Decimal from "decimal.js";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { decimalText, divideCarried, divideRounded, parseDecimal, rescale, typedNumber } from "./decimal";

/* Compared with decimal.js, a reference library, over values far beyond 2^53. */
Decimal.set({ precision: 60, rounding: Decimal.ROUND_HALF_UP });
const big = fc.bigInt({ min: -(10n ** 24n), max: 10n ** 24n });
const scale = fc.integer({ min: 0, max: 12 });

describe("exact decimals", () => {
  it("are written and read back to the last digit", () =>
    fc.assert(
      fc.property(big, scale, (n, s) => {
        expect(parseDecimal(decimalText(n, s), s)).toBe(n);
      }),
    ));
  it("are rescaled as decimal.js rounds half up (away from zero)", () =>
    fc.assert(
      fc.property(big, scale, scale, (n, from, to) => {
        const expected = new Decimal(decimalText(n, from)).toDecimalPlaces(to, Decimal.ROUND_HALF_UP).toFixed(to);
        expect(decimalText(rescale(n, from, to), to).replace(/^-(0\.?0*)$/, "$1")).toBe(expected.replace(/^-(0\.?0*)$/, "$1"));
      }),
    ));
  it("are divided as decimal.js divides", () =>
    fc.assert(
      fc.property(big, fc.bigInt({ min: 1n, max: 10n ** 12n }), (n, d) => {
        const expected = new Decimal((-n).toString()).div(d.toString()).toDecimalPlaces(0).toFixed(0);
        expect(divideRounded(n, -d).toString()).toBe(expected === "-0" ? "0" : expected);
      }),
    ));
  it("refuse what is invalid, rather than round it away", () => {
    expect(parseDecimal("12.345", 2)).toBeNull();
    expect(parseDecimal("12.340", 2)).toBe(1234n);
    for (const wrong of ["", ".", "1e3", "1,5", "0x1", "12a"]) expect(parseDecimal(wrong, 2)).toBeNull();
  });
  it("read what is typed to be drawn, and nothing that is not a plain number", () => {
    expect(["12.50", " -3 ", ".5", "1e3", "1,000", "", "twelve", "0.1234567890123"].map(typedNumber)).toEqual([12.5, -3, 0.5, null, null, null, null, null]);
  });
});

describe("a quotient that is carried", () => {
  it("is rounded once, at the end: what lies just below a half stays there", () => {
    // 500,000.00 over 100,000,001 is 0.00499999995: to 2 digits 0.00. Rounded to 7 digits first it would be on the half.
    const [sum, count] = [500_000n * 10n ** 7n, 100_000_001n];
    expect(rescale(divideCarried(sum, count), 7, 2)).toBe(0n);
    expect(rescale(divideRounded(sum, count), 7, 2)).toBe(1n);
    expect(rescale(divideCarried(-sum, count), 7, 2)).toBe(0n);
    expect(rescale(divideCarried(5n * 10n ** 4n, 10n), 7, 3)).toBe(1n);
  });
});
