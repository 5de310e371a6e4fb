import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { numberText, plainNumber, readAffixed, shownWith } from "./numbers";
import { columnNames, fitting, misfitsIn, proposeType, samplesOf, scaleOfTally } from "./propose";
import type { ImportColumn } from "./spec";
import { emptyTally, FileTally } from "./tally";

const tallied = (values: string[], comma = false) => {
  const tally = new FileTally(comma);
  values.forEach((v, i) => tally.add([v], i + 1));
  return tally.tallies()[0] ?? emptyTally();
};
const proposed = (values: string[], comma = false) => {
  const { type, dates } = proposeType(tallied(values, comma));
  return type.kind === "decimal" ? `decimal(${type.scale})` : type.kind === "date" || type.kind === "timestamp" ? `${type.kind} ${dates}` : type.kind;
};

describe("types proposed from values", () => {
  it.each<[string[], string]>([
    [["1", "-2", "", "30000000000"], "whole"],
    [["1", "2.5", "-0.125"], "decimal(3)"],
    [["1e3", "2.5"], "floating"],
    [["0.1234567890123", "2"], "floating"],
    [["007", "012"], "text"],
    [["0", "10"], "whole"],
    [["0.5", "00.5"], "text"],
    [["1,250.50", "3"], "decimal(2)"],
    [["yes", "No", "true"], "yesno"],
    [["2026-01-31", "2024-02-29"], "date ymd"],
    [["31/01/2026", "01/02/2026"], "date dmy"],
    [["01/31/2026", "02/01/2026"], "date mdy"],
    [["Jan 1 2000", "Feb 28 2001"], "date mdy"],
    [["2026-01-31 10:00", "2026-02-01"], "timestamp ymd"],
    [["north", "12"], "text"],
    [["", ""], "text"],
    [["9223372036854775807"], "whole"],
    [["9223372036854775808"], "decimal(1)"],
  ])("%o", (values, type) => expect(proposed(values)).toBe(type));
  it("count what is invalid each column's type, and nothing of a column that is left out", () => {
    const tally = tallied(["1", "2", "x", ""]);
    const column = (type: ImportColumn["type"], left = false): ImportColumn => ({ name: "c", type, dates: "ymd", left });
    const scanned = [{ tally }, { tally }, { tally }];
    expect(misfitsIn(scanned, [column({ kind: "whole" }), column({ kind: "text" }), column({ kind: "whole" }, true)])).toEqual([1, 0, 0]);
    // A column that the file no longer has.
    expect(misfitsIn([], [column({ kind: "whole" })])).toEqual([0]);
  });
  it("bear one odd value among several, and count it", () => {
    const values = ["1", "2", "many", "4", "5"];
    expect(proposed(values)).toBe("whole");
    const tally = tallied(values);
    expect(fitting(tally, { kind: "whole" }, "ymd")).toBe(4);
    expect(tally.samples.whole).toEqual([{ row: 3, text: "many" }]);
  });
  it("count all values of a column, however many different ones there are and however long they are", () => {
    const days = Array.from({ length: 9_000 }, (_, i) => `2026-01-${String((i % 28) + 1).padStart(2, "0")}`);
    const texts = Array.from({ length: 9_000 }, (_, i) => (i % 2 === 0 ? `text ${i}` : `${"long ".repeat(20)}${i % 3}`));
    const amounts = Array.from({ length: 9_000 }, (_, i) => `${i} kg`);
    const tally = tallied([...days, ...texts, ...amounts, ...amounts, "x"]);
    expect([tally.filled, tally.dates.ymd, tally.longest]).toEqual([36_001, 9_000, 101]);
    expect(tally.affixed.kg?.[0]).toBe(18_000);
    expect(fitting(tally, { kind: "text" }, "ymd")).toBe(36_001);
  });
  it("read decimal commas where the file writes them", () => {
    expect(proposed(["1.250,50", "-3,5", "12"], true)).toBe("decimal(2)");
    expect([plainNumber("1.250,50", true), plainNumber("1 250.5", false), plainNumber("12,5", false)]).toEqual(["1250.50", "1250.5", "12,5"]);
  });
  it("are read with the sign that stands beside them, in brackets, or with their minus behind", () => {
    const read = (source: string, comma = false) => {
      const made = readAffixed(source, comma);
      return made && `${made.affix}|${made.number}`;
    };
    expect(["77,33 €", "£40", "-£1,200.50", "(£12.00)", "12.00-", "CHF 1'200.5", "1 250 EUR", "12 kg", "\u22123 $", "£ -2"].map((s) => read(s))).toEqual([
      "€|77.33",
      "£|40",
      "£|-1200.50",
      "£|-12.00",
      "|-12.00",
      "CHF|1200.5",
      "EUR|1250",
      "kg|12",
      "$|-3",
      "£|-2",
    ]);
    expect(["3.5 %", "0%", "120%", "-7%"].map((s) => read(s))).toEqual(["%|0.035", "%|0.00", "%|1.20", "%|-0.07"]);
    expect(["1.234,50 €", "1,234 €"].map((s) => read(s, true))).toEqual(["€|1234.50", "€|1.234"]);
    for (const no of [
      "A12",
      "12B",
      "BW-64395",
      "12",
      "77,33",
      "Apt 12",
      "007 €",
      "€",
      "(12",
      "(-12)",
      "-12-",
      "€12€",
      "31.01.2026",
      "12 High St",
      "1.2.3 €",
      `€${"1".repeat(60)}`,
    ])
      expect(read(no), no).toBe(null);
  });
  it("take numbers with one sign for numbers, and count those with another", () => {
    const money = tallied(["77,33 €", "£40", "12 €", "3 €", "(5 €)", "", "6 €"]);
    expect(proposeType(money)).toMatchObject({ type: { kind: "decimal", scale: 2 }, affix: "€" });
    expect(fitting(money, { kind: "decimal", scale: 2 }, "ymd", "€")).toBe(5);
    expect(fitting(money, { kind: "decimal", scale: 1 }, "ymd", "€")).toBe(4);
    expect(fitting(money, { kind: "decimal", scale: 2 }, "ymd")).toBe(0);
    expect(samplesOf(money, { type: { kind: "decimal", scale: 2 }, affix: "€" })).toEqual([{ row: 2, text: "£40", affix: "£" }]);
    expect(samplesOf(money, { type: { kind: "decimal", scale: 2 } })).toHaveLength(5);
    expect(proposeType(tallied(["12.00-", "3", "4"]))).toMatchObject({ type: { kind: "decimal", scale: 2 }, affix: "" });
    expect(proposeType(tallied(["1", "2"])).affix).toBe(undefined);
    // All of them, before most of them.
    expect(proposeType(tallied([...Array.from({ length: 19 }, () => "1.5"), "2 €"])).affix).toBe("€");
    // As many signs as a text has words are none.
    expect(proposed(["1 a", "2 b", "3 c", "4 d"])).toBe("text");
    expect([numberText("£40", false, "€"), numberText("40 €", false, "€"), numberText("(4)", false, "€"), numberText("40 €", false, undefined)]).toEqual([
      "£40",
      "40",
      "-4",
      "40 €",
    ]);
    expect(["€", "$", "CHF", "%", "", undefined].map(shownWith)).toEqual([
      { unit: "EUR" },
      { unit: "$" },
      { unit: "CHF" },
      { format: { percent: true } },
      {},
      {},
    ]);
  });
  it("never propose a type that some values do not fit while another takes them all", () =>
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom("1", "2.50", "x", "2026-01-31", "31/12/2025", "yes", "1e5", "07", "", "2026-01-01 10:00"), { maxLength: 12 }),
        (values) => {
          const tally = tallied(values);
          const { type, dates } = proposeType(tally);
          const fits = fitting(tally, type, dates);
          expect(tally.filled).toBe(values.filter((v) => v !== "").length);
          expect(fits).toBeLessThanOrEqual(tally.filled);
          const exact = [
            { kind: "whole" as const },
            { kind: "decimal" as const, scale: scaleOfTally(tally) },
            { kind: "date" as const },
            { kind: "yesno" as const },
          ];
          if (exact.some((t) => tally.filled > 0 && fitting(tally, t, dates) === tally.filled)) expect(fits).toBe(tally.filled);
        },
      ),
    ));
  it("name every column once", () =>
    fc.assert(
      fc.property(fc.array(fc.constantFrom("a", "A", "", " b ", "a 2", "column 1"), { maxLength: 8 }), (headings) => {
        const { names } = columnNames(headings);
        expect(new Set(names.map((n) => n.toLowerCase())).size).toBe(headings.length);
        expect(names.every((n) => n.trim() !== "")).toBe(true);
      }),
    ));
});
