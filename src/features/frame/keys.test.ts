import { expect, it } from "vitest";
import { frameKey } from "./keys";

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
