import { type CellWriter, cellWriter, type Locale } from "../types/format";
import { type Cell, isMisfit, isNumber } from "../types/valueType";
import { keyText, showsNames } from "./namedRows";
import type { PlanColumn } from "./plan";

/*
 * A column as it is shown where its plan does not go: in a tile, on a page.
 */

/** `names`: what the rows are called that its cells lead to, by the cells. */
export type ShownColumn = Pick<PlanColumn, "id" | "heading" | "type" | "format" | "unit"> & { names?: Record<string, string> };

/**
 * A plan's column as it is shown.
 * @param cells of it, that are shown
 * @param nameOf what the row of a key as it is typed is called
 */
export function shownColumn(column: PlanColumn, cells: Cell[] = [], nameOf: (key: string) => string | undefined = () => undefined): ShownColumn {
  const { id, heading, type, format, unit } = column;
  const shown = { id, heading, type, format, unit };
  if (!showsNames(column)) return shown;
  const names = cells.flatMap((cell) => {
    const key = keyText(cell, type);
    const name = key === null ? undefined : nameOf(key);
    return name === undefined || isMisfit(cell) ? [] : [[String(cell), name]];
  });
  return { ...shown, names: Object.fromEntries(names) };
}

/** Writes a shown column's cells, by names where it has them. */
export const shownWriter = ({ type, format, names }: ShownColumn, locale: Locale): CellWriter =>
  cellWriter(type, names ? { ...format, named: new Map(Object.entries(names)) } : format, locale);

/** Whether a shown column stands on the right: numbers, but not those that names stand for. */
export const onTheRight = ({ type, names }: ShownColumn): boolean => isNumber(type) && names === undefined;
