import type { z } from "zod";
import { chartSpecSchema } from "@/core/chart/spec";
import { filteredQuery } from "@/core/dashboard/filters";
import { type DashboardSpec, dashboardSpecSchema, type FilterValues, type PlainTile } from "@/core/dashboard/spec";
import { emptyDashboard, plainTiles, sourceOfTile } from "@/core/dashboard/tiles";
import { emptyPivot } from "@/core/pivot/empty";
import { type PivotSpec, pivotSpecSchema } from "@/core/pivot/spec";
import type { QuerySpec } from "@/core/query/spec";
import { ProblemError, problem } from "@/core/types/problem";
import { Refusal } from "@/server/common/refusal";
import { specOf } from "@/server/services/people/described";
import { savedQuery } from "@/server/services/queries/saved";
import type { Workspace } from "@/server/services/workspace/workspace";

/** The dashboard that is asked about: one being arranged, a saved one, or a pivot or chart seen by itself. */
export function dashboardOf(ws: Workspace, asked: { spec?: DashboardSpec | undefined; object?: string | undefined }): DashboardSpec {
  const saved = asked.object === undefined ? undefined : ws.objects.open(asked.object);
  if (saved?.kind === "pivot" || saved?.kind === "chart") return alone(saved.kind, saved.id, saved.name);
  return specOf(ws, asked, "dashboard", dashboardSpecSchema);
}

/** A pivot or a chart as a dashboard of its own. */
export function alone(kind: "pivot" | "chart", id: string, title: string): DashboardSpec {
  const tile = { id: "all", title, note: "" };
  return {
    ...emptyDashboard(),
    tiles: [kind === "pivot" ? { ...tile, kind, pivot: id } : { ...tile, kind, chart: id }],
    wide: [{ tile: "all", x: 0, y: 0, w: 12, h: 18 }],
    narrow: ["all"],
  };
}

/** A chart or pivot that a tile shows. @throws ProblemError tileGone */
export function savedSpec<S>(ws: Workspace, id: string, kind: "chart" | "pivot", shape: z.ZodType<S>): { name: string; spec: S } {
  const saved = ws.objects.get(id);
  const spec = saved?.kind === kind ? shape.safeParse(saved.spec) : null;
  if (!saved || !spec?.success) throw new ProblemError([problem("tileGone", ["tiles"], { kind })]);
  return { name: saved.name, spec: spec.data };
}

/** The pivot of a tile's figures; null where it has none. */
export function pivotOfTile(ws: Workspace, spec: DashboardSpec, id: string): PivotSpec | null {
  const tile = plainTiles(spec).find((t) => t.id === id);
  if (tile?.kind === "figure") return pivotOfFigure(tile);
  if (tile?.kind === "chart") return savedSpec(ws, tile.chart, "chart", chartSpecSchema).spec.pivot;
  return tile?.kind === "pivot" ? savedSpec(ws, tile.pivot, "pivot", pivotSpecSchema).spec : null;
}

/** A figure tile as the pivot of one cell. */
export const pivotOfFigure = (tile: Extract<PlainTile, { kind: "figure" }>): PivotSpec => ({
  ...emptyPivot(tile.query),
  figures: [{ ...tile.figure, showAs: "asIs" }],
});

/** The query of a tile's rows, as its filters narrow it. */
export function rowsOfTile(ws: Workspace, spec: DashboardSpec, id: string, values: FilterValues): QuerySpec {
  const tile = plainTiles(spec).find((t) => t.id === id);
  const query = tile && queryOfTile(ws, tile);
  if (!query) throw new Refusal(404, "This tile has no rows.");
  return filteredQuery(spec, id, savedQuery(ws, query).spec, values, ws.today);
}

/** The query behind a tile, by id; null for what asks nothing. @throws ProblemError tileGone */
export function queryOfTile(ws: Workspace, tile: PlainTile): string | null {
  if (tile.kind === "chart") return savedSpec(ws, tile.chart, "chart", chartSpecSchema).spec.query;
  if (tile.kind === "pivot") return savedSpec(ws, tile.pivot, "pivot", pivotSpecSchema).spec.query;
  return sourceOfTile(tile);
}
