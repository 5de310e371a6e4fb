import { type Expr, literal } from "../expression/expr";
import { align } from "../expression/functions";
import { type Column, findTable, type Schema, type Table } from "../schema/schema";
import { type Problem, problem } from "../types/problem";
import { ownStorage } from "../types/storage";
import { TYPE_WORDS } from "../types/valueType";
import { emptyQuery } from "./empty";
import { withKeys } from "./home";
import { type RunContext, report, sameName } from "./operands";
import type { Plan, PlanParameter, PlanSource } from "./plan";
import type { QuerySpec } from "./spec";

/*
 * What a query starts from: the rows of a table, of a saved query, or of several of them put together.
 */

export type Source = PlanSource & { parameters: PlanParameter[] };
/** How a query is resolved. */
export type Resolve = (spec: QuerySpec, schema: Schema, context: RunContext) => { ok: true; value: Plan } | { ok: false; problems: Problem[] };

/**
 * The source of a description.
 * @param resolve how a query is resolved: a source may be one itself
 * @returns null where it cannot be read; the reasons are in `problems`
 */
export function resolveSource(spec: QuerySpec, schema: Schema, context: RunContext, problems: Problem[], resolve: Resolve): Source | null {
  const table = findTable(schema, spec.source);
  if (!table) return report(problems, problem("tableGone", ["source"], { table: spec.source }));
  if (spec.stack) return stacked(spec.stack, table, schema, context, problems, resolve);
  const alias = table.rowsOf ? table.label : table.name;
  if (!table.rowsOf) return { alias, table, parameters: [] };
  const query = rowsOfQuery(table, schema, context, problems, resolve, ["source"]);
  return query && { alias, table, query: withKeys(query), parameters: query.parameters };
}

/** The plan of a saved query's rows. */
export function rowsOfQuery(table: Table, schema: Schema, context: RunContext, problems: Problem[], resolve: Resolve, path: Problem["path"]): Plan | null {
  const { rowsOf, label } = table;
  if (!rowsOf || rowsOf.broken) return report(problems, problem("queryBroken", path, { name: label, why: rowsOf?.broken ?? "" }));
  const resolved = resolve(rowsOf.spec, schema, context);
  if (resolved.ok) return resolved.value;
  problems.push(...resolved.problems.map((p) => ({ ...p, path })));
  return null;
}

type Stack = NonNullable<QuerySpec["stack"]>;

/** Several sources put together: each is asked for the columns of the first, by their names or as they are paired. */
function stacked(stack: Stack, first: Table, schema: Schema, context: RunContext, problems: Problem[], resolve: Resolve): Source | null {
  const parts = stack.parts.map((name, i) => ({ name, table: findTable(schema, name), path: ["stack", "parts", i] }));
  for (const part of parts) if (!part.table) problems.push(problem("tableGone", part.path, { table: part.name }));
  const asked = [{ table: first, named: first.columns.map((c): string | null => c.name), path: ["source"] as Problem["path"] }].concat(
    parts.flatMap(({ table, path }, i) => (table ? [{ table, named: first.columns.map((c) => pairedWith(stack, i, c, table)), path }] : [])),
  );
  const before = problems.length;
  const plans = asked.flatMap(({ table, named, path }) => {
    if (named.every((column) => column === null)) {
      problems.push(problem("stackNothing", path, { part: table.label, first: first.label }));
      return [];
    }
    const columns = named.flatMap((column, i) =>
      column === null ? [] : [{ id: first.columns[i]?.name ?? "", value: { kind: "field" as const, join: "", column } }],
    );
    const resolved = resolve({ ...emptyQuery(table.name), columns }, schema, context);
    if (!resolved.ok) problems.push(...resolved.problems.map((p) => ({ ...p, path })));
    return resolved.ok ? [{ plan: resolved.value, table, path }] : [];
  });
  if (problems.length > before || plans.length < parts.length + 1) return null;
  const columns = first.columns.map((column) => {
    const found = plans.map(({ plan }) => plan.columns.find((c) => c.id === column.name)?.expr ?? null);
    const known = found.filter((e) => e !== null);
    const alike = align(known);
    if (!alike) {
      const odd = plans.find(({ plan }) => (plan.columns.find((c) => c.id === column.name)?.type.kind ?? column.type.kind) !== column.type.kind);
      problems.push(problem("stackTypes", odd?.path ?? ["stack"], { column: column.label, type: TYPE_WORDS[column.type.kind], part: odd?.table.label ?? "" }));
      return null;
    }
    let next = 0;
    const type = alike[0]?.type ?? column.type;
    return { column, type, exprs: found.map((e): Expr => (e === null ? literal(null, type) : (alike[next++] as Expr))) };
  });
  if (problems.length > before) return null;
  const known = columns.filter((c) => c !== null);
  const table: Table = {
    ...first,
    key: [],
    rows: 0,
    rules: undefined,
    rowsOf: undefined,
    columns: known.map(
      ({ column, type }): Column => ({
        ...column,
        type,
        storage: ownStorage(type),
        misfits: 0,
        derived: undefined,
        home: undefined,
      }),
    ),
  };
  return {
    alias: first.rowsOf ? first.label : first.name,
    table,
    stack: {
      how: stack.how,
      parts: plans.map(({ plan }, part) => ({
        ...plan,
        columns: known.map(({ column, type, exprs }) => ({
          id: column.name,
          expr: exprs[part] ?? null,
          type,
          heading: column.label,
          origin: column.label,
          hidden: false,
          format: {},
          totalled: false,
        })),
      })),
    },
    parameters: plans.flatMap(({ plan }) => plan.parameters),
  };
}

/** The column of a part that stands for one of the first: as it was paired, else the one of its name; null where there is none. */
export function pairedWith({ pairs }: Stack, part: number, column: Column, table: Table): string | null {
  const chosen = pairs?.[part]?.[column.name];
  if (chosen !== undefined) return chosen;
  return table.columns.find((c) => sameName(c.label, column.label) || sameName(c.name, column.name))?.name ?? null;
}
