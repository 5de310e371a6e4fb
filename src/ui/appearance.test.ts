import { expect, it } from "vitest";
import { readAppearance, USUAL } from "./appearance";

it("reads what a browser kept, with the usual for what is missing, unknown or unreadable", () => {
  expect(readAppearance(null)).toEqual(USUAL);
  expect(readAppearance('{"theme":"dark","text":115,"density":"airy"}')).toEqual({ ...USUAL, theme: "dark", text: 115 });
  for (const broken of ["{", "null", "7", '"dark"', '{"text":1000}']) expect(readAppearance(broken)).toEqual(USUAL);
});
