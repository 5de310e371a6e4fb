import { join } from "node:path";
import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { withDerivedFields } from "@/core/derive/derive";
import { columnsRead, partialTables, shownSchema, withRules } from "@/core/people/rules";
import type { Asker, RuleSpec } from "@/core/people/spec";
import { emptyPivot, newAxis } from "@/core/pivot/empty";
import { planPivot } from "@/core/pivot/plan";
import { proofColumn } from "@/core/proof/followed";
import { compileRows } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import { emptyQuery } from "@/core/query/empty";
import { resolveQuery } from "@/core/query/resolve";
import type { Condition, Join, QuerySpec } from "@/core/query/spec";
import { usualDay } from "@/core/types/calendar";
import { runPivot } from "@/server/jobs/pivots/run";
import { proveQuery } from "@/server/jobs/queries/prove";
import { readRows } from "@/server/source/sqlite/readers";
import { specArbitrary } from "../support/arbitrary";
import { asWritten, type Rows, threeEngines } from "../support/engines";
import { makeDatabase, openLedger, temporaryFolder } from "../support/ledger";
import { sampleDerived, sampleRows, sampleSchema } from "../support/sample";

/*
 * Rules on rows. What a person is told under rules must be what anyone is told on a copy of the data from which the rows
 * they may not see were taken out by plain loops: in queries made at random, their windows, their proofs, and pivots.
 */

const SEED = 20261125;
const TODAY = usualDay("2026-11-23");
const rows = sampleRows(SEED);
const whole = withDerivedFields(sampleSchema, sampleDerived, TODAY);
const viewer: Asker = { id: "v", role: "viewer", knownAs: "apple" };

const condition = (join: string, column: string, operator: Condition["operator"], ...values: Condition["values"]): Condition => ({
  id: `${join} ${column}`,
  left: { kind: "field", join, column },
  operator,
  values,
});
const rule = (source: string, conditions: Condition[], joins: Join[] = [], who: RuleSpec["who"] = { kind: "role", role: "viewer" }): RuleSpec => ({
  version: 1,
  who,
  query: { ...emptyQuery(source), conditions, joins },
});
const toYard: Join = { id: "y", from: "", link: "crate.yard_id", toward: "b", way: "only" };
const toCrate: Join = { id: "c", from: "", link: "stamp.crate_id", toward: "b", way: "keep" };
const person = { kind: "person" as const };
const text = (value: string) => ({ kind: "value" as const, text: value });

/** Crates by the yard they stand in, and by their weight: two rules on one table; stamps of sealed crates; yards with a rent. */
const RULES: RuleSpec[] = [
  rule("crate", [condition("y", "name", "is", person)], [toYard]),
  rule("crate", [condition("", "mass", "atMost", text("400"))]),
  rule("stamp", [condition("c", "sealed", "is", text("yes"))], [toCrate]),
  rule("yard", [condition("", "rent", "notEmpty")]),
  rule("yard", [condition("", "id", "is", text("1"))], [], { kind: "role", role: "analyst" }),
];

/** The rows the viewer may see, by loops over the rows. */
function seen(all: Rows, knownAs: string): Rows {
  const [yards = [], crates = [], stamps = []] = [all.yard, all.crate, all.stamp];
  return {
    yard: yards.filter((y) => y[3] !== null),
    crate: crates.filter((c) => c[6] !== null && Number(c[6]) <= 4000 && yards.some((y) => y[0] === c[1] && y[1] === knownAs)),
    stamp: stamps.filter((s) => crates.some((c) => c[0] === s[1] && c[9] === 1)),
  };
}

type Engines = Awaited<ReturnType<typeof threeEngines>>;
let all: Engines;
let part: Engines;
beforeAll(async () => {
  // A name that several yards have, so that there is something to see.
  for (const [i, yard] of (rows.yard ?? []).entries()) if (i % 2 === 0) yard[1] = "apple";
  [all, part] = [await threeEngines(sampleSchema, rows), await threeEngines(sampleSchema, seen(rows, "apple"))];
});
afterAll(async () => {
  await all?.close();
  await part?.close();
});

const ruled = (asker: Asker = viewer, rules = RULES) => withRules(whole, rules, asker, TODAY);
const planOn = (spec: QuerySpec, schema = whole) => {
  const resolved = resolveQuery(spec, schema, { today: TODAY, values: {}, person: "apple" });
  if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
  return resolved.value;
};
const idsOf = (source: string, schema = ruled()) =>
  all.sqlite(planOn({ ...emptyQuery(source), columns: [{ id: "id", value: { kind: "field", join: "", column: "id" } }] }, schema));
const idsIn = (list: Rows[string] | undefined) => (list ?? []).map((r) => String(r[0]));

describe("rules on rows", () => {
  it("hold under queries made at random: rows, windows and proofs are those of the rows one may see", async () => {
    expect(Object.values(seen(rows, "apple")).map((r) => r.length > 0)).toEqual([true, true, true]);
    await fc.assert(
      fc.asyncProperty(specArbitrary, async (spec) => {
        const [under, free] = [planOn(spec, ruled()), planOn(spec)];
        const answer = part.sqlite(free);
        expect(all.sqlite(under)).toEqual(answer);
        expect(asWritten(await all.duckdb(under), answer)).toEqual(answer);
        expect(asWritten(await all.postgres(under), answer)).toEqual(answer);
        if (!spec.grouped)
          for (const window of [
            { offset: 0, rows: 5 },
            { offset: 3, rows: 40 },
          ])
            expect([...readRows(all.lite, compileRows(under, sqlite, window))]).toEqual([...readRows(part.lite, compileRows(free, sqlite, window))]);
        const proof = (plan: typeof under, engines: Engines) => proveQuery(engines.reading, plan, proofColumn(plan)?.id ?? null);
        // Floating totals depend on the order in which they are added.
        const told = (p: ReturnType<typeof proof>) => JSON.parse(JSON.stringify(p, (_, v) => (typeof v === "number" ? Number(v.toPrecision(9)) : v)));
        expect(told(proof(under, all))).toEqual(told(proof(free, part)));
        expect(proof(under, all).agrees).toBe(true);
      }),
      { numRuns: 100, seed: SEED },
    );
  });

  it("hold in pivots", () => {
    const spec: QuerySpec = {
      ...emptyQuery("crate"),
      joins: [{ ...toYard, way: "keep" }],
      columns: [
        { id: "y", value: { kind: "field", join: "y", column: "name" } },
        { id: "m", value: { kind: "field", join: "", column: "mark" } },
        { id: "p", value: { kind: "field", join: "", column: "price" } },
      ],
    };
    const asField = (column: string) => ({ kind: "field" as const, join: "", column });
    const pivot = {
      ...emptyPivot("q"),
      down: [newAxis("m", asField("m"))],
      across: [newAxis("y", asField("y"))],
      figures: [
        { id: "f", value: asField("p"), figure: "total" as const, showAs: "asIs" as const },
        { id: "d", value: asField("p"), figure: "median" as const, showAs: "asIs" as const },
      ],
    };
    const work = (schema: typeof whole, engines: Engines) => {
      const planned = planPivot(pivot, planOn(spec, schema), { today: TODAY, values: {} });
      if (!planned.ok) throw new Error(JSON.stringify(planned.problems));
      return runPivot(engines.reading, { plan: planned.value, locale: { locale: "en-GB", zone: "UTC" } });
    };
    expect(work(ruled(), all)).toEqual(work(whole, part));
  });

  it("bind a role or a person, never an owner; several must all hold", () => {
    expect(idsOf("crate")).toEqual(idsIn(seen(rows, "apple").crate));
    expect(idsOf("yard", ruled({ ...viewer, role: "analyst" }))).toEqual(["1"]);
    expect(idsOf("crate", ruled({ ...viewer, role: "owner" }))).toHaveLength(90);
    const own = rule("yard", [condition("", "id", "is", text("2"))], [], { kind: "person", person: "w" });
    expect(idsOf("yard", ruled({ ...viewer, role: "analyst", id: "w" }, [own]))).toEqual(["2"]);
    expect(idsOf("yard", ruled({ ...viewer, role: "analyst" }, [own]))).toHaveLength(12);
    expect(idsOf("yard", ruled({ ...viewer, role: "owner", id: "w" }, [own])), "a rule for one person who is an owner by now").toHaveLength(12);
  });

  it("let nothing through where the person is unknown, or the rule is broken or would repeat rows", () => {
    expect(idsOf("crate", ruled({ ...viewer, knownAs: "" }))).toEqual([]);
    const broken = [rule("yard", [condition("", "colour", "is", text("red"))])];
    const repeats = [rule("yard", [condition("c", "mark", "notEmpty")], [{ id: "c", from: "", link: "crate.yard_id", toward: "a", way: "keep" }])];
    const asks: RuleSpec = rule("yard", [condition("", "name", "is", { kind: "parameter", name: "whom" })]);
    const asking = [{ ...asks, query: { ...asks.query, parameters: [{ name: "whom", type: "text" as const, optional: true }] } }];
    for (const rules of [broken, repeats, asking]) expect(idsOf("yard", ruled(viewer, rules))).toEqual([]);
    // A number the person's name is not compares with nothing.
    expect(idsOf("yard", ruled(viewer, [rule("yard", [condition("", "id", "is", person)])]))).toEqual([]);
  });

  it("tell by which columns and tables they decide, which the bound do not change", () => {
    const told = (schema: typeof whole) =>
      [...columnsRead(schema)].map(([table, { columns, brought }]) => [table, [...columns].sort().join(" "), brought]).sort();
    expect(told(ruled())).toEqual([
      ["crate", "id mass sealed yard_id", true],
      ["stamp", "crate_id", false],
      ["yard", "id name rent", true],
    ]);
    expect(told(ruled({ ...viewer, role: "owner" }))).toEqual([]);
  });

  it("are not told to a browser, which knows only that rows are missing", () => {
    const shown = shownSchema(ruled());
    expect(JSON.stringify(shown)).not.toContain("rules");
    expect(shown.tables.map((t) => [t.name, t.partial ?? false, t.rows])).toEqual([
      ["yard", true, 0],
      ["crate", true, 0],
      ["stamp", true, 0],
    ]);
    expect(partialTables(planOn({ ...emptyQuery("crate"), columns: [{ id: "i", value: { kind: "field", join: "", column: "id" } }] }, ruled()))).toEqual([
      "crate",
    ]);
  });
});

it("are kept with the schema of the person they bind, and made anew where a rule, the person or what is shared is another", async () => {
  const { folder, remove } = temporaryFolder();
  const database = makeDatabase(
    join(folder, "b.sqlite"),
    "CREATE TABLE crate (id INTEGER PRIMARY KEY, mass INTEGER); INSERT INTO crate VALUES (1, 2), (2, 900)",
  );
  const ws = openLedger(folder, database);
  try {
    const personOf = (login: string) => ws.people.create({ id: login, login, name: login, role: "viewer", password: "a long enough one" });
    const [ada, bea] = [await personOf("ada"), await personOf("bea")];
    const light = {
      version: 1,
      who: { kind: "role", role: "viewer" },
      query: { ...emptyQuery("crate"), conditions: [condition("", "mass", "atMost", text("400"))] },
    };
    const saved = ws.objects.create("rule", "Light ones", light);
    const query = ws.objects.create("query", "Crates", { ...emptyQuery("crate"), columns: [{ id: "id", value: { kind: "field", join: "", column: "id" } }] });
    const first = await ws.as(ada).schema();
    expect(first.tables[0]?.rules).toHaveLength(1);
    expect(await ws.as(ada).schema()).toBe(first);
    expect(await ws.as(bea).schema()).not.toBe(first);
    expect(await ws.as(ada).schema(), "what another one asks in between").toBe(first);
    expect(await ws.as({ ...ada, knownAs: "other" }).schema()).not.toBe(first);
    const again = await ws.as(ada).schema();
    expect(await ws.as(ada).schema()).toBe(again);
    expect(await ws.as({ ...ada, role: "owner" }).schema()).not.toHaveProperty("tables.0.rules");
    expect((await ws.as(ada).schema()).queries).toEqual([]);
    ws.people.share(query.id, "ada", "see");
    expect((await ws.as(ada).schema()).queries).toHaveLength(1);
    const lighter = { ...light, query: { ...light.query, conditions: [condition("", "mass", "atMost", text("1"))] } };
    ws.objects.save(saved.id, { spec: lighter }, saved.revision);
    expect(JSON.stringify((await ws.as(ada).schema()).tables[0]?.rules)).not.toBe(JSON.stringify(first.tables[0]?.rules));
    ws.objects.save(saved.id, { spec: { ...light, who: { kind: "role", role: "analyst" } } }, saved.revision + 1);
    expect((await ws.as(ada).schema()).tables[0]?.rules).toBeUndefined();
  } finally {
    ws.close();
    remove();
  }
});
