import { readdirSync, statSync } from "node:fs";
import { join, relative, resolve, sep } from "node:path";

export type OutboxFile = { path: string; folder: string; name: string; bytes: number; at: string };

/** The files that lie in the outbox, newest first; unfinished ones are not among them. */
export function listOutbox(root: string): OutboxFile[] {
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
export function outboxPath(root: string, path: string): string | null {
  const at = resolve(root, path);
  const inside = relative(root, at);
  if (inside === "" || inside.startsWith("..") || resolve(root, inside) !== at) return null;
  return statSync(at, { throwIfNoEntry: false })?.isFile() ? at : null;
}
