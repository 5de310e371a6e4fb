import type { WalkStep } from "@/core/desk/walk";
import { findTable, type Schema } from "@/core/schema/schema";
import type { ObjectKind, SavedObject } from "@/server/catalogue/catalogue";
import { logoAddress } from "@/server/services/workspace/settings";
import type { Workspace } from "@/server/services/workspace/workspace";
import { type Need, needsOf } from "./needs";
import { type TodayRun, todayOf } from "./today";
import { visitsOf } from "./visits";
import { walkOf } from "./walk";

/** Something to go on with: pinned, opened lately, or shared by another. */
export type Recent = { kind: ObjectKind | "table"; id: string; name: string; pinned: boolean; at: string | null; sharedBy: string | null };

export type DeskState = {
  company: string;
  logo: string | null;
  today: string;
  needs: Need[];
  runs: TodayRun[];
  recents: Recent[];
  tables: { name: string; label: string; rows: number }[];
  queries: { id: string; name: string }[];
  /** The dashboard that an owner put on the desk, as far as it is shared with the one who works here. */
  dashboard: string | null;
  dashboards: { id: string; name: string }[];
  walk: WalkStep[] | null;
};

/** The kinds of saved object that have a page of their own. */
const OPENED: ReadonlySet<ObjectKind> = new Set(["query", "pivot", "chart", "report", "letter", "dashboard", "page", "posting"]);
const MOST_RECENT = 8;
const MOST_SHARED = 4;

/** All that the desk of the one who works here shows. */
export async function deskOf(ws: Workspace): Promise<DeskState> {
  const schema = await ws.shownSchema();
  const all = ws.catalogue.list();
  const seen = all.filter((o) => ws.objects.level(o) !== null);
  const named = (kind: ObjectKind) => seen.filter((o) => o.kind === kind).map(({ id, name }) => ({ id, name }));
  const dashboards = named("dashboard");
  const chosen = ws.catalogue.setting("desk dashboard");
  return {
    company: ws.company,
    logo: logoAddress(ws),
    today: ws.today.day,
    needs: await needsOf(ws, all),
    runs: ws.signedIn?.role === "viewer" ? [] : todayOf(ws),
    recents: recentsOf(ws, schema, seen),
    tables: schema.tables.map(({ name, label, rows }) => ({ name, label, rows })),
    queries: named("query").filter((q) => q.name !== ""),
    dashboard: dashboards.find((d) => d.id === chosen)?.id ?? null,
    dashboards: ws.signedIn && ws.signedIn.role !== "owner" ? [] : dashboards,
    walk: walkOf(ws),
  };
}

function recentsOf(ws: Workspace, schema: Schema, objects: SavedObject[]): Recent[] {
  const visits = visitsOf(ws, 60);
  const seen = visits.flatMap(({ object, at, pinned }): Recent[] => {
    const one = named(ws, schema, object);
    return one ? [{ ...one, pinned, at: at.toISOString(), sharedBy: null }] : [];
  });
  const opened = new Set(visits.map((v) => v.object));
  const shared = sharedWith(ws, objects)
    .filter((o) => !opened.has(o.id))
    .slice(0, MOST_SHARED)
    .map(({ kind, id, name, owner }): Recent => ({ kind, id, name, pinned: false, at: null, sharedBy: (owner && ws.people.get(owner)?.name) || null }));
  return [...seen.slice(0, MOST_RECENT), ...shared];
}

/** What was opened, where it is still there for the one who works here. */
function named(ws: Workspace, schema: Schema, object: string): Pick<Recent, "kind" | "id" | "name"> | null {
  if (object.startsWith("table:")) {
    const table = findTable(schema, object.slice("table:".length));
    return table && ws.signedIn?.role !== "viewer" ? { kind: "table", id: table.name, name: table.label } : null;
  }
  const found = ws.objects.open(object);
  return found && found.name !== "" && OPENED.has(found.kind) ? { kind: found.kind, id: found.id, name: found.name } : null;
}

/** What others shared with the one who works here, the latest change first. */
function sharedWith({ signedIn, people }: Workspace, objects: SavedObject[]): SavedObject[] {
  if (!signedIn) return [];
  const mine = new Set(people.allShares().flatMap((s) => (s.person === "" || s.person === signedIn.id ? [s.object] : [])));
  return objects.filter((o) => mine.has(o.id) && o.owner !== signedIn.id && OPENED.has(o.kind)).sort((a, b) => b.updatedAt.getTime() - a.updatedAt.getTime());
}
