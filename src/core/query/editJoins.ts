import type { Schema, Step } from "../schema/schema";
import type { JoinWay } from "./choices";
import { comparisonsIn, conditionOperands } from "./conditions";
import { firstComparison, freshId, removeJoin } from "./edit";
import { brings, isLinked } from "./joinWays";
import type { Condition, ConditionTree, Join, QuerySpec } from "./spec";

/* Changes to how tables are joined, each a function from one description to the next. */

/**
 * Another way for a table to be joined. Where it no longer brings columns, those that are shown of it go, and what is
 * asked of it alone becomes part of the match; where it brings them again, that becomes a condition of its own, but for
 * comparisons, which are the match of a table that no link leads to.
 */
export function setWay(spec: QuerySpec, id: string, way: JoinWay): QuerySpec {
  const join = spec.joins.find((j) => j.id === id);
  if (!join) return spec;
  const withJoin = (next: QuerySpec, changed: Join): QuerySpec => ({ ...next, joins: next.joins.map((j) => (j.id === id ? changed : j)) });
  if (brings(way) && isLinked(join) && !brings(join.way)) {
    const { where = [], ...bare } = join;
    return { ...withJoin(spec, { ...bare, way }), conditions: [...spec.conditions, ...where] };
  }
  if (brings(way) || !brings(join.way)) return withJoin(spec, { ...join, way });
  const own = (c: ConditionTree) =>
    comparisonsIn([c])
      .flatMap(conditionOperands)
      .every((o) => o.kind === "field" && o.join === id);
  const asked = spec.conditions.filter(own);
  // Its columns, and tables joined from it, go as they would with it.
  const without = removeJoin({ ...spec, conditions: spec.conditions.filter((c) => !own(c)) }, id);
  const at = spec.joins.slice(0, spec.joins.indexOf(join)).filter((j) => without.joins.some((kept) => kept.id === j.id)).length;
  const changed: Join = isLinked(join) ? { ...join, way, ...(asked.length > 0 ? { where: asked } : {}) } : { ...join, way, on: [...join.on, ...asked] };
  return { ...without, joins: [...without.joins.slice(0, at), changed, ...without.joins.slice(at)] };
}

/** A table that rows must have rows of, or none of: it brings no columns. */
export const addHaving = (spec: QuerySpec, from: string, { link, toward }: Step, way: "has" | "hasNone"): QuerySpec => ({
  ...spec,
  joins: [...spec.joins, { id: freshId(spec, "j"), from, link, toward, way }],
});

/** One more thing that rows of a table must meet to be a match. */
export function addMatchCondition(spec: QuerySpec, schema: Schema, id: string, column: string): QuerySpec {
  const condition = firstComparison(spec, schema, { kind: "field", join: id, column });
  const add = (j: Join): Join => (isLinked(j) ? { ...j, where: [...(j.where ?? []), condition] } : { ...j, on: [...j.on, condition] });
  return { ...spec, joins: spec.joins.map((j) => (j.id === id ? add(j) : j)) };
}

/** A table or saved query joined by comparisons: by those proposed, which may be none yet. */
export function joinTable(spec: QuerySpec, from: string, table: string, pairs: { near: string; far: string }[], way: JoinWay = "keep"): QuerySpec {
  const id = freshId(spec, "j");
  const on = pairs.map(
    ({ near, far }, i): Condition => ({
      id: `${id}w${i + 1}`,
      left: { kind: "field", join: id, column: far },
      operator: "is",
      values: [{ kind: "field", join: from, column: near }],
    }),
  );
  return { ...spec, joins: [...spec.joins, { id, from, table, on, way }] };
}

/** One more comparison of a table joined by them: a column of its own is the same as one of the table it is joined to. */
export function addPair(spec: QuerySpec, id: string, { near, far }: { near: string; far: string }): QuerySpec {
  const join = spec.joins.find((j) => j.id === id);
  if (!join || isLinked(join)) return spec;
  const same: Condition = {
    id: freshId(spec, "w"),
    left: { kind: "field", join: id, column: far },
    operator: "is",
    values: [{ kind: "field", join: join.from, column: near }],
  };
  return { ...spec, joins: spec.joins.map((j) => (j === join ? { ...join, on: [...join.on, same] } : j)) };
}
