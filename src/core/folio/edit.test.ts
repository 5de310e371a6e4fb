import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { findTable, type Table } from "../schema/schema";
import * as edit from "./edit";
import { linkPanel, tablePanel } from "./panel";
import type { FolioSpec, Panel, Shown } from "./spec";

const crate = findTable(sampleSchema, "crate") as Table;
const panel = (id: string) => tablePanel(sampleSchema, crate, { kind: "all" }, id) as Panel;
const figure: Shown = {
  id: "p2",
  title: "Fees",
  note: "",
  kind: "figure",
  query: "q",
  figure: { id: "f", value: null, figure: "count", showAs: "asIs" },
  compare: null,
  lessIsBetter: false,
};
const spec: FolioSpec = { version: 1, table: "crate", panels: ["p1", "p3", "p4"].map(panel), shown: [figure] };
const ids = (of: FolioSpec) => of.panels.map((p) => p.id).join(" ");

describe("the page of a row as it is arranged", () => {
  it("gives ids that neither panels nor figures have", () => {
    expect(edit.freshPanelId(spec)).toBe("p5");
    expect(edit.freshPanelId({ ...spec, shown: undefined })).toBe("p2");
  });
  it("has panels added, changed, moved and taken away, the others as they are", () => {
    expect(ids(edit.addPanel(spec, panel("p9")))).toBe("p1 p3 p4 p9");
    expect(edit.setPanel(spec, "p3", { ...panel("p3"), title: "New" }).panels.map((p) => p.title)).toEqual([panel("p1").title, "New", panel("p4").title]);
    expect(ids(edit.setPanel(spec, "p3", null))).toBe("p1 p4");
    expect(ids(edit.setPanel(spec, "gone", null))).toBe("p1 p3 p4");
    expect(ids(edit.movePanel(spec, "p4", -1))).toBe("p1 p4 p3");
    expect(ids(edit.movePanel(spec, "p1", -1))).toBe("p1 p3 p4");
    expect(ids(edit.movePanel(spec, "gone", 1))).toBe("p1 p3 p4");
  });
  it("has figures added and taken away, also where there were none", () => {
    expect(edit.addShown({ ...spec, shown: undefined }, figure).shown).toEqual([figure]);
    expect(edit.removeShown(spec, "p2").shown).toEqual([]);
    expect(edit.removeShown({ ...spec, shown: undefined }, "p2").shown).toEqual([]);
  });
});

describe("a row", () => {
  const yard = findTable(sampleSchema, "yard") as Table;
  it("is called by its name, by its first text where it has none, and by its key where that is empty", () => {
    expect(edit.rowName(yard, { id: 3, name: "North" }, ["3"])).toBe("North");
    expect(edit.rowName(yard, { id: 3, name: "" }, ["3"])).toBe("3");
    expect(edit.rowName(yard, null, ["3", "b"])).toBe("3, b");
    expect(edit.rowName(crate, { mark: "apple" }, ["1"])).toBe("apple");
    expect(edit.rowName(crate, { mark: { misfit: "3 bytes" } }, ["1"])).toBe("1");
  });
  it("leads to another by a link on its key, and by no other column", () => {
    expect(edit.rowLedTo(sampleSchema, crate, "yard_id", { yard_id: 7 })).toEqual({ table: "yard", key: "7" });
    expect(edit.rowLedTo(sampleSchema, crate, "mark", { mark: "7" })).toBe(null);
    const onName = sampleSchema.links.map((l) => (l.id === "crate.yard_id" ? { ...l, b: { ...l.b, columns: ["name"] } } : l));
    expect(edit.rowLedTo({ ...sampleSchema, links: onName }, crate, "yard_id", { yard_id: 7 })).toBe(null);
    expect(linkPanel(sampleSchema, { link: "crate.yard_id", toward: "b" }, "p1")?.query.source).toBe("yard");
  });
});
