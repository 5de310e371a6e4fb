import { expect, it } from "vitest";
import { frameKey, typedAhead } from "./keys";

const key = (name: string, held: Partial<Record<"ctrlKey" | "metaKey" | "altKey", boolean>> = {}) => ({
  key: name,
  ctrlKey: false,
  metaKey: false,
  altKey: false,
  ...held,
});

it("Ctrl K finds anywhere, ? helps but where it is typed", () => {
  expect(frameKey(key("k", { ctrlKey: true }), true)).toBe("find");
  expect(frameKey(key("K", { metaKey: true }), false)).toBe("find");
  expect(frameKey(key("k"), false)).toBe(null);
  expect(frameKey(key("?"), false)).toBe("help");
  expect(frameKey(key("?"), true)).toBe(null);
  expect(frameKey(key("?", { ctrlKey: true }), false)).toBe(null);
});

it("what is typed ahead is letters, not the keys that do something", () => {
  expect(["a", "Ł", "7", " ", "?", "👋"].map((name) => typedAhead(key(name)))).toEqual(["a", "Ł", "7", " ", "?", "👋"]);
  for (const name of ["Enter", "Escape", "ArrowDown", "Backspace", "Shift"]) expect(typedAhead(key(name))).toBe("");
  expect([typedAhead(key("a", { ctrlKey: true })), typedAhead(key("a", { altKey: true })), typedAhead(key("a", { metaKey: true }))]).toEqual(["", "", ""]);
});
