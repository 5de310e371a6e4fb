import type { ShownFigure } from "@/core/pivot/pivot";
import { type Cell, digitsOf } from "@/core/types/valueType";
import { type Breath, type Workbook, workbookValue } from "./workbook";

/** A pivot as a sheet takes it: headings as they stand. */
export type PivotSheet = {
  fields: string[];
  banners: { words: string; from: number; span: number }[][];
  lines: { headings: string[]; strong: boolean; cells: { cell: Cell; figure: ShownFigure }[] }[];
};

/** How a workbook shows a figure's numbers. */
export function numberFormat({ type, format }: Pick<ShownFigure, "type" | "format">): string | undefined {
  if (format.percent) return `0.${"0".repeat(format.decimals ?? 1)}%`.replace("0.%", "0%");
  if (type.kind === "decimal") return `#,##0.${"0".repeat(format.decimals ?? digitsOf(type))}`.replace(/\.$/, "");
  return type.kind === "whole" ? "#,##0" : type.kind === "date" ? "yyyy-mm-dd" : undefined;
}

/** Writes a pivot as a sheet of a workbook: headings merged over their columns and kept in sight. @returns its lines */
export async function addPivotSheet(workbook: Workbook, breath: Breath, name: string, { fields, banners, lines }: PivotSheet): Promise<number> {
  const depth = Math.max(1, fields.length);
  const sheet = workbook.addWorksheet(name, { views: [{ state: "frozen", xSplit: depth, ySplit: banners.length }] });
  banners.forEach((row, i) => {
    const at = sheet.getRow(i + 1);
    if (i === banners.length - 1) for (const [f, field] of fields.entries()) at.getCell(f + 1).value = field;
    for (const b of row) {
      at.getCell(depth + b.from + 1).value = b.words;
      if (b.span > 1) sheet.mergeCells(i + 1, depth + b.from + 1, i + 1, depth + b.from + b.span);
      at.getCell(depth + b.from + 1).alignment = { horizontal: b.span > 1 ? "center" : "right" };
    }
    at.font = { bold: true };
  });
  for (let i = 1; i <= banners.length; i++) sheet.getRow(i).commit();
  let written = 0;
  for (const line of lines) {
    const row = sheet.addRow([...line.headings, ...line.cells.map(({ cell, figure }) => workbookValue(cell, figure.type))]);
    line.cells.forEach(({ figure }, i) => {
      const format = numberFormat(figure);
      if (format) row.getCell(depth + i + 1).numFmt = format;
    });
    if (line.strong) row.font = { bold: true };
    row.commit();
    await breath(++written);
  }
  sheet.commit();
  return written;
}
