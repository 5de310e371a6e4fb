import { type NamedQuery, readsItself } from "@/core/query/queryTables";
import { querySpecSchema } from "@/core/query/spec";
import { ProblemError, problem } from "@/core/types/problem";
import type { Catalogue, SavedObject } from "./catalogue";

/** Saved queries as they were read, as long as they are kept as they are; and all of a catalogue's, as long as each is. */
const read = new WeakMap<SavedObject, NamedQuery | null>();
const all = new WeakMap<Catalogue, NamedQuery[]>();

function readQuery(object: SavedObject): NamedQuery | null {
  const known = read.get(object);
  if (known !== undefined) return known;
  const parsed = querySpecSchema.safeParse(object.spec);
  const query = parsed.success && object.name !== "" ? { id: object.id, name: object.name, spec: parsed.data } : null;
  read.set(object, query);
  return query;
}

/** Every saved query that has a name and can be read, whoever may open it: what other queries can start from. The same list as long as none of them is another. */
export function savedQueries(catalogue: Catalogue): NamedQuery[] {
  const queries = catalogue.list("query").flatMap((object) => readQuery(object) ?? []);
  const known = all.get(catalogue);
  if (known?.length === queries.length && known.every((q, i) => q === queries[i])) return known;
  all.set(catalogue, queries);
  return queries;
}

/** @throws ProblemError where a query, saved like this, would read itself */
export function checkQuery(catalogue: Catalogue, name: string, spec: unknown, id: string | undefined): void {
  const parsed = querySpecSchema.safeParse(spec);
  const names = parsed.success && id !== undefined && readsItself({ id, name, spec: parsed.data }, savedQueries(catalogue));
  if (names) throw new ProblemError([problem("queryCircle", ["source"], { names })]);
}
