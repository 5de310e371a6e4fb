import { type QuerySpec, querySpecSchema } from "@/core/query/spec";
import { ProblemError, problem } from "@/core/types/problem";
import type { Workspace } from "@/server/services/workspace/workspace";

/** What a query is called that has no name, where it is used. */
export const OWN_QUERY = "its own query";

/** The query that a pivot, a chart or a report is made from. @throws ProblemError queryGone */
export function savedQuery(ws: Workspace, id: string): { name: string; spec: QuerySpec } {
  const saved = ws.objects.get(id);
  const spec = saved?.kind === "query" ? querySpecSchema.safeParse(saved.spec) : null;
  if (!saved || !spec?.success) throw new ProblemError([problem("queryGone", ["query"])]);
  return { name: saved.name || OWN_QUERY, spec: spec.data };
}
