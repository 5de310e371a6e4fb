import { z } from "zod";
import { stepDone, WALK_STEPS, type WalkState, type WalkStep } from "@/core/desk/walk";
import type { Workspace } from "@/server/services/workspace/workspace";

const WALK = "walk";
const walkSchema = z.object({ done: z.array(z.enum(WALK_STEPS)), closed: z.boolean() });

const walker = ({ signedIn }: Workspace): string => signedIn?.id ?? "";
const stateOf = (ws: Workspace): WalkState => walkSchema.safeParse(ws.catalogue.viewerState(walker(ws), WALK)).data ?? { done: [], closed: false };

/** Whether the one who works here is shown the walk: in the demo, and only who can build. */
const hasWalk = ({ catalogue, signedIn }: Workspace): boolean => catalogue.setting("demo") === true && signedIn?.role !== "viewer";

/** The steps of the demo's walk that were done; null where there is none, or it was closed. */
export function walkOf(ws: Workspace): WalkStep[] | null {
  if (!hasWalk(ws)) return null;
  const { done, closed } = stateOf(ws);
  return closed ? null : done;
}

/** Ticks a step off. */
export function walkStep(ws: Workspace, step: WalkStep): void {
  if (!hasWalk(ws)) return;
  const before = stateOf(ws);
  const after = stepDone(before, step);
  if (after !== before) ws.catalogue.setViewerState(walker(ws), WALK, after);
}

/** Closes the walk for good. */
export const closeWalk = (ws: Workspace): void => ws.catalogue.setViewerState(walker(ws), WALK, { ...stateOf(ws), closed: true });
