import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { emptyPivot, newAxis } from "../pivot/empty";
import { heatOf } from "../pivot/heat";
import { namesTo } from "../pivot/lines";
import type { Pivot } from "../pivot/pivot";
import type { PivotFigure } from "../pivot/spec";
import { noOutcomes } from "../posting/outcome";
import { emptyQuery } from "../query/empty";
import type { QuerySpec } from "../query/spec";
import { findTable, type Table } from "../schema/schema";
import { decimal, text } from "../types/valueType";
import { phraseOfProblem } from "./brief";
import { placeInLetter, whenWords, withoutWords } from "./letterBrief";
import { axisChip, figureChip } from "./pivotBrief";
import { postingQuestion } from "./postingBrief";

const locale = { locale: "en-GB", zone: "UTC" };

describe("which phrase of a brief a problem belongs to", () => {
  const spec: QuerySpec = {
    ...emptyQuery("crate"),
    joins: [{ id: "j1", from: "", link: "crate.yard_id", toward: "b", way: "keep" }],
    conditions: [
      { id: "w1", left: { kind: "field", join: "", column: "mark" }, operator: "is", values: [] },
      { id: "w2", left: { kind: "field", join: "", column: "price" }, operator: "between", values: [] },
    ],
  };
  const of = (...path: (string | number)[]) => phraseOfProblem({ code: "valueMissing", path, detail: {} }, spec);
  it("is the one it stands in: a table, a field, a comparison, one of two values", () => {
    expect(of("source")).toBe("source");
    expect(of("joins", 0)).toBe("join j1");
    expect(of("conditions", 1, "left")).toBe("conditionField w2");
    expect(of("conditions", 1, "operator")).toBe("operator w2");
    expect(of("conditions", 1, "values", 1)).toBe("value w2 1");
    expect(of("conditions", 0, "values")).toBe("value w1 0");
    expect(of("limit")).toBe("limit");
  });
});

describe("what is asked before rows are posted", () => {
  const asked = (add: number, change: number, remove: number, refused = 0) =>
    postingQuestion([{ outcomes: { ...noOutcomes(), add, change, remove, refused } }], locale);
  it("says all that is done, one of each and many", () => {
    expect(asked(1200, 0, 0)).toBe("Add 1,200 rows.");
    expect(asked(1, 3, 0)).toBe("Add 1 row and change 3 rows.");
    expect(asked(0, 0, 1)).toBe("Remove 1 row.");
    expect(asked(2, 3, 4)).toBe("Add 2 rows and change 3 rows and remove 4 rows.");
  });
  it("says what is refused, one row or several", () => {
    expect(asked(5, 0, 0, 1)).toBe("Add 5 rows. 1 row is refused.");
    expect(asked(5, 0, 0, 12)).toBe("Add 5 rows. 12 rows are refused.");
  });
});

describe("a letter in words", () => {
  it("says when a passage is printed", () => {
    const title = (id: string) => ({ t1: "Entries" })[id] ?? "a missing table";
    expect(whenWords({ kind: "rows", table: "t1", some: true }, title)).toBe("“Entries” has rows");
    expect(whenWords({ kind: "rows", table: "t9", some: false }, title)).toBe("“a missing table” has no rows");
    expect(whenWords({ kind: "formula", text: " balance > 0 " }, title)).toBe("balance > 0");
    expect(whenWords({ kind: "formula", text: "  " }, title)).toBe("…");
  });
  it("says why a row gets none", () => {
    const title = () => "Entries";
    expect(withoutWords({ kind: "rows", table: "t1", some: true }, false, title)).toBe("“Entries” has no rows");
    expect(withoutWords({ kind: "rows", table: "t1", some: false }, false, title)).toBe("“Entries” has rows");
    expect(withoutWords({ kind: "formula", text: "balance > 0" }, false, title)).toBe("balance > 0 is not true");
    expect(withoutWords({ kind: "formula", text: "balance > 0" }, true, title)).toBe("balance > 0 is empty");
  });
  it("says where a problem lies", () => {
    const spec = { tables: [{ id: "t1", title: "Entries" }] } as Parameters<typeof placeInLetter>[1];
    expect(placeInLetter(["fields", "balance"], spec)).toBe("Field balance: ");
    expect(placeInLetter(["conditions", ""], spec)).toBe("The text “only when …”: ");
    expect(placeInLetter(["tables", "t1"], spec)).toBe("The table “Entries”: ");
    expect(placeInLetter(["fileName"], spec)).toBe("File names: ");
    expect(["letterhead", "address", "foot", "page", "only"].map((part) => placeInLetter([part], spec))).toEqual([
      "Letterhead: ",
      "Address: ",
      "Page footer: ",
      "Page: ",
      "Letters for: ",
    ]);
    expect(placeInLetter(["query"], spec)).toBe("Query: ");
  });
});

describe("a pivot's chips", () => {
  const table = findTable(sampleSchema, "crate") as Table;
  const value = (column: string, more = {}) => ({ kind: "field" as const, join: "", column, ...more });
  const figure = (more: Partial<PivotFigure>): PivotFigure => ({ id: "f", value: value("price"), figure: "total", showAs: "asIs", ...more });
  it("name the field, and how it is parted and cut", () => {
    expect(axisChip(newAxis("a", value("mark")), table)).toEqual({ id: "a", words: "mark", more: "" });
    expect(axisChip({ ...newAxis("a", value("day", { part: "month" })), first: 4 }, table).more).toBe("month, first 4");
    expect(axisChip(newAxis("a", value("price", { band: { width: "50" } })), table).more).toBe("by 50");
    expect(axisChip({ ...newAxis("a", value("mark")), label: "Sign" }, table).words).toBe("Sign");
    expect(axisChip(newAxis("a", value("gone")), table).words).toBe("a missing field");
    expect(axisChip(newAxis("a", { kind: "formula", text: "1" }), table).words).toBe("formula");
  });
  it("name the figure and what is made of it, or how it is shown", () => {
    expect(figureChip(figure({}), table)).toEqual({ id: "f", words: "price", more: "total" });
    expect(figureChip(figure({ value: null, figure: "count" }), table)).toEqual({ id: "f", words: "rows", more: "count" });
    expect(figureChip(figure({ showAs: "rank" }), table).more).not.toBe("total");
    expect(figureChip(figure({ value: value("gone") }), table).words).toBe("a missing field");
    expect(figureChip(figure({ label: "Value" }), table).words).toBe("Value");
  });
});

describe("a pivot's cells in words and shades", () => {
  const heading = (level: number, key: string | null, parent: number) => ({ level, key, parent, rest: null, rows: 1 });
  const pivot = {
    axes: {
      down: [
        { heading: "Island", type: text, format: {} },
        { heading: "Trade", type: text, format: {} },
      ],
      across: [],
    },
    down: [heading(0, null, -1), heading(1, "Pell", 0), heading(2, "Wool", 1), heading(2, null, 1)],
    across: [heading(0, null, -1)],
    figures: [{ id: "f", heading: "Freight", type: decimal(2), format: {} }],
    // The totals are larger than any leaf, and one leaf is none.
    cells: [[900, 900, -400, null]],
  } as unknown as Pivot;
  it("names what leads to a heading, outermost first, and nothing for the total", () => {
    expect(namesTo(pivot, "down", 2, locale)).toEqual(["Pell", "Wool"]);
    expect(namesTo(pivot, "down", 3, locale)[1]).toContain("No trade");
    expect(namesTo(pivot, "down", 0, locale)).toEqual([]);
  });
  it("shades by the largest of the leaves, whatever its sign, never by a total", () => {
    const spec = {
      ...emptyPivot("q"),
      down: [newAxis("i", { kind: "formula", text: "1" }), newAxis("t", { kind: "formula", text: "1" })],
      figures: [{ id: "f", value: null, figure: "count" as const, showAs: "asIs" as const }],
    };
    expect(heatOf(pivot, { ...spec, heat: "f" })).toEqual({ figure: 0, most: 400 });
    expect(heatOf(pivot, { ...spec, heat: "gone" })).toBe(null);
    expect(heatOf(pivot, spec)).toBe(null);
  });
});
