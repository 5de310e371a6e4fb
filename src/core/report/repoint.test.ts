import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { emptyQuery } from "../query/empty";
import { resolveQuery } from "../query/resolve";
import { usualDay } from "../types/calendar";
import { newLevel } from "./newLevel";
import { firstReport } from "./plan";
import { repointReport } from "./repoint";

const plan = (columns: string[]) => {
  const made = resolveQuery(
    { ...emptyQuery("crate"), columns: columns.map((c, i) => ({ id: `c${i + 1}`, value: { kind: "field", join: "", column: c } })) },
    sampleSchema,
    { today: usualDay("2026-11-23"), values: {} },
  );
  if (!made.ok) throw new Error(JSON.stringify(made.problems));
  return made.value;
};

describe("a report laid over another query", () => {
  const before = plan(["mark", "price", "mass"]);
  const spec = { ...firstReport("a", "R", before), levels: [newLevel("c1")], parameters: { start: "x" } };
  it("meets its columns by what they are, though each query numbers them by itself", () => {
    const { spec: made, dropped } = repointReport(spec, "b", before, plan(["price", "mark", "day"]));
    expect([made.query, made.levels.map((l) => l.column), made.columns.map((c) => c.column)]).toEqual(["b", ["c2"], ["c2", "c1"]]);
    expect(made.columns.find((c) => c.column === "c1")?.footing).toBe("total");
    expect([made.parameters, dropped]).toEqual([{}, ["Mass"]]);
  });
  it("meets a column that is called otherwise there by where it comes from", () => {
    const after = plan(["price"]);
    const renamed = { ...after, columns: after.columns.map((c) => ({ ...c, heading: "Cost" })) };
    expect(repointReport(spec, "b", before, renamed).spec.columns.map((c) => c.column)).toEqual(["c1"]);
  });
  it("keeps nothing by an id alone, and names what goes", () => {
    expect(repointReport(spec, "b", before, plan(["day", "pieces"]))).toMatchObject({ spec: { levels: [], columns: [] }, dropped: ["Mark", "Price", "Mass"] });
    expect(repointReport(spec, "b", null, before)).toMatchObject({ spec: { levels: [], columns: [] }, dropped: ["c1", "c2", "c3"] });
  });
});
