import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { newChart } from "../chart/newChart";
import { emptyDashboard } from "../dashboard/tiles";
import { emptyPivot, newAxis } from "../pivot/empty";
import { emptyQuery } from "../query/empty";
import type { QuerySpec } from "../query/spec";
import { upgradeReport } from "../report/upgrade";
import type { Schema } from "../schema/schema";
import { usualDay } from "../types/calendar";
import { type BreakableKind, brokenParts } from "./broken";

const field = (column: string, join = "") => ({ kind: "field" as const, join, column });
const crates: QuerySpec = {
  ...emptyQuery("crate"),
  joins: [{ id: "yard", from: "", link: "crate.yard_id", toward: "b", way: "keep" }],
  columns: [
    { id: "mark", value: field("mark") },
    { id: "price", value: field("price") },
    { id: "name", value: field("name", "yard") },
  ],
  conditions: [{ id: "w", left: field("day"), operator: "is", values: [{ kind: "parameter", name: "day" }] }],
  parameters: [{ name: "day", type: "date" }],
};
const pivot = {
  ...emptyPivot("q"),
  down: [newAxis("a", field("mark"))],
  figures: [{ id: "f", value: field("price"), figure: "total" as const, showAs: "asIs" as const }],
};
const report = (column: string) => ({
  version: 1,
  query: "q",
  title: "",
  showBrief: false,
  levels: [],
  columns: [{ column, widthMm: null, footing: "none" }],
  closing: [{ kind: "pivot", id: "p" }],
  page: { paper: "A4", landscape: false, margins: { top: 10, right: 10, bottom: 10, left: 10 } },
  header: "",
  footer: "",
  parameters: {},
});
const tile = { id: "t", kind: "pivot" as const, title: "", note: "", pivot: "p" };
const schedule = {
  version: 1,
  subject: { kind: "pivot", id: "p" },
  rule: { kind: "daily" },
  time: "07:00",
  zone: "UTC",
  since: "2026-01-01T00:00:00Z",
  bindings: {},
  formats: ["csv"],
  folder: "a",
  paused: false,
};

const without = (table: string, column: string): Schema => ({
  ...sampleSchema,
  tables: sampleSchema.tables.map((t) => (t.name === table ? { ...t, columns: t.columns.filter((c) => c.name !== column) } : t)),
});
const objects: Record<string, { kind: string; spec: unknown }> = { q: { kind: "query", spec: crates }, p: { kind: "pivot", spec: pivot } };
const codes = (kind: BreakableKind, spec: unknown, schema = sampleSchema, there = objects) =>
  brokenParts(kind, spec, { schema, today: usualDay("2026-09-30"), find: (id) => there[id] }).map((p) => p.code);

describe("what a change breaks", () => {
  it("is nothing where all that is used is there, whatever parameters want a value", () => {
    expect(codes("query", crates)).toEqual([]);
    expect(codes("pivot", pivot)).toEqual([]);
    expect(codes("chart", newChart(pivot, "bars"))).toEqual([]);
    expect(codes("report", report("mark"))).toEqual([]);
    expect(codes("schedule", schedule)).toEqual([]);
    expect(codes("dashboard", { ...emptyDashboard(), tiles: [tile], wide: [{ tile: "t", x: 0, y: 0, w: 4, h: 4 }], narrow: ["t"] })).toEqual([]);
  });
  it("is told of a query by its column, link and table", () => {
    expect(codes("query", crates, without("crate", "price"))).toEqual(["columnGone"]);
    expect(codes("query", crates, { ...sampleSchema, links: [] })).toContain("linkGone");
    expect(codes("query", crates, { tables: [], links: [] })).toEqual(["tableGone"]);
  });
  it("is told of what is made from a query only where the query itself works", () => {
    const narrower = { ...objects, q: { kind: "query", spec: { ...crates, columns: crates.columns.slice(0, 1) } } };
    expect(codes("pivot", pivot, sampleSchema, narrower)).toEqual(["columnGone"]);
    expect(codes("report", report("price"), sampleSchema, narrower)).toEqual(["groupGone"]);
    expect(codes("pivot", pivot, without("crate", "price"))).toEqual([]);
    expect(codes("pivot", pivot, sampleSchema, {})).toEqual(["queryGone"]);
  });
  it("is told where another object does not exist any more", () => {
    const { q } = objects;
    const only = { q: q as { kind: string; spec: unknown } };
    expect(codes("report", report("mark"), sampleSchema, only)).toEqual(["closingGone"]);
    const level = {
      id: "l",
      value: { kind: "field", column: "mark" },
      heading: "{}",
      order: { by: "value" },
      direction: "up",
      newPage: false,
      keepRows: 1,
      repeat: true,
    };
    const inserts = [{ id: "i", kind: "chart", of: "c", under: "l", at: "top", heightMm: 60 }];
    const current = { ...(upgradeReport({ ...report("mark"), closing: undefined }) as object), levels: [level], inserts };
    expect(codes("report", current, sampleSchema, only)).toEqual(["insertGone"]);
    expect(codes("schedule", schedule, sampleSchema, only)).toEqual(["subjectGone"]);
    expect(
      codes("dashboard", { ...emptyDashboard(), tiles: [tile], wide: [{ tile: "t", x: 0, y: 0, w: 4, h: 4 }], narrow: ["t"] }, sampleSchema, only),
    ).toEqual(["tileGone"]);
  });
  it("is not told of a description that is only unfinished, or cannot be read", () => {
    expect(codes("query", { ...crates, columns: [] })).toEqual([]);
    expect(codes("query", { version: 99 })).toEqual([]);
  });
});
