import { comparisons, findTable, goneLinkWords, type Schema, type Table } from "../schema/schema";
import { type Problem, problem } from "../types/problem";
import { brings, isLinked } from "./joinWays";
import type { ScopeTable } from "./operands";
import type { PlanJoin } from "./plan";
import type { ComparedJoin, QuerySpec } from "./spec";

/**
 * The tables a description reaches, with the names a person knows them by: what its fields can be of. A table that rows
 * only have to have rows of is none of them. Problems go to the list given.
 */
export function resolveTables(spec: Pick<QuerySpec, "joins">, schema: Schema, source: Table, problems: Problem[], alias = source.name): ScopeTable[] {
  const scope: ScopeTable[] = [{ id: "", alias, table: source, path: [], join: null }];
  spec.joins.forEach((join, i) => {
    if (!brings(join.way)) return;
    const from = scope.find((s) => s.id === join.from);
    if (!isLinked(join)) {
      const compared = findTable(schema, join.table);
      if (!from) return problems.push(problem("joinGone", ["joins", i], { join: join.from }));
      if (!compared) return problems.push(problem("tableGone", ["joins", i], { table: join.table }));
      return scope.push(comparedTable(join, compared, from, scope));
    }
    const link = schema.links.find((l) => l.id === join.link);
    const far = link?.[join.toward];
    const near = link?.[join.toward === "a" ? "b" : "a"];
    const table = far && findTable(schema, far.table);
    if (!from) return problems.push(problem("joinGone", ["joins", i], { join: join.from }));
    if (!link || !far || !near || !table || near.table !== from.table.name)
      return problems.push(problem("linkGone", ["joins", i], { link: goneLinkWords(schema, join.link) }));
    const path = [...from.path, far.name];
    const own = freeAlias(
      scope.map((s) => s.alias),
      path.join("_"),
    );
    const on = comparisons(link, join.toward);
    const planned: PlanJoin = { id: join.id, alias: own, from: from.alias, table, path, leadsTo: far.leadsTo, back: near.leadsTo, way: join.way, on };
    scope.push({ id: join.id, alias: own, table, path, join: planned });
  });
  return scope;
}

/** A table joined by comparisons; what they are is resolved when all tables in reach are known. */
export function comparedTable(join: ComparedJoin, table: Table, from: ScopeTable, scope: ScopeTable[]): ScopeTable {
  const times = scope.filter((s) => s.path.at(-1)?.replace(/ \d+$/, "") === table.label || (s.path.length === 0 && s.table.label === table.label)).length;
  const path = [times > 0 ? `${table.label} ${times + 1}` : table.label];
  const alias = freeAlias(
    scope.map((s) => s.alias),
    path.join("_"),
  );
  // By which rows it is found, so whether it is one at most, is not known of comparisons.
  const planned: PlanJoin = { id: join.id, alias, from: from.alias, table, path, leadsTo: "many", back: "many", way: join.way, on: [], when: [] };
  return { id: join.id, alias, table, path, join: planned };
}

/** A name in SQL that is not yet taken. */
export function freeAlias(taken: string[], wanted: string): string {
  const name = wanted.replaceAll(" ", "_");
  // To SQLite, letter case does not tell names apart, quoted or not.
  const known = new Set(taken.map((t) => t.toLowerCase()));
  if (!known.has(name.toLowerCase())) return name;
  for (let n = 2; ; n++) if (!known.has(`${name}_${n}`.toLowerCase())) return `${name}_${n}`;
}
