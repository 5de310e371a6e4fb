import type { z } from "zod";
import { chartSpecSchema } from "@/core/chart/spec";
import { pivotSpecSchema } from "@/core/pivot/spec";
import { querySpecSchema } from "@/core/query/spec";
import type { ObjectKind } from "@/server/catalogue/catalogue";
import type { Workspace } from "@/server/workspace/workspace";

/** The saved objects that tiles can be made from; those in a form that cannot be read are left out. */
export function sourcesOf({ objects }: Workspace) {
  const all = <S>(kind: ObjectKind, shape: z.ZodType<S>) =>
    objects.list(kind).flatMap(({ id, name, spec }) => {
      const read = shape.safeParse(spec);
      return read.success ? [{ id, name, spec: read.data }] : [];
    });
  return { queries: all("query", querySpecSchema), charts: all("chart", chartSpecSchema), pivots: all("pivot", pivotSpecSchema) };
}

export type Sources = ReturnType<typeof sourcesOf>;
