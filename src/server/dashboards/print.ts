import { briefText } from "@/core/brief/brief";
import { dashboardBrief, filterWords } from "@/core/brief/dashboardBrief";
import { figureWords } from "@/core/dashboard/compare";
import { fillText } from "@/core/dashboard/edit";
import { valueFor } from "@/core/dashboard/filters";
import type { PrintedTile } from "@/core/dashboard/pages";
import type { DashboardSpec, PlainTile } from "@/core/dashboard/spec";
import { linesOf } from "@/core/pivot/lines";
import { cellWriter, writeCount, writeDate } from "@/core/types/format";
import { isNumber } from "@/core/types/valueType";
import { chosenColours } from "@/server/charts/service";
import type { DashboardTileJob, FileResult } from "@/server/engine/jobs";
import type { Workspace } from "@/server/workspace/workspace";
import { type TileAnswer, tileOf } from "./service";

type Caller = { client: string; signal?: AbortSignal | undefined; timeLimitMs?: number };

/**
 * Prints a dashboard as it is on a wide screen, with its filters' own defaults; of a switch, its first tile. A pivot is
 * printed whole, on pages of its own.
 */
export async function writeDashboard(
  ws: Workspace,
  spec: DashboardSpec,
  file: { path: string; title: string },
  caller: Caller,
  today = ws.today,
): Promise<FileResult & { pages: number }> {
  const viewing = { person: ws.knownAs, today };
  const plain = spec.tiles.map((tile) => ({ id: tile.id, shown: tile.kind === "switch" ? tile.tiles[0] : tile }));
  const answers = new Map<string, TileAnswer>();
  for (const { shown } of plain)
    if (shown && shown.kind !== "text" && shown.kind !== "picture")
      answers.set(shown.id, await tileOf(ws, { spec, tile: shown.id, values: {} }, viewing, caller));
  const figures = figuresOf(
    ws,
    plain.flatMap(({ shown }) => shown ?? []),
    answers,
  );
  const filters = spec.filters.map((f) => filterWords(f.label, valueFor(f, {}), ws.locale)).join(", ") || "everything";
  const words = { ...figures, today: writeDate(today, ws.locale), filters, viewer: ws.person };
  const tiles = plain.flatMap(({ id, shown }): DashboardTileJob[] => {
    const made = shown && tileJob(ws, shown, answers.get(shown.id), words);
    return made ? [{ id, ...made }] : [];
  });
  return ws.engine.run<"dashboardFile">(
    {
      kind: "dashboardFile",
      file: { ...file, brief: briefText(dashboardBrief(spec, {}, ws.locale)), printedAt: ws.printedAt() },
      spec,
      tiles,
      locale: ws.locale,
      chosen: chosenColours(ws),
    },
    { timeLimitMs: 1_800_000, ...caller },
  );
}

/** The figures that words may name, by their tiles' titles. */
const figuresOf = (ws: Workspace, tiles: PlainTile[], answers: Map<string, TileAnswer>): Record<string, string> =>
  Object.fromEntries(
    tiles.flatMap((tile) => {
      const answer = answers.get(tile.id);
      return tile.kind === "figure" && answer?.kind === "figure" ? [[tile.title.toLowerCase(), figureWords(tile, answer, ws.locale).words]] : [];
    }),
  );

type Made =
  | { printed: PrintedTile }
  | { chart: Extract<TileAnswer, { kind: "chart" }> }
  | { pivot: Extract<TileAnswer, { kind: "pivot" }>; printed: PrintedTile };

function tileJob(ws: Workspace, tile: PlainTile, answer: TileAnswer | undefined, words: Record<string, string>): Made | null {
  if (tile.kind === "text") return { printed: { kind: "words", text: fillText(tile.text, words) } };
  if (tile.kind === "picture") {
    const png = /^data:image\/png;base64,(.*)$/.exec(tile.source)?.[1];
    return png ? { printed: { kind: "picture", png, ratio: 1.6 } } : { printed: { kind: "words", text: tile.alt } };
  }
  if (answer?.kind === "figure" && tile.kind === "figure") return { printed: { kind: "figure", figure: figureWords(tile, answer, ws.locale) } };
  if (answer?.kind === "chart") return { chart: answer };
  if (answer?.kind === "pivot") {
    const { lines } = linesOf(answer.pivot, answer.spec);
    return { pivot: answer, printed: { kind: "words", text: `${writeCount(lines.length, ws.locale)} lines, on pages of their own.` } };
  }
  if (answer?.kind !== "table") return null;
  const writers = answer.columns.map((c) => cellWriter(c.type, c.format, ws.locale));
  return {
    printed: {
      kind: "table",
      headings: answer.columns.map((c) => ({ text: c.heading, right: isNumber(c.type) })),
      rows: answer.rows.map((row) => row.map((cell, i) => writers[i]?.(cell) ?? { text: "", negative: false })),
      more: `${writeCount(answer.rows.length, ws.locale)} of ${writeCount(answer.count, ws.locale)} rows`,
    },
  };
}
