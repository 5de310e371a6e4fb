import { findColumn, type Table } from "../schema/schema";
import { type Cell, exactOf, isMisfit, isNumber, type ValueType } from "../types/valueType";
import { COMPARE_STATES, type CompareState, ROWS_HERE, ROWS_THERE, STATE } from "./comparison";
import { emptyQuery } from "./empty";
import type { QueryColumn, QuerySpec } from "./spec";

/*
 * The account of a comparison: how the rows and a figure of one side come to those of the other, by what its rows are.
 */

/** How many rows, and what a figure of them comes to; in the figure's own exact digits. */
export type Amount = { rows: number; sum: bigint | number };
export type Reconciliation = Record<CompareState, { here: Amount; there: Amount }>;

const field = (column: string) => ({ kind: "field" as const, join: "", column });

/** The pairs of a comparison that are numbers, by their places among its fields. */
export const comparedFigures = (rows: Table, fields: number): number[] =>
  Array.from({ length: fields }, (_, i) => i).filter((i) => {
    const type = findColumn(rows, `here ${i}`)?.type;
    return type !== undefined && isNumber(type);
  });

/** One row per state, over all rows of the comparison. @param figure the place of a pair of its fields; null: rows alone */
export function reconcileQuery({ source, compare, parameters }: QuerySpec, figure: number | null): QuerySpec {
  const total = (column: string): QueryColumn => ({ id: column, value: field(column), figure: "total" });
  const figures = figure === null ? [] : [total(`here ${figure}`), total(`there ${figure}`)];
  return {
    ...emptyQuery(source),
    ...(compare ? { compare } : {}),
    parameters,
    grouped: true,
    columns: [{ id: STATE, value: field(STATE) }, total(ROWS_HERE), total(ROWS_THERE), ...figures],
  };
}

/** What a side of a comparison comes to by itself: its rows, and the same figure over them. @param column a figure, or any column where rows alone are counted */
export const sideFooting = (table: string, column: string): QuerySpec => ({ ...emptyQuery(table), columns: [{ id: "figure", value: field(column) }] });

const sumOf = (cell: Cell, type: ValueType | undefined): bigint | number => {
  if (cell === null || isMisfit(cell)) return type?.kind === "floating" ? 0 : 0n;
  return type?.kind === "floating" ? Number(cell) : (exactOf(cell) ?? 0n);
};

/** The answer of `reconcileQuery`; states without rows come to nothing. @param type of the figure */
export function readReconciliation(rows: Cell[][], type: ValueType | undefined): Reconciliation {
  const nothing = (): Amount => ({ rows: 0, sum: sumOf(null, type) });
  const found = Object.fromEntries(
    rows.map(([state, here, there, hereSum = null, thereSum = null]) => [
      String(state),
      { here: { rows: Number(here), sum: sumOf(hereSum, type) }, there: { rows: Number(there), sum: sumOf(thereSum, type) } },
    ]),
  );
  return Object.fromEntries(COMPARE_STATES.map((state) => [state, found[state] ?? { here: nothing(), there: nothing() }])) as Reconciliation;
}

const plus = (a: bigint | number, b: bigint | number): bigint | number => (typeof a === "bigint" && typeof b === "bigint" ? a + b : Number(a) + Number(b));
export const less = (a: bigint | number, b: bigint | number): bigint | number =>
  typeof a === "bigint" && typeof b === "bigint" ? a - b : Number(a) - Number(b);

/** A side as a whole. */
export const sideOf = (account: Reconciliation, side: "here" | "there"): Amount =>
  COMPARE_STATES.map((state) => account[state][side]).reduce((all, one) => ({ rows: all.rows + one.rows, sum: plus(all.sum, one.sum) }));

/** Whether a side of the account is what its source comes to by itself. Floating sums are held within their rounding. */
export function sideAgrees({ rows, sum }: Amount, source: { rows: number; sum: bigint | number }): boolean {
  if (rows !== source.rows) return false;
  return typeof sum === "bigint" && typeof source.sum === "bigint"
    ? sum === source.sum
    : Math.abs(Number(sum) - Number(source.sum)) <= 1e-9 * Math.max(1, Math.abs(Number(sum)));
}
