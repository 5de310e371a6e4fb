import type { ListDates } from "@/core/desk/listing";
import { visitsOf } from "@/server/desk/visits";
import type { Workspace } from "@/server/workspace/workspace";
import type { ObjectKind } from "./catalogue";
import { madeFrom } from "./madeFrom";

/** How many of the objects opened last are looked through. */
const MOST_VISITS = 20_000;

/** What a list tells of objects beside their names: when they were saved and opened, whose they are where they are another's. */
export function datesOf(ws: Workspace, kind: ObjectKind): Record<string, ListDates> {
  const people = new Map(ws.people.list().map((p) => [p.id, p.name]));
  const visits = new Map(visitsOf(ws, MOST_VISITS).map((v) => [v.object, v]));
  const known = ws.objects.list(kind).map(({ id, owner, updatedAt }): [string, ListDates] => {
    const visit = visits.get(id);
    const other = owner !== null && owner !== ws.signedIn?.id ? people.get(owner) : undefined;
    return [id, { changed: updatedAt.toISOString(), opened: visit?.at.toISOString(), owner: other, pinned: visit?.pinned }];
  });
  return Object.fromEntries(known);
}

/** The saved objects of a kind that is made from queries, each with what it is made from, and the queries and tables there are. */
export async function listOver(ws: Workspace, kind: ObjectKind) {
  const { objects } = ws;
  const queries = objects.list("query").map(({ id, name }) => ({ id, name }));
  const items = objects.list(kind).map(({ id, name, spec }) => {
    const [of] = madeFrom(kind, spec);
    const query = queries.find((q) => q.id === of);
    if (query) return { id, name, about: `from ${query.name}`, wrong: false };
    const source = of === undefined ? undefined : objects.get(of);
    if (source?.kind === "query" && source.name === "") return { id, name, about: "from a query of its own", wrong: false };
    const wrong = source === undefined;
    return { id, name, about: wrong ? "Its query was deleted. Open it to choose another." : "from a query that is not shared with you", wrong };
  });
  // What a table cannot be read for is said where it is opened.
  const schema = await ws.shownSchema().catch(() => null);
  const tables = (schema?.tables ?? []).map((t) => ({ id: t.name, name: t.label }));
  return { queries, tables, items, dates: datesOf(ws, kind) };
}
