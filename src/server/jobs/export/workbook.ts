import { createWriteStream, renameSync, rmSync } from "node:fs";
import ExcelJS from "exceljs";
import { type Cell, digitsOf, isMisfit, type ValueType } from "@/core/types/valueType";
import { isSafeNumber, plainText } from "./values";

export type Workbook = ExcelJS.stream.xlsx.WorkbookWriter;

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

/** How a workbook shows the cells of a column. */
export function formatOf(type: ValueType): Partial<ExcelJS.Style> {
  if (type.kind === "decimal") return { numFmt: `#,##0.${"0".repeat(digitsOf(type))}` };
  if (type.kind === "date") return { numFmt: "yyyy-mm-dd" };
  return type.kind === "timestamp" ? { numFmt: "yyyy-mm-dd hh:mm:ss" } : {};
}

const ROWS_BETWEEN_BREATHS = 500;

/** After each row: the file is written between rows, or it would all be held in memory. It throws what keeps the file from being written. */
export type Breath = (rows: number) => Promise<void>;

/** Writes a workbook in streamed memory, whole or not at all. @param fill takes a breath after each row; nothing of it goes on when this has ended */
export async function writeWorkbook<T>(path: string, fill: (workbook: Workbook, breath: Breath) => Promise<T>): Promise<T> {
  const part = `${path}.part`;
  const stream = createWriteStream(part);
  // The writer does not pass on what its file says: on a full disk it would wait for ever.
  const broken = new Promise<never>((_, reject) => stream.once("error", reject));
  broken.catch(() => {});
  const breath: Breath = async (rows) => {
    if (rows % ROWS_BETWEEN_BREATHS === 0) await new Promise((resume) => setImmediate(resume));
    if (stream.errored) throw stream.errored;
  };
  try {
    const workbook = new ExcelJS.stream.xlsx.WorkbookWriter({ stream, useStyles: true, useSharedStrings: false });
    const filled = await fill(workbook, breath);
    await Promise.race([workbook.commit(), broken]);
    renameSync(part, path);
    return filled;
  } catch (error) {
    stream.destroy();
    rmSync(part, { force: true });
    throw error;
  }
}
