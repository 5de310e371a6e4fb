import { type Column, findColumn, type Table } from "../schema/schema";
import { type Cell, isMisfit } from "../types/valueType";
import { writtenOut } from "./coerce";

/* A sheet of a table whose cells are typed over: what stands in the field, and which row is meant. */

/** The columns of a sheet as the table has them; undefined where it has none of that name. */
export type SheetColumns = (Column | undefined)[];
export const sheetColumns = (table: Table, ids: string[]): SheetColumns => ids.map((id) => findColumn(table, id));

/** The text a cell is typed over from: as it is stored, a misfit too. null where it cannot be typed over: derived, generated, numbered by the database, or not here yet. */
export function typedOver(columns: SheetColumns, cells: Cell[] | undefined, at: number): string | null {
  const column = columns[at];
  if (!column || column.derived || column.generated || column.filled === "number" || !cells) return null;
  const cell = cells[at] ?? null;
  return cell === null ? "" : isMisfit(cell) ? cell.misfit : writtenOut(cell, column.type);
}

/** The key that tells a row of a sheet apart; what is no value of its type is an empty text, which finds no row. */
export const keyOfRow = (table: Table, columns: SheetColumns, cells: Cell[] | undefined): (string | number)[] =>
  table.key.map((name) => {
    const cell = cells?.[columns.findIndex((c) => c?.name === name)] ?? null;
    return typeof cell === "object" ? "" : cell;
  });
