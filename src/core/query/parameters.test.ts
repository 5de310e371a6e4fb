import { describe, expect, it } from "vitest";
import { crates, field, is, said } from "../../../test/support/crates";
import { sampleSchema } from "../../../test/support/sample";
import { briefText, queryBrief } from "../brief/brief";
import { usualDay } from "../types/calendar";
import { comparisonsIn } from "./conditions";
import { removeParameter, renameParameter } from "./editParameters";
import { lastingValues, openParameters } from "./parameters";
import { queriesRead } from "./queryTables";
import { resolveQuery } from "./resolve";
import { withGiven } from "./resolveConditions";
import type { QuerySpec } from "./spec";

/* What a query asks for: left empty, given, chosen, renamed and removed. */

describe("parameters", () => {
  const asking: QuerySpec = {
    ...crates,
    conditions: [
      { id: "g", holds: "any", of: [{ ...is("w1", field("mark"), ""), values: [{ kind: "parameter", name: "a" }] }, is("w2", field("pieces"), "1")] },
    ],
    parameters: [
      { name: "a", type: "text" },
      { name: "b", type: "text" },
    ],
  };
  it("left empty are any, by their own words; in print what was given stands in their place", () => {
    const several: QuerySpec = {
      ...crates,
      conditions: [
        { ...is("w1", field("mark"), ""), operator: "oneOf", values: [{ kind: "parameter", name: "marks" }] },
        {
          ...is("w2", field("pieces"), ""),
          operator: "between",
          values: [
            { kind: "parameter", name: "least" },
            { kind: "parameter", name: "most" },
          ],
        },
      ],
      parameters: [
        { name: "marks", type: "several", optional: true },
        { name: "least", type: "whole", optional: true },
        { name: "most", type: "whole", optional: true, default: { kind: "fixed", text: "9" } },
      ],
    };
    const today = usualDay("2026-11-23");
    expect(openParameters(several.parameters, { marks: " " }, today)).toEqual(["marks", "least"]);
    expect(openParameters(several.parameters, { marks: "a", least: "1" }, today)).toEqual([]);
    expect(briefText(queryBrief(several, sampleSchema, { locale: "en-GB", zone: "UTC" }, { open: ["least"] }))).toContain(
      "pieces is between least (any) and most",
    );
    const resolved = resolveQuery(several, sampleSchema, { today, values: { marks: "apple\n fig " } });
    expect(resolved.ok && said(withGiven(several, resolved.value.parameters))).toContain("mark is one of apple, fig and pieces is at most 9");
    expect(lastingValues(several.parameters, { marks: "a", least: "", most: "3", gone: "x" })).toEqual({ marks: "a" });
  });
  it("compared with a timestamp may have a time of day, which a date has not", () => {
    const from = (name: string, text: string): QuerySpec => ({ ...crates, conditions: [{ ...is("w1", field(name), text), operator: "atLeast" }] });
    const codes = (spec: QuerySpec) => {
      const resolved = resolveQuery(spec, sampleSchema, { today: usualDay("2026-11-23"), values: {} });
      return resolved.ok ? [] : resolved.problems.map((p) => p.code);
    };
    expect([codes(from("at", "2026-03-01 14:05")), codes(from("at", "2026-03-01 25:00")), codes(from("day", "2026-03-01 14:05"))]).toEqual([
      [],
      ["valueType"],
      ["valueType"],
    ]);
    expect(said(from("at", "2026-03-01 14:05:00"))).toContain("at is on or after 1 Mar 2026 14:05");
  });
  it("take any value of a column they are chosen from", () => {
    const chosen = (from?: { table: string; column: string }): QuerySpec => ({
      ...crates,
      conditions: [{ ...is("w1", field("mark"), ""), values: [{ kind: "parameter", name: "mark" }] }],
      parameters: [{ name: "mark", type: "choice", choices: ["fig"], ...(from ? { from } : {}) }],
    });
    const codes = (spec: QuerySpec) => {
      const resolved = resolveQuery(spec, sampleSchema, { today: usualDay("2026-11-23"), values: { mark: "apple" } });
      return resolved.ok ? [] : resolved.problems.map((p) => p.code);
    };
    expect([codes(chosen()), codes(chosen({ table: "query q", column: "c" }))]).toEqual([["parameterChoice"], []]);
    expect(queriesRead(chosen({ table: "query q", column: "c" }))).toEqual(["q"]);
  });
  it("are renamed and removed wherever conditions ask for them", () => {
    expect(comparisonsIn(renameParameter(asking, "a", "mark").conditions)[0]?.values).toEqual([{ kind: "parameter", name: "mark" }]);
    expect(renameParameter(asking, "a", "b")).toBe(asking);
    expect(renameParameter(asking, "a", "1x")).toBe(asking);
    const without = removeParameter(asking, "a");
    expect([comparisonsIn(without.conditions).map((c) => c.id), without.parameters.map((p) => p.name)]).toEqual([["w2"], ["b"]]);
    // A group goes with the last of its conditions.
    const [group] = asking.conditions;
    const alone: QuerySpec = { ...asking, conditions: group && "of" in group ? [{ ...group, of: group.of.slice(0, 1) }] : [] };
    expect(removeParameter(alone, "a").conditions).toEqual([]);
  });
});
