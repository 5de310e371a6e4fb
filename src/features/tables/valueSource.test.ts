import { expect, it } from "vitest";
import { usualDay } from "@/core/types/calendar";
import { daysOffered } from "./valueSource";

const today = usualDay("2026-11-23");
const locale = { locale: "en-GB", zone: "UTC" };
const offered = (typed: string) => daysOffered(typed, today, locale).map((s) => [s.words, s.text]);

it("offers days by their words, written as dates are typed, and nothing while figures are", () => {
  expect(offered("yes")).toEqual([["yesterday", "22 Nov 2026"]]);
  expect(offered("Last day")).toEqual([
    ["last day of this month", "30 Nov 2026"],
    ["last day of last month", "31 Oct 2026"],
  ]);
  expect(offered("").length).toBe(7);
  expect(offered("23/1")).toEqual([]);
});
