import fc from "fast-check";
import { expect, it } from "vitest";
import { fitWidths, type WantedWidth } from "./widths";

const whole = (natural: number): WantedWidth => ({ natural, whole: true });
const gives = (natural: number): WantedWidth => ({ natural, whole: false });

it("leaves columns as wide as their texts where there is room, one long name among them too", () => {
  expect(fitWidths([gives(300), whole(50), gives(20)], 370)).toEqual([300, 50, 20]);
});
it("takes from the longest texts first, and not from figures and dates", () => {
  expect(fitWidths([gives(300), whole(50), gives(20)], 270)).toEqual([200, 50, 20]);
  expect(fitWidths([gives(300), whole(50), gives(200), gives(60)], 250)).toEqual([70, 50, 70, 60]);
});
it("shrinks all alike where what must stand whole leaves too little, or nothing else stands there", () => {
  expect(fitWidths([whole(100), whole(300)], 200)).toEqual([50, 150]);
  expect(fitWidths([whole(100), gives(300), gives(5)], 100, 20)).toEqual([80, 16, 4]);
});
it("fills the room to the last point whenever there is too little of it", () => {
  const columns = fc.array(fc.record({ natural: fc.integer({ min: 1, max: 400 }), whole: fc.boolean() }), { minLength: 1, maxLength: 9 });
  fc.assert(
    fc.property(columns, fc.integer({ min: 50, max: 900 }), (wanted, room) => {
      const widths = fitWidths(wanted, room, 30);
      const sum = (list: number[]) => list.reduce((a, b) => a + b, 0);
      expect(sum(widths)).toBeCloseTo(Math.min(room, sum(wanted.map((c) => c.natural))), 6);
      // Nothing is wider than its texts, and no text gives way before a longer one.
      wanted.forEach((c, i) => expect(widths[i]).toBeLessThanOrEqual(c.natural + 1e-9));
      const cut = wanted.flatMap((c, i) => ((widths[i] ?? 0) < c.natural - 1e-9 ? [widths[i] ?? 0] : []));
      const stood = wanted.flatMap((c, i) => (!c.whole && (widths[i] ?? 0) >= c.natural - 1e-9 ? [widths[i] ?? 0] : []));
      if (cut.length > 0 && wanted.every((c) => !c.whole)) expect(Math.max(0, ...stood)).toBeLessThanOrEqual(Math.min(...cut) + 1e-9);
    }),
    { seed: 9 },
  );
});
