import { expect, it } from "vitest";
import { afterShown, withTold } from "./toldTexts";

it("a page behind what is typed does not take letters back, and a change of its own is shown", () => {
  const told = ["F", "Fr", "Fre"].reduce(withTold, [] as string[]);
  const later = afterShown(told, "Fr");
  expect(later, "Fre is still to come").toEqual(["Fre"]);
  expect(afterShown(later ?? [], "Fre")).toEqual([]);
  expect(afterShown(later ?? [], "F"), "an undo").toBe(null);
  expect(afterShown([], "Freight")).toBe(null);
  expect(afterShown(["a", "b", "a"], "a"), "typed, deleted, typed again").toEqual([]);
  expect(Array.from({ length: 300 }, (_, i) => String(i)).reduce(withTold, [] as string[])).toHaveLength(200);
});
