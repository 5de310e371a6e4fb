import type { QuerySpec } from "../query/spec";
import { querySpecSchema } from "../query/spec";
import type { Schema } from "../schema/schema";
import type { Locale } from "../types/format";
import { briefParts } from "./briefParts";
import { differences, type NameOf } from "./specChanges";

/*
 * What changed between two versions of a saved object, in words: of a query, what its sentence says now and did not;
 * of anything else, which values of its description are others, and which items of its lists came and went.
 */

type Kept = { name: string; spec: unknown };

/** How many changes of a description are told one by one. */
const MOST_TOLD = 12;

/**
 * "Added: status is not void", "Page › paper: A4 → A5"; none where nothing is different.
 * @param nameOf how saved items are called that descriptions name by their ids
 */
export function changesInWords(kind: string, before: Kept, after: Kept, schema: Schema, locale: Locale, nameOf: NameOf): string[] {
  const named = before.name === after.name ? [] : [`Renamed from “${before.name}”`];
  const told = kind === "query" ? queryChanges(before.spec, after.spec, schema, locale, nameOf) : partChanges(before.spec, after.spec, schema, locale, nameOf);
  const more = told.length - MOST_TOLD;
  return [...named, ...(more > 1 ? [...told.slice(0, MOST_TOLD), `and ${more} more`] : told)];
}

function queryChanges(before: unknown, after: unknown, schema: Schema, locale: Locale, nameOf: NameOf): string[] {
  const [was, is] = [before, after].map((spec) => querySpecSchema.safeParse(spec).data as QuerySpec | undefined);
  if (!was || !is) return differences(before, after, nameOf);
  const [old, now] = [briefParts(was, schema, locale), briefParts(is, schema, locale)];
  const removed = old.filter((part) => !now.includes(part)).map((part) => `Removed: ${part}`);
  const added = now.filter((part) => !old.includes(part)).map((part) => `Added: ${part}`);
  const said = [...removed, ...added];
  if (said.length > 0) return said;
  return JSON.stringify(was) === JSON.stringify(is) ? [] : ["Changed how columns are shown or totalled"];
}

/** The same of any other description; the query that one may hold is told by its sentence. */
function partChanges(before: unknown, after: unknown, schema: Schema, locale: Locale, nameOf: NameOf): string[] {
  const parted = (spec: unknown) => {
    const { query, ...rest } = (typeof spec === "object" && spec !== null ? spec : {}) as Record<string, unknown>;
    return typeof query === "object" ? { query, rest } : { query: undefined, rest: spec };
  };
  const [was, is] = [parted(before), parted(after)];
  const ofQuery = was.query && is.query ? queryChanges(was.query, is.query, schema, locale, nameOf) : [];
  return [...ofQuery, ...differences(was.rest, is.rest, nameOf)];
}
