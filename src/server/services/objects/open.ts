import type { z } from "zod";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import type { ObjectKind } from "@/server/catalogue/catalogue";
import { openOnPage } from "@/server/services/desk/visits";
import { savedQuery } from "@/server/services/queries/saved";
import type { Workspace } from "@/server/services/workspace/workspace";

type Opened<S> = { saved: { id: string; name: string; spec: S; revision: number }; query: { id: string; name: string; spec: QuerySpec }; schema: Schema };

/** A saved object made from a query, with that query and the database's shape; or the words for why it cannot be opened. */
export async function openOver<S extends { query: string }>(
  ws: Workspace,
  id: string,
  kind: ObjectKind,
  shape: z.ZodType<S>,
): Promise<Opened<S> | { words: string }> {
  const saved = openOnPage(ws, id, kind);
  if (!saved) return { words: `This ${kind} does not exist any more. It may have been deleted. See the list.` };
  const spec = shape.safeParse(saved.spec);
  if (!spec.success) return { words: `This version cannot read this ${kind}. It is kept unchanged.` };
  try {
    const query = savedQuery(ws, spec.data.query);
    return {
      saved: { id: saved.id, name: saved.name, spec: spec.data, revision: saved.revision },
      query: { id: spec.data.query, ...query },
      schema: await ws.shownSchema(),
    };
  } catch (error) {
    return { words: error instanceof Error ? error.message : "It could not be opened." };
  }
}
