import { statSync } from "node:fs";
import { loadImage } from "@napi-rs/canvas";
import type { ChartAnswer } from "@/core/chart/data";
import type { DashboardFormat } from "@/core/dashboard/choices";
import { figureWords } from "@/core/dashboard/compare";
import { fillText } from "@/core/dashboard/edit";
import { isCut, layOutDashboard, layOutRows, type PrintedTile, pictureRoom } from "@/core/dashboard/pages";
import { bannerRows, bannerWords, cellAt, linesOf, lineWords } from "@/core/pivot/lines";
import { layOutPivot } from "@/core/pivot/pages";
import { onTheRight, shownWriter } from "@/core/query/shownColumn";
import { cellWriter, type Locale } from "@/core/types/format";
import type { TileAnswer } from "@/server/jobs/dashboards/tileAnswer";
import type { DashboardJob, DashboardTileJob, FileResult } from "@/server/jobs/work";
import { chartPicture } from "./chart";
import { dashboardWorkbook } from "./dashboardXlsx";
import { writeWhole } from "./files";
import { fontMetrics } from "./fonts";
import { writePdf } from "./pdf";
import { pagePicture, pngOf } from "./picture";

type Of<K extends TileAnswer["kind"]> = Extract<TileAnswer, { kind: K }>;

const PIXELS_PER_POINT = 2.4;
/** A picture of a long dashboard is made smaller rather than taller than this. */
const MOST_PIXELS_HIGH = 16_000;
/** Pictures on tiles with more pixels than this are left out for their words: drawn, they would fill the memory. */
const MOST_PIXELS = 40_000_000;
/** Before the words of a pivot's line, for each level it stands under. */
const INDENT = "\u00a0\u00a0\u00a0";

/** Writes a dashboard that was worked out to a file, whole or not at all. `pages` is null where it has none. */
export async function exportDashboard(job: DashboardJob): Promise<FileResult & { pages: number | null }> {
  const pages = await WRITERS[job.file.format](job);
  return { rows: rowsBehind(job.tiles), bytes: statSync(job.file.path).size, totals: {}, pages };
}

/** The rows that tiles kept to what the filters ask for are worked out from, a row once for each tile: with none, a dashboard shows nobody anything. */
const rowsBehind = (tiles: DashboardTileJob[]): number => tiles.reduce((sum, { unmet, answer }) => sum + (unmet || !answer ? 0 : rowsOf(answer)), 0);

function rowsOf(answer: TileAnswer): number {
  switch (answer.kind) {
    case "figure":
      return answer.rows;
    case "table":
      return answer.count;
    case "pivot":
      return answer.pivot.proof.rows.query;
    case "chart":
      return rowsOfChart(answer.answer);
    default:
      return answer satisfies never;
  }
}

function rowsOfChart(answer: ChartAnswer): number {
  if (answer.shape === "points") return answer.points.length;
  return answer.shape === "values" ? answer.boxes.length : answer.pivot.proof.rows.query;
}

const WRITERS: Record<DashboardFormat, (job: DashboardJob) => Promise<number | null>> = {
  /** Its tiles on their grid, then whole what its tiles have no room for: the rows of tables, and pivots. */
  async pdf(job) {
    const { file, locale, spec } = job;
    const metrics = fontMetrics();
    const [tiles, notes] = [await printedTiles(job), notesOf(job)];
    const front = layOutDashboard({ spec, tiles, notes, texts: file, metrics, locale, paged: true });
    const whole = job.tiles.flatMap(({ place, title, unmet, answer }) => {
      const texts = { ...file, title: title || file.title, brief: unmet ? `${file.brief} This is ${unmet}.` : file.brief };
      if (answer?.kind === "pivot")
        return layOutPivot({
          pivot: answer.pivot,
          lines: linesOf(answer.pivot, answer.spec),
          texts: { ...texts, title: title || answer.name },
          metrics,
          locale,
        });
      const table = tiles.get(place);
      return table?.kind === "table" && isCut(spec, place, Boolean(notes.get(place)), table) ? layOutRows(table, texts, metrics, locale) : [];
    });
    const pages = [...front, ...whole];
    await writePdf(file.path, { title: file.title, lang: locale.locale }, (_, addPage) => pages.forEach(addPage));
    return pages.length;
  },
  async png(job) {
    const { spec, file, locale } = job;
    const [page] = layOutDashboard({ spec, tiles: await printedTiles(job), notes: notesOf(job), texts: file, metrics: fontMetrics(), locale, paged: false });
    if (page) writeWhole(file.path, await pagePicture(page, Math.min(PIXELS_PER_POINT, MOST_PIXELS_HIGH / page.height)));
    return null;
  },
  async xlsx(job) {
    await dashboardWorkbook(job);
    return null;
  },
};

/** What stands under each tile's title: its own note, and what it is not narrowed by. */
const notesOf = ({ spec, tiles }: DashboardJob): Map<string, string> =>
  new Map(
    spec.tiles.map((place) => {
      const { unmet = "", asked = "" } = tiles.find((t) => t.place === place.id) ?? {};
      return [place.id, [place.note, unmet, asked].filter(Boolean).join(" · ")];
    }),
  );

/** What each place of the grid prints. */
async function printedTiles(job: DashboardJob): Promise<Map<string, PrintedTile>> {
  const figures = job.tiles.flatMap(({ tile, answer }) =>
    tile.kind === "figure" && answer?.kind === "figure" ? [[tile.title.toLowerCase(), figureWords(tile, answer, job.locale).words]] : [],
  );
  const words = { ...Object.fromEntries(figures), ...job.words };
  const printed = await Promise.all(job.tiles.map(async (t) => [t.place, await printedTile(job, t, words)] as const));
  return new Map(printed.flatMap(([place, tile]) => (tile ? [[place, tile]] : [])));
}

async function printedTile(job: DashboardJob, { place, tile, answer }: DashboardTileJob, words: Record<string, string>): Promise<PrintedTile | null> {
  if (tile.kind === "text") return { kind: "words", text: fillText(tile.text, words) };
  if (tile.kind === "picture") return printedPicture(tile.source, tile.alt);
  switch (answer?.kind) {
    case "figure":
      return tile.kind === "figure" ? { kind: "figure", figure: figureWords(tile, answer, job.locale) } : null;
    case "chart": {
      const room = pictureRoom(job.spec, place, (notesOf(job).get(place) ?? "") !== "");
      const size = { width: Math.round(room.width * PIXELS_PER_POINT), height: Math.round(room.height * PIXELS_PER_POINT) };
      const png = chartPicture({ spec: answer.spec, locale: job.locale }, answer.answer, job.chosen, size).toString("base64");
      return { kind: "picture", png, ratio: size.width / size.height };
    }
    case "pivot":
      return printedPivot(answer, job.locale, job.file.format === "pdf");
    case "table":
      return printedTable(answer, job.locale, job.file.format === "pdf");
    case undefined:
      return null;
    default:
      return answer satisfies never;
  }
}

/** A picture that was laid on a tile, in its own proportions; its words where it cannot be read or is too large. */
async function printedPicture(source: string, alt: string): Promise<PrintedTile> {
  const bytes = /^data:image\/\w+;base64,(.+)$/.exec(source)?.[1];
  const image = bytes && (await loadImage(Buffer.from(bytes, "base64")).catch(() => null));
  if (!image || image.width * image.height > MOST_PIXELS) return { kind: "words", text: alt };
  return { kind: "picture", png: pngOf(image).toString("base64"), ratio: image.width / image.height };
}

function printedTable({ columns, rows, count }: Of<"table">, locale: Locale, whole: boolean): PrintedTile {
  const writers = columns.map((c) => shownWriter(c, locale));
  return {
    kind: "table",
    headings: columns.map((c) => ({ text: c.heading, right: onTheRight(c) })),
    rows: rows.map((row) => row.map((cell, i) => writers[i]?.(cell) ?? { text: "", negative: false })),
    of: count,
    noun: "row",
    whole,
  };
}

/** The first lines of a pivot, those a tile has room for; each column under all its headings in one line. */
function printedPivot({ pivot, spec }: Of<"pivot">, locale: Locale, whole: boolean): PrintedTile {
  const laid = linesOf(pivot, spec);
  const heads = laid.columns.map((_, at) =>
    bannerRows(pivot, laid).flatMap((row) => row.filter((b) => b.from <= at && at < b.from + b.span).map((b) => bannerWords(pivot, b, locale))),
  );
  const writers = pivot.figures.map((f) => cellWriter(f.type, f.format, locale));
  return {
    kind: "table",
    headings: [
      { text: pivot.axes.down.map((a) => a.heading).join(", "), right: false },
      ...heads.map((words) => ({ text: [...new Set(words)].join(" · "), right: true })),
    ],
    rows: laid.lines.map((line) => [
      { text: INDENT.repeat(Math.max(0, line.level - 1)) + lineWords(pivot, line, locale), negative: false },
      ...laid.columns.map((c) => writers[c.figure]?.(cellAt(pivot, line, c)) ?? { text: "", negative: false }),
    ]),
    of: laid.lines.length,
    noun: "line",
    whole,
  };
}
