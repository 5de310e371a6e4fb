import { visitsOf } from "@/server/services/desk/visits";
import type { Workspace } from "@/server/services/workspace/workspace";

/** What find-or-do finds by its name: an object, a table, or a column of one. */
export type FindItem = { kind: string; id: string; name: string; of?: string };

const RECENT = 30;

/** All that the one who works here can find by its name, what they opened last first. */
export async function findItems(ws: Workspace): Promise<FindItem[]> {
  const objects = ws.objects.list().map(({ id, kind, name }): FindItem => ({ id, kind, name }));
  const schema = ws.signedIn?.role === "viewer" ? null : await ws.shownSchema().catch(() => null);
  const tables = schema?.tables.map((t): FindItem => ({ kind: "table", id: t.name, name: t.label })) ?? [];
  const columns = schema?.tables.flatMap((t) => t.columns.map((c): FindItem => ({ kind: "column", id: t.name, name: c.label, of: t.label }))) ?? [];
  const order = new Map(visitsOf(ws, RECENT).map((v, i) => [v.object, i]));
  const place = ({ kind, id }: FindItem) => order.get(kind === "table" ? `table:${id}` : id) ?? RECENT;
  return [...[...objects, ...tables].sort((a, b) => place(a) - place(b)), ...columns];
}
