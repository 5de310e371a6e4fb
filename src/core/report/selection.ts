import type { PlanColumn } from "../query/plan";
import type { ColumnFormat } from "../types/schemas";
import { type Cell, isNumber, type ValueType } from "../types/valueType";
import { figureType, Tally } from "./tally";

/** One figure of a selection, with how it is written. */
export type SelectedFigure = { value: Cell; type: ValueType; format: ColumnFormat };
export type SelectionFigures = {
  total: SelectedFigure;
  average: SelectedFigure;
  /** Whether rows selected may hold the value of the same row, which the total then adds again. */
  repeated: boolean;
};

/**
 * What the selected cells of a sheet's column come to: exact where its type is. Of more than one column of
 * numbers, and of what is no amount (keys, years, ratios, averages), nothing is added.
 * @param columns the columns selected, with their places in a row
 * @returns null where there is nothing to add
 */
export function selectionFigures(columns: { column: PlanColumn; at: number }[], rows: Cell[][]): SelectionFigures | null {
  const numbers = columns.filter(({ column }) => isNumber(column.type));
  const [one] = numbers;
  if (!one?.column.totalled || numbers.length > 1) return null;
  const { type, format, home } = one.column;
  const tally = new Tally(type);
  for (const row of rows) tally.add(row[one.at] ?? null);
  return {
    total: { value: tally.figure("total"), type, format },
    average: { value: tally.figure("average"), type: figureType("average", type), format: { decimals: type.kind === "decimal" ? type.scale : 2 } },
    repeated: home?.repeated === true,
  };
}
