import { expect, it } from "vitest";
import { uniqueNames } from "./names";

it("names of files are clean, and each stands once, whatever its case", () => {
  expect(uniqueNames(["Ardle Still", "ardle still", "A/B: c?", "", "Ardle Still", "A B c"])).toEqual([
    "Ardle Still",
    "ardle still (2)",
    "A B c",
    "export",
    "Ardle Still (3)",
    "A B c (2)",
  ]);
  expect(new Set(uniqueNames(["x", "x (2)", "x"])).size).toBe(3);
});
