import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { PARENT } from "../derive/parent";
import { comparisonsIn } from "../query/conditions";
import { resolveQuery } from "../query/resolve";
import { findTable, type Table } from "../schema/schema";
import { usualDay } from "../types/calendar";
import { firstFolio, linkPanel, panelQuery, rowQuery, tablePanel, withKey } from "./panel";
import type { Panel } from "./spec";

const yard = findTable(sampleSchema, "yard") as Table;
const crate = findTable(sampleSchema, "crate") as Table;
const cells = { id: 7, name: "north", opened: "2024-02-29", rent: 125_050, open: 1 };
const conditionsOf = (panel: Panel, table: Table, row: Parameters<typeof panelQuery>[2]) => {
  const made = panelQuery(panel, table, row, sampleSchema);
  return made.ok
    ? comparisonsIn(made.value.conditions).map((c) => [c.left.kind === "field" && c.left.column, c.operator, c.values[0]?.kind === "value" && c.values[0].text])
    : made.problems[0]?.code;
};

describe("a folio", () => {
  it("has a panel for each link that leads to many, bound to the row", () => {
    const folio = firstFolio(sampleSchema, "yard");
    expect(folio.panels.map((p) => p.title)).toEqual(["Crates"]);
    expect(conditionsOf(folio.panels[0] as Panel, yard, cells)).toEqual([["yard_id", "is", "7"]]);
  });
  it("compares with the row's own values, exactly, and with an empty one finds nothing", () => {
    const panel = linkPanel(sampleSchema, { link: "crate.yard_id", toward: "a" }, "p") as Panel;
    const dearer: Panel = {
      ...panel,
      query: {
        ...panel.query,
        conditions: [
          { id: "w", left: { kind: "field", join: "", column: "price" }, operator: "greater", values: [{ kind: "field", join: PARENT, column: "rent" }] },
        ],
      },
    };
    expect(conditionsOf(dearer, yard, cells)).toEqual([
      ["yard_id", "is", "7"],
      ["price", "greater", "1250.50"],
    ]);
    expect(conditionsOf(dearer, yard, { ...cells, rent: null })).toContainEqual(["price", "empty", false]);
  });
  it("finds rows with the same value, with itself or without", () => {
    const row = { id: 3, mark: "apple" };
    expect(conditionsOf(tablePanel(sampleSchema, crate, { kind: "same", column: "mark", itself: true }, "p"), crate, row)).toEqual([["mark", "is", "apple"]]);
    expect(conditionsOf(tablePanel(sampleSchema, crate, { kind: "same", column: "mark", itself: false }, "p"), crate, row)).toEqual([
      ["mark", "is", "apple"],
      ["id", "isNot", "3"],
    ]);
  });
  it("says which link is gone", () => {
    const panel = linkPanel(sampleSchema, { link: "crate.yard_id", toward: "a" }, "p") as Panel;
    expect(conditionsOf({ ...panel, match: { kind: "link", step: { link: "gone", toward: "a" } } }, yard, cells)).toBe("linkGone");
  });
  it("opens the row of a query's sheet by its key, which the query need not show", () => {
    const made = withKey({ ...rowQuery(crate, ["3"]), columns: [{ id: "m", value: { kind: "field", join: "", column: "mark" } }] }, sampleSchema);
    const resolved = made && resolveQuery(made.spec, sampleSchema, { today: usualDay("2026-11-23"), values: {} });
    expect(resolved?.ok && resolved.value.columns.map((c) => [c.id, c.hidden])).toEqual([
      ["m", false],
      ["folio key 0", true],
    ]);
  });
});
