import { statSync } from "node:fs";
import { layOutDashboard, type PrintedTile, pictureRoom } from "@/core/dashboard/pages";
import type { DashboardSpec } from "@/core/dashboard/spec";
import { linesOf } from "@/core/pivot/lines";
import { layOutPivot } from "@/core/pivot/pages";
import type { Page } from "@/core/report/page";
import type { DashboardJob, FileResult } from "@/server/engine/jobs";
import { fontMetrics } from "./fonts";
import { writePdf } from "./pdf";

const PIXELS_PER_POINT = 2.4;

/** A chart's picture in the shape of its tile, its type as large as on a chart's own page. */
function pictureSize(spec: DashboardSpec, tile: string): { width: number; height: number } {
  const room = pictureRoom(spec, tile);
  return { width: Math.round(room.width * PIXELS_PER_POINT), height: Math.round(room.height * PIXELS_PER_POINT) };
}

/** Writes a dashboard that was worked out as PDF: its tiles on their grid, then its pivots whole. */
export async function exportDashboard({ spec, tiles, file, locale, chosen }: DashboardJob): Promise<FileResult & { pages: number }> {
  const metrics = fontMetrics();
  const { chartPicture } = await import("./chart");
  const printed = new Map<string, PrintedTile>(
    tiles.map((tile) => {
      if (!("chart" in tile)) return [tile.id, tile.printed];
      const size = pictureSize(spec, tile.id);
      const png = chartPicture({ spec: tile.chart.spec, locale }, tile.chart.answer, chosen, size).toString("base64");
      return [tile.id, { kind: "picture", png, ratio: size.width / size.height }];
    }),
  );
  const front = layOutDashboard({ spec, tiles: printed, texts: file, metrics });
  const pivots = tiles.flatMap((tile): Page[] =>
    "pivot" in tile
      ? layOutPivot({
          pivot: tile.pivot.pivot,
          lines: linesOf(tile.pivot.pivot, tile.pivot.spec),
          texts: { ...file, title: spec.tiles.find((t) => t.id === tile.id)?.title || tile.pivot.name },
          metrics,
          locale,
        })
      : [],
  );
  await writePdf(file.path, { title: file.title, lang: locale.locale }, (_, addPage) => [...front, ...pivots].forEach(addPage));
  return { rows: 0, bytes: statSync(file.path).size, totals: {}, pages: front.length + pivots.length };
}
