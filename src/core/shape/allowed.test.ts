import { expect, it } from "vitest";
import { allowedIn } from "./allowed";

it("reads lists of allowed values, and nothing that says more", () => {
  expect(allowedIn(`CHECK (grade IN ('A', 'it''s', 3))`, "Grade")).toEqual(["A", "it's", "3"]);
  expect(allowedIn(`CONSTRAINT "x y" CHECK ("my grade" in ('A'))`, "my grade")).toEqual(["A"]);
  for (const other of [
    "CHECK (other IN ('A'))",
    "CHECK (grade NOT IN ('A'))",
    "CHECK (grade IN ('A') OR x)",
    "CHECK (grade IN (SELECT a FROM b))",
    "CHECK (grade IN ())",
    "CHECK (grade IN ('A' 'B'))",
    "DEFAULT 'A'",
  ])
    expect([other, allowedIn(other, "grade")]).toEqual([other, undefined]);
});
