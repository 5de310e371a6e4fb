import { statSync } from "node:fs";
import type ExcelJS from "exceljs";
import type { AboutCell } from "@/core/proof/aboutFile";
import { sqlite } from "@/core/query/dialect/sqlite";
import { compileFooting } from "@/core/query/footing";
import type { Plan, PlanColumn } from "@/core/query/plan";
import { SUBTOTAL_WORD, subtotalOf } from "@/core/query/subtotals";
import type { FileResult } from "@/server/jobs/work";
import type { Reading } from "@/server/source/reading";
import { type Told, toldRows } from "@/server/source/rows";
import { totalsOf } from "./whole";
import { formatOf, type Workbook, workbookValue, writeWorkbook } from "./workbook";

/** What one sheet of a workbook can hold, its heading and a footing with it (ISO/IEC 29500 sets no bound; this is what its readers take). */
const MOST_LINES = 1_048_576;

const TOTAL_WORD = "Total";

type Shown = { at: number; column: PlanColumn };

/** A sheet of rows: its headings in bold stay in sight. */
function addSheet(workbook: Workbook, name: string, shown: Shown[]): ExcelJS.Worksheet {
  const sheet = workbook.addWorksheet(name, { views: [{ state: "frozen", ySplit: 1 }] });
  sheet.columns = shown.map(({ column }) => ({
    header: column.heading,
    key: column.id,
    width: Math.max(10, column.heading.length + 2),
    style: formatOf(column.type),
  }));
  sheet.getRow(1).font = { bold: true };
  sheet.getRow(1).commit();
  return sheet;
}

/** The sheet that says what the rows are of. */
function addAbout(workbook: Workbook, lines: AboutCell[][]): void {
  const sheet = workbook.addWorksheet("about");
  sheet.columns = [{ width: 48 }, { width: 20 }, { width: 20 }];
  for (const line of lines) {
    const row = sheet.addRow(line.map((cell) => (typeof cell === "string" ? cell : workbookValue(cell.value, cell.type))));
    line.forEach((cell, i) => {
      if (typeof cell !== "string") row.getCell(i + 1).style = formatOf(cell.type);
    });
    row.commit();
  }
}

/** What is asked of a workbook: how many lines a sheet has at most, with its heading; what its rows are of, in a sheet of its own. */
type Asked = { most?: number; about?: AboutCell[][]; told?: Told | undefined };

/**
 * Writes a query's rows to a workbook, whole or not at all, in streamed memory: typed cells, and the footing under the
 * last row. What one sheet cannot hold goes on in the next; each says which part it is.
 */
export async function exportXlsx(reading: Reading, plan: Plan, path: string, { most = MOST_LINES, about, told }: Asked = {}): Promise<FileResult> {
  const shown = plan.columns.flatMap((c, at) => (c.hidden ? [] : [{ at, column: c }]));
  const { rows, totals } = await writeWorkbook(path, async (workbook, breath) => {
    const sheets = [addSheet(workbook, "rows", shown)];
    let [sheet] = sheets as [ExcelJS.Worksheet];
    let lines = 1;
    let written = 0;
    let subtotals = 0;
    const add = (cells: ReturnType<typeof workbookValue>[]): ExcelJS.Row => {
      if (lines === most) {
        sheet.commit();
        sheet = addSheet(workbook, `rows, part ${sheets.length + 1}`, shown);
        sheets.push(sheet);
        lines = 1;
      }
      lines++;
      return sheet.addRow(cells);
    };
    for (const row of toldRows(reading.ask({ of: "sheet", plan }), told)) {
      const subtotal = subtotalOf(plan, row);
      const line = add(shown.map(({ at, column }) => (at === subtotal?.label ? SUBTOTAL_WORD : workbookValue(row[at] ?? null, column.type))));
      if (subtotal) {
        line.font = { bold: true };
        subtotals++;
      }
      line.commit();
      await breath(++written);
    }
    const totals = totalsOf(reading, plan);
    const types = new Map(compileFooting(plan, sqlite).totals.map((t) => [t.column, t.type]));
    if (types.size > 0) {
      const footing = add(
        shown.map(({ column }, i) => {
          const type = types.get(column.id);
          return type ? workbookValue(totals[column.id] ?? null, type) : i === 0 ? TOTAL_WORD : null;
        }),
      );
      footing.font = { bold: true };
      footing.eachCell({ includeEmpty: true }, (cell) => {
        cell.border = { top: { style: "thin" }, bottom: { style: "double" } };
      });
      footing.commit();
    }
    if (about) addAbout(workbook, about);
    return { rows: written - subtotals, totals };
  });
  return { rows, bytes: statSync(path).size, totals };
}
