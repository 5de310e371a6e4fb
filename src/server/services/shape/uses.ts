import { BREAKABLE, type BreakableKind, brokenParts } from "@/core/desk/broken";
import type { Broken, Schema } from "@/core/schema/schema";
import { carried } from "@/core/shape/carry";
import type { ShapeNames } from "@/core/shape/shapedSchema";
import { sentence } from "@/core/types/problem";
import type { Workspace } from "@/server/services/workspace/workspace";

/** What uses a table and would stop working: saved objects, links and derived fields, each with what it would miss. */
export type ShapeUse = { kind: BreakableKind | Broken["kind"]; id: string; name: string; words: string };
export type ShapeUses = {
  named: ShapeUse[];
  /** Those of others, that are not shared. */
  hidden: number;
  /** How many go along with new names. */
  carried: number;
};

const KINDS: ReadonlySet<string> = new Set(BREAKABLE);

/**
 * What a change of the database would break that works now, once all that can goes along with new names.
 * @param shape the database's shape afterwards
 * @param without a derived field that would be gone
 */
export async function usesBroken(ws: Workspace, shape: (read: Schema) => Schema, names: ShapeNames | null, without: string | null = null): Promise<ShapeUses> {
  const before = await ws.schema();
  const carry = (spec: unknown): unknown => (names ? carried(spec, names, before) : spec);
  const after = await ws.schemaAs(shape, carry, without);
  const known = new Set(before.broken?.map((b) => b.id));
  const parts = (after.broken ?? []).filter((b) => !known.has(b.id)).map(({ kind, id, label, why }): ShapeUse => ({ kind, id, name: label, words: why }));
  const all = ws.catalogue.list().map((object) => ({ ...object, next: carry(object.spec) }));
  const byId = new Map(all.map((o) => [o.id, o]));
  const check = (kind: string, of: "spec" | "next", id: string, schema: Schema) =>
    brokenParts(kind as BreakableKind, byId.get(id)?.[of], {
      schema,
      today: ws.today,
      find: (other) => {
        const found = byId.get(other);
        return found && { ...found, spec: found[of] };
      },
    }).map(sentence);
  const broken = all.flatMap(({ id, kind, name }): (ShapeUse & { seen: boolean })[] => {
    if (!KINDS.has(kind)) return [];
    const [first] = check(kind, "next", id, after);
    if (first === undefined || check(kind, "spec", id, before).length > 0) return [];
    return [{ kind: kind as BreakableKind, id, name, words: first, seen: name !== "" && ws.objects.open(id) !== undefined }];
  });
  const stopped = new Set(broken.map((b) => b.id));
  return {
    named: [...parts, ...broken.flatMap(({ seen, ...use }) => (seen ? [use] : []))],
    hidden: broken.filter((b) => !b.seen).length,
    carried: all.filter((o) => o.next !== o.spec && JSON.stringify(o.next) !== JSON.stringify(o.spec) && !stopped.has(o.id)).length,
  };
}
