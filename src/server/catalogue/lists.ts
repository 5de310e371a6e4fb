import type { Workspace } from "@/server/workspace/workspace";
import type { ObjectKind } from "./catalogue";
import { madeFrom } from "./madeFrom";

/** The saved objects of a kind that is made from queries, each with what it is made from, and the queries there are. */
export function listOver({ objects }: Workspace, kind: ObjectKind) {
  const queries = objects.list("query").map(({ id, name }) => ({ id, name }));
  const items = objects.list(kind).map(({ id, name, spec }) => {
    const [of] = madeFrom(kind, spec);
    const query = queries.find((q) => q.id === of);
    if (query) return { id, name, about: `from ${query.name}`, wrong: false };
    const wrong = of === undefined || !objects.get(of);
    return { id, name, about: wrong ? "Its query was deleted. Open it to choose another." : "from a query that is not shared with you", wrong };
  });
  return { queries, items };
}
