import { relative } from "node:path";
import { expect, it } from "vitest";
import { importCircles, SOURCES } from "../../test/support/imports";

it("no file leads back to itself by its imports, types counted", () => {
  expect(SOURCES.size).toBeGreaterThan(500);
  expect(importCircles().map((circle) => circle.map((path) => relative("src", path)).sort())).toEqual([]);
});
