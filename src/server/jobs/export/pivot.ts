import { statSync } from "node:fs";
import type { PivotFormat } from "@/core/pivot/choices";
import { bannerRows, bannerWords, cellAt, headingWords, type Line, linesOf, type PivotLines } from "@/core/pivot/lines";
import { layOutPivot } from "@/core/pivot/pages";
import type { Pivot } from "@/core/pivot/pivot";
import type { PivotSpec } from "@/core/pivot/spec";
import type { Locale } from "@/core/types/format";
import { runPivot } from "@/server/jobs/pivots/run";
import type { FileResult, PivotFile, PivotJob } from "@/server/jobs/work";
import type { Reading } from "@/server/source/reading";
import { writeWhole } from "./files";
import type { PivotSheet } from "./pivotXlsx";
import { plainText } from "./values";

type Laid = { pivot: Pivot; lines: PivotLines; locale: Locale; file: Omit<PivotFile, "spec"> };

/** The headings left of the figures, a column for each field down: what a reader of rows needs to sort and filter by. */
function lineHeadings({ pivot, locale }: Pick<Laid, "pivot" | "locale">, line: Line): string[] {
  const path: string[] = pivot.axes.down.map(() => "");
  for (let at = line.heading; at > 0; at = pivot.down[at]?.parent ?? 0) {
    const heading = pivot.down[at] as Pivot["down"][number];
    path[heading.level - 1] = headingWords(pivot.axes.down, heading, locale);
  }
  if (line.kind === "total" && path.length > 0) path[0] = headingWords(pivot.axes.down, pivot.down[0] as Pivot["down"][number], locale);
  if (line.kind !== "leaf" && line.kind !== "total" && line.figures && line.level < path.length) path[line.level] = "total";
  return path;
}

/** Lines of figures only: a heading whose subtotal stands elsewhere is in the columns of those below it. */
const shownLines = ({ lines }: Pick<Laid, "lines">): Line[] => lines.lines.filter((l) => l.figures);

/** A pivot's lines and headings as a sheet of a workbook takes them. */
export const pivotSheet = (laid: Pick<Laid, "pivot" | "lines" | "locale">): PivotSheet => ({
  fields: laid.pivot.axes.down.map((a) => a.heading),
  banners: bannerRows(laid.pivot, laid.lines).map((row) =>
    row.map((b) => ({ words: bannerWords(laid.pivot, b, laid.locale, false), from: b.from, span: b.span })),
  ),
  lines: shownLines(laid).map((line) => ({
    headings: laid.pivot.axes.down.length > 0 ? lineHeadings(laid, line) : ["All"],
    strong: line.kind !== "leaf",
    cells: laid.lines.columns.map((c) => ({ cell: cellAt(laid.pivot, line, c), figure: laid.pivot.figures[c.figure] as Pivot["figures"][number] })),
  })),
});

const WRITERS: Record<PivotFormat, (laid: Laid) => number | Promise<number>> = {
  async csv(laid) {
    const { default: Papa } = await import("papaparse");
    const depth = Math.max(1, laid.pivot.axes.down.length);
    const heads = bannerRows(laid.pivot, laid.lines).map((row, i, all) => {
      const cells: string[] = [
        ...Array.from({ length: depth }, (_, d) => (i === all.length - 1 ? (laid.pivot.axes.down[d]?.heading ?? "") : "")),
        ...laid.lines.columns.map(() => ""),
      ];
      for (const b of row) for (let c = b.from; c < b.from + b.span; c++) cells[depth + c] = bannerWords(laid.pivot, b, laid.locale, false);
      return cells;
    });
    const body = shownLines(laid).map((line) => [
      ...(laid.pivot.axes.down.length > 0 ? lineHeadings(laid, line) : ["All"]),
      ...laid.lines.columns.map((c) => plainText(cellAt(laid.pivot, line, c), laid.pivot.figures[c.figure]?.type ?? { kind: "text" })),
    ]);
    writeWhole(laid.file.path, `${Papa.unparse([...heads, ...body], { newline: "\r\n" })}\r\n`);
    return body.length;
  },
  async xlsx(laid) {
    const [{ addPivotSheet }, { writeWorkbook }] = await Promise.all([import("./pivotXlsx"), import("./workbook")]);
    return writeWorkbook(laid.file.path, (workbook, breath) => addPivotSheet(workbook, breath, "pivot", pivotSheet(laid)));
  },
  async pdf(laid) {
    const [{ fontMetrics }, { writePdf }] = await Promise.all([import("./fonts"), import("./pdf")]);
    const { pivot, lines, locale, file } = laid;
    const pages = layOutPivot({ pivot, lines, texts: file, metrics: fontMetrics(), locale });
    await writePdf(file.path, { title: file.title, lang: locale.locale }, (_, addPage) => pages.forEach(addPage));
    return lines.lines.length;
  },
};

/** Writes a pivot that is worked out to a file, whole or not at all. @returns its lines */
export const writePivotFile = async (pivot: Pivot, spec: PivotSpec, file: Omit<PivotFile, "spec">, locale: Locale): Promise<number> =>
  WRITERS[file.format]({ pivot, lines: linesOf(pivot, spec), locale, file });

/** Works a pivot out and writes it; `rows` counts its lines, `totals` are the figures over everything. */
export async function exportPivot(reading: Reading, job: PivotJob, file: PivotFile): Promise<FileResult> {
  const pivot = runPivot(reading, job);
  const rows = await writePivotFile(pivot, file.spec, file, job.locale);
  return { rows, bytes: statSync(file.path).size, totals: Object.fromEntries(pivot.proof.figures.map((f) => [f.figure, f.query])) };
}
