import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { sparkOf } from "./spark";

describe("a small line in a row", () => {
  it("has every number of a list at its place", () => {
    expect(sparkOf("3, -1.5, 2", ", ")).toEqual([
      { at: 0, value: 3 },
      { at: 1, value: -1.5 },
      { at: 2, value: 2 },
    ]);
  });
  it("is not drawn of what is no list of numbers: nothing is taken for 0, no number is cut in two", () => {
    for (const [list, separator] of [
      ["3", ", "],
      ["", ", "],
      ["3, , 2", ", "],
      ["3, high", ", "],
      ["12", ""],
      ["1.50.2.50", "."],
      ["1-2-3", "-"],
    ] as const)
      expect([list, sparkOf(list, separator)]).toEqual([list, undefined]);
  });
  it("of very many numbers keeps the first, the last, the least and the greatest, in their order", () => {
    const many = fc.array(fc.integer({ min: -1e6, max: 1e6 }), { minLength: 2, maxLength: 5000 });
    fc.assert(
      fc.property(many, (numbers) => {
        const points = sparkOf(numbers.join("; "), "; ") ?? [];
        expect(points.length).toBeLessThanOrEqual(400);
        expect([points[0]?.value, points.at(-1)?.value, points.at(-1)?.at]).toEqual([numbers[0], numbers.at(-1), numbers.length - 1]);
        const values = points.map((p) => p.value);
        expect([Math.min(...values), Math.max(...values)]).toEqual([Math.min(...numbers), Math.max(...numbers)]);
        for (const [i, p] of points.entries()) expect([numbers[p.at], p.at > (points[i - 1]?.at ?? -1)]).toEqual([p.value, true]);
      }),
      { numRuns: 60, seed: 20261128 },
    );
  });
});
