import { BREAKABLE, type BreakableKind, brokenParts } from "@/core/desk/broken";
import type { Broken, Schema } from "@/core/schema/schema";
import { sentence } from "@/core/types/problem";
import type { Workspace } from "@/server/workspace/workspace";

/** What uses a table and would stop working: saved objects, links and derived fields, each with what it would miss. */
export type ShapeUse = { kind: BreakableKind | Broken["kind"]; id: string; name: string; words: string };
export type ShapeUses = { named: ShapeUse[] /** Those of others, that are not shared. */; hidden: number };

const KINDS: ReadonlySet<string> = new Set(BREAKABLE);

/** What a change of the database would break that works now. */
export function usesBroken(ws: Workspace, before: Schema, after: Schema): ShapeUses {
  const known = new Set(before.broken?.map((b) => b.id));
  const parts = (after.broken ?? []).filter((b) => !known.has(b.id)).map(({ kind, id, label, why }): ShapeUse => ({ kind, id, name: label, words: why }));
  const all = ws.catalogue.list();
  const byId = new Map(all.map((o) => [o.id, o]));
  const check = (kind: string, spec: unknown, schema: Schema) =>
    brokenParts(kind as BreakableKind, spec, { schema, today: ws.today, find: (id) => byId.get(id) }).map(sentence);
  const broken = all.flatMap((object): (ShapeUse & { seen: boolean })[] => {
    if (!KINDS.has(object.kind)) return [];
    const [first] = check(object.kind, object.spec, after);
    if (first === undefined || check(object.kind, object.spec, before).length > 0) return [];
    return [
      {
        kind: object.kind as BreakableKind,
        id: object.id,
        name: object.name,
        words: first,
        seen: object.name !== "" && ws.objects.open(object.id) !== undefined,
      },
    ];
  });
  return { named: [...parts, ...broken.flatMap(({ seen, ...use }) => (seen ? [use] : []))], hidden: broken.filter((b) => !b.seen).length };
}
