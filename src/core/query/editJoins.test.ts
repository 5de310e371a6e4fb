import { describe, expect, it } from "vitest";
import { crates, field, said } from "../../../test/support/crates";
import { sampleSchema } from "../../../test/support/sample";
import { phraseOfProblem } from "../brief/brief";
import { findTable } from "../schema/schema";
import { usualDay } from "../types/calendar";
import { problem } from "../types/problem";
import * as edit from "./edit";
import { addMatchCondition, joinTable, setWay } from "./editJoins";
import { proposePairs } from "./proposePairs";
import { reachable } from "./reach";
import { resolveQuery } from "./resolve";
import { samplePairs } from "./samplePairs";
import type { Condition } from "./spec";

/* What a person does to how tables are joined, and what is said and shown of it. */

const idsOf = (list: { id: string }[]) => list.map((x) => x.id);

describe("the way a table is joined", () => {
  it("moves what is asked of it alone into the match, where it brings no columns, and back", () => {
    const has = setWay(crates, "s", "hasNone");
    expect([idsOf(has.joins), idsOf(has.conditions), idsOf(has.columns), has.order]).toEqual([["s"], ["w1"], ["c1"], []]);
    expect(has.joins[0]).toMatchObject({ way: "hasNone", where: [{ id: "w2" }] });
    expect(said(has)).toBe("From crate, only those that have no stamps where fee is 1.50, where mark is apple. Show 1 column. ");
    const back = setWay(has, "s", "only");
    expect([idsOf(back.conditions), "where" in (back.joins[0] ?? {})]).toEqual([["w1", "w2"], false]);
  });
  it("stays in its place among the joins", () => {
    const two = edit.bring(crates, [{ link: "crate.yard_id", toward: "b" }]).spec;
    const joined = edit.toggleColumn(two, sampleSchema, [{ link: "crate.yard_id", toward: "b" }], "name");
    expect(idsOf(setWay(joined, "s", "has").joins)).toEqual(["s", "j1"]);
  });
  it("is said of the other side and of both", () => {
    expect(said(setWay(crates, "s", "other"))).toContain("stamps (every one of the stamps, with or without a match)");
    expect(said(setWay(crates, "s", "both"))).toContain("stamps (all crates and all stamps, matched or not)");
  });
});

describe("tables joined by comparisons", () => {
  const [yard, crate] = [findTable(sampleSchema, "yard"), findTable(sampleSchema, "crate")] as const;
  it("are proposed by keys that others are named by, either way, and by nothing else", () => {
    if (!yard || !crate) throw new Error("no sample");
    expect(proposePairs(crate, yard)).toEqual([{ near: "yard_id", far: "id" }]);
    expect(proposePairs(yard, crate)).toEqual([{ near: "id", far: "yard_id" }]);
    expect(proposePairs(yard, { ...yard, name: "other", key: [] })).toEqual([]);
  });
  it("lead to one row only where they compare its whole key as the same", () => {
    const twoKeys = { ...sampleSchema, tables: sampleSchema.tables.map((t) => (t.name === "yard" ? { ...t, key: ["id", "name"] } : t)) };
    const leads = (pairs: { near: string; far: string }[], operator: Condition["operator"] = "is") => {
      const joined = joinTable({ ...crates, joins: [], conditions: [], columns: crates.columns.slice(0, 1), order: [] }, "", "yard", pairs);
      const [first] = joined.joins;
      const spec = { ...joined, joins: first && "on" in first ? [{ ...first, on: first.on.map((c) => ({ ...c, operator })) as Condition[] }] : [] };
      const plan = resolveQuery(spec, twoKeys, { today: usualDay("2026-11-23"), values: {} });
      return plan.ok ? plan.value.joins[0]?.leadsTo : plan.problems.map((p) => p.code);
    };
    const [id, name] = [
      { near: "yard_id", far: "id" },
      { near: "mark", far: "name" },
    ];
    expect([leads([id]), leads([id, name]), leads([name]), leads([id, name], "isNot")]).toEqual(["many", "one", "many", "many"]);
  });
  it("are said with what they compare, and their fields can be picked and ticked", () => {
    const joined = joinTable(crates, "", "yard", [{ near: "yard_id", far: "id" }]);
    expect(said(joined)).toContain("yard (if any; yard › id is yard_id)");
    expect(said(joinTable(crates, "", "yard", []))).toContain("yard (if any; no comparison yet)");
    expect(
      reachable(joined, sampleSchema, 0)
        .filter((f) => f.join !== undefined)
        .map((f) => f.words),
    ).toContain("yard › rent");
    const ticked = edit.toggleJoined(joined, sampleSchema, "j1", "rent");
    expect(ticked.columns.at(-1)?.value).toEqual(field("rent", "j1"));
    expect(idsOf(edit.toggleJoined(ticked, sampleSchema, "j1", "rent").columns)).toEqual(["c1", "c2"]);
    const more = addMatchCondition(joined, sampleSchema, "j1", "opened");
    expect(phraseOfProblem(problem("valueMissing", ["joins", 1, "on", 1, "values"]), more)).toMatch(/^value w\d+ 0$/);
  });
});

describe("sample pairs", () => {
  it("are the rows a join's comparisons put together, by what they compare", () => {
    const joined = joinTable(crates, "", "yard", [{ near: "yard_id", far: "id" }]);
    const id = joined.joins.at(-1)?.id ?? "";
    const pairs = samplePairs({ ...joined, limit: 500, grouped: true }, id);
    expect(pairs).toMatchObject({ grouped: false, limit: 3, conditions: [], order: [] });
    expect(pairs?.columns.map((c) => c.value)).toEqual([field("id", id), field("yard_id")]);
    expect(pairs?.joins.at(-1)).toMatchObject({ id, way: "only" });
    expect(samplePairs(crates, "s")).toBeNull();
    expect(samplePairs(joinTable(crates, "", "yard", []), id)).toBeNull();
  });
});
