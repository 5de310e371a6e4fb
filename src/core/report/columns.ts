import { keyPlaces } from "../query/home";
import { standsRight } from "../query/namePlan";
import type { PlanColumn } from "../query/plan";
import { type CellWriter, cellWriter, type Locale } from "../types/format";
import { withUnit } from "../types/unit";
import { type Cell, isDated, isExact, isMisfit } from "../types/valueType";
import { type LayoutInput, SIZE } from "./page";
import { POINTS_PER_MM, pageFrame } from "./plan";
import type { ReportSpec } from "./spec";
import { figureType, Tally } from "./tally";
import { fitWidths } from "./widths";

/** Between columns, and by which each group level is set in. */
export const COLUMN_GAP = 9;
export const INDENT = 9;
const LEAST_TEXT_WIDTH = 12 * POINTS_PER_MM;

/** A column in its place on the paper. */
export type LaidColumn = {
  column: PlanColumn;
  x: number;
  width: number;
  right: boolean;
  write: CellWriter;
  at: number;
  /** The places of what tells its rows apart, where its total counts each of them once. */
  keys: number[] | null;
  footing: ReportSpec["columns"][number]["footing"];
  writeFooting: CellWriter;
};

/** Gathers how wide each column's values are. Footings can be wider than any row's value, so they are measured too. */
export function measureColumns(input: LayoutInput, rows: Iterable<Cell[]>): number[] {
  const { report, spec, metrics, locale } = input;
  const columns = report.columns.map((column, i) => {
    const footing = spec.columns[i]?.footing ?? "none";
    const heading = metrics.width(headingText(column), "sansBold", SIZE.body);
    return {
      column,
      footing,
      write: cellWriter(column.type, column.format, locale),
      tally: new Tally(column.type, keyPlaces(column, report.plan)),
      at: report.plan.columns.indexOf(column),
      width: heading,
      least: null as Cell,
      greatest: null as Cell,
    };
  });
  for (const row of rows)
    for (const c of columns) {
      const cell = row[c.at] ?? null;
      c.tally.add(cell, row);
      if (isExact(c.column.type) && standsRight(c.column) && !isMisfit(cell) && cell !== null) {
        // Of exact numbers the least and the greatest are the longest: the rest need not be written out.
        if (c.least === null || Number(cell) < Number(c.least)) c.least = cell;
        if (c.greatest === null || Number(cell) > Number(c.greatest)) c.greatest = cell;
        continue;
      }
      const { text } = c.write(cell);
      // No letter is wider than its type is high, so that a short text need not be measured.
      if (text.length * SIZE.body <= c.width) continue;
      c.width = Math.max(c.width, metrics.width(text, "sans", SIZE.body));
    }
  return columns.map((c) => {
    const footing = footingWriter(c.column, c.footing, locale)(c.tally.figure(c.footing)).text;
    const extremes = [c.least, c.greatest].map((cell) => metrics.width(c.write(cell).text, "sans", SIZE.body));
    return Math.max(c.width, ...extremes, metrics.width(footing, "sansBold", SIZE.body)) + 1;
  });
}

function footingWriter(column: PlanColumn, footing: LaidColumn["footing"], locale: Locale): CellWriter {
  const type = figureType(footing, column.type);
  const decimals =
    footing === "average" && column.type.kind !== "floating"
      ? (column.format.decimals ?? (column.type.kind === "decimal" ? column.type.scale : 2))
      : column.format.decimals;
  return cellWriter(type, footing === "count" ? {} : { ...column.format, decimals, named: undefined }, locale);
}

/** A column's heading with its unit. */
export const headingText = (column: PlanColumn): string => withUnit(column.heading, column.unit);

/** Gives each column its place and width: as set, else as its values need, within the margins. */
export function placeColumns({ report, spec, locale }: LayoutInput, natural: number[]): LaidColumn[] {
  const frame = pageFrame(spec);
  const indent = spec.levels.length * INDENT;
  const available = frame.right - frame.left - indent - COLUMN_GAP * (report.columns.length - 1);
  const wanted = report.columns.map((column, i) => {
    const set = spec.columns[i]?.widthMm;
    if (set != null) return { natural: set * POINTS_PER_MM, whole: true };
    return { natural: natural[i] ?? 0, whole: standsRight(column) || isDated(column.type) };
  });
  const fitted = spread(fitWidths(wanted, available, LEAST_TEXT_WIDTH), available, report.columns);
  let x = frame.left + indent;
  return report.columns.map((column, i) => {
    const footing = spec.columns[i]?.footing ?? "none";
    const laid = {
      column,
      x,
      width: fitted[i] ?? 0,
      right: standsRight(column),
      footing,
      at: report.plan.columns.indexOf(column),
      keys: keyPlaces(column, report.plan),
      write: cellWriter(column.type, column.format, locale),
      writeFooting: footingWriter(column, footing, locale),
    };
    x += laid.width + COLUMN_GAP;
    return laid;
  });
}

/** Space left over goes to the text columns, so that figures stay near what they belong to; without any, to all. */
function spread(widths: number[], available: number, columns: PlanColumn[]): number[] {
  const left = available - widths.reduce((a, b) => a + b, 0);
  const takes = columns.map((c) => !standsRight(c));
  const takers = takes.filter(Boolean).length || columns.length;
  return widths.map((w, i) => (takes[i] || takers === columns.length ? w + left / takers : w));
}
