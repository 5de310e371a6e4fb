import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { usualDay } from "../types/calendar";
import { agreedControls, checkControls, controlWords, plainDigits } from "./controls";
import { emptyQuery } from "./empty";
import { resolveQuery } from "./resolve";
import type { ControlTotal, QuerySpec } from "./spec";

const spec: QuerySpec = {
  ...emptyQuery("crate"),
  columns: ["price", "ratio", "mark"].map((c) => ({ id: c, value: { kind: "field", join: "", column: c } })),
};
const resolved = resolveQuery(spec, sampleSchema, { today: usualDay("2026-11-23"), values: {} });
if (!resolved.ok) throw new Error();
const check = (controls: Omit<ControlTotal, "id" | "source">[], totals = { price: "123456789012345678901", ratio: 0.3 }) =>
  checkControls({ controls: controls.map((c, i) => ({ ...c, id: `c${i}`, source: "the bank" })) }, resolved.value, { rows: 12, totals });

describe("control totals", () => {
  it("agree to the last digit or not at all, beyond 2^53 too", () => {
    const checks = check([
      { column: null, value: "12" },
      { column: "price", value: "1234567890123456789.01" },
      { column: "price", value: "1234567890123456789.00" },
      { column: "ratio", value: "0.30000000000000004" },
    ]);
    expect(checks.map((c) => [c.agrees, c.out])).toEqual([
      [true, "0"],
      [true, "0"],
      [false, "1"],
      [true, expect.closeTo(0, 12)],
    ]);
  });
  it("say the difference, and what cannot be compared: a missing column or is no number, a value that is none", () => {
    const checks = check([
      { column: null, value: "1214" },
      { column: "gone", value: "1" },
      { column: "mark", value: "1" },
      { column: "price", value: "1.005" },
    ]);
    expect(checks.every((c) => !c.agrees)).toBe(true);
    const words = controlWords(checks, { locale: "en-GB", zone: "UTC" });
    expect(words).toContain("for rows is 1,214; the query shows 12: (1,202) out.");
    expect(words.match(/cannot be compared/g)).toHaveLength(3);
  });
  it("that agree are written down with what they are and where they are from, and no other", () => {
    const checks = check([
      { column: null, value: "12" },
      { column: "price", value: "1" },
      { column: "price", value: "1234567890123456789.01" },
    ]);
    expect(agreedControls(checks, { locale: "en-GB", zone: "UTC" })).toEqual([
      { source: "the bank", figure: "rows", value: "12" },
      { source: "the bank", figure: "Price", value: "1,234,567,890,123,456,789.01" },
    ]);
    expect(agreedControls([], { locale: "en-GB", zone: "UTC" })).toEqual([]);
  });
  it("hold a query of no rows to nothing", () => {
    const none = checkControls({ controls: [{ id: "c", source: "", column: "price", value: "0" }] }, resolved.value, { rows: 0, totals: { price: null } });
    expect(none[0]?.agrees).toBe(true);
  });
});

describe("a figure typed as it is shown", () => {
  it.each([
    ["1,234,567.50", "1234567.50"],
    ["(1,234.50)", "-1234.50"],
    ["\u22127", "-7"],
    [" 1\u00a0234 ", "1234"],
    ["1,5", "1,5"],
    ["12", "12"],
  ])("%s is %s", (typed, plain) => expect(plainDigits(typed)).toBe(plain));
});
