import { exactText } from "@/core/types/decimal";
import { type Cell, exactOf, isMisfit, type ValueType } from "@/core/types/valueType";

/** Rows under headings, as a file takes them. */
export type RowsTable = { columns: { heading: string; type: ValueType }[]; rows: Cell[][] };

/** A number with more significant digits than this does not survive a reader that keeps binary floating numbers. */
const SAFE_DIGITS = 15;

/** A cell as a file carries it in text: plain digits with a point, ISO dates, yes and no. See docs/decisions. */
export function plainText(cell: Cell, type: ValueType): string {
  if (cell === null) return "";
  if (isMisfit(cell)) return cell.misfit;
  if (type.kind === "decimal") return exactText(exactOf(cell) ?? 0n, type);
  if (type.kind === "yesno") return Number(cell) === 1 ? "yes" : "no";
  return String(cell);
}

/**
 * A text as a sheet program is to take it: one that it would run as a formula begins with an apostrophe (common practice; the
 * signs are those that OWASP lists under CSV injection, from memory). Numbers are never touched.
 */
export const guardedText = (cell: Cell, type: ValueType): string => {
  const written = plainText(cell, type);
  return (type.kind === "text" || isMisfit(cell)) && /^[=+\-@\t\r]/.test(written) ? `'${written}` : written;
};

/** Whether the digits of a number are few enough for any reader to keep them all. */
export const isSafeNumber = (digits: string): boolean => digits.replace(/^-?0*\.?0*|[-.]/g, "").length <= SAFE_DIGITS;
