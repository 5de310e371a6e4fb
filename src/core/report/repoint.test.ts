import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { emptyQuery } from "../query/empty";
import { resolveQuery } from "../query/resolve";
import { usualDay } from "../types/calendar";
import { goneFrom, replaceColumn, withoutColumns } from "./gone";
import { firstReport, newLevel } from "./plan";
import { repointReport } from "./repoint";
import type { ReportSpec } from "./spec";

const plan = (columns: string[]) => {
  const made = resolveQuery(
    { ...emptyQuery("crate"), columns: columns.map((c, i) => ({ id: `c${i + 1}`, value: { kind: "field", join: "", column: c } })) },
    sampleSchema,
    { today: usualDay("2026-11-23"), values: {} },
  );
  if (!made.ok) throw new Error(JSON.stringify(made.problems));
  return made.value;
};

const columnsOf = (spec: ReportSpec) => spec.columns.map((c) => (c.value.kind === "field" ? c.value.column : c.value.text));

describe("a report laid over another query", () => {
  const before = plan(["mark", "price", "mass"]);
  const spec: ReportSpec = { ...firstReport("a", "R", before), levels: [newLevel("c1")], parameters: { start: "x" } };
  const to = { query: "b" };
  it("meets its columns by what they are, though each query numbers them by itself", () => {
    const made = repointReport(spec, to, before, plan(["price", "mark", "day"]));
    expect([made.query, made.levels.map((l) => l.value), columnsOf(made)]).toEqual(["b", [{ kind: "field", column: "c2" }], ["c2", "c1", "gone: Mass"]]);
    expect(made.lines[0]?.cells.c2).toEqual({ kind: "figure", figure: "total" });
    expect(made.parameters).toEqual({});
  });
  it("meets a column that is called otherwise there by where it comes from", () => {
    const after = plan(["price"]);
    const renamed = { ...after, columns: after.columns.map((c) => ({ ...c, heading: "Cost" })) };
    expect(columnsOf(repointReport(spec, to, before, renamed))).toEqual(["gone: Mark", "c1", "gone: Mass"]);
  });
  it("keeps nothing by an id alone: what has no place is named, and can be given one or removed", () => {
    const after = plan(["day", "pieces"]);
    const made = repointReport(spec, to, before, after);
    expect(goneFrom(made, after)).toEqual([
      { column: "gone: Mark", uses: ["group", "column"] },
      { column: "gone: Price", uses: ["column"] },
      { column: "gone: Mass", uses: ["column"] },
    ]);
    expect(goneFrom(repointReport(spec, to, null, before), before).map((g) => g.column)).toEqual(["gone: c1", "gone: c2", "gone: c3"]);
    const mended = withoutColumns(replaceColumn(made, "gone: Mark", "c1"), ["gone: Price", "gone: Mass"]);
    expect([goneFrom(mended, after), mended.levels.length, columnsOf(mended)]).toEqual([[], 1, ["c1"]]);
    expect(mended.lines[0]?.cells).toEqual({});
    expect(withoutColumns(made, ["gone: Mark"]).levels).toEqual([]);
  });
  it("keeps what is gone under its name through another change of the query, and finds it again where that has it", () => {
    const without = repointReport(spec, to, before, plan(["mark"]));
    expect(columnsOf(repointReport(without, { query: "c" }, plan(["mark"]), before))).toEqual(["c1", "c2", "c3"]);
  });
});
