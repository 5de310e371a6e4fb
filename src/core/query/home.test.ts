import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import type { Schema, Step } from "../schema/schema";
import { usualDay } from "../types/calendar";
import * as edit from "./edit";
import { setWay } from "./editJoins";
import { emptyQuery } from "./empty";
import { countsOnce, homeForReaders, isSwayed, keyName, keyPlaces, overlaps, withKeys } from "./home";
import type { Plan, PlanColumn } from "./plan";
import { resolveQuery } from "./resolve";
import type { Operand, QueryColumn, QuerySpec } from "./spec";

/* Which rows a value belongs to, and so what a total counts once. Stamps are many to a crate, crates many to a yard. */

const toCrate = { link: "stamp.crate_id", toward: "b" as const };
const toYard = { link: "crate.yard_id", toward: "b" as const };
const toStamps = { link: "stamp.crate_id", toward: "a" as const };

/** A query of a source with tables brought by walks; the joins in the order of the walks. */
function bring(source: string, ...walks: Step[][]): { spec: QuerySpec; joins: string[] } {
  let spec = emptyQuery(source);
  const joins = walks.map((walk) => {
    const brought = edit.bring(spec, walk);
    spec = brought.spec;
    return brought.join;
  });
  return { spec, joins };
}
const field = (column: string, join = ""): Operand => ({ kind: "field", join, column });
function planOf(spec: QuerySpec, columns: Omit<QueryColumn, "id">[], schema: Schema = sampleSchema): Plan {
  const resolved = resolveQuery({ ...spec, columns: columns.map((c, i) => ({ id: `c${i}`, ...c })) }, schema, { today: usualDay("2026-11-24"), values: {} });
  if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
  return resolved.value;
}
const said = ({ home }: PlanColumn) => home && `${home.words}${home.repeated ? ", repeated" : ""}`;

describe("the rows a value belongs to", () => {
  it("are the source's own, each once, where links lead to one alone", () => {
    const { spec, joins } = bring("crate", [toYard]);
    const [price, rent] = planOf(spec, [{ value: field("price") }, { value: field("rent", joins[0]) }]).columns as [PlanColumn, PlanColumn];
    expect([said(price), countsOnce(price)]).toEqual(["crates", false]);
    // A yard stands on each of its crates.
    expect([said(rent), countsOnce(rent)]).toEqual(["yards, repeated", true]);
  });
  it("are repeated for all but the last table of a link to many", () => {
    const { spec, joins } = bring("crate", [toStamps], [toYard]);
    const columns = planOf(spec, [{ value: field("price") }, { value: field("fee", joins[0]) }, { value: field("rent", joins[1]) }]).columns;
    expect(columns.map(said)).toEqual(["crates, repeated", "stamps", "yards, repeated"]);
  });
  it("are told by no row of a table that lets its own rows in", () => {
    const { spec, joins } = bring("crate", [toYard]);
    const kept = planOf(spec, [{ value: { kind: "formula", text: "price + yard.rent" } }]).columns as [PlanColumn];
    const both = setWay(spec, joins[0] ?? "", "both");
    const open = planOf(both, [{ value: { kind: "formula", text: "price + yard.rent" } }]).columns as [PlanColumn];
    expect([kept[0].home?.of.length, open[0].home?.of.length]).toEqual([1, 2]);
  });
  it("are of the table whose row tells the others', where a formula reads several", () => {
    const { spec } = bring("stamp", [toCrate], [toCrate, toYard]);
    const columns = ["fee * crate.price", "fee + 1", "1 + 1"].map((text) => ({ value: { kind: "formula" as const, text } }));
    const [both, fee, none] = planOf(spec, columns).columns;
    expect([both && said(both), fee && said(fee)]).toEqual(["stamps", "stamps"]);
    // What reads no table is of every row, and is added in each.
    expect(none?.home).toBe(null);
  });
  it("cannot be told apart in a table without a key, so that its total is of every row and never sealed as once", () => {
    const keyless = { ...sampleSchema, tables: sampleSchema.tables.map((t) => ({ ...t, key: [] })) };
    const { spec, joins } = bring("crate", [toStamps]);
    const [price] = planOf(spec, [{ value: field("price") }, { value: field("fee", joins[0]) }], keyless).columns as [PlanColumn];
    expect([price.home?.repeated, price.home?.keys, countsOnce(price)]).toEqual([true, null, false]);
    // What a link to one compares tells its rows apart, key or none.
    const toOne = bring("crate", [toYard]);
    const [rent] = planOf(toOne.spec, [{ value: field("rent", toOne.joins[0]) }], keyless).columns as [PlanColumn];
    expect([said(rent), countsOnce(rent)]).toEqual(["yards, repeated", true]);
  });
  it("are added in every row only where a person said so", () => {
    const { spec, joins } = bring("crate", [toYard]);
    const [rent] = planOf(spec, [{ value: field("rent", joins[0]), everyRow: true }]).columns as [PlanColumn];
    expect([said(rent), countsOnce(rent)]).toEqual(["yards, repeated", false]);
  });
});

describe("figures that a join's repeats change", () => {
  it("are averages, counts and the like of what is repeated, not totals, extremes or distinct counts", () => {
    const { spec, joins } = bring("crate", [toStamps]);
    const price = (figure: QueryColumn["figure"]) => ({ value: field("price"), figure });
    const swayed = (columns: Omit<QueryColumn, "id">[], of = spec) => planOf({ ...of, grouped: true }, columns).columns.map(isSwayed);
    expect(swayed([price("average"), price("count"), price("total"), price("greatest"), price("countDifferent"), { value: null, figure: "count" }])).toEqual([
      true,
      true,
      false,
      false,
      false,
      false,
    ]);
    expect(swayed([{ value: field("fee", joins[0]), figure: "average" }])).toEqual([false]);
    expect(swayed([price("average")], emptyQuery("crate"))).toEqual([false]);
    // The number of rows is no number of crates then.
    expect(planOf({ ...spec, grouped: true }, [{ value: null, figure: "count" }]).columns[0]?.heading).toBe("Rows");
  });
});

describe("groups of a total that counts rows once", () => {
  const { spec, joins } = bring("crate", [toYard]);
  const groups = (by: Operand, figure: QueryColumn["figure"] = "total") => {
    const { columns } = planOf({ ...spec, grouped: true }, [
      { value: by },
      { value: field("rent", joins[0]), figure },
      { value: field("price"), figure: "total" },
    ]);
    const [group, rent, price] = columns as [PlanColumn, PlanColumn, PlanColumn];
    return [overlaps(rent, [group]), overlaps(price, [group])];
  };
  it("overlap where a group is by what does not follow from those rows, and not where it does", () => {
    expect(groups(field("mark"))).toEqual([true, false]);
    expect(groups(field("name", joins[0]))).toEqual([false, false]);
  });
  it("never overlap for figures that do not add", () => expect(groups(field("mark"), "greatest")).toEqual([false, false]));
});

describe("rows that carry what tells them apart", () => {
  const { spec, joins } = bring("crate", [toYard]);
  const plan = planOf(spec, [{ value: field("price") }, { value: field("rent", joins[0]) }, { value: field("name", joins[0]) }]);
  it("have one hidden column for each key that a total needs, and say where it stands", () => {
    const keyed = withKeys(plan);
    expect(keyed.columns.slice(3).map((c) => [c.id, c.hidden])).toEqual([["key yard id", true]]);
    const [price, rent] = plan.columns as [PlanColumn, PlanColumn];
    expect([keyPlaces(price, keyed), keyPlaces(rent, keyed)]).toEqual([null, [3]]);
    const [key] = rent.home?.keys ?? [];
    expect(key && keyName(key)).toBe("key yard id");
  });
  it("have none where rows are grouped", () => {
    const grouped = planOf({ ...spec, grouped: true }, [{ value: field("mark") }, { value: field("rent", joins[0]), figure: "total" }]);
    expect(withKeys(grouped)).toBe(grouped);
    expect(keyPlaces(grouped.columns[1] as PlanColumn, grouped)).toBe(null);
  });
  it("tell those who read them further on what is repeated, and which figures of groups must not be added again", () => {
    const [price, rent] = plan.columns as [PlanColumn, PlanColumn];
    expect(homeForReaders(price, null)).toBe(undefined);
    expect(homeForReaders(rent, null)).toMatchObject({ words: "yards", keys: ["key yard id"] });
    const { columns } = planOf({ ...spec, grouped: true }, [
      { value: field("mark") },
      { value: field("rent", joins[0]), figure: "total" },
      { value: field("price"), figure: "average" },
      { value: field("price"), figure: "total" },
    ]);
    const [group, once, average, total] = columns as [PlanColumn, PlanColumn, PlanColumn, PlanColumn];
    expect(homeForReaders(once, [group])).toEqual({ words: "groups", of: [], tells: [], keys: null });
    expect(homeForReaders(average, [group])).toMatchObject({ words: "groups" });
    expect(homeForReaders(total, [group])).toBe(undefined);
  });
});
