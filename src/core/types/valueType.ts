/**
 * The types a column or an expression can have. Plain data, so that a plan can be sent between processes.
 * A decimal has its scale (digits after the point) and is always worked with as a scaled integer. One that is carried
 * comes of a division: its last digit is not rounded and only tells the digits before it which way to be.
 */
export type ValueType =
  | { kind: "text" }
  | { kind: "whole" }
  | { kind: "decimal"; scale: number; carried?: true }
  | { kind: "floating" }
  | { kind: "date" }
  | { kind: "timestamp" }
  | { kind: "yesno" };

export type ValueKind = ValueType["kind"];

/**
 * One value on its way from the engine to a reader. Whole numbers and decimals are scaled integers: a number
 * while it is exact as one, else its digits as text. Dates and timestamps are ISO 8601 text, yes/no is 1 or 0.
 * A value that does not fit its column's declared type arrives as it is stored, marked.
 */
export type Cell = null | string | number | { misfit: string };

export const text: ValueType = { kind: "text" };
export const whole: ValueType = { kind: "whole" };
export const floating: ValueType = { kind: "floating" };
export const date: ValueType = { kind: "date" };
export const timestamp: ValueType = { kind: "timestamp" };
export const yesno: ValueType = { kind: "yesno" };
export const decimal = (scale: number): ValueType => ({ kind: "decimal", scale });

/** The type of a quotient of which so many digits after the point are written: it has one more, to be rounded by once. */
export const carriedTo = (digits: number): ValueType => ({ kind: "decimal", scale: digits + 1, carried: true });

/** The word for a type in the interface. */
export const TYPE_WORDS: Record<ValueKind, string> = {
  text: "text",
  whole: "whole number",
  decimal: "decimal",
  floating: "floating number",
  date: "date",
  timestamp: "timestamp",
  yesno: "yes/no",
};

export const sameType = (a: ValueType, b: ValueType): boolean => a.kind === b.kind && (a.kind !== "decimal" || b.kind !== "decimal" || a.scale === b.scale);

export const isNumber = (type: ValueType): boolean => type.kind === "whole" || type.kind === "decimal" || type.kind === "floating";

/** True where the value is kept as an exact (scaled) integer. */
export const isExact = (type: ValueType): boolean => type.kind === "whole" || type.kind === "decimal";

/** Digits after the point of an exact number; 0 for everything else. */
export const scaleOf = (type: ValueType): number => (type.kind === "decimal" ? type.scale : 0);

/** Whether an exact number comes of a division that did not end. */
export const isCarried = (type: ValueType): boolean => type.kind === "decimal" && type.carried === true;

/** Digits after the point that are written of an exact number. */
export const digitsOf = (type: ValueType): number => scaleOf(type) - (isCarried(type) ? 1 : 0);

export const isDated = (type: ValueType): boolean => type.kind === "date" || type.kind === "timestamp";

/** Whether values of two types can be compared: days with days, numbers with numbers, else the same with the same. */
export const isComparable = (a: ValueType, b: ValueType): boolean => a.kind === b.kind || (isDated(a) && isDated(b)) || (isNumber(a) && isNumber(b));

export const isMisfit = (cell: Cell): cell is { misfit: string } => typeof cell === "object" && cell !== null;

/** The scaled integer in a cell of an exact type; null for empty and for a value that does not fit. */
export function exactOf(cell: Cell): bigint | null {
  if (cell === null || isMisfit(cell)) return null;
  return BigInt(cell);
}
