import { describe, expect, it } from "vitest";
import { removeLevel } from "./edit";
import { newLevel } from "./plan";
import { depthOver } from "./rowFigures";
import type { ReportSpec } from "./spec";
import { partsOfFormula } from "./texts";

describe("a formula with figures", () => {
  const parts = (source: string) => partsOfFormula(source, (n) => `figure ${n}`);
  it("is parted into its figures, each once, and what is worked out of them", () => {
    expect(parts("freight / SUM(freight)")).toEqual({ figures: ["SUM(freight)"], formula: 'freight / "figure 0"' });
    expect(parts("(SUM( a )+AVG(b))*a - SUM( a )")).toEqual({ figures: ["SUM( a )", "AVG(b)"], formula: '("figure 0"+"figure 1")*a - "figure 0"' });
    expect(parts("COUNT(*) FILTER (WHERE x = ')' AND y > 1) + 1")).toEqual({
      figures: ["COUNT(*) FILTER (WHERE x = ')' AND y > 1)"],
      formula: '"figure 0" + 1',
    });
    expect(parts("CASE WHEN ROUND(x, 2) > MAX(ROUND(x, 2)) THEN 'SUM(x)' END").figures).toEqual(["MAX(ROUND(x, 2))"]);
    expect(parts("freight * 2")).toEqual({ figures: [], formula: "freight * 2" });
  });
});

describe("the groups that figures of a column are over", () => {
  const levels = [newLevel("a"), newLevel("b")];
  it("are the innermost, those of a level, or all rows", () => {
    expect([undefined, "a", "b", "", "gone"].map((over) => depthOver({ levels }, over))).toEqual([2, 1, 2, 0, 2]);
  });
  it("are all rows where their level is removed", () => {
    const column = { id: "x", value: { kind: "formula" as const, text: "x / SUM(x)" }, widthMm: null, over: "a" };
    const spec = { levels, columns: [column], lines: [] } as unknown as ReportSpec;
    expect(removeLevel(spec, "a").columns[0]?.over).toBe("");
    expect(removeLevel(spec, "b").columns[0]?.over).toBe("a");
  });
});
