import { rowNameColumn, stepLedTo } from "../schema/rowNames";
import type { Schema, Step } from "../schema/schema";
import { freshId } from "./edit";
import { isLinked } from "./joinWays";
import { everyOf, type Plan } from "./plan";
import { scopeOf } from "./reach";
import type { Join, QuerySpec } from "./spec";
import { levelsOf } from "./subtotals";

/** The join along a step that holds the row of each key: one there is, or a new one that keeps rows without a match. */
function joinAlong(spec: QuerySpec, from: string, step: Step): { spec: QuerySpec; join: string } {
  const holds = (j: Join) => isLinked(j) && j.from === from && j.link === step.link && j.toward === step.toward && !j.where?.length;
  const known = spec.joins.find((j) => holds(j) && (j.way === "keep" || j.way === "only"));
  if (known) return { spec, join: known.id };
  const join: Join = { id: freshId(spec, "j"), from, ...step, way: "keep" };
  return { spec: { ...spec, joins: [...spec.joins, join] }, join: join.id };
}

/**
 * A query with the names of rows as columns of their own, each beside the key that leads to it. Which rows or groups
 * there are stays the same: each name is of the one row of its key. Subtotals and groups without rows hang on which
 * columns are keys, so a query with such is left as it is.
 * @param plan of the query, which tells the headings
 */
export function withNameColumns(spec: QuerySpec, schema: Schema, plan: Plan): QuerySpec {
  if (levelsOf(plan).length > 0 || everyOf(plan).length > 0) return spec;
  const scope = scopeOf(spec, schema);
  return spec.columns.reduce((next, { id, value }) => {
    const planned = plan.columns.find((c) => c.id === id);
    const near = value?.kind === "field" ? scope.find((s) => s.id === value.join)?.table.name : undefined;
    if (!planned?.rowOf || planned.hidden || value?.kind !== "field" || near === undefined) return next;
    const led = stepLedTo(schema, near, value.column);
    const named = led && rowNameColumn(led.table);
    if (!led || !named) return next;
    const { spec: joined, join } = joinAlong(next, value.join, led.step);
    const name = { id: freshId(joined, "n"), value: { kind: "field" as const, join, column: named.name }, label: `${planned.heading}, name` };
    const at = joined.columns.findIndex((c) => c.id === id);
    return { ...joined, columns: joined.columns.toSpliced(at + 1, 0, name) };
  }, spec);
}
