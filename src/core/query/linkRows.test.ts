import { expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { usualDay } from "../types/calendar";
import { LINK_ROWS, linkRows } from "./linkRows";
import { resolveQuery } from "./resolve";

it("asks for rows by how many rows of the other side they lead to, from either side", () => {
  const step = (toward: "a" | "b") => ({ link: "crate.yard_id", toward });
  expect(LINK_ROWS.map((which) => linkRows(sampleSchema, step("b"), which)?.name)).toEqual([
    "crates with yard",
    "crates without yard",
    "crates with several yards",
  ]);
  expect(linkRows(sampleSchema, step("a"), "none")).toMatchObject({ name: "yards without crates", spec: { source: "yard", joins: [{ way: "hasNone" }] } });
  for (const toward of ["a", "b"] as const)
    for (const which of LINK_ROWS) {
      const made = linkRows(sampleSchema, step(toward), which);
      expect(made && resolveQuery(made.spec, sampleSchema, { today: usualDay("2026-11-23"), values: {} }).ok).toBe(true);
    }
  expect(linkRows(sampleSchema, { link: "gone", toward: "a" }, "none")).toBeNull();
});
