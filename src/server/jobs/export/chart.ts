import { statSync } from "node:fs";
import { createCanvas, GlobalFonts } from "@napi-rs/canvas";
import { Chart, registerables } from "chart.js";
import { LIGHT } from "@/core/chart/colours";
import { drawChart } from "@/core/chart/config";
import type { ChartAnswer } from "@/core/chart/data";
import { paintPattern } from "@/core/chart/patterns";
import { type Drawing, fitsIn } from "@/core/chart/style";
import { emptyPivot } from "@/core/pivot/empty";
import { linesOf } from "@/core/pivot/lines";
import { layOutPivot, PAGE, wrapped } from "@/core/pivot/pages";
import { SIZE } from "@/core/pivot/panels";
import type { Metrics, Page } from "@/core/report/page";
import { runChart } from "@/server/jobs/charts/run";
import type { ChartFile, ChartJob, FileResult } from "@/server/jobs/work";
import type { Reading } from "@/server/source/reading";
import { writeWhole } from "./files";
import { fontMetrics, fontPath } from "./fonts";
import { writePdf } from "./pdf";
import { writePivotFile } from "./pivot";
import { plainText, type RowsTable } from "./values";

Chart.register(...registerables);
GlobalFonts.registerFromPath(fontPath("sans"), "Source Sans 3");

const PICTURE = { width: 1600, height: 900 };
const TYPE = 20;
const PAPER = "#ffffff";

/** A chart as a PNG picture; type is as large as on a page of A4. */
export function chartPicture(job: Pick<ChartJob, "spec" | "locale">, answer: ChartAnswer, chosen: Record<string, number>, { width, height } = PICTURE): Buffer {
  const canvas = createCanvas(width, height);
  const context = canvas.getContext("2d");
  const pattern: Drawing["pattern"] = (colour, place) => {
    const tile = createCanvas(16, 16);
    paintPattern(tile.getContext("2d") as unknown as CanvasRenderingContext2D, 16, colour, place);
    return context.createPattern(tile, "repeat") as unknown as CanvasPattern;
  };
  const { config, notice } = drawChart(job.spec, answer, {
    theme: LIGHT,
    locale: job.locale,
    chosen,
    pattern,
    size: TYPE,
    ...fitsIn({ width, height }, TYPE),
    animate: false,
  });
  context.fillStyle = PAPER;
  context.fillRect(0, 0, width, height);
  const chart = new Chart(context as unknown as CanvasRenderingContext2D, {
    ...config,
    options: { ...config.options, responsive: false, devicePixelRatio: 1 },
  });
  // The library clears what it draws on.
  context.globalCompositeOperation = "destination-over";
  context.fillStyle = PAPER;
  context.fillRect(0, 0, width, height);
  context.globalCompositeOperation = "source-over";
  if (notice) {
    context.fillStyle = "#8a5e0c";
    context.font = "22px 'Source Sans 3'";
    context.fillText(notice, 40, 40);
  }
  const picture = canvas.toBuffer("image/png");
  chart.destroy();
  return picture;
}

/** Writes a chart to a file, whole or not at all. `rows` counts the rows of its table. */
export async function exportChart(reading: Reading, job: ChartJob, file: ChartFile): Promise<FileResult> {
  const answer = runChart(reading, job);
  const rows = await WRITERS[file.format](answer, job, file);
  return { rows, bytes: statSync(file.path).size, totals: {} };
}

type Writer = (answer: ChartAnswer, job: ChartJob, file: ChartFile) => Promise<number> | number;

const WRITERS: Record<ChartFile["format"], Writer> = {
  png(answer, job, file) {
    writeWhole(file.path, chartPicture(job, answer, file.chosen));
    return 1;
  },
  async pdf(answer, job, file) {
    const picture = chartPicture(job, answer, file.chosen);
    const metrics = fontMetrics();
    await writePdf(file.path, { title: file.title, lang: job.locale.locale }, (_, addPage) => {
      addPage(chartPage(picture, file, metrics));
      if ("pivot" in answer)
        for (const page of layOutPivot({
          pivot: answer.pivot,
          lines: linesOf(answer.pivot, job.spec.pivot),
          texts: file,
          metrics: fontMetrics(),
          locale: job.locale,
        }))
          addPage(page);
    });
    return 1;
  },
  async csv(answer, job, file) {
    if ("pivot" in answer) return writePivotFile(answer.pivot, { ...emptyPivot(job.spec.query), ...job.spec.pivot }, { ...file, format: "csv" }, job.locale);
    const { default: Papa } = await import("papaparse");
    const { columns, rows } = chartTable(answer);
    const lines = rows.map((row) => row.map((cell, i) => plainText(cell, columns[i]?.type ?? { kind: "text" })));
    writeWhole(file.path, `${Papa.unparse([columns.map((c) => c.heading), ...lines], { newline: "\r\n" })}\r\n`);
    return rows.length;
  },
};

/** A chart's table where it is drawn from single rows or from groups of them. */
export function chartTable(answer: Exclude<ChartAnswer, { pivot: unknown }>): RowsTable {
  if (answer.shape === "points") return { columns: answer.columns, rows: answer.points };
  const scale = answer.type.kind === "decimal" ? 10 ** answer.type.scale : 1;
  const number = (heading: string) => ({ heading, type: { kind: "floating" } as const });
  return {
    columns: [
      { heading: answer.group?.heading ?? "", type: answer.group?.type ?? { kind: "text" } },
      { heading: "count", type: { kind: "whole" } },
      ...["least", "lower quartile", "median", "upper quartile", "greatest"].map(number),
    ],
    rows: answer.boxes.map(({ key, box }) => [
      answer.group ? key : answer.heading,
      box.count,
      ...[box.least, box.q1, box.median, box.q3, box.greatest].map((v) => v / scale),
    ]),
  };
}

/** The page a chart stands on: its title, its brief, its picture. */
export function chartPage(picture: Buffer, { title, brief, printedAt }: Pick<ChartFile, "title" | "brief" | "printedAt">, metrics: Metrics, number = 1): Page {
  const lines = wrapped(brief, PAGE.width - 2 * PAGE.margin, metrics);
  const words = (y: number, text: string, size: number, font: "sans" | "serifBold", tone: "ink" | "faint") => ({
    kind: "text" as const,
    x: PAGE.margin,
    y,
    text,
    font,
    size,
    tone,
  });
  const top = PAGE.margin + 28 + lines.length * 10;
  const width = Math.min(PAGE.width - 2 * PAGE.margin, ((PAGE.height - PAGE.margin - top) * PICTURE.width) / PICTURE.height);
  const height = (width * PICTURE.height) / PICTURE.width;
  return {
    number,
    width: PAGE.width,
    height: PAGE.height,
    items: [
      words(PAGE.margin + 12, title, SIZE.title, "serifBold", "ink"),
      ...lines.map((line, i) => words(PAGE.margin + 28 + i * 10, line, SIZE.small, "sans", "faint")),
      { kind: "picture", x: PAGE.margin, y: top, width, height, png: picture.toString("base64"), alt: title },
      words(PAGE.height - PAGE.margin + 8, printedAt, SIZE.small, "sans", "faint"),
    ],
  };
}
