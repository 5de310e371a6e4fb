import { comparisonsIn, conditionOperands } from "./conditions";
import { isLinked } from "./joinWays";
import type { QuerySpec } from "./spec";

/** How many pairs are shown beside comparisons. */
export const SAMPLE_PAIRS = 3;

/**
 * A query of the first rows that a join's comparisons put together, by the fields they compare, so that a person sees which way round they
 * are; null for a join along a link, and while nothing is compared.
 */
export function samplePairs(spec: QuerySpec, id: string): QuerySpec | null {
  const at = spec.joins.findIndex((j) => j.id === id);
  const join = spec.joins[at];
  if (!join || isLinked(join)) return null;
  const fields = comparisonsIn(join.on).flatMap(conditionOperands);
  const different = fields.filter((f, i) => fields.findIndex((g) => JSON.stringify(g) === JSON.stringify(f)) === i);
  if (different.length === 0) return null;
  return {
    version: spec.version,
    source: spec.source,
    ...(spec.stack ? { stack: spec.stack } : {}),
    joins: [...spec.joins.slice(0, at), { ...join, way: "only" }],
    conditions: [],
    grouped: false,
    columns: different.map((value, i) => ({ id: `pair${i}`, value })),
    order: [],
    limit: SAMPLE_PAIRS,
    parameters: spec.parameters,
  };
}
