import type { DashboardSpec, PlainTile } from "./spec";

export const emptyDashboard = (): DashboardSpec => ({ version: 1, filters: [], tiles: [], wide: [], narrow: [], refresh: null });

/** Every tile that shows something, those within switches too. */
export const plainTiles = (spec: DashboardSpec): PlainTile[] => spec.tiles.flatMap((t) => (t.kind === "switch" ? t.tiles : [t]));

/** What a tile is made from, by id: a query, a chart or a pivot; null for what asks nothing. */
export function sourceOfTile(tile: PlainTile): string | null {
  switch (tile.kind) {
    case "figure":
    case "table":
      return tile.query;
    case "chart":
      return tile.chart;
    case "pivot":
      return tile.pivot;
    case "text":
    case "picture":
      return null;
    default:
      return tile satisfies never;
  }
}
