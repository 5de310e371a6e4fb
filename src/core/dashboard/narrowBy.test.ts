import { describe, expect, it } from "vitest";
import { filterOn } from "../../../test/support/filters";
import { sampleSchema } from "../../../test/support/sample";
import { meetingWords } from "../brief/dashboardBrief";
import type { Drawn } from "../chart/style";
import { newAxis } from "../pivot/empty";
import type { Heading, Pivot } from "../pivot/pivot";
import type { PivotAxis } from "../pivot/spec";
import * as edit from "../query/edit";
import { emptyQuery } from "../query/empty";
import type { QuerySpec } from "../query/spec";
import type { Cell } from "../types/valueType";
import { firstTile, readingOrder } from "./edit";
import { valuesOfMark } from "./narrowBy";
import { type DashboardSpec, dashboardSpecSchema, type PlainTile } from "./spec";
import { emptyDashboard } from "./tiles";

const toYard = { link: "crate.yard_id", toward: "b" as const };
const brought = edit.bring(emptyQuery("crate"), [toYard]);
const field = (column: string, join = "") => ({ kind: "field" as const, join, column });
const query: QuerySpec = {
  ...brought.spec,
  columns: [
    { id: "yard", value: field("name", brought.join) },
    { id: "lodged", value: field("day") },
    { id: "mark", value: field("mark") },
  ],
};
const spec: DashboardSpec = {
  ...emptyDashboard(),
  filters: [
    filterOn("f1", "yard", "name", { t1: { steps: [toYard] } }),
    filterOn("f2", "crate", "opened", { t1: { steps: [], column: "day" }, t2: { steps: [] } }),
  ],
};
const axis = (column: string, part?: PivotAxis["value"] extends { part?: infer P } ? P : never): PivotAxis => ({
  ...newAxis(column, { kind: "field", join: "", column, ...(part ? { part } : {}) } as PivotAxis["value"]),
});
const heading = (key: Cell, level = 1, parent = 0, rest: Cell[] | null = null): Heading => ({ level, key, parent, rest, rows: 1 }) as Heading;
const total = heading(null, 0, -1);

/** What a mark over the last heading across, and the last down, gives the filters. */
function found(across: Heading[], axes: { across: PivotAxis[]; down?: PivotAxis[] }, down: Heading[] = []) {
  const pivot = { across: [total, ...across], down: [total, ...down] } as unknown as Pivot;
  const data = { places: [{ heading: across.length }], series: [{ heading: down.length }] };
  return valuesOfMark(spec, "t1", query, pivot, { down: axes.down ?? [], across: axes.across }, { data } as unknown as Drawn, { series: 0, place: 0 });
}

describe("a click on a mark of a dashboard", () => {
  it("gives the filter on its field the value it stands for, by way of the link it meets the tile by", () => {
    expect(found([heading("North")], { across: [axis("yard")] })).toEqual({ f1: { kind: "set", not: false, values: ["North"] } });
    expect(found([heading(7)], { across: [axis("yard")] })).toEqual({ f1: { kind: "set", not: false, values: ["7"] } });
  });
  it("gives a period all its days, in the other column that the filter meets the tile in", () => {
    expect(found([heading("2026-02-01")], { across: [axis("lodged", "month" as never)] })).toEqual({
      f2: { kind: "span", from: "2026-02-01", to: "2026-02-28" },
    });
    expect(found([heading("2026-10-01")], { across: [axis("lodged", "quarter" as never)] })).toEqual({
      f2: { kind: "span", from: "2026-10-01", to: "2026-12-31" },
    });
    expect(found([heading("2026-10-05")], { across: [axis("lodged", "weekday" as never)] })).toEqual({});
  });
  it("asks of the rest for all but those that stand by themselves", () => {
    expect(found([heading(null, 1, 0, ["North", "South"])], { across: [axis("yard")] })).toEqual({
      f1: { kind: "set", not: true, values: ["North", "South"] },
    });
  });
  it("gives every filter on the way to the mark its value, down and across", () => {
    const both = found([heading("2026-02-01")], { across: [axis("lodged", "month" as never)], down: [axis("yard")] }, [heading("North")]);
    expect(both).toEqual({ f1: { kind: "set", not: false, values: ["North"] }, f2: { kind: "span", from: "2026-02-01", to: "2026-02-28" } });
    const nested = found([heading("North"), heading("2026-02-01", 2, 1)], { across: [axis("yard"), axis("lodged", "month" as never)] });
    expect(Object.keys(nested).sort()).toEqual(["f1", "f2"]);
  });
  it("gives none where no filter is on its field, where it has no value, and to a tile the filter does not meet", () => {
    expect(found([heading("apple")], { across: [axis("mark")] })).toEqual({});
    expect(found([heading(null)], { across: [axis("yard")] })).toEqual({});
    const pivot = { across: [total, heading("North")], down: [total] } as unknown as Pivot;
    const drawn = { data: { places: [{ heading: 1 }], series: [] } } as unknown as Drawn;
    expect(valuesOfMark(spec, "t2", query, pivot, { down: [], across: [axis("yard")] }, drawn, { series: 0, place: 0 })).toEqual({});
  });
});

describe("the tiles of a dashboard", () => {
  const sources = { queries: [{ id: "q", name: "Freight" }], charts: [{ id: "c", name: "By day" }], pivots: [{ id: "p", name: "Islands" }] };
  const kinds = ["figure", "chart", "table", "pivot", "text", "picture"] as const;
  it("are made of the first thing there is, under its name, in a form that can be kept", () => {
    const tiles = kinds.flatMap((kind, i): PlainTile[] => {
      const tile = firstTile(kind, sources)?.(`t${i}`);
      return tile ? [tile] : [];
    });
    expect(tiles.map((t) => t.title)).toEqual(["Freight", "By day", "Freight", "Islands", "", ""]);
    const wide = tiles.map((t, i) => ({ tile: t.id, x: 0, y: i * 4, w: 4, h: 4 }));
    const kept = dashboardSpecSchema.safeParse({ ...emptyDashboard(), tiles, wide, narrow: tiles.map((t) => t.id) });
    expect(kept.success, JSON.stringify(kept.error?.issues)).toBe(true);
  });
  it("cannot be made of what is not there yet, texts and pictures always", () => {
    const none = { queries: [], charts: [], pivots: [] };
    expect(kinds.filter((kind) => firstTile(kind, none))).toEqual(["text", "picture"]);
  });
  it("are read row by row, and on a narrow screen in their own order, those it does not name last", () => {
    const tiles = ["a", "b", "c"].map((id) => ({ id }) as PlainTile);
    const at = (tile: string, x: number, y: number) => ({ tile, x, y, w: 4, h: 4 });
    const board = { ...emptyDashboard(), tiles, wide: [at("a", 4, 0), at("b", 0, 4), at("c", 0, 0)], narrow: ["b", "a"] };
    expect(readingOrder(board, false)).toEqual(["c", "a", "b"]);
    expect(readingOrder(board, true)).toEqual(["b", "a", "c"]);
  });
  it("are met by filters along links, which are named on the way", () => {
    const [onName, onDay] = spec.filters as [(typeof spec.filters)[0], (typeof spec.filters)[0]];
    expect(meetingWords(sampleSchema, query, onName, { steps: [toYard] })).toBe("yard › name");
    expect(meetingWords(sampleSchema, query, onDay, { steps: [], column: "day" })).toBe("day");
    expect(meetingWords(sampleSchema, query, onDay, { steps: [{ link: "gone", toward: "a" }] })).toBe("? › opened");
  });
});
