import { BREAKABLE, type BreakableKind, brokenParts } from "@/core/desk/broken";
import type { Schema } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { type Problem, sentence } from "@/core/types/problem";
import type { SavedObject } from "@/server/catalogue/catalogue";
import { madeFrom } from "@/server/catalogue/madeFrom";

/** A saved object that a change broke: the first thing missing in words, all of them, and how many others use it. */
export type BrokenObject = { kind: BreakableKind; id: string; name: string; words: string; problems: Problem[]; usedBy: number };

type Checked = { revision: number; sources: string[]; stamp: string; problems: Problem[] };

const KINDS: ReadonlySet<string> = new Set(BREAKABLE);

/** Finds the saved objects that a change broke. What it found is kept until the object, what it is made from or the database changes. */
export class BrokenObjects {
  private readonly known = new WeakMap<Schema, Map<string, Checked>>();

  /**
   * @param mine the objects to tell of
   * @param all every saved object, as what one is made from need not be its author's own
   */
  find(mine: SavedObject[], all: SavedObject[], schema: Schema, today: Today): BrokenObject[] {
    const known = this.known.get(schema) ?? new Map<string, Checked>();
    this.known.set(schema, known);
    const byId = new Map(all.map((o) => [o.id, o]));
    const day = JSON.stringify(today);
    const broken = mine.flatMap((object) => {
      if (!KINDS.has(object.kind)) return [];
      const { problems } = this.check(object, known, byId, { schema, today, day });
      return problems[0] ? [{ object, words: sentence(problems[0]), problems }] : [];
    });
    const users = broken.length > 0 ? usersOf(all, known) : new Map<string, number>();
    return broken.map(({ object: { id, kind, name }, words, problems }) => ({
      kind: kind as BreakableKind,
      id,
      name,
      words,
      problems,
      usedBy: users.get(id) ?? 0,
    }));
  }

  private check(object: SavedObject, known: Map<string, Checked>, byId: Map<string, SavedObject>, on: { schema: Schema; today: Today; day: string }): Checked {
    const before = known.get(object.id);
    const sources = before?.revision === object.revision ? before.sources : madeFrom(object.kind, object.spec);
    const stamp = [on.day, ...sources.map((id) => byId.get(id)?.revision ?? "none")].join(" ");
    if (before?.revision === object.revision && before.stamp === stamp) return before;
    const problems = brokenParts(object.kind as BreakableKind, object.spec, { schema: on.schema, today: on.today, find: (id) => byId.get(id) });
    const checked = { revision: object.revision, sources, stamp, problems };
    known.set(object.id, checked);
    return checked;
  }
}

/** How many objects are made from each. */
function usersOf(all: SavedObject[], known: Map<string, Checked>): Map<string, number> {
  const users = new Map<string, number>();
  for (const { id, kind, spec } of all)
    for (const source of new Set(known.get(id)?.sources ?? madeFrom(kind, spec))) users.set(source, (users.get(source) ?? 0) + 1);
  return users;
}
