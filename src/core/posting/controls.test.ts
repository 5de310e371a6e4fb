import { expect, it } from "vitest";
import { decimal, floating } from "../types/valueType";
import { checkPosting, checkWords } from "./controls";
import { noOutcomes, type StepTally, type Tally } from "./outcome";
import type { PostingControl } from "./spec";

const step = (more: Partial<StepTally>): Tally => ({
  table: "crate",
  source: 12,
  outcomes: { ...noOutcomes(), add: 9, refused: 3 },
  since: [],
  rowsBefore: 4,
  rowsAfter: 13,
  totals: [
    { column: "fee", label: "fee", type: decimal(2), before: "1250", after: "9007199254742243" },
    { column: "ratio", label: "ratio", type: floating, before: 0.1, after: 0.4 },
    { column: "none", label: "none", type: decimal(2), before: null, after: "5" },
  ],
  origin: null,
  fields: [],
  nextNumber: null,
  content: "c",
  digest: "d",
  before: null,
  doubles: false,
  ...more,
});
const control = (more: Partial<PostingControl>): PostingControl => ({ step: 0, figure: "source", compare: "is", value: "12", ...more });
const agrees = (more: Partial<PostingControl>, tally = step({})) => checkPosting([control(more)], tally)[0]?.agrees;

it("holds rows and totals against figures from elsewhere, to the last digit", () => {
  expect([agrees({}), agrees({ value: "13" }), agrees({ value: "12.0" })]).toEqual([true, false, true]);
  expect([agrees({ compare: "atLeast" }), agrees({ compare: "atLeast", value: "13" }), agrees({ compare: "atLeast", value: "11" })]).toEqual([
    true,
    false,
    true,
  ]);
  expect([agrees({ compare: "atMost" }), agrees({ compare: "atMost", value: "11" }), agrees({ compare: "atMost", value: "13" })]).toEqual([true, false, true]);
  expect([
    agrees({ figure: "refused", value: "3" }),
    agrees({ figure: "refused", compare: "atMost", value: "2" }),
    agrees({ figure: "move", value: "0" }),
  ]).toEqual([true, false, true]);
  const grown = { figure: "total" as const, column: "fee" };
  expect([agrees({ ...grown, value: "90071992547409.93" }), agrees({ ...grown, value: "90071992547409.92" })]).toEqual([true, false]);
  expect([agrees({ ...grown, column: "ratio", value: "0.3" }), agrees({ ...grown, column: "ratio", value: "0.30001" })]).toEqual([true, false]);
  expect(agrees({ ...grown, column: "none", value: "0.05" })).toBe(true);
});
it("does not agree where its step or its column is gone", () => {
  expect([agrees({ step: 1 }), agrees({ figure: "total", column: "gone", value: "0" })]).toEqual([false, false]);
  expect(agrees({ step: 1, value: "7" }, { ...step({}), next: [step({ source: 7 })] })).toBe(true);
});
it("says what must be and what is", () => {
  const locale = { locale: "en-GB", zone: "UTC" } as Parameters<typeof checkWords>[2];
  const words = (more: Partial<PostingControl>) => checkPosting([control(more)], step({})).map((c) => checkWords(c, "fee", locale))[0];
  expect(words({ value: "1300" })).toBe("Rows in the source must be 1,300, but it is 12.");
  expect(words({ figure: "refused", compare: "atMost", value: "0" })).toBe("Rows refused must be at most 0, but it is 3.");
  expect(words({ figure: "total", column: "fee", value: "1" })).toBe("Change in total fee must be 1, but it is 90,071,992,547,409.93.");
  expect(words({ value: "1 2oo" })).toBe("Rows in the source must be “1 2oo”, which is not a number, but it is 12.");
  expect(checkPosting([control({ value: " " })], step({}))).toEqual([]);
  expect([agrees({ value: "(12)" }), agrees({ value: "1 2" }), agrees({ value: "1 2oo" })]).toEqual([false, true, false]);
  expect(words({ step: 3 })).toBe("Rows in the source must be 12, which is not in this posting.");
});
