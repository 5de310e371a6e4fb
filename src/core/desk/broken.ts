import { planChart } from "../chart/plan";
import { chartSpecSchema } from "../chart/spec";
import { dashboardSpecSchema } from "../dashboard/spec";
import { plainTiles, sourceOfTile } from "../dashboard/tiles";
import { planLetter } from "../letter/plan";
import { letterSpecSchema } from "../letter/spec";
import { pageSpecSchema } from "../page/spec";
import { planPivot } from "../pivot/plan";
import { pivotSpecSchema } from "../pivot/spec";
import type { RunContext } from "../query/operands";
import { probeValues } from "../query/parameters";
import type { Plan } from "../query/plan";
import { resolveQuery } from "../query/resolve";
import { type QuerySpec, querySpecSchema } from "../query/spec";
import { planReport } from "../report/plan";
import { reportSpecSchema } from "../report/spec";
import { scheduleSpecSchema } from "../schedule/spec";
import type { Schema } from "../schema/schema";
import type { Today } from "../types/calendar";
import { type Checked, type Problem, type ProblemCode, problem } from "../types/problem";

/** The kinds of saved object that a change of the database, or of another object, can break. */
export const BREAKABLE = ["query", "pivot", "chart", "report", "letter", "dashboard", "schedule", "page"] as const;
export type BreakableKind = (typeof BREAKABLE)[number];

/** Problems that come of something that was there and is not any more; others are of a description that is not finished. */
const BREAKS: ReadonlySet<ProblemCode> = new Set([
  "tableGone",
  "columnGone",
  "linkGone",
  "joinGone",
  "parameterGone",
  "derivedBroken",
  "circle",
  "unknownField",
  "orderGone",
  "queryGone",
  "groupGone",
  "pivotOrderGone",
  "closingGone",
  "insertGone",
  "letterTableGone",
  "subjectGone",
  "tileGone",
]);

type Given = {
  schema: Schema;
  /** The day of the check, for relative dates. */
  today: Today;
  /** A saved object by its id; undefined where it does not exist any more. */
  find: (id: string) => { kind: string; spec: unknown } | undefined;
};

const contextOf = (query: QuerySpec, today: Today): RunContext => ({ today, values: probeValues(query.parameters), person: "", probing: true });
const problemsOf = (checked: Checked<unknown>): Problem[] => (checked.ok ? [] : checked.problems);

/**
 * What a change broke in a saved object: columns, links, tables or other objects that it uses and that do not exist any more.
 * @param kind of the object
 * @param spec its description as it is stored
 * @returns the problems, none where it works, where it cannot be read at all, or where its query is broken (which is said of the query)
 */
export function brokenParts(kind: BreakableKind, spec: unknown, given: Given): Problem[] {
  return CHECKS[kind](spec, given).filter((p) => BREAKS.has(p.code));
}

type Check = (spec: unknown, given: Given) => Problem[];

/** The query of an object with its plan; null where it is broken itself. */
function queryOf(id: string, { schema, today, find }: Given): { query: QuerySpec; plan: Plan } | Problem | null {
  const found = find(id);
  if (found?.kind !== "query") return problem("queryGone", ["query"]);
  const query = querySpecSchema.safeParse(found.spec);
  if (!query.success) return null;
  const plan = resolveQuery(query.data, schema, contextOf(query.data, today));
  return plan.ok ? { query: query.data, plan: plan.value } : null;
}

/** A query kept inside an object, with its plan; what is wrong with it is wrong with the object. */
function ownQuery(query: QuerySpec, { schema, today }: Given): { query: QuerySpec; plan: Plan } | Problem | null {
  const plan = resolveQuery(query, schema, contextOf(query, today));
  return plan.ok ? { query, plan: plan.value } : (plan.problems[0] ?? null);
}

/** A check of what is made from a query: that it exists, then what the object makes of it. */
function overQuery<S extends { query: string; own?: QuerySpec | undefined }>(
  shape: { safeParse: (spec: unknown) => { success: true; data: S } | { success: false } },
  check: (spec: S, made: { query: QuerySpec; plan: Plan }, given: Given) => Problem[],
): Check {
  return (spec, given) => {
    const parsed = shape.safeParse(spec);
    if (!parsed.success) return [];
    const made = parsed.data.own ? ownQuery(parsed.data.own, given) : queryOf(parsed.data.query, given);
    if (made === null) return [];
    return "code" in made ? [made] : check(parsed.data, made, given);
  };
}

const CHECKS: Record<BreakableKind, Check> = {
  query: (spec, { schema, today }) => {
    const query = querySpecSchema.safeParse(spec);
    return query.success ? problemsOf(resolveQuery(query.data, schema, contextOf(query.data, today))) : [];
  },
  pivot: overQuery(pivotSpecSchema, (spec, { query, plan }, { today }) => problemsOf(planPivot(spec, plan, contextOf(query, today)))),
  chart: overQuery(chartSpecSchema, (spec, { query, plan }, { today }) => problemsOf(planChart(spec, plan, contextOf(query, today)))),
  letter: overQuery(letterSpecSchema, (spec, { query }, { schema, today }) => problemsOf(planLetter(spec, query, schema, contextOf(query, today)))),
  report: overQuery(reportSpecSchema, (spec, { query }, { schema, today, find }) => [
    ...problemsOf(planReport(spec, query, schema, contextOf(query, today))),
    ...(spec.inserts ?? []).flatMap((c, i) => (find(c.of) ? [] : [problem("insertGone", ["inserts", i], { kind: c.kind })])),
    ...(spec.closing ?? []).flatMap((c, i) => (find(c.id) ? [] : [problem("closingGone", ["closing", i], { kind: c.kind })])),
  ]),
  dashboard: (spec, { find }) => {
    const dashboard = dashboardSpecSchema.safeParse(spec);
    if (!dashboard.success) return [];
    return plainTiles(dashboard.data).flatMap((tile) => {
      const source = sourceOfTile(tile);
      return source === null || source === "" || find(source) ? [] : [problem("tileGone", ["tiles", tile.id], { kind: sourceKind(tile.kind) })];
    });
  },
  schedule: (spec, { find }) => {
    const schedule = scheduleSpecSchema.safeParse(spec);
    if (!schedule.success || find(schedule.data.subject.id)) return [];
    return [problem("subjectGone", ["subject"], { kind: schedule.data.subject.kind })];
  },
  page: (spec, { find }) => {
    const page = pageSpecSchema.safeParse(spec);
    if (!page.success) return [];
    const { subject } = page.data;
    return find(subject.kind === "search" ? subject.query : subject.id) ? [] : [problem("queryGone", ["subject"])];
  },
};

/** What a tile of a kind shows: figures and tables are of queries. */
const sourceKind = (kind: string): string => (kind === "chart" || kind === "pivot" ? kind : "query");
