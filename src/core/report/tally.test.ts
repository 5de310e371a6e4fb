import Decimal from "decimal.js";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { decimal, floating, text, whole } from "../types/valueType";
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
        const average = sum.times(10_000).div(values.length).toDecimalPlaces(0, Decimal.ROUND_HALF_UP).toFixed(0);
        expect(tally.figure("average")).toBe(average === "-0" ? "0" : average);
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
  it("leave out what is empty or does not fit, and say nothing where there is nothing", () => {
    const tally = new Tally(decimal(2));
    tally.add(null);
    tally.add({ misfit: "n/a" });
    expect([tally.figure("total"), tally.figure("average"), tally.figure("count"), tally.figure("none")]).toEqual([null, null, 0, null]);
    expect([figureType("count", text), figureType("average", whole), figureType("average", floating)]).toEqual([whole, decimal(4), floating]);
  });
});
