import type { Workspace } from "@/server/workspace/workspace";
import type { ObjectKind } from "./catalogue";

/** The saved objects of a kind that is made from queries, each with what it is made from, and the queries there are. */
export function listOver({ objects }: Workspace, kind: ObjectKind, queryOf: (spec: unknown) => string | undefined) {
  const queries = objects.list("query").map(({ id, name }) => ({ id, name }));
  const items = objects.list(kind).map(({ id, name, spec }) => {
    const query = queries.find((q) => q.id === queryOf(spec));
    return { id, name, about: query ? `from ${query.name}` : "Its query is gone. Open it to choose another.", wrong: !query };
  });
  return { queries, items };
}
