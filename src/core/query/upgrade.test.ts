import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { usualDay } from "../types/calendar";
import { resolveQuery } from "./resolve";
import { querySpecSchema } from "./spec";
import { upgradeQuery } from "./upgrade";

/** A query of version 1 with every feature it had. */
const first = {
  version: 1,
  source: "crate",
  joins: [
    { id: "y", from: "", link: "crate.yard_id", toward: "b", unmatched: "keep" },
    { id: "s", from: "", link: "stamp.crate_id", toward: "a", unmatched: "only" },
  ],
  conditions: [
    {
      id: "w1",
      left: { kind: "field", join: "", column: "day" },
      operator: "between",
      values: [
        { kind: "parameter", name: "from" },
        { kind: "relative", date: "today" },
      ],
    },
    { id: "w2", left: { kind: "formula", text: "UPPER(mark)" }, operator: "notOneOf", values: [{ kind: "value", text: "A" }] },
    { id: "w3", left: { kind: "field", join: "y", column: "opened" }, operator: "atMost", values: [{ kind: "field", join: "", column: "day" }] },
  ],
  grouped: true,
  columns: [
    { id: "k", value: { kind: "field", join: "", column: "day", part: "month" } },
    { id: "b", value: { kind: "field", join: "", column: "price", band: { width: "10" } }, label: "Band" },
    { id: "n", value: null, figure: "count" },
    { id: "t", value: { kind: "field", join: "", column: "price" }, figure: "total", everyRow: true, footing: "total", format: { decimals: 1 } },
    {
      id: "l",
      value: { kind: "field", join: "", column: "mark" },
      figure: "list",
      by: { kind: "field", join: "", column: "day" },
      direction: "down",
      separator: "; ",
    },
  ],
  order: [{ column: "t", direction: "down" }],
  limit: 10,
  parameters: [{ name: "from", type: "date", default: { kind: "fixed", text: "2025-01-01" } }],
  proofColumn: "t",
  controls: [{ id: "c", source: "the ledger", column: "t", value: "12.50" }],
};

describe("a query saved by version 1", () => {
  it("keeps everything it said", () => {
    const { version, joins, ...rest } = querySpecSchema.parse(first);
    const { version: _, joins: before, ...same } = first;
    expect(rest).toEqual(same);
    expect(version).toBe(2);
    expect(joins).toEqual(before.map(({ unmatched, ...join }) => ({ ...join, way: unmatched })));
  });
  it("can be worked out", () =>
    expect(resolveQuery(querySpecSchema.parse(first), sampleSchema, { today: usualDay("2026-11-23"), values: {} })).toMatchObject({ ok: true }));
  it("is not touched where it is of today, or no query at all", () => {
    const today = querySpecSchema.parse(first);
    expect(upgradeQuery(today)).toBe(today);
    for (const junk of [null, 7, "x", [], {}, { version: 3 }]) expect(upgradeQuery(junk)).toBe(junk);
    expect(querySpecSchema.safeParse({ ...first, joins: [{ id: "y" }] }).success).toBe(false);
  });
});
