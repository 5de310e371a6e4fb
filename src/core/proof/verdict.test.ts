import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { emptyQuery } from "../query/empty";
import { resolveQuery } from "../query/resolve";
import { usualDay } from "../types/calendar";
import { decimal } from "../types/valueType";
import { aboutLines } from "./aboutFile";
import type { Proof } from "./proof";
import { heldWords, notRecountedWords, verdictOf } from "./verdict";

const locale = { locale: "en-GB", zone: "UTC" };
const amount = (rows: number, figure = 100) => ({ rows, figure });
const total = { column: "p", heading: "Price", type: decimal(2), accounted: 100, sheet: 100, within: 0, agrees: true };
const proof: Proof = {
  source: amount(3, 150),
  steps: [
    { kind: "condition", id: "w", label: "day", leftOut: amount(1, 50) },
    { kind: "kept", amount: amount(2) },
  ],
  accounted: amount(2),
  sheet: amount(2),
  groups: null,
  accountedGroups: null,
  totals: [total],
  repeats: [],
  lines: null,
  agrees: true,
  figure: { heading: "Price", type: decimal(2), column: "p", once: null },
};
const repeats = { column: "p", heading: "Price", type: decimal(2), of: "crates", once: 1, every: 2, rows: 1, groups: null };
const skipped = { headings: ["Rank"], skipped: { why: "many" as const, most: 100_000 }, lines: null, different: [] };
const resolved = resolveQuery(
  { ...emptyQuery("crate"), columns: [{ id: "p", value: { kind: "field", join: "", column: "price" } }], parameters: [] },
  sampleSchema,
  { today: usualDay("2026-11-23"), values: {} },
);

describe("what a proof comes to", () => {
  it("is proved only where all agrees, all is recounted, and no total adds a value again", () => {
    expect(verdictOf(proof)).toBe("proved");
    expect(verdictOf({ ...proof, agrees: false })).toBe("differs");
    expect(verdictOf({ ...proof, lines: skipped })).toBe("inPart");
    expect(verdictOf({ ...proof, repeats: [{ ...repeats, counted: "once" }] })).toBe("proved");
    expect(verdictOf({ ...proof, repeats: [{ ...repeats, counted: "every" }], lines: skipped })).toBe("repeats");
    expect(verdictOf({ ...proof, agrees: false, repeats: [{ ...repeats, counted: "every" }] })).toBe("differs");
  });
  it("says what was held, within what, and what was not", () => {
    expect(heldWords(proof, locale)).toBe("A recount, row by row and without the query’s SQL, gives the same rows and totals.");
    expect(heldWords({ ...proof, groups: 2, totals: [{ ...total, within: 1e-9 }] }, locale)).toMatch(
      /rows, groups and totals\. Price: floating numbers, equal within rounding\.$/,
    );
    expect(notRecountedWords(skipped, locale)).toBe(" Not recounted: Rank, because there are more than 100,000 rows.");
    expect(notRecountedWords({ ...skipped, headings: [], skipped: { why: "floating" } }, locale)).toContain("which rows come first, because rounding");
  });
});

describe("what stands beside an exported file", () => {
  const lines = (of: Proof) => {
    if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
    const about = { title: "T", brief: "B", printedAt: "now", locale };
    return aboutLines(about, resolved.value, of).map((line) => line.map((cell) => (typeof cell === "string" ? cell : cell.value)));
  };
  it("is the account of its rows and the verdict", () => {
    const said = lines(proof);
    for (const line of [["crate", 3, 150], ["left out by day", 1, 50], ["kept", 2, 100], ["in the sheet", 2, 100], ["Price", 100, 100], ["Proved."]])
      expect(said).toContainEqual(line);
  });
  it("says no where the query and the recount differ, and shows both", () => {
    const said = lines({ ...proof, agrees: false, totals: [{ ...total, accounted: 99, agrees: false }] });
    expect(said).toContainEqual(["Price", 100, 99]);
    expect(said).toContainEqual(["Does not agree."]);
    expect(said.flat().join(" ")).not.toContain("Proved");
    expect(said.flat().join(" ")).toContain("Do not use these figures");
  });
  it("names the totals that add a value again", () => {
    expect(lines({ ...proof, repeats: [{ ...repeats, counted: "every" }] }).flat()).toContain("Totals that add the same values more than once: Price.");
  });
});
