import { expect, it } from "vitest";
import { changeText } from "./changeText";

it("draws white space where values differ in nothing else", () => {
  expect(changeText("Old Shop 11 ", "Old Shop 11", "→")).toBe("Old␣Shop␣11␣ → Old␣Shop␣11");
  expect(changeText("a\tb", "a\nb", "≠")).toBe("a⇥b ≠ a↵b");
  expect(changeText("Old Shop", "New Shop", "→")).toBe("Old Shop → New Shop");
  expect(changeText("", "x", "→")).toBe("– → x");
  expect(changeText("", " ", "→")).toBe("– → ␣");
});
