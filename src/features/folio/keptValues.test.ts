import { expect, it } from "vitest";
import { keptValues } from "./keptValues";

it("reads the values of parameters that a browser kept, and takes what cannot be read for none", () => {
  expect(keptValues('{"start":"2026-10-01"}')).toEqual({ start: "2026-10-01" });
  for (const kept of [null, "", "{", "[1]", "null", '{"start":1}', '"text"']) expect(keptValues(kept)).toEqual({});
});
