import { expect, test } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { briefText, queryBrief } from "../brief/brief";
import { usualDay } from "../types/calendar";
import { type Cell, scaleOf } from "../types/valueType";
import { placeOf } from "./conditions";
import { emptyQuery } from "./empty";
import { askColumn, type CellDeed, cellDeeds, pickedFor, toggleValue, withBand, withCells } from "./fromCell";
import type { PlanColumn } from "./plan";
import { resolveQuery } from "./resolve";
import type { QueryColumn, QuerySpec } from "./spec";

const locale = { locale: "en-GB", zone: "UTC" };
const field = (column: string) => ({ kind: "field" as const, join: "", column });
const spec: QuerySpec = {
  ...emptyQuery("crate"),
  columns: ["mark", "price", "day", "sealed", "ratio"].map((name): QueryColumn => ({ id: name, value: field(name) })),
};
const grouped: QuerySpec = {
  ...emptyQuery("crate"),
  grouped: true,
  columns: [
    { id: "month", value: { ...field("day"), part: "month" } },
    { id: "weekday", value: { ...field("day"), part: "weekday" } },
    { id: "total", value: field("price"), figure: "total" },
    { id: "share", value: { kind: "column", id: "total" }, figure: "window", window: { kind: "share" } },
    { id: "average", value: field("price"), figure: "average" },
  ],
};
function planned(of: QuerySpec, id: string): PlanColumn {
  const resolved = resolveQuery(of, sampleSchema, { today: usualDay("2026-11-23"), values: {} });
  if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
  return resolved.value.columns.find((c) => c.id === id) as PlanColumn;
}
const said = (of: QuerySpec) => briefText(queryBrief(of, sampleSchema, locale)).replace(/\. (Show|One row per) .*?(?=\. (Only|Then) |\. $)/, "");
const after = (of: QuerySpec, id: string, cells: Cell[], deed: CellDeed) => withCells(of, planned(of, id), cells, deed);

test.each([
  ["mark", ["a"], "keep", "where mark is a"],
  ["mark", ["a"], "leaveOut", "where mark is not a (or is empty)"],
  ["mark", ["a", "b", "a"], "keep", "where mark is one of a, b"],
  ["mark", [null], "keep", "where mark is empty"],
  ["mark", [null], "leaveOut", "where mark is not empty"],
  ["mark", ["a", null], "keep", "where any of (mark is a, mark is empty)"],
  ["mark", ["a", null], "leaveOut", "where mark is not a (or is empty) and mark is not empty"],
  ["price", [1250], "from", "where price is at least 12.50"],
  ["price", ["9007199254740993001"], "upTo", "where price is at most 90071992547409930.01"],
  ["day", ["2026-10-02"], "keep", "where day is 2 Oct 2026"],
  ["sealed", [1], "keep", "where sealed is yes"],
] as [string, Cell[], CellDeed, string][])("%s of %j: %s", (id, cells, deed, words) => {
  expect(said(after(spec, id, cells, deed))).toContain(words);
});

test("a period keeps its days to the last, also where times are shown; a weekday is asked for as it stands", () => {
  expect(said(after(grouped, "month", ["2026-02-01"], "keep"))).toContain("where day is within 1 Feb 2026 to 28 Feb 2026");
  expect(said(after(grouped, "month", ["2026-02-01", "2026-04-01"], "keep"))).toContain("any of (day is within 1 Feb 2026 to 28 Feb 2026, day is within 1 Apr");
  expect(said(after(grouped, "month", ["2026-02-01"], "upTo"))).toContain("where day is before 1 Mar 2026");
  expect(said(after(grouped, "weekday", [3], "keep"))).toContain("where weekday of day is 3");
});

test("figures of groups are conditions on groups, and what is shown rounded is asked for by its ends alone", () => {
  expect(said(after(grouped, "total", [1250], "from"))).toContain("Only groups where total of price is at least 12.50");
  expect(cellDeeds(grouped, planned(grouped, "average"), 12)).toEqual(["from", "upTo"]);
  expect(cellDeeds(grouped, planned(grouped, "share"), 12)).toEqual(["from", "upTo"]);
  const quarter = 10 ** scaleOf(planned(grouped, "share").type) / 4;
  expect(said(after(grouped, "share", [quarter], "upTo"))).toContain("Then only groups where share of total of total of price is at most 25%.");
  expect(cellDeeds(spec, planned(spec, "ratio"), 0.5)).toEqual(["from", "upTo"]);
  expect(cellDeeds(spec, planned(spec, "mark"), "a")).toEqual(["keep", "leaveOut"]);
  expect(cellDeeds(spec, planned(spec, "price"), null)).toEqual(["keep", "leaveOut"]);
  expect(cellDeeds(spec, planned(spec, "price"), { misfit: "x" })).toEqual([]);
});

test("a heading asks of rows, of groups, or of lines where its column is worked out from those beside", () => {
  const asked = (of: QuerySpec, id: string) => {
    const next = askColumn(of, sampleSchema, id);
    return [next.conditions, next.groupConditions ?? [], next.lineConditions ?? []].map((list) => list.length);
  };
  expect([asked(grouped, "month"), asked(grouped, "total"), asked(grouped, "share"), asked(grouped, "gone")]).toEqual([
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
    [0, 0, 0],
  ]);
  const placeAsked = (id: string) => {
    const next = askColumn(grouped, sampleSchema, id);
    const [condition] = [...next.conditions, ...(next.groupConditions ?? []), ...(next.lineConditions ?? [])];
    return placeOf(next, condition?.id ?? "")?.of;
  };
  expect(["month", "total", "share"].map(placeAsked)).toEqual(["rows", "groups", "lines"]);
});

test("values left out one after another are told together; a narrower end takes the place of the one before", () => {
  const out = after(after(spec, "mark", ["a"], "leaveOut"), "mark", ["b"], "leaveOut");
  expect(said(out)).toContain("where mark is not one of a, b (or is empty)");
  expect(said(after(after(spec, "price", [100], "from"), "price", [200], "from"))).toContain("where price is at least 2.00");
  const kept = after(spec, "mark", ["a"], "keep");
  expect(after(kept, "mark", ["a"], "keep").conditions).toEqual(kept.conditions);
});

test("a band takes its first value in and its end not", () => {
  const of = withBand(spec, planned(spec, "price"), "10.00", "20.00");
  expect(said(of)).toContain("where price is at least 10.00 and price is less than 20.00");
  expect(said(withBand(grouped, planned(grouped, "month"), "2026-02-01", null))).toContain("where day is on or after 1 Feb 2026");
});

test("values are picked one by one: one is “is”, several are “is one of”", () => {
  const left = field("mark");
  const picked = (operator: "is" | "isNot" | "contains", ...texts: string[]) => {
    const start: QuerySpec = { ...spec, conditions: [{ id: "w", left, operator, values: [{ kind: "value", text: "" }] }] };
    return said(texts.reduce((of, text) => toggleValue(of, "w", text), start));
  };
  expect(picked("is", "a")).toContain("where mark is a");
  expect(picked("is", "a", "b")).toContain("where mark is one of a, b");
  expect(picked("is", "a", "b", "a")).toContain("where mark is b");
  expect(picked("is", "a", "a")).toContain("where mark is …");
  expect(picked("isNot", "a", "b")).toContain("where mark is not one of a, b");
  expect(picked("contains", "a")).toContain("where mark contains …");
});

test("a parameter's values are those of the field that a condition on rows compares with it by being the same", () => {
  const condition = (id: string, operator: "is" | "oneOf" | "contains" | "atLeast", name: string) => ({
    id,
    left: field("mark"),
    operator,
    values: [{ kind: "parameter" as const, name }],
  });
  const asked: QuerySpec = {
    ...spec,
    conditions: [
      condition("a", "contains", "part"),
      { id: "g", holds: "any", of: [condition("b", "is", "one"), condition("c", "oneOf", "some")] },
      condition("d", "atLeast", "from"),
    ],
    groupConditions: [{ ...condition("e", "is", "figure"), left: { kind: "column", id: "price" } }],
  };
  expect(["part", "one", "some", "from", "figure", "none"].map((name) => pickedFor(asked, name)?.id)).toEqual([
    undefined,
    "b",
    "c",
    undefined,
    undefined,
    undefined,
  ]);
});
