import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { PARENT } from "../derive/parent";
import { comparisonsIn } from "../query/conditions";
import * as edit from "../query/edit";
import { emptyQuery } from "../query/empty";
import { resolveQuery } from "../query/resolve";
import { findTable, type Table } from "../schema/schema";
import { usualDay } from "../types/calendar";
import { firstFolio, linkedRows, linkPanel, newRowOf, panelQuery, rowQuery, tablePanel, withKey } from "./panel";
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
  it("knows what a new row of a panel has already, and where none can be added", () => {
    const panel = linkPanel(sampleSchema, { link: "crate.yard_id", toward: "a" }, "p") as Panel;
    expect(newRowOf(panel, yard, cells, sampleSchema)).toMatchObject({ table: { name: "crate" }, given: { yard_id: "7" } });
    expect(newRowOf(panel, yard, { ...cells, id: null }, sampleSchema)).toBeNull();
    const crates = (change: Partial<Table>) => ({ ...sampleSchema, tables: sampleSchema.tables.map((t) => (t.name === "crate" ? { ...t, ...change } : t)) });
    for (const change of [{ key: [] }, { view: true }, { trigger: "t" }] as Partial<Table>[]) expect(newRowOf(panel, yard, cells, crates(change))).toBeNull();
    expect(
      newRowOf(tablePanel(sampleSchema, crate, { kind: "same", column: "day", itself: false }, "p"), crate, { day: "2026-01-01" }, sampleSchema),
    ).toBeNull();
    const wide = { ...sampleSchema, links: sampleSchema.links.map((l) => ({ ...l, operators: ["atLeast" as const] })) };
    expect(newRowOf(panel, yard, cells, wide)).toBeNull();
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

describe("rows that a cell leads to", () => {
  const toYard = { link: "crate.yard_id", toward: "b" as const };
  const toCrate = { link: "stamp.crate_id", toward: "b" as const };
  const toStamps = { link: "stamp.crate_id", toward: "a" as const };
  const ticked = (source: string, ...columns: [Parameters<typeof edit.toggleColumn>[2], string][]) =>
    columns.reduce((spec, [steps, column]) => edit.toggleColumn(spec, sampleSchema, steps, column), emptyQuery(source));
  const led = (spec: ReturnType<typeof ticked>, at: number) => linkedRows(spec, sampleSchema, spec.columns[at]?.id ?? "").map((l) => [l.words, l.steps]);

  it("are that of its table, and the one its own value links to, over any number of links to one", () => {
    const stamps = ticked("stamp", [[toCrate, toYard], "name"], [[], "crate_id"], [[toCrate], "yard_id"], [[], "fee"]);
    expect(led(stamps, 0)).toEqual([["yard", [toCrate, toYard]]]);
    expect(led(stamps, 1)).toEqual([["crate", [toCrate]]]);
    expect(led(stamps, 2)).toEqual([
      ["crate", [toCrate]],
      ["yard", [toCrate, toYard]],
    ]);
    expect(led(stamps, 3)).toEqual([]);
  });
  it("are none along links to many, of groups, or of what is no field", () => {
    const crates = ticked("crate", [[toStamps], "fee"]);
    expect(led(crates, 0)).toEqual([]);
    expect(led({ ...ticked("stamp", [[toCrate], "mark"]), grouped: true }, 0)).toEqual([]);
    expect(linkedRows({ ...crates, columns: [{ id: "f", value: { kind: "formula", text: "1" } }] }, sampleSchema, "f")).toEqual([]);
  });
  it("are asked for by their key, beside the columns of the sheet and hidden", () => {
    const keyed = withKey(ticked("stamp", [[], "fee"]), sampleSchema, [toCrate, toYard]);
    expect(keyed?.table).toBe("yard");
    expect(keyed?.spec.columns.at(-1)).toMatchObject({ id: keyed?.key[0], hidden: true, value: { column: "id" } });
    expect(keyed?.spec.joins.map((j) => j.way)).toEqual(["keep", "keep"]);
  });
});
