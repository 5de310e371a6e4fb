import Decimal from "decimal.js";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { rescale } from "../types/decimal";
import { carriedTo, decimal, floating, scaleOf, text, whole } from "../types/valueType";
import { figureType, Tally } from "./tally";

Decimal.set({ precision: 60 });

describe("running figures", () => {
  it("total and average exactly, as decimal.js does, far beyond 2^53", () =>
    fc.assert(
      fc.property(fc.array(fc.bigInt({ min: -(10n ** 17n), max: 10n ** 17n }), { minLength: 1, maxLength: 40 }), (values) => {
        const tally = new Tally(decimal(2));
        for (const v of values) tally.add(v.toString());
        const sum = values.reduce((a, v) => a.plus(v.toString()), new Decimal(0));
        expect(tally.figure("total")).toBe(sum.toFixed(0));
        // However few digits are written, the average is rounded once: as the true quotient is.
        const average = BigInt(tally.figure("average") as string);
        for (const digits of [0, 2, 3, 6]) {
          const wanted = sum
            .div(100)
            .div(values.length)
            .toDecimalPlaces(digits, Decimal.ROUND_HALF_UP)
            .times(10 ** digits);
          expect(rescale(average, scaleOf(figureType("average", decimal(2))), digits)).toBe(BigInt(wanted.toFixed(0)));
        }
      }),
    ));
  it("merge to what the whole comes to", () => {
    const [a, b, all] = [new Tally(whole), new Tally(whole), new Tally(whole)];
    for (const [n, cell] of [1, 2, null, "9007199254740993"].entries()) {
      (n % 2 ? a : b).add(cell);
      all.add(cell);
    }
    a.merge(b);
    for (const figure of ["total", "count", "average"] as const) expect(a.figure(figure)).toBe(all.figure(figure));
  });
  it("leave out what is empty or is invalid, and say nothing where there is nothing", () => {
    const tally = new Tally(decimal(2));
    tally.add(null);
    tally.add({ misfit: "n/a" });
    expect([tally.figure("total"), tally.figure("average"), tally.figure("count"), tally.figure("none")]).toEqual([null, null, 0, null]);
    expect([figureType("count", text), figureType("average", whole), figureType("average", floating)]).toEqual([whole, carriedTo(4), floating]);
  });
});
