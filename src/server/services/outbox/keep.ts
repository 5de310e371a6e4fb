import { rmSync } from "node:fs";
import { join } from "node:path";
import { z } from "zod";
import type { Workspace } from "@/server/services/workspace/workspace";

/** How long the outbox can keep its files, in days; null is for good. */
export const KEEP_DAYS = [7, 30, 90, 365, null] as const;
export const keepSchema = z.object({ days: z.union([z.literal(7), z.literal(30), z.literal(90), z.literal(365), z.null()]) });

const DAY_MS = 86_400_000;

/** For how many days files are kept; null where they stay for good. */
export const keptDays = (ws: Workspace): number | null => keepSchema.shape.days.safeParse(ws.catalogue.setting("outbox days")).data ?? null;

/** Keeps files for so many days from now on, with a line in the log; older ones go at once. */
export function keepFor(ws: Workspace, days: number | null): void {
  ws.recorded(() => {
    ws.catalogue.setSetting("outbox days", days ?? "for good");
    ws.record("set how long the outbox keeps files", days === null ? "for good" : `${days} days`);
  });
  removeOld(ws);
}

/** Removes the files of runs that are older than the workspace keeps them. The runs stay, and say when their files went. */
export function removeOld(ws: Workspace): void {
  const days = keptDays(ws);
  if (days === null) return;
  const now = ws.now();
  for (const run of ws.catalogue.runs.withFiles()) {
    if (!run.finishedAt || now.getTime() - run.finishedAt.getTime() <= days * DAY_MS) continue;
    // First the files: where one cannot be removed, the run still has it.
    for (const { path } of run.files ?? []) rmSync(join(ws.outbox, path), { force: true });
    ws.catalogue.runs.update(run.id, { files: null, removedAt: now });
  }
}
