import type { QuerySpec } from "./spec";

/*
 * Changes to what is put together with a description's own rows.
 */

/** The rows of another table or query put together with a query's own; all of them, at first. */
export const addToStack = (spec: QuerySpec, name: string): QuerySpec => ({
  ...spec,
  stack: spec.stack ? { ...spec.stack, parts: [...spec.stack.parts, name] } : { how: "all", parts: [name] },
});

/** One of the sources put together let go. */
export function removeFromStack(spec: QuerySpec, at: number): QuerySpec {
  const { stack, ...rest } = spec;
  const parts = stack?.parts.filter((_, i) => i !== at) ?? [];
  if (!stack || parts.length === 0) return rest;
  return { ...rest, stack: { ...stack, parts, ...(stack.pairs ? { pairs: stack.pairs.filter((_, i) => i !== at) } : {}) } };
}

/** Which column of a source put together stands for one of the first's; null leaves it empty. */
export function pairInStack(spec: QuerySpec, at: number, column: string, paired: string | null): QuerySpec {
  const { stack } = spec;
  if (!stack) return spec;
  const pairs = stack.parts.map((_, i) => ({ ...stack.pairs?.[i], ...(i === at ? { [column]: paired } : {}) }));
  return { ...spec, stack: { ...stack, pairs } };
}
