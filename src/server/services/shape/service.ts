import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import { findTable, mayReshape, type Table } from "@/core/schema/schema";
import { parseCreateTable } from "@/core/shape/createTable";
import { planShape } from "@/core/shape/plan";
import { shapeBrief } from "@/core/shape/shapeBrief";
import { namesOf, schemaWithout, shapedSchema } from "@/core/shape/shapedSchema";
import type { ShapePlan } from "@/core/shape/shapePlan";
import type { ShapeSpec } from "@/core/shape/spec";
import type { ShapeSurvey } from "@/core/shape/survey";
import { ProblemError } from "@/core/types/problem";
import { dateOrderOf } from "@/core/types/typed";
import { Refusal } from "@/server/common/refusal";
import type { Entry } from "@/server/jobs/posting/journal";
import type { ShapeNow } from "@/server/jobs/shape/run";
import { planOf as planOfQuery } from "@/server/services/queries/service";
import type { Workspace } from "@/server/services/workspace/workspace";
import { carryNames, holdTypes, sayOfColumns } from "./names";
import { type ShapeUses, usesBroken } from "./uses";

type Caller = { client: string; signal?: AbortSignal | undefined };

/** Every row may be looked at, or written anew. */
const TIME_LIMIT_MS = 1_800_000;

/** What the database itself says of a table. @param table null for one that is to be made */
export const shapeNowOf = (ws: Workspace, table: string | null, caller: Caller): Promise<ShapeNow> =>
  ws.engine.run<"shapeNow">({ kind: "shapeNow", database: ws.database, table }, caller);

/** A table to be changed: by those alone whom no rule on rows binds, who see every row of it. @throws Refusal */
async function tableOf(ws: Workspace, name: string): Promise<Table> {
  ws.needUnbound();
  const table = findTable(await ws.schema(), name);
  if (!table || !mayReshape(table)) throw new Refusal(404, `The table “${name}” does not exist any more.`);
  return table;
}

/** @throws ProblemError, Refusal */
async function planOf(ws: Workspace, spec: ShapeSpec, caller: Caller): Promise<ShapePlan> {
  ws.needUnbound();
  const table = spec.table === null ? null : await tableOf(ws, spec.table);
  const { sql, taken } = await shapeNowOf(ws, spec.table, caller);
  const parsed = sql === null ? null : parseCreateTable(sql);
  const made = planShape(spec, {
    now: table && parsed ? { table, sql: parsed } : null,
    tables: (await ws.schema()).tables,
    taken,
    order: dateOrderOf(ws.locale.locale),
    today: ws.today,
  });
  if (!made.ok) throw new ProblemError(made.problems);
  return made.value;
}

export type ShapePreview = { survey: ShapeSurvey; uses: ShapeUses };

/** What a change of a table would come to: of its rows, and of all that uses it. */
export async function surveyOf(ws: Workspace, spec: ShapeSpec, caller: Caller): Promise<ShapePreview> {
  const plan = await planOf(ws, spec, caller);
  const survey = await ws.engine.run<"shapeSurvey">({ kind: "shapeSurvey", database: ws.database, plan }, { ...caller, timeLimitMs: TIME_LIMIT_MS });
  ws.surveys.keep(plan, survey);
  const uses = plan.table === null ? { named: [], hidden: 0, carried: 0 } : await usesBroken(ws, (read) => shapedSchema(read, plan), namesOf(plan));
  return { survey, uses };
}

/** Changes a table, or makes one. @throws JobFailure "changedSince" where it would come to something else by now */
export async function shapeOf(ws: Workspace, spec: ShapeSpec, digest: string, caller: Caller): Promise<Entry> {
  const plan = await planOf(ws, spec, caller);
  const table = spec.table === null ? null : await tableOf(ws, spec.table);
  const before = await ws.schema();
  const brief = shapeBrief(spec, plan, table);
  const entry = {
    at: ws.now().toISOString(),
    by: ws.person,
    kind: plan.table === null ? ("table" as const) : ("shape" as const),
    name: plan.table === null ? `${plan.name}: created` : `${table?.label ?? plan.name}: columns changed`,
    brief,
    table: plan.name,
  };
  const job = { kind: "shape" as const, database: ws.database, plan, digest, entry, seen: ws.surveys.stateOf(plan, digest) };
  const done = await ws.engine.run<"shape">(job, { ...caller, timeLimitMs: TIME_LIMIT_MS });
  ws.recordDone(plan.table === null ? "created the table" : "changed the table", plan.name);
  if (plan.table !== null) carryNames(ws, namesOf(plan), before);
  sayOfColumns(ws, plan.name, plan.said);
  for (const make of plan.makes) {
    ws.recordDone(make.kind === "table" ? "created the table" : "added rows to", make.kind === "table" ? make.name : make.table.label);
    if (make.kind === "table")
      await holdTypes(
        ws,
        make.name,
        make.columns.map((c) => [c.name, c.from.type]),
      );
  }
  await holdTypes(
    ws,
    plan.name,
    plan.columns.flatMap(({ value, column }) => (value.kind === "same" ? [] : [[column.name, column.type]])),
  );
  return done;
}

/** Makes a table of the rows of a query, as they are now. @param from what the query is called */
export async function tableOfQuery(
  ws: Workspace,
  query: { spec: QuerySpec; values: ParameterValues },
  name: string,
  from: string,
  caller: Caller,
): Promise<Entry> {
  ws.needUnbound();
  const plan = await planOfQuery(ws, query.spec, query.values);
  const entry = {
    at: ws.now().toISOString(),
    by: ws.person,
    kind: "table" as const,
    name: `${name}: created`,
    brief: `Create the table ${name} from the rows of ${from}.`,
    table: name,
  };
  const job = { kind: "tableFromQuery" as const, database: ws.database, plan, name, entry };
  const done = await ws.engine.run<"tableFromQuery">(job, { ...caller, timeLimitMs: TIME_LIMIT_MS });
  ws.recordDone("created the table", name);
  return done;
}

/** What stops working when a table is dropped. */
export async function dropUsesOf(ws: Workspace, name: string): Promise<ShapeUses> {
  await tableOf(ws, name);
  return usesBroken(ws, (read) => schemaWithout(read, name), null);
}

/** What uses a derived field: what would stop working without it. */
export async function derivedUsesOf(ws: Workspace, id: string): Promise<ShapeUses> {
  const field = (await ws.schema()).tables.flatMap((t) => t.columns.flatMap((c) => (c.name === id && c.derived ? [t.name] : [])));
  await ws.needWhole(field);
  return usesBroken(ws, (read) => read, null, id);
}

/** Drops a table; the journal keeps its rows. */
export async function dropOf(ws: Workspace, name: string, caller: Caller): Promise<Entry> {
  const table = await tableOf(ws, name);
  const entry = {
    at: ws.now().toISOString(),
    by: ws.person,
    kind: "shape" as const,
    name: `${table.label}: deleted`,
    brief: `Delete the table ${table.label}.`,
    table: name,
  };
  const job = { kind: "dropTable" as const, database: ws.database, table: { ...table, columns: table.columns.filter((c) => !c.derived) }, entry };
  const done = await ws.engine.run<"dropTable">(job, { ...caller, timeLimitMs: TIME_LIMIT_MS });
  ws.recordDone("deleted the table", table.label);
  return done;
}
