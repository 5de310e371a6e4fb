import type { QuerySpec } from "../query/spec";
import { querySpecSchema } from "../query/spec";
import { humanise, type Schema } from "../schema/schema";
import type { Locale } from "../types/format";
import { briefParts } from "./briefParts";

/*
 * What changed between two versions of a saved object, in words: of a query, what its sentence says now and did not;
 * of anything else, which parts of its description are others.
 */

type Kept = { name: string; spec: unknown };

/** "Added: status is not void", "Removed: 3 columns …"; none where nothing is different. */
export function changesInWords(kind: string, before: Kept, after: Kept, schema: Schema, locale: Locale): string[] {
  const named = before.name === after.name ? [] : [`Renamed from “${before.name}”`];
  return [...named, ...(kind === "query" ? queryChanges(before.spec, after.spec, schema, locale) : partChanges(before.spec, after.spec))];
}

function queryChanges(before: unknown, after: unknown, schema: Schema, locale: Locale): string[] {
  const [was, is] = [before, after].map((spec) => querySpecSchema.safeParse(spec).data as QuerySpec | undefined);
  if (!was || !is) return partChanges(before, after);
  const [old, now] = [briefParts(was, schema, locale), briefParts(is, schema, locale)];
  const removed = old.filter((part) => !now.includes(part)).map((part) => `Removed: ${part}`);
  const added = now.filter((part) => !old.includes(part)).map((part) => `Added: ${part}`);
  const said = [...removed, ...added];
  if (said.length > 0) return said;
  return JSON.stringify(was) === JSON.stringify(is) ? [] : ["Changed how columns are shown or totalled"];
}

/** The parts of two descriptions that differ, by their names. */
function partChanges(before: unknown, after: unknown): string[] {
  const [was, is] = [before, after].map((spec) => (typeof spec === "object" && spec !== null ? (spec as Record<string, unknown>) : {}));
  const names = [...new Set([...Object.keys(was ?? {}), ...Object.keys(is ?? {})])];
  const differ = names.filter((name) => JSON.stringify(was?.[name]) !== JSON.stringify(is?.[name]));
  return differ.length === 0 ? [] : [`Changed: ${differ.map(humanise).join(", ")}`];
}
