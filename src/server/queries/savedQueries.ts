import { type NamedQuery, readsItself } from "@/core/query/queryTables";
import { querySpecSchema } from "@/core/query/spec";
import { ProblemError, problem } from "@/core/types/problem";
import type { Catalogue } from "@/server/catalogue/catalogue";

/** Every saved query that has a name and can be read, whoever may open it: what other queries can start from. */
export const savedQueries = (catalogue: Catalogue): NamedQuery[] =>
  catalogue.list("query").flatMap(({ id, name, spec }) => {
    const parsed = querySpecSchema.safeParse(spec);
    return parsed.success && name !== "" ? [{ id, name, spec: parsed.data }] : [];
  });

/** @throws ProblemError where a query, saved like this, would read itself */
export function checkQuery(catalogue: Catalogue, name: string, spec: unknown, id: string | undefined): void {
  const parsed = querySpecSchema.safeParse(spec);
  const names = parsed.success && id !== undefined && readsItself({ id, name, spec: parsed.data }, savedQueries(catalogue));
  if (names) throw new ProblemError([problem("queryCircle", ["source"], { names })]);
}
