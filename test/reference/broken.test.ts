import Database from "better-sqlite3";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { briefText, queryBrief } from "@/core/brief/brief";
import { dashboardBrief } from "@/core/brief/dashboardBrief";
import { planChart } from "@/core/chart/plan";
import { chartSpecSchema } from "@/core/chart/spec";
import { filteredQuery } from "@/core/dashboard/filters";
import { dashboardSpecSchema } from "@/core/dashboard/spec";
import { plainTiles } from "@/core/dashboard/tiles";
import { withDerivedFields } from "@/core/derive/derive";
import { derivedFieldSchema } from "@/core/derive/spec";
import { planLetter, relatedQuery } from "@/core/letter/plan";
import { letterSpecSchema } from "@/core/letter/spec";
import { planSearch } from "@/core/page/search";
import { pageSpecSchema } from "@/core/page/spec";
import { withRules } from "@/core/people/rules";
import { ruleSpecSchema } from "@/core/people/spec";
import { planPivot } from "@/core/pivot/plan";
import { pivotSpecSchema } from "@/core/pivot/spec";
import { resolvePosting } from "@/core/posting/plan";
import { postingSpecSchema } from "@/core/posting/spec";
import { compileRows } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import type { Plan } from "@/core/query/plan";
import { resolveQuery } from "@/core/query/resolve";
import { type QuerySpec, querySpecSchema } from "@/core/query/spec";
import { planReport } from "@/core/report/plan";
import { reportSpecSchema } from "@/core/report/spec";
import type { Schema } from "@/core/schema/schema";
import { usualDay } from "@/core/types/calendar";
import { type Checked, type Problem, sentence } from "@/core/types/problem";
import type { SavedObject } from "@/server/catalogue/catalogue";
import { Catalogue } from "@/server/catalogue/catalogue";
import { registerFunctions } from "@/server/source/sqlite/functions";
import { inspectDatabase } from "@/server/source/sqlite/inspect";
import { generateCompany } from "../../demo/generate";
import { saveDemoObjects } from "../../demo/objects";
import { saveDemoPeople } from "../../demo/people";
import { temporaryFolder } from "../support/ledger";

/*
 * Each column, table and link of the demo company goes, one at a time, and every saved object is looked at again: what
 * it still plans can be prepared on the database as it is then, and what it cannot is said in a sentence. Nothing throws.
 */

const TODAY = usualDay("2026-11-23");
const VIEWER = { id: "demo-una", role: "viewer" as const, knownAs: "129" };
const locale = { locale: "en-GB", zone: "UTC" };

let place: ReturnType<typeof temporaryFolder>;
let saved: SavedObject[];
let read: Schema;
beforeAll(async () => {
  place = temporaryFolder();
  const db = new Database(":memory:");
  generateCompany(db);
  read = inspectDatabase(db, []);
  db.close();
  const catalogue = new Catalogue(place.folder, "src/server/catalogue/migrations");
  saveDemoObjects(catalogue);
  await saveDemoPeople(catalogue);
  saved = catalogue.list();
  catalogue.close();
});
afterAll(() => place.remove());

const ofKind = (kind: string) => saved.filter((o) => o.kind === kind);
const queryOf = (id: string): QuerySpec => querySpecSchema.parse(saved.find((o) => o.id === id)?.spec);

/** The schema as the ledger has it on what is left of the database, for its owner or for a viewer under rules. */
function layered(shape: Schema, viewer: boolean): Schema {
  const fields = ofKind("derived").map(({ id, name, spec }) => ({ ...derivedFieldSchema.parse(spec), id, label: name }));
  const schema = withDerivedFields(shape, fields, TODAY);
  const rules = ofKind("rule").map(({ spec }) => ruleSpecSchema.parse(spec));
  return viewer ? withRules(schema, rules, VIEWER, TODAY) : schema;
}

/** An empty database of this shape. */
function emptyDatabase({ tables }: Schema): Database.Database {
  const db = new Database(":memory:");
  registerFunctions(db);
  for (const t of tables) db.exec(`CREATE TABLE "${t.name}" (${t.columns.map((c) => `"${c.name}"`).join(", ")})`);
  return db;
}

type Outcome = { name: string; plans: Plan[]; problems: Problem[] };
const outcome = (name: string, checked: Checked<Plan[]>): Outcome =>
  checked.ok ? { name, plans: checked.value, problems: [] } : { name, plans: [], problems: checked.problems };
const then = <A, B>(checked: Checked<A>, next: (value: A) => Checked<B>): Checked<B> => (checked.ok ? next(checked.value) : checked);
const done = <T>(value: T): Checked<T> => ({ ok: true, value });

/** Everything that is saved, looked at on a schema. */
function lookAt(schema: Schema): Outcome[] {
  const context = { today: TODAY, values: {}, person: VIEWER.knownAs };
  const resolve = (spec: QuerySpec) => resolveQuery(spec, schema, context);
  const over = <S extends { query: string }>(spec: S, plan: (spec: S, inner: Plan) => Checked<Plan[]>) =>
    then(resolve(queryOf(spec.query)), (inner) => plan(spec, inner));
  return [
    ...ofKind("query").map(({ id, spec }) => {
      const query = querySpecSchema.parse(spec);
      expect(briefText(queryBrief(query, schema, locale))).not.toMatch(/undefined|NaN|\[object/);
      return outcome(
        id,
        then(resolve(query), (plan) => done([plan])),
      );
    }),
    ...ofKind("pivot").map(({ id, spec }) =>
      outcome(
        id,
        over(pivotSpecSchema.parse(spec), (p, inner) => then(planPivot(p, inner, context), ({ plan }) => done([plan]))),
      ),
    ),
    ...ofKind("chart").map(({ id, spec }) =>
      outcome(
        id,
        over(chartSpecSchema.parse(spec), (c, inner) =>
          then(planChart(c, inner, context), (chart) => done(["pivot" in chart ? chart.pivot.plan : chart.rows])),
        ),
      ),
    ),
    ...ofKind("report").map(({ id, spec }) => {
      const report = reportSpecSchema.parse(spec);
      return outcome(
        id,
        then(planReport(report, report.own ?? queryOf(report.query), schema, context), ({ rows, figures, related }) =>
          done([rows, ...figures.map((f) => f.plan), ...related.map((r) => r.all)]),
        ),
      );
    }),
    ...ofKind("letter").map(({ id, spec }) => {
      const letter = letterSpecSchema.parse(spec);
      const query = queryOf(letter.query);
      return outcome(
        id,
        then(planLetter(letter, query, schema, context), ({ plan, table, related }) => {
          const tables = related.map((r) => (table ? then(relatedQuery(r, query, table, {}, schema), resolve) : done(plan)));
          return done([plan, ...tables.flatMap((t) => (t.ok ? [t.value] : []))]);
        }),
      );
    }),
    ...ofKind("dashboard").flatMap(({ spec }) => {
      const dashboard = dashboardSpecSchema.parse(spec);
      const values = Object.fromEntries(dashboard.filters.map((f) => [f.id, f.default ?? { kind: "set" as const, not: false, values: ["1"] }]));
      expect(briefText(dashboardBrief({ spec: dashboard, values, schema, locale }))).toContain("Showing");
      return plainTiles(dashboard).flatMap((tile) =>
        "query" in tile
          ? [
              outcome(
                tile.id,
                then(resolve(filteredQuery(dashboard, tile.id, queryOf(tile.query), values, TODAY)), (plan) => done([plan])),
              ),
            ]
          : [],
      );
    }),
    ...ofKind("page").map(({ id, spec }) => {
      const { subject } = pageSpecSchema.parse(spec);
      return outcome(
        id,
        subject.kind === "search"
          ? then(planSearch(subject, queryOf(subject.query), schema, context, { fields: [], sort: null }), ({ plan }) => done([plan]))
          : done([]),
      );
    }),
    ...ofKind("posting").map(({ id, spec }) => {
      const posting = postingSpecSchema.parse(spec);
      const source = posting.source.kind === "table" ? schema.tables.find((t) => t.name === (posting.source as { table: string }).table) : undefined;
      return outcome(
        id,
        source ? then(resolvePosting(posting, schema, [{ table: source, origin: null }], TODAY), (steps) => done(steps.map((step) => step.rows))) : done([]),
      );
    }),
  ];
}

const without: Record<string, () => [string, Schema][]> = {
  column: () =>
    read.tables.flatMap((table) =>
      table.columns.map(({ name }): [string, Schema] => {
        const tables = read.tables.map((t) =>
          t === table ? { ...t, columns: t.columns.filter((c) => c.name !== name), key: t.key.includes(name) ? [] : t.key } : t,
        );
        const led = (side: { table: string; columns: string[] }) => side.table === table.name && side.columns.includes(name);
        return [`${table.name}.${name}`, { ...read, tables, links: read.links.filter((l) => !led(l.a) && !led(l.b)) }];
      }),
    ),
  table: () =>
    read.tables.map((table) => [
      table.name,
      { ...read, tables: read.tables.filter((t) => t !== table), links: read.links.filter((l) => l.a.table !== table.name && l.b.table !== table.name) },
    ]),
  link: () => read.links.map((link) => [link.id, { ...read, links: read.links.filter((l) => l !== link) }]),
  "type of a column": () =>
    read.tables.flatMap((table) =>
      table.columns.map(({ name, type }): [string, Schema] => {
        const changed = type.kind === "text" ? ({ kind: "whole" } as const) : ({ kind: "text" } as const);
        const tables = read.tables.map((t) =>
          t === table ? { ...t, columns: t.columns.map((c) => (c.name === name ? { ...c, type: changed, storage: "plain" as const } : c)) } : t,
        );
        return [`${table.name}.${name}`, { ...read, tables }];
      }),
    ),
};

describe("what is saved", () => {
  it("is whole to begin with", () => {
    const outcomes = lookAt(layered(read, false));
    expect(outcomes.length).toBeGreaterThan(15);
    expect(outcomes.filter((o) => o.problems.length > 0)).toEqual([]);
  });

  it.each(Object.keys(without))("says what is wrong, or still works, when a %s goes", (part) => {
    let refused = 0;
    const changes = without[part]?.() ?? [];
    expect(changes.length).toBeGreaterThan(10);
    for (const [gone, shape] of changes) {
      const db = emptyDatabase(shape);
      for (const viewer of [false, true])
        for (const { name, plans, problems } of lookAt(layered(shape, viewer))) {
          for (const found of problems) expect(sentence(found), `${name} without ${gone}`).toMatch(/^(?!.*(undefined|NaN|\[object|“”)).+\.$/s);
          refused += problems.length > 0 ? 1 : 0;
          for (const plan of plans) {
            const { text } = compileRows(plan, sqlite);
            expect(() => db.prepare(text), `${name} without ${gone}`).not.toThrow();
          }
        }
      db.close();
    }
    expect(refused).toBeGreaterThan(10);
  });
});
