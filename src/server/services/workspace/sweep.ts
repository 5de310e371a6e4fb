import { readdirSync, rmSync, statSync } from "node:fs";
import { join } from "node:path";
import { postingSpecSchema } from "@/core/posting/spec";
import { stepsOf } from "@/core/posting/steps";
import type { Workspace } from "./workspace";

/** What a process that was killed may have left is nobody's after so long. */
const LEFT_MS = 24 * 3_600_000;
/** A file that was brought in and not used waits this long for whoever brought it. */
const IMPORT_MS = 7 * 24 * 3_600_000;

const namesIn = (folder: string, deep = false): string[] => {
  try {
    return readdirSync(folder, { recursive: deep }) as string[];
  } catch {
    return [];
  }
};

/**
 * Takes away what killed processes left: temporary files, half files in the outbox, and files brought in that no posting
 * reads. What may still be written or looked at is younger and stays.
 */
export function sweepLeftovers(ws: Workspace): void {
  const now = Date.now();
  const old = (path: string, afterMs: number) => now - (statSync(path, { throwIfNoEntry: false })?.mtimeMs ?? now) > afterMs;
  const remove = (path: string, afterMs: number) => old(path, afterMs) && rmSync(path, { recursive: true, force: true });
  const temporary = join(ws.folder, "tmp");
  for (const name of namesIn(temporary)) remove(join(temporary, name), LEFT_MS);
  for (const name of namesIn(ws.outbox, true)) if (name.endsWith(".part")) remove(join(ws.outbox, name), LEFT_MS);
  const read = new Set(
    ws.catalogue.list("posting").flatMap(({ spec }) => {
      const posting = postingSpecSchema.safeParse(spec).data;
      return posting ? stepsOf(posting).flatMap(({ source }) => (source.kind === "file" ? source.id : source.kind === "inbox" ? source.as : [])) : [];
    }),
  );
  const imports = join(ws.folder, "imports");
  for (const id of namesIn(imports)) if (!read.has(id)) remove(join(imports, id), IMPORT_MS);
}
