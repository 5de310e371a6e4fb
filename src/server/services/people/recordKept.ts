import { pageSpecSchema } from "@/core/page/spec";
import type { SavedObject } from "@/server/catalogue/catalogue";
import type { Workspace } from "@/server/services/workspace/workspace";

const isShown = (object: SavedObject | undefined): boolean => object?.kind === "page" && pageSpecSchema.safeParse(object.spec).data?.open === true;

/**
 * Writes down what others are held to, or shown: rules on rows, and whether a page is open to people without an account.
 * @param before undefined where it was made; `after` where it was removed
 */
export function recordKept(ws: Workspace, before: SavedObject | undefined, after: SavedObject | undefined): void {
  const object = after ?? before;
  if (object?.kind === "rule") ws.record(before ? (after ? "changed a row rule" : "removed a row rule") : "added a row rule", object.name);
  if (object && isShown(before) !== isShown(after)) ws.record(isShown(after) ? "published a page" : "unpublished a page", object.name);
}
