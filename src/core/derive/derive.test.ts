import { describe, expect, it } from "vitest";
import { sampleDerived, sampleSchema } from "../../../test/support/sample";
import { emptyQuery } from "../query/empty";
import { resolveQuery } from "../query/resolve";
import { findTable, type Table } from "../schema/schema";
import { usualDay } from "../types/calendar";
import { withDerivedFields } from "./derive";
import { repointRollup } from "./repoint";
import { goneLinks, replacements, repointed } from "./repointAll";
import type { DerivedField } from "./spec";

const today = usualDay("2026-11-23");
const formula = (id: string, text: string, table = "crate"): DerivedField => ({ version: 1, id, label: id, table, definition: { kind: "formula", text } });
const brokenIn = (fields: DerivedField[], schema = sampleSchema) =>
  Object.fromEntries((withDerivedFields(schema, fields, today).broken ?? []).map((b) => [b.label, b.why]));

describe("derived fields", () => {
  it("know their types, in whatever order they were made", () => {
    const schema = withDerivedFields(sampleSchema, [...sampleDerived].reverse(), today);
    const types = Object.fromEntries(schema.tables.flatMap((t) => t.columns.filter((c) => c.derived).map((c) => [c.name, c.type])));
    expect(types).toMatchObject({
      opened: { kind: "date" },
      fees: { kind: "decimal", scale: 2 },
      "yard share": { kind: "decimal", scale: 4 },
      dear: { kind: "decimal", scale: 7, carried: true },
      "middle fee": { kind: "decimal", scale: 3 },
      "since opened": { kind: "whole" },
    });
    expect(findTable(schema, "crate")?.columns.find((c) => c.name === "opened")?.derived?.words).toBe("yard › opened");
    expect(findTable(schema, "yard")?.columns.find((c) => c.name === "dear")?.derived?.words).toBe("average of price over crates, with conditions");
  });
  it("say which field a figure is of is still to be chosen", () => {
    const query = { ...emptyQuery("crate"), grouped: true, columns: [{ id: "f", value: null, figure: "nth" as const }] };
    const field: DerivedField = {
      version: 1,
      id: "new",
      label: "new",
      table: "yard",
      definition: { kind: "rollup", step: { link: "crate.yard_id", toward: "a" }, query },
    };
    expect(brokenIn([field]).new).toBe("A field is missing for the n-th. Choose one.");
  });
  it("in a circle are refused, and the circle is named", () => {
    const why = brokenIn([formula("one", "two + 1"), formula("two", '"three" * 2'), formula("three", "one - 1"), formula("free", "pieces + 1")]);
    expect(why.one).toContain("one → two → three → one");
    expect(Object.keys(why)).toEqual(["one", "two", "three"]);
    expect(brokenIn([formula("self", "self + 1")]).self).toContain("self → self");
  });
  it("stay, with the reason, when a column, a link or a table goes", () => {
    const without = (name: string) => ({
      ...sampleSchema,
      tables: sampleSchema.tables.map((t) => ({ ...t, columns: t.columns.filter((c) => c.name !== name) })),
    });
    expect(brokenIn(sampleDerived, without("opened")).opened).toContain("has no column “opened”");
    expect(brokenIn(sampleDerived, without("opened")).fees).toBeUndefined();
    expect(brokenIn(sampleDerived, { ...sampleSchema, links: sampleSchema.links.slice(1) }).dear).toContain("link “crate.yard_id” does not exist any more");
    expect(brokenIn(sampleDerived, { ...sampleSchema, tables: sampleSchema.tables.slice(1) })["first mark"]).toContain("no table “yard”");
    const schema = withDerivedFields(sampleSchema, [formula("wrong", "price + mark")], today);
    const used = resolveQuery({ ...emptyQuery("crate"), columns: [{ id: "w", value: { kind: "field", join: "", column: "wrong" } }] }, schema, {
      today,
      values: {},
    });
    expect(used.ok ? [] : used.problems.map((p) => p.code)).toEqual(["derivedBroken"]);
  });
  it("look up only through links that lead to one", () => {
    const lookup = {
      version: 1 as const,
      id: "x",
      label: "x",
      table: "yard",
      definition: { kind: "lookup" as const, steps: [{ link: "crate.yard_id", toward: "a" as const }], column: "mark" },
    };
    expect(brokenIn([lookup]).x).toContain("leads to many");
  });
  it("bring several rollups over one link in one pass", () => {
    const schema = withDerivedFields(sampleSchema, sampleDerived, today);
    const columns = ["fees", "stamp count", "middle fee"].map((column) => ({ id: column, value: { kind: "field" as const, join: "", column } }));
    const resolved = resolveQuery({ ...emptyQuery("crate"), columns }, schema, { today, values: {} });
    expect(resolved.ok && resolved.value.joins.length).toBe(1);
    expect(resolved.ok && resolved.value.joins[0]?.rollup?.figures.length).toBe(3);
  });
});

describe("a rollup pointed at another link", () => {
  const field = (column: string, join = "") => ({ kind: "field" as const, join, column });
  const rollup = {
    kind: "rollup" as const,
    step: { link: "gone", toward: "a" as const },
    query: {
      ...emptyQuery("crate"),
      grouped: true,
      columns: [{ id: "f", value: field("mark"), figure: "countDifferent" as const }],
      conditions: [
        { id: "a", left: field("id"), operator: "greater" as const, values: [{ kind: "value" as const, text: "3" }] },
        { id: "b", left: field("price"), operator: "less" as const, values: [{ kind: "value" as const, text: "9" }] },
      ],
    },
  };
  it("keeps all of itself over the same table", () => {
    const { rollup: made, dropped } = repointRollup(rollup, { link: "crate.yard_id", toward: "a" }, sampleSchema);
    expect([made.step.link, made.query, dropped]).toEqual(["crate.yard_id", rollup.query, []]);
  });
  it("keeps over another table what that has by name, and says what not", () => {
    const { rollup: made, dropped } = repointRollup(rollup, { link: "stamp.crate_id", toward: "a" }, sampleSchema);
    expect(made.query.source).toBe("stamp");
    expect(made.query.conditions.map((c) => c.id)).toEqual(["a"]);
    expect([made.query.columns, dropped]).toEqual([[{ id: "f", value: null, figure: "count" }], ["the figure", "a condition"]]);
  });
});

describe("a link that is gone", () => {
  const count = { id: "n", value: null, figure: "count" as const };
  const through = (id: string, link: string): DerivedField => ({
    version: 1,
    id,
    label: id,
    table: "yard",
    definition: { kind: "rollup", step: { link, toward: "a" }, query: { ...emptyQuery("crate"), grouped: true, columns: [count] } },
  });
  const fields = [through("crates", "gone"), through("more", "gone"), through("well", "crate.yard_id")];
  const lookup: DerivedField = {
    version: 1,
    id: "its yard",
    label: "its yard",
    table: "crate",
    definition: { kind: "lookup", steps: [{ link: "lost", toward: "b" }], column: "name" },
  };
  const schema = withDerivedFields(sampleSchema, [...fields, lookup], today);
  const [yard, crate] = ["yard", "crate"].map((name) => findTable(schema, name)) as [Table, Table];

  it("is told with the fields that went through it, and replaced for all of them at once", () => {
    expect(goneLinks(yard, schema).map((g) => [g.link, g.fields.map((f) => f.id)])).toEqual([["gone", ["crates", "more"]]]);
    const [gone] = goneLinks(yard, schema);
    const choices = gone ? replacements(gone, yard, schema) : [];
    expect(choices[0]).toMatchObject({ step: { link: "crate.yard_id", toward: "a" }, dropped: [] });
    // What leads to the rows the fields were of comes before what leads to others, though a count would lose nothing there.
    const end = (table: string, leadsTo: "one" | "many") => ({ table, columns: ["id"], name: table, leadsTo });
    const other = { id: "a stamp", a: end("stamp", "many"), b: end("yard", "one") };
    const both = { ...schema, links: [other, ...schema.links] };
    expect((gone ? replacements(gone, yard, both) : []).map((c) => c.step.link)).toEqual(["crate.yard_id", "a stamp"]);
    expect(repointed(fields[0]?.definition as DerivedField["definition"], { link: "crate.yard_id", toward: "a" }, schema)?.definition).toEqual(
      fields[2]?.definition,
    );
  });
  it("is replaced only by one that leads as far, to a column that is there", () => {
    const own = lookup.definition;
    expect(repointed(own, { link: "crate.yard_id", toward: "b" }, schema)).toMatchObject({
      definition: { steps: [{ link: "crate.yard_id" }], column: "name" },
    });
    expect(repointed({ ...own, column: "nothing" } as typeof own, { link: "crate.yard_id", toward: "b" }, schema)).toBeNull();
    expect(repointed(own, { link: "crate.yard_id", toward: "a" }, schema)).toBeNull();
    expect(repointed(fields[0]?.definition as typeof own, { link: "crate.yard_id", toward: "b" }, schema)).toBeNull();
    expect(repointed(own, { link: "missing", toward: "b" }, schema)).toBeNull();
    expect(goneLinks(crate, schema).map((g) => g.link)).toEqual(["lost"]);
  });
});
