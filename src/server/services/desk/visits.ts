import { stepOfOpening } from "@/core/desk/walk";
import type { ObjectKind, SavedObject } from "@/server/catalogue/catalogue";
import type { Workspace } from "@/server/services/workspace/workspace";
import { walkStep } from "./walk";

/** A table among what was opened: it is no saved object. */
export const tableVisit = (table: string): string => `table:${table}`;

/** Whose notes these are; of those without accounts, nobody's. */
const visitorOf = ({ signedIn }: Workspace): string => signedIn?.id ?? "";

/** A saved object of a kind for its page, which is noted as opened; undefined where there is none for the one who works here. */
export function openOnPage(ws: Workspace, id: string, kind: ObjectKind): SavedObject | undefined {
  const saved = ws.objects.open(id);
  if (saved?.kind !== kind) return undefined;
  noteVisit(ws, id);
  return saved;
}

/** Notes that something was opened. A catalogue without room does not keep a page from being shown. */
export function noteVisit(ws: Workspace, object: string): void {
  try {
    ws.catalogue.visit(visitorOf(ws), object);
    const step = stepOfOpening(object);
    if (step) walkStep(ws, step);
  } catch (error) {
    console.error(`What was opened could not be noted: ${error instanceof Error ? error.message : error}`);
  }
}

/** Pins an object or a table to the desk of the one who works here, or unpins it. */
export const pin = (ws: Workspace, object: string, pinned: boolean): void => ws.catalogue.pin(visitorOf(ws), object, pinned);

/** What the one who works here pinned, then what they opened last. */
export const visitsOf = (ws: Workspace, limit: number) => ws.catalogue.visitsOf(visitorOf(ws), limit);
