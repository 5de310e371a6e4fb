import { describe, expect, it } from "vitest";
import { laidOut, plainReport, planned, rowsFor, textsOf } from "../../../test/support/printed";
import { sampleSchema } from "../../../test/support/sample";
import { emptyQuery } from "../query/empty";
import type { QuerySpec } from "../query/spec";
import type { Cell } from "../types/valueType";
import { addAmounts } from "./amount";
import { addSummaryLine, changeSummaryLine, removeLevel, setSummary, summaryOf } from "./edit";
import { newLevel } from "./plan";
import type { ReportSpec, SummaryLine } from "./spec";
import { sumLines } from "./summary";

const decimal = (scale: number) => ({ kind: "decimal" as const, scale });
const amount = (cell: Cell, scale = 2) => ({ cell, type: scale > 0 ? decimal(scale) : ({ kind: "whole" } as const), format: {} });
const line = (id: string, of: SummaryLine["of"], more: Partial<SummaryLine> = {}): SummaryLine => ({ id, text: id, of, ...more });
const formula = (text: string): SummaryLine["of"] => ({ kind: "formula", text });

describe("amounts", () => {
  it("are added to the last digit, of whatever scales; with a floating one as numbers; nothing is 0", () => {
    expect(addAmounts([amount("31206"), amount("223557"), amount("-184250")])).toMatchObject({ cell: "70513", type: decimal(2) });
    expect(addAmounts([amount("9007199254740993"), amount("1")])?.cell).toBe("9007199254740994");
    expect(addAmounts([amount("5", 0), amount("25"), amount("1", 3)])).toMatchObject({ cell: "5251", type: decimal(3) });
    expect(addAmounts([amount(null), amount("7")])?.cell).toBe("7");
    expect(addAmounts([amount("150"), { cell: 0.25, type: { kind: "floating" }, format: {} }])).toMatchObject({ cell: 1.75, type: { kind: "floating" } });
    expect(addAmounts([])).toBeNull();
  });
});

describe("the lines of a summary", () => {
  it("are each read from where they say; a sum is over those above it that are none, taken away where they are to be", () => {
    const given = {
      formula: (text: string) => amount({ before: "31206", "SUM(freight)": "223557" }[text] ?? null),
      related: (table: string, column: string) => (table === "entries" && column === "amount" ? amount("184250") : null),
    };
    const lines = [
      line("before", formula("before")),
      line("lodged", formula("SUM(freight)")),
      line("both", { kind: "sum" }),
      line("paid", { kind: "related", table: "entries", column: "amount" }, { minus: true }),
      line("none", { kind: "related", table: "gone", column: "amount" }),
      line("left", { kind: "sum" }),
    ];
    expect(sumLines(lines, given).map((l) => l.amount?.cell ?? null)).toEqual(["31206", "223557", "254763", "-184250", null, "70513"]);
  });
});

const words = (id: string) => ({ id, value: { kind: "formula" as const, text: "mark" }, label: id });
const value = (column: string) => ({ kind: "field" as const, join: "", column });
const query: QuerySpec = {
  ...emptyQuery("crate"),
  columns: [words("a"), words("row"), { id: "sum", value: value("price") }, { id: "before", value: value("price"), label: "before" }],
};
const specOf = (lines: SummaryLine[], more: Partial<ReportSpec> = {}): ReportSpec =>
  plainReport(["row", "sum"], { levels: [newLevel("a")], summaries: [{ under: "a", lines }], ...more });

describe("a report's summary", () => {
  const lines = [line("Before {rows}", formula("before")), line("Lodged", formula("SUM(price)")), line("Left", { kind: "sum" })];
  it("closes each group with its own figures, on one page", () => {
    const report = planned(specOf(lines), query, sampleSchema);
    const rows = Array.from(
      { length: 95 },
      (_, i): Record<string, Cell> => ({ a: i < 40 ? "A" : "B", row: `r${i}`, sum: 100, price: 100, before: i < 40 ? 5000 : -7000 }),
    );
    const { pages } = laidOut(report, rowsFor(report, rows));
    const texts = pages.map((page) => textsOf(page).map((t) => t.text));
    const said = texts.flat();
    const under = (words: string) => said.flatMap((t, i) => (t === words ? [said[i + 1]] : []));
    expect(under("Before 40")).toEqual(["50.00"]);
    expect(under("Before 55")).toEqual(["(70.00)"]);
    expect(under("Lodged")).toEqual(["40.00", "55.00"]);
    expect(under("Left")).toEqual(["90.00", "(15.00)"]);
    for (const page of texts) if (page.includes("Lodged")) expect([page.some((t) => t.startsWith("Before")), page.includes("Left")]).toEqual([true, true]);
  });
  it("makes the report not foot where a field of it is not the same in all rows of its group", () => {
    const report = planned(specOf([line("Before", formula("before"))]), query, sampleSchema);
    const proof = (befores: number[]) => {
      const rows = befores.map((before, i): Record<string, Cell> => ({ a: i < 2 ? "A" : "B", row: `r${i}`, sum: 1, price: 1, before }));
      return laidOut(report, rowsFor(report, rows)).outline.proof;
    };
    expect([proof([5, 5, 6, 6]).summaries, proof([5, 5, 6, 6]).agrees]).toEqual([{ compared: 2, differ: 0 }, true]);
    expect([proof([5, 5, 6, 7]).summaries, proof([5, 5, 6, 7]).agrees]).toEqual([{ compared: 2, differ: 1 }, false]);
  });
  it("is refused where a line is no number, or its group or total is gone; one not written yet is empty", () => {
    const waiting = planned(specOf([line("Waiting", formula(" "))]), query, sampleSchema);
    expect(
      laidOut(waiting, rowsFor(waiting, [{ a: "A", row: "r0", sum: 1 }]))
        .pages.flatMap(textsOf)
        .some((t) => t.text === "Waiting"),
    ).toBe(true);
    const refused = (of: SummaryLine["of"], more: Partial<ReportSpec> = {}) => {
      expect(() => planned(specOf([line("l", of)], more), query, sampleSchema)).toThrow();
      try {
        planned(specOf([line("l", of)], more), query, sampleSchema);
      } catch (error) {
        return (JSON.parse((error as Error).message) as { code: string; path: unknown[] }[]).map((p) => [p.code, ...p.path]);
      }
    };
    expect(refused(formula("a"))).toEqual([["summaryNumber", "summaries", 0, "lines", 0]]);
    expect(refused({ kind: "related", table: "t", column: "x" })).toEqual([["summaryGone", "summaries", 0, "lines", 0]]);
    expect(refused(formula("SUM(nothing)"))?.[0]?.slice(1)).toEqual(["summaries", 0, "lines", 0, "of"]);
    expect(refused(formula("SUM(price)"), { levels: [] })?.[0]).toEqual(["summaryGroup", "summaries", 0]);
  });
  it("is made line by line, and goes with its level", () => {
    const spec = specOf([]);
    const one = addSummaryLine(setSummary(spec, "a", []), "a", formula("SUM(price)"));
    expect("summaries" in setSummary(spec, "a", [])).toBe(false);
    const two = addSummaryLine(one, "a", { kind: "sum" }, "Left");
    expect(summaryOf(two, "a").map((l) => [l.id, l.text])).toEqual([
      ["line", ""],
      ["line 2", "Left"],
    ]);
    expect(summaryOf(changeSummaryLine(two, "a", "line", { minus: true }), "a")[0]?.minus).toBe(true);
    expect(summaryOf(changeSummaryLine(two, "a", "line", null), "a").map((l) => l.id)).toEqual(["line 2"]);
    expect("summaries" in changeSummaryLine(one, "a", "line", null)).toBe(false);
    expect(removeLevel(two, "a").summaries).toEqual([]);
  });
});
