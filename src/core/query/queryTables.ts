import type { Schema, Table } from "../schema/schema";
import type { Today } from "../types/calendar";
import { problem, sentence } from "../types/problem";
import { queryOfTable, queryTableName } from "./choices";
import { comparisonsIn, conditionLists } from "./conditions";
import { isLinked } from "./joinWays";
import { probeValues } from "./parameters";
import { tableOfPlan } from "./planTable";
import { relatedConditions } from "./related";
import { resolveQuery } from "./resolve";
import type { QuerySpec } from "./spec";

/*
 * Saved queries among the tables, so that a query can start from one, or join one, as from any table. What their
 * parameters are given is known only when they are asked: here they only say which columns there are.
 */

export type NamedQuery = { id: string; name: string; spec: QuerySpec };

/** The saved queries that a description reads, by id: as a source, joined by comparisons, compared with, or chosen from. */
export function queriesRead(spec: QuerySpec): string[] {
  const joined = spec.joins.flatMap((join) => (isLinked(join) ? [] : [join.table]));
  const among = [...conditionLists(spec), ...relatedConditions(spec)]
    .flatMap(comparisonsIn)
    .flatMap((c) => c.values.flatMap((value) => (value.kind === "rows" ? [value.table] : [])));
  const chosen = spec.parameters.flatMap((p) => (p.from ? [p.from.table] : []));
  const compared = spec.compare ? [spec.compare.here, spec.compare.there] : [];
  return [spec.source, ...(spec.stack?.parts ?? []), ...compared, ...joined, ...among, ...chosen].flatMap((name) => queryOfTable(name) ?? []);
}

/** Queries as tables, as they were made last: by what each was made of. */
export type KnownTables = WeakMap<NamedQuery, { schema: Schema; day: string; read: Table[]; table: Table }>;

/**
 * The schema with saved queries as tables. One that cannot be worked out, or that leads back to itself, is a table
 * without columns that says why.
 * @param known where it was done before: a query that is the same, of tables and queries that are, is not made again
 */
export function withQueryTables(schema: Schema, queries: NamedQuery[], today: Today, known: KnownTables = new WeakMap()): Schema {
  const day = JSON.stringify(today);
  const named = new Set(queries.map((q) => q.id));
  const reads = new Map(queries.map((q) => [q.id, [...new Set(queriesRead(q.spec))].filter((id) => named.has(id))]));
  const made = new Map<string, Table>();
  const make = (query: NamedQuery): Table => {
    const read = (reads.get(query.id) ?? []).map((id) => made.get(id) as Table);
    const before = known.get(query);
    if (before?.schema === schema && before.day === day && before.read.length === read.length && before.read.every((t, i) => t === read[i]))
      return before.table;
    const table = tableOf(query, { ...schema, queries: read }, today);
    known.set(query, { schema, day, read, table });
    return table;
  };
  let waiting = queries;
  for (let tried = -1; tried !== waiting.length; ) {
    tried = waiting.length;
    for (const query of waiting) if (reads.get(query.id)?.every((id) => made.has(id))) made.set(query.id, make(query));
    waiting = waiting.filter((q) => !made.has(q.id));
  }
  for (const query of waiting) made.set(query.id, brokenTable(query, sentence(problem("queryCircle", [], { names: circleOf(query, waiting) }))));
  return { ...schema, queries: [...made.values()] };
}

/** A query as a table. */
export function tableOf({ id, name, spec }: NamedQuery, schema: Schema, today: Today): Table {
  const resolved = resolveQuery(spec, schema, { today, values: probeValues(spec.parameters), probing: true });
  const [first] = resolved.ok ? [] : resolved.problems.filter((p) => p.code !== "parameterMissing");
  if (!resolved.ok) return brokenTable({ id, name, spec }, first ? sentence(first) : "");
  return { ...tableOfPlan(resolved.value, queryTableName(id), name), rowsOf: { spec } };
}

const brokenTable = ({ id, name, spec }: NamedQuery, broken: string): Table => ({
  name: queryTableName(id),
  label: name,
  columns: [],
  key: [],
  rows: 0,
  rowsOf: { spec, broken },
});

/** The names of a circle that a query leads into. */
export function circleOf(start: NamedQuery, queries: NamedQuery[]): string {
  const trail = [start];
  for (;;) {
    const last = trail.at(-1) as NamedQuery;
    const next = queriesRead(last.spec)
      .map((id) => queries.find((q) => q.id === id))
      .find((q) => q !== undefined);
    if (!next) return trail.map((q) => q.name).join(" → ");
    const at = trail.indexOf(next);
    if (at >= 0) return [...trail.slice(at), next].map((q) => q.name).join(" → ");
    trail.push(next);
  }
}

/** Whether a query, changed to a description, would read itself; the names of the circle then. */
export function readsItself(query: NamedQuery, all: NamedQuery[]): string | null {
  const queries = [...all.filter((q) => q.id !== query.id), query];
  const reach = new Set<string>();
  const sought = queriesRead(query.spec);
  for (let id = sought.pop(); id !== undefined; id = sought.pop()) {
    if (id === query.id) return circleOf(query, queries);
    if (reach.has(id)) continue;
    reach.add(id);
    const read = queries.find((q) => q.id === id);
    if (read) sought.push(...queriesRead(read.spec));
  }
  return null;
}
