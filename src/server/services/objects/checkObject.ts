import type { ObjectKind } from "@/server/catalogue/catalogue";
import { checkQuery } from "@/server/catalogue/savedQueries";
import { checkDerived } from "@/server/services/derived/service";
import { checkLink } from "@/server/services/links/service";
import type { Workspace } from "@/server/services/workspace/workspace";

/** Kinds that say what the data means: rules on rows stand on them. */
export const MEANS: ReadonlySet<ObjectKind> = new Set(["derived", "link"]);

/** What must hold beside its shape before an object is saved. @throws ProblemError with what stands in the way */
export async function checkObject(ws: Workspace, kind: ObjectKind, name: string, spec: unknown, id?: string): Promise<void> {
  if (MEANS.has(kind)) ws.needUnbound();
  if (kind === "derived") await checkDerived(ws, name, spec, id);
  if (kind === "link") await checkLink(ws, spec);
  if (kind === "query") checkQuery(ws.catalogue, name, spec, id);
}
