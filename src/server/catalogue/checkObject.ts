import { checkDerived } from "@/server/derived/service";
import { checkLink } from "@/server/links/service";
import { checkQuery } from "@/server/queries/savedQueries";
import type { Workspace } from "@/server/workspace/workspace";
import type { ObjectKind } from "./catalogue";

/** Kinds that say what the data means: rules on rows stand on them. */
export const MEANS: ReadonlySet<ObjectKind> = new Set(["derived", "link"]);

/** What must hold beside its shape before an object is saved. @throws ProblemError with what stands in the way */
export async function checkObject(ws: Workspace, kind: ObjectKind, name: string, spec: unknown, id?: string): Promise<void> {
  if (MEANS.has(kind)) ws.needUnbound();
  if (kind === "derived") await checkDerived(ws, name, spec, id);
  if (kind === "link") await checkLink(ws, spec);
  if (kind === "query") checkQuery(ws.catalogue, name, spec, id);
}
