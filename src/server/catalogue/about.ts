import { changesInWords } from "@/core/brief/changes";
import type { Schema } from "@/core/schema/schema";
import type { Workspace } from "@/server/workspace/workspace";
import type { SavedObject } from "./catalogue";
import { madeFrom } from "./madeFrom";

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
  const versions = kept.slice(0, MOST_TOLD).map((version, i): TellVersion => {
    const former = kept[i + 1];
    return {
      revision: version.revision,
      at: version.at.toISOString(),
      person: version.person === null ? null : (people.get(version.person) ?? null),
      name: version.name,
      changes: former ? changesInWords(object.kind, former, version, schema, ws.locale) : [],
    };
  });
  // A query without a name belongs to what it is used in.
  const shown = (list: SavedObject[]) => list.filter((o) => o.name !== "").map(asRelated);
  return { madeFrom: shown(sources), usedBy: shown(seen), others: users.length - seen.length, versions };
}
