import { expect, it } from "vitest";
import { sampleDerived, sampleSchema } from "../../../test/support/sample";
import { withDerivedFields } from "../derive/derive";
import type { DerivedField } from "../derive/spec";
import { usualDay } from "../types/calendar";
import { briefText } from "./brief";
import { rollupBrief } from "./derivedBrief";

const locale = { locale: "en-GB", zone: "Europe/Paris" };
const schema = withDerivedFields(sampleSchema, sampleDerived, usualDay("2026-11-23"));
const sentenceOf = (id: string) => {
  const { table, definition } = sampleDerived.find((f) => f.id === id) as DerivedField;
  return definition.kind === "rollup" ? briefText(rollupBrief(definition, table, schema, locale)) : "";
};

it.each([
  ["fees", "For each crate, the total of fee over stamps."],
  ["stamp count", "For each crate, the count over stamps."],
  ["dear", "For each yard, the average of price over crates, where price is greater than 500."],
  ["since opened", "For each yard, the count over crates, where day is on or after this yard › opened."],
  ["first mark", "For each yard, the first of mark over crates, by day."],
  ["crate list", "For each yard, the list of mark over crates, by day, latest or largest first, separated by “ · ”, all values."],
  ["fees of all", "For each yard, the total of fees over crates."],
])("the rollup “%s” says itself", (id, words) => expect(sentenceOf(id)).toBe(words));
