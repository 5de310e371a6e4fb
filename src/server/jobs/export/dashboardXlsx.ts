import { emptyPivot } from "@/core/pivot/empty";
import { linesOf } from "@/core/pivot/lines";
import type { DashboardJob, DashboardTileJob } from "@/server/jobs/work";
import { chartTable } from "./chart";
import { pivotSheet } from "./pivot";
import { addPivotSheet, numberFormat } from "./pivotXlsx";
import type { RowsTable } from "./values";
import { formatOf, type Workbook, workbookValue, writeWorkbook } from "./workbook";

/** Writes a dashboard as a workbook: its figures on the first sheet, then a sheet of what stands behind each other tile. */
export const dashboardWorkbook = (job: DashboardJob): Promise<void> =>
  writeWorkbook(job.file.path, async (workbook, breath) => {
    const named = sheetNames();
    addFigures(workbook, named("Figures"), job);
    for (const { title, answer } of job.tiles)
      switch (answer?.kind) {
        case "chart":
          if ("pivot" in answer.answer) {
            const { pivot } = answer.answer;
            const lines = linesOf(pivot, { ...emptyPivot(answer.spec.query), ...answer.spec.pivot });
            await addPivotSheet(workbook, breath, named(title || answer.name), pivotSheet({ pivot, lines, locale: job.locale }));
          } else addRows(workbook, named(title || answer.name), chartTable(answer.answer));
          break;
        case "pivot": {
          const lines = linesOf(answer.pivot, answer.spec);
          await addPivotSheet(workbook, breath, named(title || answer.name), pivotSheet({ pivot: answer.pivot, lines, locale: job.locale }));
          break;
        }
        case "table":
          addRows(workbook, named(title || "Table"), answer);
          break;
        case "figure":
        case undefined:
          break;
        default:
          answer satisfies never;
      }
  });

/** What the dashboard is of, and each figure with what it is held against. */
function addFigures(workbook: Workbook, name: string, { tiles, file }: DashboardJob): void {
  const sheet = workbook.addWorksheet(name);
  sheet.columns = [{ width: 32 }, { width: 18 }, { width: 18 }, { width: 12 }];
  const unmet = tiles.flatMap((t) => (t.unmet ? [`${t.title || t.tile.kind}: ${t.unmet}`] : []));
  for (const words of [file.title, file.brief, file.printedAt, ...unmet]) sheet.addRow([words]);
  sheet.getRow(1).font = { bold: true };
  const figures = tiles.flatMap(figureOf);
  if (figures.length > 0) {
    sheet.addRow([]);
    sheet.addRow(["Figure", "Value", "Compared with", "Rows"]).font = { bold: true };
  }
  for (const { title, answer } of figures) {
    const row = sheet.addRow([
      title,
      workbookValue(answer.now, answer.figure.type),
      answer.target ?? workbookValue(answer.before, answer.figure.type),
      answer.rows,
    ]);
    const format = numberFormat(answer.figure);
    if (format) for (const at of [2, 3]) row.getCell(at).numFmt = format;
  }
  sheet.commit();
}

const figureOf = ({ title, answer }: DashboardTileJob) => (answer?.kind === "figure" ? [{ title, answer }] : []);

function addRows(workbook: Workbook, name: string, { columns, rows }: RowsTable): void {
  const sheet = workbook.addWorksheet(name, { views: [{ state: "frozen", ySplit: 1 }] });
  sheet.columns = columns.map(({ heading, type }) => ({ header: heading, width: Math.max(10, heading.length + 2), style: formatOf(type) }));
  for (const row of rows) sheet.addRow(columns.map(({ type }, i) => workbookValue(row[i] ?? null, type))).commit();
  sheet.commit();
}

const LONGEST_NAME = 31;

/** Gives each sheet a name that readers of workbooks take: of 31 characters at most, without some signs, and unlike any other. */
function sheetNames(): (wanted: string) => string {
  const given = new Set<string>();
  return (wanted) => {
    const plain =
      wanted
        .replace(/[[\]:*?/\\]/g, " ")
        .replace(/^'+|'+$/g, "")
        .trim() || "Sheet";
    for (let n = 1; ; n++) {
      const end = n === 1 ? "" : ` ${n}`;
      const name = plain.slice(0, LONGEST_NAME - end.length).trim() + end;
      if (given.has(name.toLowerCase())) continue;
      given.add(name.toLowerCase());
      return name;
    }
  };
}
