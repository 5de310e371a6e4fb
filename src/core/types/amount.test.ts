import { expect, it } from "vitest";
import { isSameAmount } from "./amount";
import { decimal, floating, whole } from "./valueType";

it("exact amounts are the same to the last digit, beyond 2^53 too; nothing counts as nought", () => {
  expect(isSameAmount("9007199254740993", "9007199254740992", decimal(2))).toBe(false);
  expect(isSameAmount("9007199254740993", "9007199254740993", decimal(2))).toBe(true);
  expect(isSameAmount(12, "12", whole)).toBe(true);
  expect([isSameAmount(null, 0, whole), isSameAmount(null, 1, whole), isSameAmount(undefined, 1, whole)]).toEqual([true, false, true]);
});

it("floating amounts may differ by what the order of adding does, and no more", () => {
  expect(isSameAmount(0.1 + 0.2, 0.3, floating)).toBe(true);
  expect([isSameAmount(1e9 + 1.1, 1e9, floating), isSameAmount(1e9 + 0.9, 1e9, floating)]).toEqual([false, true]);
  expect([isSameAmount(2e-9, 0, floating), isSameAmount(0.9e-9, 0, floating)]).toEqual([false, true]);
});
