import { describe, expect, it } from "vitest";
import { emptyQuery } from "../query/empty";
import * as edit from "./edit";
import { newLevel } from "./plan";
import type { ReportSpec } from "./spec";

const printed = (id: string) => ({ id, value: { kind: "field" as const, column: id }, widthMm: null });
const total = { kind: "figure" as const, figure: "total" as const };
const table = {
  title: "Entries",
  under: "place",
  of: "",
  match: { kind: "link" as const, step: { link: "entry.place_id", toward: "a" as const } },
  hideEmpty: true,
  query: emptyQuery("entry"),
};
const parts = { left: "", center: "", right: "" };
const spec: ReportSpec = {
  version: 2,
  query: "q",
  title: "Sales",
  showBrief: true,
  levels: [newLevel("place"), { ...newLevel("trade"), order: { by: "figure", line: "l", column: "amount" }, direction: "down" }],
  columns: [printed("day"), { ...printed("amount"), window: { kind: "running", level: "place" } }, printed("weight")],
  lines: [
    { id: "l", text: "", cells: { amount: total, weight: total } },
    { id: "own", text: "own", levels: ["place"], cells: { weight: total } },
    { id: "both", text: "both", levels: ["place", "trade"], cells: {} },
  ],
  carried: ["amount"],
  related: [{ ...table, id: "table", related: [{ ...table, id: "table 2", under: "" }] }],
  passages: [
    { id: "p", at: { level: "place" }, text: "of a place" },
    { id: "end", at: "end", text: "last" },
  ],
  shape: { kind: "table" },
  page: { paper: "A4", landscape: false, margins: { top: 10, right: 10, bottom: 10, left: 10 } },
  header: parts,
  footer: parts,
  parameters: {},
};
const ids = (all: { id: string }[] | undefined) => all?.map((a) => a.id);

describe("groups of a report", () => {
  it("are added inside of those there are, and what they group by is no column any more", () => {
    const made = edit.groupByColumn(spec, "day");
    expect([ids(made.levels), ids(made.columns)]).toEqual([
      ["place", "trade", "day"],
      ["amount", "weight"],
    ]);
    expect(edit.groupByColumn(spec, "gone")).toBe(spec);
    // By a part of it, the day itself goes on being printed; so does a report's only column.
    expect(ids(edit.addLevel(spec, { kind: "field", column: "day", part: "month" }).columns)).toEqual(["day", "amount", "weight"]);
    const only = { ...spec, columns: [printed("day")], lines: [] };
    expect(ids(edit.groupByColumn(only, "day").columns)).toEqual(["day"]);
    // Twice by the same, its levels have names of their own.
    expect(ids(edit.addLevel(spec, { kind: "field", column: "place" }).levels)).toEqual(["place", "trade", "place 2"]);
  });

  it("take with them what stood under them alone", () => {
    const made = edit.removeLevel(spec, "place");
    expect(ids(made.levels)).toEqual(["trade"]);
    expect(made.lines.map((l) => [l.id, l.levels])).toEqual([
      ["l", undefined],
      ["both", ["trade"]],
    ]);
    expect([ids(made.related), ids(made.passages), made.columns[1]?.window?.level]).toEqual([[], ["end"], ""]);
    expect(ids(edit.removeLevel(spec, "trade").related)).toEqual(["table"]);
  });

  it("change places, and stand by their values where the figure they were ordered by has gone", () => {
    expect(ids(edit.moveLevel(spec, "trade", -1).levels)).toEqual(["trade", "place"]);
    expect(ids(edit.moveLevel(spec, "place", -1).levels)).toEqual(["place", "trade"]);
    const byValue = { order: { by: "value" }, direction: "up" };
    for (const made of [edit.removeColumn(spec, "amount"), edit.removeLine(spec, "l"), edit.setCell(spec, "l", "amount", null)])
      expect(made.levels[1]).toMatchObject(byValue);
    expect(edit.removeColumn(spec, "weight").levels[1]).toMatchObject({ order: { by: "figure" }, direction: "down" });
  });
});

describe("columns of a report", () => {
  it("are put before others, or behind all of them", () => {
    const put = (id: string, before: string | null) => ids(edit.putColumn(spec, id, before).columns);
    expect(put("weight", "day")).toEqual(["weight", "day", "amount"]);
    expect(put("day", "weight")).toEqual(["amount", "day", "weight"]);
    expect(put("day", null)).toEqual(["amount", "weight", "day"]);
    for (const [id, before] of [
      ["day", "day"],
      ["gone", null],
      ["day", "gone"],
    ] as const)
      expect(edit.putColumn(spec, id, before)).toBe(spec);
  });

  it("have widths within bounds, to a tenth of a millimetre", () => {
    const width = (mm: number | null) => edit.setWidth(spec, "day", mm).columns[0]?.widthMm;
    expect([4.9, 5.04, 20.26, 300, 301, null].map(width)).toEqual([5, 5, 20.3, 300, 300, null]);
  });

  it("take their footings and what is carried with them", () => {
    const made = edit.removeColumn(spec, "amount");
    expect([made.lines[0]?.cells, made.carried]).toEqual([{ weight: total }, []]);
    expect(ids(edit.addColumn(spec, { kind: "field", column: "day" }, "Again").columns)).toEqual(["day", "amount", "weight", "day 2"]);
  });

  it("are carried or not", () => {
    expect(edit.toggleCarried(spec, "weight").carried).toEqual(["amount", "weight"]);
    expect("carried" in edit.toggleCarried(spec, "amount")).toBe(false);
  });
});

describe("footings of a report", () => {
  it("are set under columns, in a line made where there is none", () => {
    const bare = { ...spec, lines: [], levels: [] };
    expect(edit.setCell(bare, "l", "weight", total).lines).toEqual([{ id: "line", text: "", cells: { weight: total } }]);
    expect(edit.setCell(bare, "l", "weight", null)).toBe(bare);
    expect(edit.setCell(spec, "own", "amount", total).lines[1]?.cells).toEqual({ weight: total, amount: total });
  });

  it("stand at the levels they are turned on for; a line that stands nowhere goes", () => {
    const levels = (line: string, level: string, of = spec) => edit.toggleLineLevel(of, line, level).lines.find((l) => l.id === line)?.levels;
    expect(levels("l", "trade")).toEqual(["place", ""]);
    expect(levels("own", "trade")).toEqual(["place", "trade"]);
    expect(ids(edit.toggleLineLevel(spec, "own", "place").lines)).toEqual(["l", "both"]);
    expect("levels" in (edit.toggleLineLevel(spec, "both", "").lines[2] ?? {})).toBe(false);
    expect(edit.toggleLineLevel(spec, "gone", "")).toBe(spec);
  });
});

describe("charts and pivots of groups", () => {
  it("are added under a heading or a footing, changed, and go with their level", () => {
    const two = edit.addInsert(edit.addInsert(spec, "place", { kind: "chart", of: "c" }), "trade", { kind: "pivot", of: "p" });
    expect(two.inserts?.map((i) => [i.id, i.of, i.under, i.at])).toEqual([
      ["chart", "c", "place", "top"],
      ["pivot", "p", "trade", "foot"],
    ]);
    expect(edit.changeInsert(two, "chart", { heightMm: 80 }).inserts?.map((i) => i.heightMm)).toEqual([80, 60]);
    expect(ids(edit.changeInsert(two, "chart", null).inserts)).toEqual(["pivot"]);
    expect("inserts" in edit.changeInsert(edit.changeInsert(two, "chart", null), "pivot", null)).toBe(false);
    expect(ids(edit.removeLevel(two, "trade").inserts)).toEqual(["chart"]);
  });
});

describe("related rows of a report", () => {
  it("are added, changed and removed, within others too", () => {
    expect(ids(edit.addRelated(spec, table).related)).toEqual(["table", "table 3"]);
    const renamed = edit.changeRelated(spec, "table 2", { title: "Inner" });
    expect([edit.relatedOf(renamed, "table 2")?.title, edit.relatedOf(renamed, "table")?.title]).toEqual(["Inner", "Entries"]);
    expect(edit.changeRelated(spec, "table", { title: "Outer" }).related?.[0]).toMatchObject({ title: "Outer", related: [{ id: "table 2" }] });
    expect(edit.relatedOf(edit.removeRelated(spec, "table 2"), "table 2")).toBeUndefined();
    expect(edit.removeRelated(spec, "table").related).toEqual([]);
  });
});
