import { expect, it } from "vitest";
import { emptyQuery } from "@/core/query/empty";
import { usualDay } from "@/core/types/calendar";
import { sampleSchema } from "../../../../test/support/sample";
import { resolveOnce } from "./resolveOnce";

const context = { today: usualDay("2026-11-23"), values: {} };
const spec = { ...emptyQuery("crate"), columns: [{ id: "p", value: { kind: "field" as const, join: "", column: "pieces" } }] };

it("a description is resolved once on one schema, for one day, one person and the same values", () => {
  const first = resolveOnce(spec, sampleSchema, context);
  expect(first.ok).toBe(true);
  expect(resolveOnce({ ...spec }, sampleSchema, { ...context })).toBe(first);
  expect(resolveOnce({ ...spec, limit: 5 }, sampleSchema, context)).not.toBe(first);
  expect(resolveOnce(spec, sampleSchema, { ...context, today: usualDay("2026-11-24") })).not.toBe(first);
  expect(resolveOnce(spec, sampleSchema, { ...context, values: { from: "1" } })).not.toBe(first);
  expect(resolveOnce(spec, sampleSchema, { ...context, person: "ada" } as typeof context)).not.toBe(first);
  // A schema with rules of a person is another one, even where all else is the same.
  expect(resolveOnce(spec, { ...sampleSchema }, context)).not.toBe(first);
});

it("what was let go is resolved again to the same", () => {
  const sheet = resolveOnce(spec, sampleSchema, context);
  const before = JSON.stringify(sheet);
  for (let limit = 1; limit < 200; limit++) resolveOnce({ ...spec, limit }, sampleSchema, context);
  expect(JSON.stringify(resolveOnce(spec, sampleSchema, context))).toBe(before);
});
