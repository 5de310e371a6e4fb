import { existsSync, readFileSync } from "node:fs";
import { join } from "node:path";
import type { Table } from "@/core/schema/schema";
import { Refusal } from "@/server/common/refusal";
import type { Workspace } from "@/server/services/workspace/workspace";

/** Where files that were brought in are kept, one folder each. */
export const importFolder = (ws: Workspace, id: string): string => join(ws.folder, "imports", id);

/** The staged rows of a file that was read in; null where it is not kept, or not staged yet. */
export function stagedFile(ws: Workspace, id: string): { database: string; table: Table } | null {
  const folder = importFolder(ws, id);
  const database = join(folder, "staged.sqlite");
  const described = join(folder, "staged.json");
  if (!existsSync(database) || !existsSync(described)) return null;
  return { database, table: JSON.parse(readFileSync(described, "utf8")) as Table };
}

export type BroughtFile = { id: string; name: string; bytes: number };

/** A file kept here. @throws Refusal where it is not */
export function broughtFile(ws: Workspace, id: string): BroughtFile & { path: string } {
  const folder = importFolder(ws, id);
  if (!/^[\w-]{1,60}$/.test(id) || !existsSync(join(folder, "file.json"))) throw new Refusal(404, "This file is no longer stored. Import it again.");
  return { ...(JSON.parse(readFileSync(join(folder, "file.json"), "utf8")) as BroughtFile), path: join(folder, "file") };
}
