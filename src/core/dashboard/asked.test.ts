import { expect, it } from "vitest";
import type { Parameter } from "../query/spec";
import { usualDay } from "../types/calendar";
import { askedWords, differing } from "./asked";

const locale = { locale: "en-GB", zone: "UTC" };
const parameters: Parameter[] = [
  { name: "start", type: "date", default: { kind: "relative", date: "firstOfLastMonth" } },
  { name: "end", type: "date", default: { kind: "fixed", text: "2026-10-31" } },
  { name: "island", type: "text", optional: true },
];

it("a tile says what its query asks for: what is given, or the default of the day", () => {
  const query = { parameters };
  const words = (given: Record<string, string> = {}) => askedWords({ kind: "pivot", query, spec: { parameters: given } }, usualDay("2026-11-23"), locale);
  expect(words()).toBe("start 1 Oct 2026 · end 31 Oct 2026");
  expect(words({ start: "2026-01-01", island: "Pell" })).toBe("start 1 Jan 2026 · end 31 Oct 2026 · island Pell");
  expect(words({ start: "" })).toBe("start 1 Oct 2026 · end 31 Oct 2026");
  expect(askedWords({ kind: "table", query }, usualDay("2026-01-05"), locale)).toBe("start 1 Dec 2025 · end 31 Oct 2026");
  const chart = { kind: "chart" as const, query, spec: { pivot: { parameters: { end: "2026-11-01" } } } };
  expect(askedWords(chart, usualDay("2026-11-23"), locale)).toBe("start 1 Oct 2026 · end 1 Nov 2026");
  expect(askedWords({ kind: "figure", query: { parameters: [] } }, usualDay("2026-11-23"), locale)).toBe("");
});

it("tiles say so only where they do not all ask for the same", () => {
  expect(differing({ a: "start 1 Oct", b: "start 1 Oct" })).toEqual({});
  expect(differing({ a: "start 1 Oct", b: "" })).toEqual({});
  expect(differing({ a: "start 1 Oct", b: "start 1 Jan", c: "" })).toEqual({ a: "start 1 Oct", b: "start 1 Jan", c: "" });
  expect(differing({})).toEqual({});
});
