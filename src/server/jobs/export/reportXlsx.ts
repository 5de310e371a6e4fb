import type ExcelJS from "exceljs";
import type { AggregateName } from "@/core/query/choices";
import { countsOnce } from "@/core/query/home";
import type { PlanColumn } from "@/core/query/plan";
import { GRAND } from "@/core/report/choices";
import { standsAt } from "@/core/report/figuresPlan";
import { figureWriters } from "@/core/report/footingPieces";
import { type Group, tellGroups } from "@/core/report/groups";
import type { PlanReportColumn, ReportPlan } from "@/core/report/plan";
import type { FootingCell } from "@/core/report/spec";
import { footingWords, givenByGroup, levelWords, textFiller } from "@/core/report/words";
import { cellWriter, type Locale } from "@/core/types/format";
import { type Cell, isNumber } from "@/core/types/valueType";
import { type ReportSources, sourcesOf } from "@/server/jobs/reports/pages";
import type { ReportJob } from "@/server/jobs/work";
import type { Reading } from "@/server/source/reading";
import type { Told } from "@/server/source/rows";
import { numberFormat } from "./pivotXlsx";
import { type Breath, formatOf, type Workbook, workbookValue, writeWorkbook } from "./workbook";

/*
 * A report as a workbook: its rows in the outline of its groups, with formulas in the footings, so that who changes a value
 * sees the totals follow; tables of related rows on sheets of their own, each row with the group it belongs to.
 */

/** Functions of SUBTOTAL, which passes over the subtotals within its range (OpenFormula 1.3, 6.16.66). */
const SUBTOTALS: Partial<Record<AggregateName, number>> = {
  average: 1,
  count: 3,
  greatest: 4,
  least: 5,
  deviation: 7,
  deviationWhole: 8,
  total: 9,
  variance: 10,
  varianceWhole: 11,
};

/** The most levels of an outline that sheets have (common practice). */
const MOST_LEVELS = 7;

/** The function a figure is worked out by in a sheet; none where it counts rows once or has no such function. */
function functionOf(cell: FootingCell | undefined, column: PlanReportColumn, figure: PlanColumn): number | undefined {
  if (cell?.kind !== "figure" || column.spec.when || (cell.figure === "total" && countsOnce(figure))) return undefined;
  // Of texts and dates a sheet has no such functions but the count.
  return isNumber(column.column.type) || cell.figure === "count" ? SUBTOTALS[cell.figure] : undefined;
}

/** Columns over which a formula would count other figures that are no subtotals of their own: there, values stand. */
function plainColumns({ spec, figures, columns }: ReportPlan): Set<string> {
  const plain = new Set<string>();
  for (const line of spec.lines)
    for (const c of columns) {
      const cell = line.cells[c.spec.id];
      const at = figures.map((f) => f.cells[line.id]?.[c.spec.id]).find((place) => place !== undefined);
      const figure = at === undefined ? undefined : figures.find((f) => f.cells[line.id]?.[c.spec.id] === at)?.plan.columns[at];
      if (cell && figure && functionOf(cell, c, figure) === undefined) plain.add(c.spec.id);
    }
  return plain;
}

const letterOf = (at: number): string => (at < 26 ? "" : letterOf(Math.floor(at / 26) - 1)) + String.fromCharCode(65 + (at % 26));

/** Writes a report as a workbook, whole or not at all. @returns rows written */
export async function writeReportXlsx(reading: Reading, job: ReportJob, path: string, told?: Told): Promise<number> {
  const { report, sources } = sourcesOf(reading, job);
  return writeWorkbook(path, async (workbook, breath) => {
    const rows = await addRows(workbook, report, sources(), job.locale, breath, told);
    for (const table of report.related) await addRelated(workbook, report, table, sources(), job.locale, breath);
    return rows;
  });
}

type Opened = { group: Group; from: number };

async function addRows(workbook: Workbook, report: ReportPlan, sources: ReportSources, locale: Locale, breath: Breath, told?: Told): Promise<number> {
  const { spec, columns, figures, levels } = report;
  const sheet = workbook.addWorksheet("report", {
    views: [{ state: "frozen", ySplit: 1 }],
    properties: { outlineLevelRow: Math.min(MOST_LEVELS, levels.length) },
  });
  sheet.properties.outlineProperties = { summaryBelow: true, summaryRight: false };
  sheet.columns = columns.map(({ column, spec: c }) => ({
    header: c.label ?? column.heading,
    key: c.id,
    width: Math.max(10, (c.label ?? column.heading).length + 2),
    style: isNumber(column.type) ? withFormat(numberFormat(column)) : formatOf(column.type),
  }));
  sheet.getRow(1).font = { bold: true };
  sheet.getRow(1).commit();
  const fill = textFiller(report, locale);
  const writers = levels.map((l) => cellWriter(l.column.type, l.column.format, locale));
  const figureWords = figureWriters({ report, locale });
  const plain = plainColumns(report);
  const open: Opened[] = [];
  let line = 1;
  let written = 0;
  const level = (depth: number) => Math.min(MOST_LEVELS, depth);
  const value = (group: Group) => {
    const own = levels[group.depth - 1];
    return own ? levelWords(own, group.first, (cell) => writers[group.depth - 1]?.(cell).text ?? "").words : null;
  };
  const filled = (text: string, group: Group): string => fill(text, givenByGroup(report, group, value(group) ?? "", figureWords, locale));
  const addHeading = (group: Group): void => {
    const own = levels[group.depth - 1];
    if (!own) return;
    const words = filled(own.spec.heading || "{}", group);
    const row = sheet.addRow([words]);
    row.font = { bold: true };
    row.outlineLevel = level(group.depth);
    row.commit();
    line++;
  };
  const addFootings = ({ group, from }: Opened): void => {
    const id = levels[group.depth - 1]?.spec.id ?? GRAND;
    for (const l of spec.lines.filter((own) => standsAt(own, id))) {
      const own = figures[group.depth];
      const words = l.text === "" ? footingWords(value(group), group.rows, locale) : filled(l.text, group);
      const row = sheet.addRow([]);
      columns.forEach((c, i) => {
        const at = own?.cells[l.id]?.[c.spec.id];
        const figure = at === undefined ? undefined : own?.plan.columns[at];
        if (at === undefined || !figure) return;
        const cell = row.getCell(i + 1);
        const result = workbookValue(group.read?.[at] ?? null, figure.type);
        const fn = plain.has(c.spec.id) ? undefined : functionOf(l.cells[c.spec.id], c, figure);
        const letter = letterOf(i);
        const usable = fn !== undefined && from <= line && typeof result === "number";
        cell.value = usable ? { formula: `SUBTOTAL(${fn},${letter}${from}:${letter}${line})`, result } : result;
        const format = numberFormat(figure);
        if (format) cell.numFmt = format;
      });
      // The words stand before the first figure, in the first column where that is free.
      if (row.getCell(1).value === null) row.getCell(1).value = words;
      row.font = { bold: true };
      row.outlineLevel = level(group.depth);
      row.eachCell({ includeEmpty: true }, (cell) => {
        cell.border = group.depth === 0 ? { top: { style: "thin" }, bottom: { style: "double" } } : { top: { style: "thin" } };
      });
      row.commit();
      line++;
    }
  };
  for (const event of tellGroups(report, sources)) {
    if (event.kind === "open") {
      addHeading(event.group);
      open.push({ group: event.group, from: line + 1 });
    } else if (event.kind === "close") {
      const opened = open.pop();
      if (opened) addFootings(opened);
    } else {
      const row = sheet.addRow(columns.map((c) => cellValue(c, event.row)));
      row.outlineLevel = level(levels.length + (levels.length > 0 ? 1 : 0));
      row.commit();
      line++;
      told?.(++written);
      await breath(written);
    }
  }
  sheet.commit();
  return written;
}

const withFormat = (numFmt: string | undefined): Partial<ExcelJS.Style> => (numFmt === undefined ? {} : { numFmt });

function cellValue({ column, at, when }: PlanReportColumn, row: Cell[]): ReturnType<typeof workbookValue> {
  if (when !== null && Number(row[when] ?? 0) !== 1) return null;
  const cell = row[at] ?? null;
  // A key that is shown by a name is written as that.
  const named = (column.format as { named?: ReadonlyMap<string, string> }).named?.get(String(cell));
  return named ?? workbookValue(cell, column.type);
}

/** The rows of a related table, each with the group or row it belongs to. */
async function addRelated(
  workbook: Workbook,
  report: ReportPlan,
  table: ReportPlan["related"][number],
  sources: ReportSources,
  locale: Locale,
  breath: Breath,
): Promise<void> {
  const shown = table.all.columns.flatMap((column, at) => (column.hidden ? [] : [{ column, at }]));
  const { relatedOf, parentsOf } = sources;
  const sheet = workbook.addWorksheet((table.spec.title || table.spec.id).replace(/[*?:\\/[\]]/g, " ").slice(0, 31), {
    views: [{ state: "frozen", ySplit: 1 }],
  });
  sheet.columns = [
    { header: "Of", key: "of", width: 24 },
    ...shown.map(({ column }) => ({ header: column.heading, key: column.id, width: 14, style: formatOf(column.type) })),
  ];
  sheet.getRow(1).font = { bold: true };
  sheet.getRow(1).commit();
  let line = 1;
  for (const { words, parents } of parentsOf(report, table, locale))
    for (const row of relatedOf(table, parents)) {
      sheet.addRow([words, ...shown.map(({ column, at }) => workbookValue(row[at] ?? null, column.type))]).commit();
      await breath(++line);
    }
  const footing = sheet.addRow(["Total"]);
  shown.forEach(({ column }, i) => {
    const letter = letterOf(i + 1);
    if (column.totalled && line > 1) footing.getCell(i + 2).value = { formula: `SUM(${letter}2:${letter}${line})` } as ExcelJS.CellFormulaValue;
  });
  footing.font = { bold: true };
  footing.commit();
  sheet.commit();
}
