import { renameSync, rmSync, statSync } from "node:fs";
import type Database from "better-sqlite3";
import ExcelJS from "exceljs";
import { compileRows } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import type { Plan } from "@/core/query/plan";
import { type Cell, isMisfit, scaleOf, type ValueType } from "@/core/types/valueType";
import type { FileResult } from "@/server/engine/jobs";
import { readRows } from "@/server/engine/readers";
import { isSafeNumber, plainText } from "./values";
import { totalsOf } from "./whole";

/** What one sheet of a workbook can hold (ISO/IEC 29500 sets no bound; this is what its readers take). */
const MOST_ROWS = 1_048_575;
const ROWS_BETWEEN_BREATHS = 500;

/** A cell as a workbook keeps it: numbers as numbers where none of their digits would be lost, dates as dates. */
export function workbookValue(cell: Cell, type: ValueType): string | number | boolean | Date | null {
  if (cell === null) return null;
  const text = plainText(cell, type);
  if (isMisfit(cell)) return text;
  switch (type.kind) {
    case "whole":
    case "decimal":
      return isSafeNumber(text) ? Number(text) : text;
    case "floating":
      return Number(cell);
    case "yesno":
      return Number(cell) === 1;
    case "date":
      return new Date(`${text}T00:00:00Z`);
    case "timestamp":
      return new Date(`${text.replace(" ", "T")}Z`);
    case "text":
      return text;
    default:
      return type satisfies never;
  }
}

function formatOf(type: ValueType): Partial<ExcelJS.Style> {
  if (type.kind === "decimal") return { numFmt: `#,##0.${"0".repeat(scaleOf(type))}` };
  if (type.kind === "date") return { numFmt: "yyyy-mm-dd" };
  return type.kind === "timestamp" ? { numFmt: "yyyy-mm-dd hh:mm:ss" } : {};
}

/** Writes a query's rows to a workbook of one sheet, whole or not at all, in streamed memory. */
export async function exportXlsx(db: Database.Database, plan: Plan, path: string): Promise<FileResult> {
  const part = `${path}.part`;
  const shown = plan.columns.flatMap((c, at) => (c.hidden ? [] : [{ at, column: c }]));
  db.exec("BEGIN");
  try {
    const workbook = new ExcelJS.stream.xlsx.WorkbookWriter({ filename: part, useStyles: true, useSharedStrings: false });
    const sheet = workbook.addWorksheet("rows", { views: [{ state: "frozen", ySplit: 1 }] });
    sheet.columns = shown.map(({ column }) => ({
      header: column.heading,
      key: column.id,
      width: Math.max(10, column.heading.length + 2),
      style: formatOf(column.type),
    }));
    let rows = 0;
    for (const row of readRows(db, compileRows(plan, sqlite))) {
      if (++rows > MOST_ROWS) throw new RangeError("A workbook takes 1,048,575 rows. Narrow the query, or export it as CSV.");
      sheet.addRow(shown.map(({ at, column }) => workbookValue(row[at] ?? null, column.type))).commit();
      // The file is written between rows, or it would all be held in memory.
      if (rows % ROWS_BETWEEN_BREATHS === 0) await new Promise((resume) => setImmediate(resume));
    }
    const totals = totalsOf(db, plan);
    await workbook.commit();
    renameSync(part, path);
    return { rows, bytes: statSync(path).size, totals };
  } catch (error) {
    rmSync(part, { force: true });
    throw error;
  } finally {
    db.exec("COMMIT");
  }
}
