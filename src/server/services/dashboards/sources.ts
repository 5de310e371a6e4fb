import type { z } from "zod";
import { chartSpecSchema } from "@/core/chart/spec";
import type { DashboardSpec } from "@/core/dashboard/spec";
import { plainTiles, sourceOfTile } from "@/core/dashboard/tiles";
import { pivotSpecSchema } from "@/core/pivot/spec";
import { querySpecSchema } from "@/core/query/spec";
import type { ObjectKind } from "@/server/catalogue/catalogue";
import { OWN_QUERY } from "@/server/services/queries/saved";
import type { Workspace } from "@/server/services/workspace/workspace";

/**
 * The saved objects that tiles can be made from; those in a form that cannot be read are left out. Queries without a
 * name are among them where a tile, or a chart or pivot for one, is made from them.
 */
export function sourcesOf({ objects }: Workspace, spec?: DashboardSpec) {
  const all = <S>(kind: ObjectKind, shape: z.ZodType<S>) =>
    objects.list(kind).flatMap(({ id, name, spec }) => {
      const read = shape.safeParse(spec);
      return read.success ? [{ id, name, spec: read.data }] : [];
    });
  const [charts, pivots] = [all("chart", chartSpecSchema), all("pivot", pivotSpecSchema)];
  const used = [...(spec ? plainTiles(spec).flatMap((t) => sourceOfTile(t) ?? []) : []), ...[...charts, ...pivots].map((o) => o.spec.query)];
  const own = [...new Set(used)].flatMap((id) => {
    const found = objects.get(id);
    const read = found?.kind === "query" && found.name === "" ? querySpecSchema.safeParse(found.spec) : null;
    return read?.success ? [{ id, name: OWN_QUERY, spec: read.data }] : [];
  });
  return { queries: [...all("query", querySpecSchema), ...own], charts, pivots };
}

export type Sources = ReturnType<typeof sourcesOf>;
