import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { briefText } from "../brief/brief";
import { dashboardBrief, filterWords, unmetWords } from "../brief/dashboardBrief";
import { comparisonsIn } from "../query/conditions";
import { emptyQuery } from "../query/empty";
import { resolveQuery } from "../query/resolve";
import type { QuerySpec } from "../query/spec";
import { usualDay } from "../types/calendar";
import { date, decimal, isComparable, text, timestamp, whole } from "../types/valueType";
import { addFilter, addTile, changeFilter, changeTile, fillText, joinTiles, nudgeTile, removeTile } from "./edit";
import { filteredQuery, relativeText, strangerTo, walkTo } from "./filters";
import { type DashboardSpec, dashboardSpecSchema, type FilterValue, type FilterValues, type PlainTile } from "./spec";
import { emptyDashboard, plainTiles } from "./tiles";

const locale = { locale: "en-GB", zone: "UTC" };
const today = usualDay("2026-11-23");
const stamps: QuerySpec = { ...emptyQuery("stamp"), columns: [{ id: "fee", value: { kind: "field", join: "", column: "fee" } }] };
const yards: QuerySpec = { ...emptyQuery("yard"), columns: [{ id: "name", value: { kind: "field", join: "", column: "name" } }] };
const queryOf = (tile: PlainTile) => (tile.kind === "table" ? { stamps, yards }[tile.query as "stamps"] : null) ?? null;
const table = (query: string) => (id: string) => ({
  id,
  title: query,
  note: "",
  kind: "table" as const,
  query,
  columns: [],
  order: null,
  first: 5,
  search: false,
});
const withTiles = (...queries: string[]) => queries.reduce((spec, query) => addTile(spec, table(query), sampleSchema, queryOf), emptyDashboard());
const onYard = (spec: DashboardSpec, column: string, value: FilterValue | null) =>
  addFilter(spec, { label: column, table: "yard", column, default: value }, sampleSchema, queryOf);
const conditions = (spec: DashboardSpec, tile: string, values = {}) =>
  comparisonsIn(filteredQuery(spec, tile, tile === "t1" ? stamps : yards, values, today).conditions).map(
    (c) => `${c.operator} ${c.values.map((v) => ("text" in v ? v.text : "")).join("|")}`,
  );

describe("filters of a dashboard", () => {
  it("meet tiles by the shortest walk of links that lead to one", () => {
    expect(walkTo(sampleSchema, "stamp", "yard")?.map((s) => s.link)).toEqual(["stamp.crate_id", "crate.yard_id"]);
    expect(walkTo(sampleSchema, "yard", "stamp")).toBe(null);
    const spec = onYard(withTiles("stamps", "yards"), "name", null);
    expect(spec.filters[0]?.meets).toEqual({ t1: { steps: walkTo(sampleSchema, "stamp", "yard") }, t2: { steps: [] } });
  });
  it("meet a tile in another field of its kind, where one was chosen, and later tiles from that source likewise", () => {
    const spec = onYard(withTiles("yards", "stamps"), "opened", { kind: "span", from: "2026-01-01", to: "" });
    const toCrate = [{ link: "stamp.crate_id", toward: "b" as const }];
    const own = changeFilter(spec, "f1", { meets: { ...spec.filters[0]?.meets, t2: { steps: toCrate, column: "at" } } });
    const query = filteredQuery(own, "t2", stamps, {}, today);
    expect(query.joins.map((j) => "link" in j && j.link)).toEqual(["stamp.crate_id"]);
    expect(comparisonsIn(query.conditions).map((c) => c.left)).toEqual([{ kind: "field", join: "j1", column: "at" }]);
    expect(comparisonsIn(filteredQuery(own, "t1", yards, {}, today).conditions).map((c) => c.left)).toEqual([{ kind: "field", join: "", column: "opened" }]);
    const more = addTile(own, table("stamps"), sampleSchema, queryOf);
    expect(more.filters[0]?.meets.t3).toEqual({ steps: toCrate, column: "at" });
    expect(isComparable(date, timestamp) && isComparable(whole, decimal(2)) && isComparable(text, text)).toBe(true);
    expect(isComparable(date, whole) || isComparable(text, date)).toBe(false);
  });
  it("meet a tile as a new one when it is made from another source", () => {
    const spec = onYard(withTiles("yards"), "name", { kind: "set", not: false, values: ["North"] });
    const tile = { ...table("stamps")("t1"), title: "stamps" };
    const moved = changeTile(spec, tile, sampleSchema, queryOf);
    expect(moved.filters[0]?.meets.t1).toEqual({ steps: walkTo(sampleSchema, "stamp", "yard") });
    const renamed = changeTile(onYard(withTiles("yards"), "name", null), { ...table("yards")("t1"), title: "Ours" }, sampleSchema, queryOf);
    expect(renamed.filters[0]?.meets.t1).toEqual({ steps: [] });
  });
  it("keep the walk by which their column was found", () => {
    const steps = [{ link: "crate.yard_id", toward: "b" as const }];
    const found = addFilter(withTiles("yards"), { label: "x", table: "yard", column: "name", default: null }, sampleSchema, queryOf, { source: "yard", steps });
    expect(found.filters[0]?.meets.t1).toEqual({ steps });
  });
  it("say of a tile that they do not meet, once they narrow anything, that it is not narrowed", () => {
    const spec = onYard(onYard(withTiles("yards", "stamps"), "name", null), "opened", null);
    const apart = ["f1", "f2"].reduce((s, f) => changeFilter(s, f, { meets: { t1: { steps: [] }, t2: null } }), spec);
    const words = (tile: string, values: FilterValues) => unmetWords(apart, table("stamps")(tile), values);
    expect(words("t2", {})).toBe("");
    expect(words("t2", { f1: { kind: "person" } })).toBe("not filtered by name");
    const both: FilterValues = { f1: { kind: "set", not: true, values: ["North"] }, f2: { kind: "span", from: "", to: "2026-01-01" } };
    expect(words("t2", both)).toBe("not filtered by name and opened");
    expect(words("t1", both)).toBe("");
    expect(words("t2", { f1: { kind: "set", not: false, values: [""] }, f2: { kind: "span", from: "", to: "" } })).toBe("");
  });
  it("are read as they were kept before a tile could name a field of its own", () => {
    const spec = onYard(withTiles("yards", "stamps"), "name", null);
    const old = { ...spec, filters: spec.filters.map((f) => ({ ...f, meets: { t1: [], t2: f.meets.t2?.steps ?? null, t3: null } })) };
    expect(dashboardSpecSchema.parse(JSON.parse(JSON.stringify(old))).filters[0]?.meets).toEqual({ ...spec.filters[0]?.meets, t3: null });
  });
  it("become conditions of the query that can be resolved, joins and all", () => {
    const spec = onYard(withTiles("stamps", "yards"), "name", { kind: "set", not: false, values: ["North"] });
    const query = filteredQuery(spec, "t1", stamps, {}, today);
    expect(query.joins.map((j) => "link" in j && j.link)).toEqual(["stamp.crate_id", "crate.yard_id"]);
    expect(resolveQuery(query, sampleSchema, { today, values: {} }).ok).toBe(true);
    expect(conditions(spec, "t2")).toEqual(["is North"]);
  });
  it("say what each value asks, the viewer's before the default", () => {
    const spec = onYard(withTiles("yards"), "name", { kind: "person" });
    const asks = (value: FilterValue | null | undefined) =>
      comparisonsIn(filteredQuery(spec, "t1", yards, value === undefined ? {} : { f1: value }, today).conditions).map((c) => c.operator);
    expect(asks(undefined)).toEqual(["is"]);
    expect(asks(null)).toEqual([]);
    expect(asks({ kind: "set", not: true, values: ["a"] })).toEqual(["isNot"]);
    expect(asks({ kind: "set", not: true, values: ["a", "b"] })).toEqual(["notOneOf"]);
    expect(asks({ kind: "set", not: false, values: [""] })).toEqual([]);
  });
  it("ask for the viewer's own by what the data knows them as: a name, or a number; they find nothing where it cannot be theirs", () => {
    const spec = onYard(onYard(withTiles("yards"), "name", { kind: "person" }), "id", { kind: "person" });
    const asked = (person: string) => {
      const resolved = resolveQuery(filteredQuery(spec, "t1", yards, {}, today), sampleSchema, { today, values: {}, person });
      return resolved.ok && resolved.value.conditions.map(({ expr }) => expr.node === "call" && expr.args.map((a) => a.node === "literal" && a.value));
    };
    expect(asked("Ines Ravn")).toEqual([
      [false, "Ines Ravn"],
      [false, null],
    ]);
    expect(asked("12")).toEqual([
      [false, "12"],
      [false, "12"],
    ]);
    const strange = (person: string, values = {}) => strangerTo(spec, values, sampleSchema, person).map((f) => f.label);
    expect(strange("Ines Ravn")).toEqual(["id"]);
    expect(strange("12")).toEqual([]);
    expect(strange("")).toEqual(["name", "id"]);
    expect(strange("Ines Ravn", { f2: null })).toEqual([]);
  });
  it("move a span of dates for an earlier time, whole months against whole ones", () => {
    const spec = onYard(withTiles("yards"), "opened", { kind: "span", from: relativeText("firstOfLastMonth"), to: relativeText("lastOfLastMonth") });
    const span = (earlier: "month" | null) =>
      comparisonsIn(filteredQuery(spec, "t1", yards, {}, today, earlier).conditions).map((c) => c.values.map((v) => ("text" in v ? v.text : "")));
    expect(span(null)).toEqual([["2026-10-01", "2026-10-31"]]);
    expect(span("month")).toEqual([["2026-09-01", "2026-09-30"]]);
    const from = onYard(withTiles("yards"), "opened", { kind: "span", from: "2026-01-01", to: "" });
    expect(conditions({ ...from, tiles: from.tiles }, "t1")).toEqual(["atLeast 2026-01-01"]);
  });
  it("are said as one sentence", () => {
    const spec = onYard(onYard(withTiles("yards"), "name", null), "opened", { kind: "span", from: "2026-09-01", to: relativeText("today") });
    expect(briefText(dashboardBrief({ spec, values: {}, schema: sampleSchema, locale }))).toBe("Showing every name and opened 1 Sept 2026 to today.");
    expect(briefText(dashboardBrief({ spec, values: { f2: null }, schema: sampleSchema, locale }))).toBe("Showing every name and opened on any day.");
    expect(filterWords("rent", null, decimal(2), locale)).toBe("any rent");
    expect(filterWords("status", { kind: "set", not: true, values: ["void"] }, undefined, locale)).toBe("any status but void");
    expect(filterWords("island", { kind: "set", not: false, values: ["a", "b", "c", "d"] }, undefined, locale)).toBe("island 4 of them");
  });
});

describe("arranging", () => {
  it("never lays a tile on another, however it is nudged", () => {
    const step = fc.record({
      tile: fc.integer({ min: 1, max: 5 }),
      x: fc.integer({ min: -2, max: 2 }),
      y: fc.integer({ min: -3, max: 3 }),
      w: fc.integer({ min: -2, max: 2 }),
      h: fc.integer({ min: -2, max: 2 }),
    });
    fc.assert(
      fc.property(fc.array(step, { maxLength: 30 }), (steps) => {
        let spec = withTiles("stamps", "yards", "stamps", "yards", "stamps");
        for (const { tile, ...by } of steps) spec = nudgeTile(spec, `t${tile}`, by);
        for (const a of spec.wide) {
          expect(a.x >= 0 && a.x + a.w <= 12 && a.w >= 1 && a.h >= 2).toBe(true);
          for (const b of spec.wide) if (a !== b) expect(a.x < b.x + b.w && b.x < a.x + a.w && a.y < b.y + b.h && b.y < a.y + a.h).toBe(false);
        }
        expect(spec.wide.length).toBe(5);
      }),
    );
  });
  it("keeps a place for every tile and a tile for every place, whatever is added, joined and taken off", () => {
    const step = fc.record({ do: fc.constantFrom("add", "add", "remove", "join", "filter", "nudge"), n: fc.nat(20), m: fc.nat(20) });
    fc.assert(
      fc.property(fc.array(step, { minLength: 8, maxLength: 40, size: "max" }), (steps) => {
        let spec = emptyDashboard();
        for (const { do: what, n, m } of steps) {
          const at = (k: number) => spec.tiles[k % Math.max(1, spec.tiles.length)]?.id ?? "";
          if (what === "add" && spec.tiles.length < 8) spec = addTile(spec, table(n % 2 === 0 ? "stamps" : "yards"), sampleSchema, queryOf);
          if (what === "remove") spec = removeTile(spec, at(n));
          if (what === "join") spec = joinTiles(spec, at(n), at(m));
          if (what === "filter" && spec.filters.length < 3) spec = onYard(spec, "name", null);
          if (what === "nudge") spec = nudgeTile(spec, at(n), { x: m - 10, w: (m % 3) - 1 });
          const places = spec.tiles.map((t) => t.id).sort();
          const all = plainTiles(spec).map((t) => t.id);
          expect(dashboardSpecSchema.safeParse(JSON.parse(JSON.stringify(spec))).success, what).toBe(true);
          expect(spec.wide.map((p) => p.tile).sort()).toEqual(places);
          expect([...spec.narrow].sort()).toEqual(places);
          expect(new Set([...all, ...places, ...spec.filters.map((f) => f.id)]).size).toBe(
            new Set(all).size + places.filter((p) => !all.includes(p)).length + spec.filters.length,
          );
          for (const filter of spec.filters) expect(Object.keys(filter.meets).sort()).toEqual([...all].sort());
          for (const a of spec.wide)
            for (const b of spec.wide) if (a !== b) expect(a.x < b.x + b.w && b.x < a.x + a.w && a.y < b.y + b.h && b.y < a.y + a.h, what).toBe(false);
        }
      }),
      { seed: 20261124, numRuns: 100 },
    );
  });
  it("joins tiles into a switch and takes everything of a tile away with it", () => {
    const spec = onYard(withTiles("stamps", "yards", "yards"), "name", null);
    const joined = joinTiles(spec, "t2", "t1");
    expect(joined.tiles.map((t) => t.id)).toEqual(["s1", "t3"]);
    expect(joinTiles(joined, "t3", "s1").tiles).toHaveLength(1);
    const less = removeTile(joined, "s1");
    expect(less.wide.map((p) => p.tile)).toEqual(["t3"]);
    expect(Object.keys(less.filters[0]?.meets ?? {})).toEqual(["t3"]);
  });
  it("fills the fields of words and leaves what names nothing as it is written", () => {
    expect(fillText("On {Today}: {Freight lodged} and {nothing}", { today: "1 Sep", "freight lodged": "12.00" })).toBe("On 1 Sep: 12.00 and {nothing}");
  });
});
