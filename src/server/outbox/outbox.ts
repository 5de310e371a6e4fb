import { readdirSync, statSync } from "node:fs";
import { join, relative, resolve, sep } from "node:path";

import type { Workspace } from "@/server/workspace/workspace";

export type OutboxFile = { path: string; folder: string; name: string; bytes: number; at: string };

/** Which files are for the one who works here: what schedules made that they may see. An owner takes all. */
function mayTake({ signedIn, catalogue, objects }: Workspace): (path: string) => boolean {
  if (!signedIn || signedIn.role === "owner") return () => true;
  const mine = new Set(objects.list("schedule").map((s) => s.id));
  const files = new Set(catalogue.runsWithFiles().flatMap((r) => (mine.has(r.schedule) ? (r.files ?? []).map((f) => f.path) : [])));
  return (path) => files.has(path);
}

/** The files that lie in the outbox for the one who works here, newest first; unfinished ones are not among them. */
export const listOutbox = (ws: Workspace): OutboxFile[] => {
  const may = mayTake(ws);
  return listFiles(ws.outbox).filter((file) => may(file.path));
};

function listFiles(root: string): OutboxFile[] {
  let names: string[] = [];
  try {
    names = readdirSync(root, { recursive: true }) as string[];
  } catch {
    return [];
  }
  return names
    .flatMap((path): OutboxFile[] => {
      const stat = statSync(join(root, path), { throwIfNoEntry: false });
      if (!stat?.isFile() || path.endsWith(".part")) return [];
      const parts = path.split(sep);
      return [{ path: parts.join("/"), folder: parts.slice(0, -1).join(" › "), name: parts.at(-1) ?? path, bytes: stat.size, at: stat.mtime.toISOString() }];
    })
    .sort((a, b) => b.at.localeCompare(a.at) || a.path.localeCompare(b.path));
}

/** The place of an outbox file; null for a path that leads out of the outbox or to nothing. */
export function outboxPath(ws: Workspace, path: string): string | null {
  if (!mayTake(ws)(path)) return null;
  const root = ws.outbox;
  const at = resolve(root, path);
  const inside = relative(root, at);
  if (inside === "" || inside.startsWith("..") || resolve(root, inside) !== at) return null;
  return statSync(at, { throwIfNoEntry: false })?.isFile() ? at : null;
}
