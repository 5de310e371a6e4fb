import { resolveQuery } from "@/core/query/resolve";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";

type Resolved = ReturnType<typeof resolveQuery>;
type Context = Parameters<typeof resolveQuery>[2];

/** Resolved descriptions that are kept of one schema. */
const MOST_KEPT = 40;

/** By the very schema: another one, as after a change or for a person with rules of their own, knows nothing of them. */
const kept = new WeakMap<Schema, Map<string, Resolved>>();

/**
 * The same as resolveQuery, which one change of a description asks for several times: for its rows, its totals, its proof. What it
 * comes to is kept with the schema it was resolved on.
 */
export function resolveOnce(spec: QuerySpec, schema: Schema, context: Context): Resolved {
  const of = kept.get(schema) ?? new Map<string, Resolved>();
  kept.set(schema, of);
  const asked = JSON.stringify([spec, context]);
  const known = of.get(asked);
  if (known) return known;
  const resolved = resolveQuery(spec, schema, context);
  if (of.size >= MOST_KEPT) of.clear();
  of.set(asked, resolved);
  return resolved;
}
