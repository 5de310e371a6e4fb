import { z } from "zod";
import { type BreakableKind, brokenParts } from "@/core/desk/broken";
import { type Missing, missingOf, replaceMissing } from "@/core/desk/missing";
import { sameName } from "@/core/query/operands";
import { type Schema, tablesAndQueries } from "@/core/schema/schema";
import { sentence } from "@/core/types/problem";
import type { ObjectKind, SavedObject } from "@/server/catalogue/catalogue";
import { madeFrom } from "@/server/catalogue/madeFrom";
import { checkSpec } from "@/server/catalogue/specs";
import { Refusal } from "@/server/common/refusal";
import { checkObject } from "@/server/services/objects/checkObject";
import { recordKept } from "@/server/services/people/recordKept";
import { OWN_QUERY } from "@/server/services/queries/saved";
import type { Workspace } from "@/server/services/workspace/workspace";

/*
 * Broken objects by what they miss, so that one choice points all of them at what stands for it now.
 */

export type BrokenItem = { id: string; kind: BreakableKind; name: string; words: string[] };
/** What could stand in the place of something; `likely` those of its name come first. */
export type Candidate = { value: string; label: string; likely: boolean };
export type MissingGroup = { missing: Missing; words: string; items: BrokenItem[]; candidates: Candidate[] };
/** The broken objects that the one who works here may change; `others` miss nothing that another could stand for. */
export type BrokenState = { groups: MissingGroup[]; others: BrokenItem[] };

type Looked = { object: SavedObject; item: BrokenItem; missing: Missing[] };

async function look(ws: Workspace): Promise<Looked[]> {
  const all = ws.catalogue.list();
  const byId = new Map(all.map((o) => [o.id, o]));
  const mine = all.filter((o) => ws.objects.level(o) === "edit");
  return ws.broken.find(mine, all, await ws.schema(), ws.today).map(({ id, kind, name, problems }) => {
    const object = byId.get(id) as SavedObject;
    const gone = madeFrom(kind, object.spec).filter((of) => of !== "" && !byId.has(of));
    const words = [...new Set(problems.map(sentence))];
    return { object, item: { id, kind, name: name || OWN_QUERY, words }, missing: missingOf({ kind, spec: object.spec, problems, gone }) };
  });
}

/** All that is broken, by what is missing; what most objects miss first. */
export async function brokenState(ws: Workspace): Promise<BrokenState> {
  const looked = await look(ws);
  const schema = await ws.shownSchema();
  const groups = new Map<string, MissingGroup>();
  for (const { item, missing } of looked)
    for (const one of missing) {
      const key = JSON.stringify(one);
      const known = groups.get(key) ?? { missing: one, ...named(ws, schema, one, item.kind), items: [] };
      groups.set(key, { ...known, items: [...known.items, item] });
    }
  const sorted = [...groups.values()].sort((a, b) => b.items.length - a.items.length || (a.words < b.words ? -1 : 1));
  return { groups: sorted, others: looked.filter((l) => l.missing.length === 0).map((l) => l.item) };
}

/** What is missing in words, and what could stand for it. */
function named(ws: Workspace, schema: Schema, missing: Missing, user: BreakableKind): Pick<MissingGroup, "words" | "candidates"> {
  switch (missing.what) {
    case "table": {
      const tables = tablesAndQueries(schema).filter((t) => !t.rowsOf?.broken);
      return {
        words: `the table ${missing.table}`,
        candidates: ordered(
          tables.map((t) => ({ value: t.name, label: t.label })),
          missing.table,
        ),
      };
    }
    case "column": {
      const table = tablesAndQueries(schema).find((t) => t.name === missing.table || t.label === missing.table);
      const of = table?.label ?? missing.table;
      return {
        words: `the column ${missing.column} of ${of}`,
        candidates: ordered(
          (table?.columns ?? []).map((c) => ({ value: c.name, label: c.label })),
          missing.column,
        ),
      };
    }
    case "object": {
      const deleted = ws.objects.inBin().find((d) => d.id === missing.id);
      const kind: ObjectKind = deleted?.kind ?? (user === "schedule" ? "report" : "query");
      const name = deleted?.name ?? "";
      const candidates = ws.objects.list(kind).map((o) => ({ value: o.id, label: o.name }));
      return { words: deleted ? `the ${kind} “${name}”, which was deleted` : `a ${kind} that was deleted`, candidates: ordered(candidates, name) };
    }
    default:
      return missing satisfies never;
  }
}

/** Those of the same name first, then those that share a word with it. */
function ordered(candidates: Omit<Candidate, "likely">[], name: string): Candidate[] {
  const words = (text: string) =>
    new Set(
      text
        .toLowerCase()
        .split(/[\s_]+/)
        .filter((w) => w.length > 2),
    );
  const sought = words(name);
  const shared = (label: string) => [...words(label)].filter((w) => sought.has(w)).length;
  const near = ({ label, value }: Omit<Candidate, "likely">) => (sameName(label, name) || sameName(value, name) ? 100 : shared(label));
  return candidates.map((c) => ({ ...c, likely: near(c) > 0 })).sort((a, b) => near(b) - near(a) || a.label.localeCompare(b.label));
}

const missingSchema = z.union([
  z.object({ what: z.literal("table"), table: z.string().max(200) }),
  z.object({ what: z.literal("column"), table: z.string().max(200), column: z.string().max(200) }),
  z.object({ what: z.literal("object"), id: z.string().max(60) }),
]);
export const replaceSchema = z.object({ missing: missingSchema, to: z.string().min(1).max(200), take: z.boolean() });

/** An object with the replacement in it: what it would miss still. */
export type Replaced = { id: string; kind: BreakableKind; name: string; remaining: string[] };

/**
 * What all broken objects would be with something in the place of what they miss; with `take`, saves them so, all or none.
 * @throws Refusal where none misses it any more, or the one who works here may not make one of them so
 */
export async function replaceInAll(ws: Workspace, { missing, to, take }: z.infer<typeof replaceSchema>): Promise<Replaced[]> {
  const key = JSON.stringify(missing);
  const schema = await ws.schema();
  const concerned = (await look(ws)).filter((l) => l.missing.some((m) => JSON.stringify(m) === key));
  if (concerned.length === 0) throw new Refusal(409, "Nothing is missing this any more. Reload the page.");
  const next = concerned.map(({ object, item }) => ({
    object,
    item,
    spec: checkSpec(object.kind, replaceMissing(object.kind, object.spec, missing, to, schema)),
  }));
  const inNext = new Map(next.map(({ object, spec }) => [object.id, { ...object, spec }]));
  const find = (id: string) => inNext.get(id) ?? ws.catalogue.get(id);
  const replaced = next.map(
    ({ item: { id, kind, name }, spec }): Replaced => ({
      id,
      kind,
      name,
      remaining: [...new Set(brokenParts(kind, spec, { schema, today: ws.today, find }).map(sentence))],
    }),
  );
  if (!take) return replaced;
  for (const { object, spec } of next) await checkObject(ws, object.kind, object.name, spec, object.id);
  ws.recorded(() => {
    for (const { object, spec } of next) recordKept(ws, object, ws.objects.save(object.id, { spec }, object.revision));
  });
  return replaced;
}
