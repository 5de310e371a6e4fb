import { describe, expect, it } from "vitest";
import { filterOn } from "../../../test/support/filters";
import { comparedWith, orderOfTile, toggleTileColumn } from "./edit";
import { isAsked, isMoved, showEverything, valueFor } from "./filters";
import type { FilterValue } from "./spec";
import { emptyDashboard } from "./tiles";

describe("the settings of a tile", () => {
  const all = ["id", "name", "rent"];
  it("tick columns on and off in the query's order, all of them being none named", () => {
    const off = toggleTileColumn([], all, "name");
    expect(off).toEqual(["id", "rent"]);
    expect(toggleTileColumn(["rent"], all, "id")).toEqual(["id", "rent"]);
    expect(toggleTileColumn(off, all, "name")).toEqual([]);
  });
  it("keep the last column", () => expect(toggleTileColumn(["rent"], all, "rent")).toEqual(["rent"]));
  it("read an order from its choice, also of a column with spaces or line breaks in its id", () => {
    expect(orderOfTile("up name")).toEqual({ column: "name", direction: "up" });
    expect(orderOfTile("down date of sale")).toEqual({ column: "date of sale", direction: "down" });
    expect(orderOfTile("down two\nlines")).toEqual({ column: "two\nlines", direction: "down" });
    expect(orderOfTile("")).toBeNull();
    expect(orderOfTile("up ")).toBeNull();
    expect(orderOfTile("sideways name")).toBeNull();
  });
  it("hold a figure against an earlier time, a target to be typed, or nothing", () => {
    expect(EARLIER_CHOICES.map(comparedWith)).toEqual([{ kind: "earlier", by: "year" }, { kind: "target", value: "" }, null, null]);
  });
});
const EARLIER_CHOICES = ["year", "target", "", "century"];

describe("all filters at once", () => {
  const set = (...values: string[]): FilterValue => ({ kind: "set", not: false, values });
  const spec = { ...emptyDashboard(), filters: [filterOn("a", "yard", "name", {}, set("Pell")), filterOn("b", "yard", "name", {})] };

  it("narrow where a default or a viewer's own value does", () => {
    expect(isAsked(spec, {})).toBe(true);
    expect(isAsked(spec, { a: null })).toBe(false);
    expect(isAsked(spec, { a: null, b: set("Mirrin") })).toBe(true);
  });
  it("are moved only where the viewer's value is another than the first one", () => {
    expect(isMoved(spec, {})).toBe(false);
    expect(isMoved(spec, { a: set("Pell"), b: null })).toBe(false);
    expect(isMoved(spec, { a: set("Mirrin") })).toBe(true);
    expect(isMoved(spec, { a: null })).toBe(true);
    expect(isMoved(spec, { gone: set("Pell") })).toBe(false);
  });
  it("let everything through, whatever their defaults", () => {
    const values = showEverything(spec);
    expect(spec.filters.map((f) => valueFor(f, values))).toEqual([null, null]);
    expect(isAsked(spec, values)).toBe(false);
  });
});
