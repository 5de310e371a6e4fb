import { compileRows, type RowsSql, type Sql } from "./compile";
import type { Dialect } from "./dialect/dialect";
import { compileFooting } from "./footing";
import type { Plan } from "./plan";
import { compileLineCount, compileSheet } from "./subtotals";

/**
 * What can be asked of a plan: its rows; its lines, subtotals among them; its footing; how many lines there are.
 * `window`: the rows from the offset on.
 */
export type Statement = { of: "rows" | "sheet" | "footing" | "lineCount"; plan: Plan; window?: { offset: number; rows: number } | undefined };

/** What a statement is in a dialect. Its columns are known whichever it is. */
export function compileStatement({ of, plan, window }: Statement, dialect: Dialect): Sql | RowsSql {
  switch (of) {
    case "rows":
      return compileRows(plan, dialect, window);
    case "sheet":
      return compileSheet(plan, dialect, window);
    case "footing":
      return compileFooting(plan, dialect);
    case "lineCount":
      return compileLineCount(plan, dialect);
    default:
      return of satisfies never;
  }
}
