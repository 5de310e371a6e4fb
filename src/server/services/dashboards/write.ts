import { briefText } from "@/core/brief/brief";
import { dashboardBrief, filtersText, unmetWords } from "@/core/brief/dashboardBrief";
import { askedWords, differing } from "@/core/dashboard/asked";
import type { DashboardFormat } from "@/core/dashboard/choices";
import type { DashboardSpec, FilterValues } from "@/core/dashboard/spec";
import { writeDate } from "@/core/types/format";
import { ProblemError } from "@/core/types/problem";
import { Refusal } from "@/server/common/refusal";
import type { DashboardTileJob, FileResult } from "@/server/jobs/work";
import { chosenColours } from "@/server/services/charts/service";
import type { Workspace } from "@/server/services/workspace/workspace";
import { tileOf } from "./service";

type Caller = { client: string; signal?: AbortSignal | undefined; timeLimitMs?: number };

/** What is wrong with a tile, with its name: a file is of all of them or is not made. */
const ofTile = (title: string, error: unknown): unknown =>
  error instanceof ProblemError ? new Refusal(422, `The tile “${title}” failed. ${error.message}`) : error;

/**
 * Writes a dashboard to a file as it is on a wide screen; of a switch, its first tile.
 * @param values what a viewer has chosen; a filter without a value has its default
 */
export async function writeDashboard(
  ws: Workspace,
  { spec, values }: { spec: DashboardSpec; values: FilterValues },
  file: { format: DashboardFormat; path: string; title: string },
  caller: Caller,
  today = ws.today,
): Promise<FileResult & { pages: number | null }> {
  const tiles = await Promise.all(
    spec.tiles.flatMap((place): Promise<DashboardTileJob>[] => {
      const tile = place.kind === "switch" ? place.tiles[0] : place;
      if (!tile) return [];
      const isDrawn = tile.kind === "text" || tile.kind === "picture";
      const title = place.title || tile.title;
      const answer = isDrawn
        ? Promise.resolve(null)
        : tileOf(ws, { spec, tile: tile.id, values }, today, caller).catch((error) => Promise.reject(ofTile(title, error)));
      return [
        answer.then((a) => ({
          place: place.id,
          tile,
          title,
          unmet: unmetWords(spec, tile, values),
          asked: a ? askedWords(a, today, ws.locale) : "",
          answer: a,
        })),
      ];
    }),
  );
  const asked = differing(Object.fromEntries(tiles.flatMap((t) => (t.answer ? [[t.place, t.asked]] : []))));
  const said = { spec, values, schema: await ws.schema(), locale: ws.locale };
  return ws.engine.run<"dashboardFile">(
    {
      kind: "dashboardFile",
      file: { ...file, brief: briefText(dashboardBrief(said)), printedAt: ws.printedAt() },
      spec,
      tiles: tiles.map((t) => ({ ...t, asked: asked[t.place] ?? "" })),
      words: { today: writeDate(today.day, ws.locale), filters: filtersText(said), viewer: ws.person },
      locale: ws.locale,
      chosen: chosenColours(ws),
    },
    { timeLimitMs: 1_800_000, ...caller },
  );
}
