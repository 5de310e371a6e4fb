import { z } from "zod";
import { BREAKABLE, type BreakableKind, brokenParts } from "@/core/desk/broken";
import { withQueryTables } from "@/core/query/queryTables";
import { querySpecSchema } from "@/core/query/spec";
import { problem, sentence } from "@/core/types/problem";
import type { Filing, ObjectKind, SavedObject } from "@/server/catalogue/catalogue";
import { madeFrom } from "@/server/catalogue/madeFrom";
import { savedQueries } from "@/server/catalogue/savedQueries";
import { checkSpec, kindSchema, SHAPES } from "@/server/catalogue/specs";
import { Refusal } from "@/server/common/refusal";
import { recordKept } from "@/server/services/people/recordKept";
import type { Workspace } from "@/server/services/workspace/workspace";
import { MEANS } from "./checkObject";

/*
 * Saved objects as a file: what a team keeps under version control, or takes to another ledger. The file is the same, byte
 * for byte, as long as the objects are; its JSON Schema is published in docs/schema.
 */

const FORMAT = "next-ledger-definitions";

/** Where it lies in its list, and what is noted of it; left out where it is nothing. */
const filed = { folder: z.string().max(80).optional(), note: z.string().max(1000).optional() };

const definition = <K extends ObjectKind>(kind: K) =>
  z.object({ kind: z.literal(kind), id: z.string().min(1).max(60), name: z.string().max(200), ...filed, spec: SHAPES[kind] });

/** The whole file, as it is published. */
export const definitionsSchema = z.object({
  format: z.literal(FORMAT),
  version: z.literal(1),
  objects: z.array(z.union(kindSchema.options.map(definition) as [ReturnType<typeof definition>, ReturnType<typeof definition>])),
});

/** The same as far as it is read before each object is looked at by itself, so that one that cannot be read is named. */
export const looseSchema = z.object({
  format: z.literal(FORMAT),
  version: z.literal(1),
  objects: z.array(z.object({ kind: kindSchema, id: z.string().min(1).max(60), name: z.string().max(200), ...filed, spec: z.unknown() })).max(20_000),
});
type Definition = z.infer<typeof looseSchema>["objects"][number];

/** The JSON Schema (2020-12) of a file of definitions. */
export const definitionsJsonSchema = (): object => ({
  ...z.toJSONSchema(definitionsSchema, { io: "output", unrepresentable: "any", reused: "ref" }),
  title: "Definitions of Next Ledger: queries, reports and all else that is saved",
});

/** Kinds in the order in which they can be made: each after what it is made from. */
const MADE_IN_ORDER: ObjectKind[] = [
  "link",
  "derived",
  "query",
  "pivot",
  "chart",
  "letter",
  "dashboard",
  "report",
  "folio",
  "posting",
  "page",
  "schedule",
  "rule",
];

const inOrder = <D extends Pick<Definition, "kind" | "id">>(objects: D[]): D[] =>
  [...objects].sort((a, b) => MADE_IN_ORDER.indexOf(a.kind) - MADE_IN_ORDER.indexOf(b.kind) || (a.id < b.id ? -1 : 1));

/** The objects asked for that the person may open, with all they are made from; all, where none is named. As text, ready to be kept. */
export function definitionsFile(ws: Workspace, ids: string[]): string {
  const wanted = new Set<string>();
  const add = (object: SavedObject): void => {
    if (wanted.has(object.id)) return;
    wanted.add(object.id);
    for (const id of madeFrom(object.kind, object.spec)) {
      const source = ws.objects.open(id);
      if (source) add(source);
    }
  };
  for (const object of ids.length === 0 ? ws.objects.list() : ids.flatMap((id) => ws.objects.open(id) ?? [])) add(object);
  const filings = ws.catalogue.filings();
  const objects = inOrder([...wanted].flatMap((id) => ws.objects.open(id) ?? [])).map(({ kind, id, name, spec }) => ({
    kind,
    id,
    name,
    ...filedIn(filings.get(id)),
    spec: readable(kind, spec),
  }));
  return `${JSON.stringify({ format: FORMAT, version: 1, objects }, null, 2)}\n`;
}

const filedIn = ({ folder = "", note = "" }: Partial<Filing> = {}) => ({ ...(folder ? { folder } : {}), ...(note ? { note } : {}) });

/** A description in the order of its shape; one of another version of the program as it stands. */
const readable = (kind: ObjectKind, spec: unknown): unknown => SHAPES[kind].safeParse(spec).data ?? spec;

/** What would become of one object of a file, and what it misses here. */
export type Planned = { kind: ObjectKind; id: string; name: string; state: "new" | "changed" | "same" | "unreadable"; missing: string[] };

/** What a file would change, object by object. */
export async function planDefinitions(ws: Workspace, objects: Definition[]): Promise<Planned[]> {
  const inFile = new Map(objects.map((o) => [o.id, o]));
  const find = (id: string): Pick<Definition, "kind" | "spec"> | undefined => inFile.get(id) ?? ws.catalogue.get(id);
  const queries = new Map(savedQueries(ws.catalogue).map((q) => [q.id, q]));
  for (const { kind, id, name, spec } of objects) {
    const query = kind === "query" ? querySpecSchema.safeParse(spec).data : undefined;
    if (query && name !== "") queries.set(id, { id, name, spec: query });
  }
  const schema = withQueryTables({ ...(await ws.schema()), queries: [] }, [...queries.values()], ws.today);
  const filings = ws.catalogue.filings();
  return inOrder(objects).map(({ kind, id, name, folder, note, spec }): Planned => {
    const read = SHAPES[kind].safeParse(spec);
    if (!read.success) return { kind, id, name, state: "unreadable", missing: [] };
    const gone = madeFrom(kind, read.data).some((source) => !find(source)) ? [sentence(problem("madeFromGone", [], { kind }))] : [];
    const broken = (BREAKABLE as readonly string[]).includes(kind) ? brokenParts(kind as BreakableKind, read.data, { schema, today: ws.today, find }) : [];
    return {
      kind,
      id,
      name,
      state: stateOf(ws.catalogue.get(id), filings.get(id), { kind, name, folder, note, spec: read.data }),
      missing: [...new Set([...gone, ...broken.map(sentence)])],
    };
  });
}

function stateOf(known: SavedObject | undefined, filing: Filing | undefined, { kind, name, folder, note, spec }: Omit<Definition, "id">): Planned["state"] {
  if (!known) return "new";
  const sameFiled = JSON.stringify(filedIn(filing)) === JSON.stringify(filedIn({ folder, note }));
  return sameFiled && known.name === name && JSON.stringify(readable(kind, known.spec)) === JSON.stringify(spec) ? "same" : "changed";
}

/**
 * Takes a file's objects over, all or none: new ones are made under their ids, others saved as their next version.
 * @throws Refusal where one of them is not the person's to change, or has the id of one that is
 */
export function takeDefinitions(ws: Workspace, objects: Definition[]): number {
  return ws.recorded(() => {
    let changed = 0;
    const filings = ws.catalogue.filings();
    for (const { kind, id, name, folder, note, spec } of inOrder(objects)) {
      const checked = checkSpec(kind, spec);
      const known = ws.catalogue.get(id);
      if (known && known.kind !== kind) throw new Refusal(409, `“${name}” has the id of the ${known.kind} “${known.name}”. Change its id in the file.`);
      if (stateOf(known, filings.get(id), { kind, name, folder, note, spec: checked }) === "same") continue;
      if (MEANS.has(kind)) ws.needUnbound();
      if (known && !ws.objects.open(id)) throw new Refusal(403, `“${name}” is another person's here. Ask its author, or give it another id in the file.`);
      const made = known ? ws.objects.save(id, { name, spec: checked }, known.revision) : ws.objects.create(kind, name, checked, id);
      recordKept(ws, known, made);
      if (folder || note || filings.has(id)) ws.catalogue.file(id, { folder: folder ?? "", note: note ?? "" });
      changed++;
    }
    return changed;
  });
}
