import { z } from "zod";
import { type Entry, FIRST_ASKED, type Folder, foldersOf, LIST_ORDERS, type ListAsked, listItems, MOST_LISTED, namesIn, OFFERED } from "@/core/desk/listing";
import { LEVELS } from "@/core/people/roles";
import { scheduleSpecSchema } from "@/core/schedule/spec";
import type { ObjectKind, SavedObject } from "@/server/catalogue/catalogue";
import { kindSchema } from "@/server/catalogue/specs";
import { Refusal } from "@/server/common/refusal";
import { visitsOf } from "@/server/services/desk/visits";
import { recordKept } from "@/server/services/people/recordKept";
import { share } from "@/server/services/people/share";
import { troubledRuns } from "@/server/services/scheduler/state";
import type { Workspace } from "@/server/services/workspace/workspace";
import { MEANS } from "./checkObject";
import { type Description, describer } from "./described";

/*
 * The lists of saved objects, section by section: searched and ordered here, so that of thousands only those in sight are
 * described and sent.
 */

/** How many of the objects opened last are looked through. */
const MOST_VISITS = 20_000;
const LONGEST_FOLDER = 80;

/** What a list shows of an object; `mayEdit`, `mayShare`: what the one who asks may do with it there. */
export type ListedItem = Omit<Entry, "words"> & Description & { mayEdit: boolean; mayShare: boolean };
/** The first of those found, how many were found, how many there are, and their folders. */
export type Listed = { items: ListedItem[]; found: number; all: number; folders: Folder[] };

export const listSchema = z.object({
  kind: kindSchema,
  sought: z.string().max(200),
  order: z.enum(LIST_ORDERS),
  folder: z.string().max(LONGEST_FOLDER).nullable(),
  most: z.number().int().min(1).max(MOST_LISTED),
});

/** What each description names; found once, as long as the object is kept as it is. */
const named = new WeakMap<object, string>();
function wordsOf(object: SavedObject): string {
  const known = named.get(object) ?? namesIn(object.spec);
  named.set(object, known);
  return known;
}

/** The saved objects of a kind that the one who works here may open, as they are asked for. */
export async function listOf(ws: Workspace, kind: ObjectKind, asked: ListAsked = FIRST_ASKED): Promise<Listed> {
  const people = new Map(ws.people.list().map((p) => [p.id, p.name]));
  const visits = new Map(visitsOf(ws, MOST_VISITS).map((v) => [v.object, v]));
  const filings = ws.catalogue.filings();
  const looks = ws.signedIn?.role === "viewer";
  const entries = ws.objects.list(kind).map((object): Entry & { object: SavedObject } => {
    const { id, name, owner, updatedAt } = object;
    const visit = visits.get(id);
    const other = owner !== null && owner !== ws.signedIn?.id ? people.get(owner) : undefined;
    const { folder = "", note = "" } = filings.get(id) ?? {};
    const words = looks ? "" : wordsOf(object);
    return {
      object,
      id,
      name,
      words,
      folder,
      note,
      owner: other,
      changed: updatedAt.toISOString(),
      opened: visit?.at.toISOString(),
      pinned: visit?.pinned ?? false,
    };
  });
  const found = listItems(entries, asked, ws.locale.locale);
  const describe = await describer(ws);
  const items = found.slice(0, asked.most).map(
    ({ object, words, ...entry }): ListedItem => ({
      ...entry,
      ...describe(object),
      mayEdit: !looks && ws.objects.level(object) === "edit",
      mayShare: ws.objects.mayShare(object),
    }),
  );
  return { items, found: found.length, all: entries.length, folders: foldersOf(entries, ws.locale.locale) };
}

/**
 * What a new object of a section can be made from: queries, and tables, each read by a query of its own.
 * @param body what the server is asked with beside the one that is chosen
 */
export async function sourcesOf(ws: Workspace, body: object = {}) {
  const schema = await ws.shownSchema().catch(() => null);
  return {
    offered: { lists: [{ kind: "query" as const, first: await listOf(ws, "query", OFFERED) }], key: "query", body },
    tables: (schema?.tables ?? []).map((t) => ({ id: t.name, name: t.label, body: { ...body, table: t.name } })),
  };
}

const idsSchema = z.array(z.string().max(60)).min(1).max(MOST_LISTED);

/** Why an object in a list needs a look: something it uses is gone; its last scheduled run was held back, or failed. */
export type Mark = { mark: "broken" | "held" | "failed"; words: string };
export const marksSchema = z.object({ ids: idsSchema });

/** The marks of some objects, by id. */
export async function marksOf(ws: Workspace, ids: string[]): Promise<Record<string, Mark>> {
  const all = ws.catalogue.list();
  const wanted = new Set(ids);
  const seen = all.filter((o) => wanted.has(o.id) && ws.objects.level(o) !== null);
  const broken = ws.broken.find(seen, all, await ws.schema(), ws.today).map(({ id, words }): [string, Mark] => [id, { mark: "broken", words }]);
  const runs = troubledRuns(ws).flatMap(({ schedule, run }): [string, Mark][] => {
    const subject = scheduleSpecSchema.safeParse(schedule.spec).data?.subject.id;
    return subject && wanted.has(subject) ? [[subject, { mark: run.state === "held" ? "held" : "failed", words: run.error ?? "" }]] : [];
  });
  return Object.fromEntries([...runs, ...broken]);
}

/** What is done with several objects of a list at once. */
export const severalSchema = z.discriminatedUnion("deed", [
  z.object({ deed: z.literal("folder"), ids: idsSchema, folder: z.string().trim().max(LONGEST_FOLDER) }),
  z.object({ deed: z.literal("note"), ids: idsSchema, note: z.string().trim().max(1000) }),
  z.object({ deed: z.literal("share"), ids: idsSchema, person: z.string().max(60), level: z.enum(LEVELS).nullable() }),
  z.object({ deed: z.literal("delete"), ids: idsSchema, anyway: z.boolean() }),
]);

/** Does it, with all of them or none. @throws Refusal naming the first of them with which it may not be done */
export function doWithSeveral(ws: Workspace, asked: z.infer<typeof severalSchema>): void {
  const objects = asked.ids.map((id) => {
    const object = ws.objects.open(id);
    if (!object) throw new Refusal(404, "One of these was deleted, or is not shared with you any more. Reload the page.");
    return object;
  });
  ws.recorded(() => {
    switch (asked.deed) {
      case "folder":
      case "note":
        for (const object of objects)
          if (ws.objects.level(object) !== "edit") throw new Refusal(403, `You can view “${object.name}”, but not change it. Deselect it.`);
        for (const { id } of objects) ws.catalogue.file(id, asked.deed === "folder" ? { folder: asked.folder } : { note: asked.note });
        return;
      case "share":
        for (const object of objects) share(ws, object, asked.person, asked.level);
        return;
      case "delete":
        if (objects.some((o) => MEANS.has(o.kind))) ws.needUnbound();
        ws.objects.removeAll(asked.ids, asked.anyway);
        for (const object of objects) recordKept(ws, object, undefined);
        return;
      default:
        asked satisfies never;
    }
  });
}
