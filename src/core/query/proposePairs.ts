import { nameLikeness } from "../schema/likeness";
import { type Column, findTable, type Schema, type Table } from "../schema/schema";
import type { Today } from "../types/calendar";
import { isComparable } from "../types/valueType";
import { queryTableName } from "./choices";
import { tableOf as tableOfJoin } from "./edit";
import { emptyQuery } from "./empty";
import { isLinked } from "./joinWays";
import { sameName } from "./operands";
import { tableOf } from "./queryTables";
import type { QueryColumn, QuerySpec } from "./spec";

/*
 * Which columns of two tables are likely compared: first by their names, then by what the data says of each pair.
 */

/** Columns of two tables to be compared as the same. */
export type Pair = { near: string; far: string };

const alike = (a: Column, b: Column) => isComparable(a.type, b.type);

/**
 * The columns of two tables that are likely compared, told by their names: a column named by the other's key and table
 * ("shipper id" and the id of shippers), else those of one name that are keys or end like one (common practice).
 * @returns pairs that must all be the same; none where nothing suggests itself
 */
export function proposePairs(near: Table, far: Table): Pair[] {
  const byKey = (of: Table, to: Table) =>
    to.key.length === 1
      ? of.columns.filter((c) => {
          const key = to.columns.find((k) => k.name === to.key[0]);
          return key && alike(c, key) && sameName(c.name, `${to.name}_${key.name}`);
        })
      : [];
  const [toFar] = byKey(near, far);
  if (toFar) return [{ near: toFar.name, far: far.key[0] ?? "" }];
  const [toNear] = byKey(far, near);
  if (toNear) return [{ near: near.key[0] ?? "", far: toNear.name }];
  const shared = near.columns.flatMap((c) => far.columns.filter((f) => alike(c, f) && sameName(c.label, f.label)).map((f) => ({ near: c.name, far: f.name })));
  const naming = shared.filter((p) => /(id|no|number|code|key)$/i.test(p.near) && !near.key.includes(p.near));
  return naming.slice(0, 1);
}

/** How many pairs are put to the data. */
const MOST_CANDIDATES = 24;

/** The words of a column's name that tell something of it. */
const wordsOf = ({ label }: Column): string[] =>
  label
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter((word) => word.length > 2 && word !== "name");

/** Pairs of columns worth putting to the data, those whose names speak for them first: keys, columns of one name or word, and any that a key or a text could be found in. */
export function pairCandidates(near: Table, far: Table): Pair[] {
  const likeness = (a: Column, b: Column): number => {
    const named = Math.max(nameLikeness(a.name, far.name, b.name), nameLikeness(b.name, near.name, a.name), sameName(a.label, b.label) ? 0.6 : 0);
    if (named > 0) return named;
    const words = wordsOf(b);
    if (wordsOf(a).some((word) => words.includes(word))) return 0.3;
    const keyed = far.key.includes(b.name) || near.key.includes(a.name);
    return a.type.kind !== b.type.kind ? 0 : keyed ? 0.1 : a.type.kind === "text" ? 0.05 : 0;
  };
  return near.columns
    .flatMap((a) => far.columns.filter((b) => alike(a, b)).map((b) => ({ near: a.name, far: b.name, likeness: likeness(a, b) })))
    .filter((p) => p.likeness > 0)
    .sort((a, b) => b.likeness - a.likeness)
    .slice(0, MOST_CANDIDATES)
    .map((p) => ({ near: p.near, far: p.far }));
}

/** Of a join by comparisons, the two tables; null for any other, and where one is gone. */
export function tablesOfJoin(spec: QuerySpec, schema: Schema, id: string): { near: Table; far: Table } | null {
  const join = spec.joins.find((j) => j.id === id);
  if (!join || isLinked(join)) return null;
  const [near, far] = [findTable(schema, tableOfJoin(spec, schema, join.from) ?? ""), findTable(schema, join.table)];
  return near && far ? { near, far } : null;
}

/**
 * A query of one row that says what comparing a pair of columns comes to: how many pairs of rows are alike, how many
 * rows of the near table find one of how many there are, and how many of the far table. Each value is counted once on either side, so that nothing
 * is paired to be counted.
 * @returns the query, and the schema in which the counted sides are tables
 */
export function pairCounts(
  { near, far }: { near: string; far: string },
  { near: a, far: b }: Pair,
  schema: Schema,
  today: Today,
): { spec: QuerySpec; schema: Schema } {
  const value: QueryColumn = { id: "k", value: { kind: "field", join: "", column: "" }, label: "k" };
  const counted = (table: string, column: string): QuerySpec => ({
    ...emptyQuery(table),
    grouped: true,
    columns: [
      { ...value, value: { kind: "field", join: "", column } },
      { id: "n", value: null, figure: "count", label: "n" },
    ],
  });
  const sides = [
    tableOf({ id: "near side", name: "near side", spec: counted(near, a) }, schema, today),
    tableOf({ id: "far side", name: "far side", spec: counted(far, b) }, schema, today),
  ];
  const field = (column: string, join = "") => ({ kind: "field" as const, join, column });
  const total = (id: string, n: string, other?: string): QueryColumn => ({
    id,
    value: field("n", n),
    figure: "total",
    everyRow: true,
    ...(other === undefined ? {} : { where: [{ id: `with ${id}`, left: field("k", other), operator: "notEmpty" as const, values: [] }] }),
  });
  const spec: QuerySpec = {
    ...emptyQuery(queryTableName("near side")),
    grouped: true,
    joins: [
      { id: "f", from: "", table: queryTableName("far side"), way: "both", on: [{ id: "o", left: field("k", "f"), operator: "is", values: [field("k")] }] },
    ],
    columns: [
      { id: "pairs", value: { kind: "formula", text: 'n * "far side".n' }, figure: "total", everyRow: true },
      total("found", "", "f"),
      total("rows", ""),
      total("far found", "f", ""),
      total("far rows", "f"),
    ],
  };
  return { spec, schema: { ...schema, queries: [...(schema.queries ?? []), ...sides] } };
}
