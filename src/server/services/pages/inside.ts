import { z } from "zod";
import { askedSchema } from "@/core/page/asked";
import { searchOf } from "@/core/page/search";
import { type PageSpec, pageSpecSchema, type SearchSpec } from "@/core/page/spec";
import { findTable } from "@/core/schema/schema";
import { Refusal } from "@/server/common/refusal";
import { writeEdit } from "@/server/services/posting/service";
import { savedQuery } from "@/server/services/queries/saved";
import { planOf } from "@/server/services/queries/service";
import type { Workspace } from "@/server/services/workspace/workspace";
import { keyOfFound } from "./answer";

/* Pages for people who are signed in: the same as outside, under their own rules on rows; some may change what was chosen. */

/** A page that is shared with the one who asks; a query shared with them is one that asks for its parameters. */
export async function pageInside(ws: Workspace, id: string): Promise<PageSpec> {
  const saved = ws.objects.open(id);
  if (saved?.kind === "page") return pageSpecSchema.parse(saved.spec);
  if (saved?.kind !== "query") throw new Refusal(404, "This page does not exist any more, or it is not shared with you.");
  const { spec } = savedQuery(ws, id);
  const { columns } = await planOf(ws, spec, {});
  return { version: 1, title: saved.name, intro: "", subject: searchOf(id, spec, columns), open: true, ends: null, embed: [] };
}

export const changeQuestionSchema = z.object({
  asked: askedSchema,
  at: z.number().int().min(0),
  /** The mark of the row that was looked at: another that has come to stand in its place is not changed. */
  mark: z.string().max(100),
  change: z.discriminatedUnion("kind", [
    z.object({ kind: z.literal("set"), column: z.string(), text: z.string().max(100_000), was: z.string().nullable() }),
    z.object({ kind: z.literal("remove") }),
  ]),
});

/** What the one who asks may change on a page; null where nothing. */
export function changesFor({ signedIn }: Workspace, { subject }: PageSpec): SearchSpec["changes"] {
  if (subject.kind !== "search" || !subject.changes) return null;
  const { roles } = subject.changes;
  return !signedIn || signedIn.role === "owner" || roles.includes(signedIn.role) ? subject.changes : null;
}

/**
 * Changes one row that the page finds for the one who asks, with the table's own checks, and writes it in the journal.
 * @throws Refusal 403 for what was not chosen, 404 for a row that is not found any more, 409 for one that another has taken the place of
 */
export async function changeInside(ws: Workspace, id: string, { change, ...row }: z.infer<typeof changeQuestionSchema>, caller: { client: string }) {
  const page = await pageInside(ws, id);
  const may = changesFor(ws, page);
  if (!may || page.subject.kind !== "search" || (change.kind === "set" ? !may.columns.includes(change.column) : !may.remove))
    throw new Refusal(403, "You cannot change that on this page.");
  const table = findTable(await ws.schema(), savedQuery(ws, page.subject.query).spec.source);
  if (!table) throw new Refusal(404, "The table of this page does not exist any more.");
  const key = await keyOfFound(ws, table, page.subject, row, caller);
  const entry = await writeEdit(ws, table.name, change.kind === "set" ? { ...change, kind: "change", key } : { kind: "remove", keys: [key] }, caller);
  ws.recordDone("changed on a page", `${page.title}: ${change.kind === "set" ? change.column : "a row removed"}`);
  return entry;
}
