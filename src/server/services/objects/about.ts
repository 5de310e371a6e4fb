import { changesInWords } from "@/core/brief/changes";
import type { NameOf } from "@/core/brief/specChanges";
import { columnWords } from "@/core/query/operands";
import { scopeOf } from "@/core/query/reach";
import { querySpecSchema } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import type { SavedObject } from "@/server/catalogue/catalogue";
import { madeFrom } from "@/server/catalogue/madeFrom";
import type { Workspace } from "@/server/services/workspace/workspace";

/*
 * What is to be known of a saved object besides itself: what it is made from, what is made from it, and what it was.
 */

export type Related = { id: string; kind: SavedObject["kind"]; name: string };
export type TellVersion = { revision: number; at: string; person: string | null; name: string; changes: string[] };
export type About = { madeFrom: Related[]; usedBy: Related[] /** Those of other people that use it. */; others: number; versions: TellVersion[] };

/** How many versions are told of. */
const MOST_TOLD = 50;

/** What one who may open an object is told about it. */
export async function aboutObject(ws: Workspace, object: SavedObject): Promise<About> {
  const schema = await ws.schema().catch((): Schema => ({ tables: [], links: [] }));
  const asRelated = ({ id, kind, name }: SavedObject): Related => ({ id, kind, name });
  const sources = [...new Set(madeFrom(object.kind, object.spec))].flatMap((id) => ws.objects.open(id) ?? []);
  const users = ws.catalogue.list().filter((o) => o.id !== object.id && madeFrom(o.kind, o.spec).includes(object.id));
  const seen = users.filter((o) => ws.objects.open(o.id));
  const kept = ws.catalogue.versionsOf(object.id);
  const people = new Map(ws.people.list().map((p) => [p.id, p.name]));
  const nameOf = namesIn(ws, object, schema);
  const versions = kept.slice(0, MOST_TOLD).map((version, i): TellVersion => {
    const former = kept[i + 1];
    return {
      revision: version.revision,
      at: version.at.toISOString(),
      person: version.person === null ? null : (people.get(version.person) ?? null),
      name: version.name,
      changes: former ? changesInWords(object.kind, former, version, schema, ws.locale, nameOf) : [],
    };
  });
  // A query without a name belongs to what it is used in.
  const shown = (list: SavedObject[]) => list.filter((o) => o.name !== "").map(asRelated);
  return { madeFrom: shown(sources), usedBy: shown(seen), others: users.length - seen.length, versions };
}

/** How what an object's description names by an id is called: another object, or a column of the query it is made from. */
function namesIn(ws: Workspace, { spec }: SavedObject, schema: Schema): NameOf {
  const { query } = (spec ?? {}) as { query?: unknown };
  const made = typeof query === "string" ? querySpecSchema.safeParse(ws.objects.open(query)?.spec).data : undefined;
  const scope = made ? scopeOf(made, schema) : [];
  return (id) => {
    const column = made?.columns.find((c) => c.id === id);
    return column ? columnWords(column, scope, made?.columns) : ws.objects.open(id)?.name || undefined;
  };
}
