import { PARENT } from "../derive/parent";
import { panelQuery, type RowCells } from "../folio/panel";
import type { Panel } from "../folio/spec";
import { comparisonsIn } from "../query/conditions";
import { tableOf } from "../query/edit";
import type { RunContext } from "../query/operands";
import type { Plan } from "../query/plan";
import { resolveQuery } from "../query/resolve";
import type { Condition, ConditionTree, QueryColumn, QuerySpec } from "../query/spec";
import { comparisons, findTable, type Schema, type Table } from "../schema/schema";
import { type Checked, type Problem, problem } from "../types/problem";
import { GRAND } from "./choices";
import { neededId } from "./rowsPlan";
import type { RelatedTable, ReportSpec } from "./spec";

/*
 * Tables of rows that belong to a report's rows or groups. A group may hold several rows of the table they belong to:
 * then those of all of them are one table.
 */

export type RelatedPlan = {
  spec: RelatedTable;
  /** The table whose rows they belong to, and the columns of it that are compared, by name. */
  table: Table;
  needed: string[];
  /** All rows there are, whatever they belong to. */
  all: Plan;
  related: RelatedPlan[];
};

/** A related table as a panel of a folio, with the report's parameters to be had in it. */
function asPanel(related: RelatedTable, query: QuerySpec): Panel {
  const own = new Set(related.query.parameters.map((p) => p.name));
  return { ...related, query: { ...related.query, parameters: [...related.query.parameters, ...query.parameters.filter((p) => !own.has(p.name))] }, first: 1 };
}

/** The columns of a table's row that a related table compares with, its key among them. */
export function columnsNeeded({ match, query }: Pick<RelatedTable, "match" | "query">, table: Table, schema: Schema): string[] {
  const ofMatch = () => {
    if (match.kind === "same") return [match.column];
    const link = match.kind === "link" ? schema.links.find((l) => l.id === match.step.link) : undefined;
    return link && match.kind === "link" ? comparisons(link, match.step.toward).map((c) => c.near) : [];
  };
  const named = comparisonsIn(query.conditions).flatMap((c) => c.values.flatMap((v) => (v.kind === "field" && v.join === PARENT ? [v.column] : [])));
  return [...new Set([...table.key, ...ofMatch(), ...named])];
}

/** The query of a related table, with what tables within it compare of its rows. */
function withNested({ query, related = [] }: RelatedTable, table: Table | undefined, schema: Schema): QuerySpec {
  const needed = table ? [...new Set([...table.key, ...related.flatMap((r) => columnsNeeded(r, table, schema))])] : [];
  const columns = needed.map((column): QueryColumn => ({ id: neededId("", column), value: { kind: "field", join: "", column }, hidden: true }));
  return { ...query, columns: [...query.columns, ...columns] };
}

/** The links a link's comparison leaves to one column, where it is one that is the same. */
const onlyColumn = ({ match }: RelatedTable, schema: Schema): { near: string; far: string } | null => {
  const link = match.kind === "link" ? schema.links.find((l) => l.id === match.step.link) : undefined;
  const [one, ...more] = link && match.kind === "link" ? comparisons(link, match.step.toward) : [];
  return one && more.length === 0 && one.operator === "is" ? one : null;
};

/**
 * The query of a related table for a row, or for several of a group.
 * @param rows the rows it belongs to, by the columns of `table`
 */
export function relatedQuery(plan: RelatedPlan, query: QuerySpec, rows: RowCells[], schema: Schema): Checked<QuerySpec> {
  const { spec, table } = plan;
  const own = withNested(spec, findTable(schema, spec.query.source), schema);
  const panel = asPanel({ ...spec, query: own }, query);
  const [first = {}, ...more] = rows;
  if (more.length === 0 || spec.match.kind === "all") return panelQuery(panel, table, first, schema);
  const made = rows.map((row) => panelQuery(panel, table, row, schema));
  const failed = made.find((m) => !m.ok);
  if (failed) return failed;
  const queries = made.flatMap((m) => (m.ok ? [m.value] : []));
  const only = onlyColumn(spec, schema);
  const parted = comparisonsIn(spec.query.conditions).some((c) => c.values.some((v) => v.kind === "field" && v.join === PARENT));
  if (only && !parted) {
    const values = queries.flatMap((q) => q.conditions.flatMap((c) => ("left" in c && c.id === "match 0" ? c.values : [])));
    const condition: Condition = { id: "match", left: { kind: "field", join: "", column: only.far }, operator: "oneOf", values };
    return { ok: true, value: { ...panel.query, conditions: [condition, ...panel.query.conditions] } };
  }
  const any: ConditionTree = { id: "match", holds: "any", of: queries.map((q, i) => ({ id: `of ${i}`, holds: "all", of: q.conditions })) };
  return { ok: true, value: { ...panel.query, conditions: [any] } };
}

/** What tells the rows of a table apart that related rows belong to. */
export const rowKey = ({ table }: Pick<RelatedPlan, "table">, row: RowCells): string => JSON.stringify(table.key.map((name) => row[name] ?? null));

function planOne(spec: RelatedTable, table: Table, query: QuerySpec, schema: Schema, context: RunContext, path: (string | number)[]): Checked<RelatedPlan> {
  const far = findTable(schema, spec.query.source);
  const panel = asPanel({ ...spec, query: withNested(spec, far, schema) }, query);
  // A link that is gone is told of a row with nothing in it, too; all rows are those without the match.
  const one = panelQuery(panel, table, {}, schema);
  const at = (problems: Problem[]) => ({ ok: false as const, problems: problems.map((p) => ({ ...p, path: [...path, ...p.path] })) });
  if (!one.ok) return at(one.problems);
  const bare = panelQuery({ ...panel, match: { kind: "all" } }, table, {}, schema);
  const all = bare.ok ? resolveQuery(bare.value, schema, context) : bare;
  if (!all.ok) return at(all.problems);
  const nested = (spec.related ?? []).map((r, i) =>
    far ? planOne(r, far, query, schema, context, [...path, "related", i]) : at([problem("tableGone", [], { table: spec.query.source })]),
  );
  const failed = nested.flatMap((n) => (n.ok ? [] : n.problems));
  if (failed.length > 0) return { ok: false, problems: failed };
  const needed = columnsNeeded(spec, table, schema);
  return { ok: true, value: { spec, table, needed, all: all.value, related: nested.flatMap((n) => (n.ok ? [n.value] : [])) } };
}

/** The related tables of a report; or all problems, with paths into it. */
export function planRelated(report: ReportSpec, query: QuerySpec, schema: Schema, context: RunContext): Checked<RelatedPlan[]> {
  const made = (report.related ?? []).map((spec, i): Checked<RelatedPlan> => {
    const path = ["related", i];
    if (query.grouped) return { ok: false, problems: [problem("relatedRow", path, { table: spec.title })] };
    const name = tableOf(query, schema, spec.of);
    const table = name === undefined ? undefined : findTable(schema, name);
    if (!table) return { ok: false, problems: [problem("joinGone", path, { join: spec.of })] };
    if (spec.under !== GRAND && !report.levels.some((l) => l.id === spec.under))
      return { ok: false, problems: [problem("relatedLevelGone", path, { table: spec.title })] };
    return planOne(spec, table, query, schema, context, path);
  });
  const problems = made.flatMap((m) => (m.ok ? [] : m.problems));
  return problems.length > 0 ? { ok: false, problems } : { ok: true, value: made.flatMap((m) => (m.ok ? [m.value] : [])) };
}

/** The columns of a query's tables that its report's related tables compare with. */
export function neededOf(report: ReportSpec, query: QuerySpec, schema: Schema): { join: string; column: string }[] {
  return (report.related ?? []).flatMap((spec) => {
    const table = findTable(schema, tableOf(query, schema, spec.of) ?? "");
    return table && !query.grouped ? columnsNeeded(spec, table, schema).map((column) => ({ join: spec.of, column })) : [];
  });
}
