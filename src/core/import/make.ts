import { coerce, type Place, type Stored } from "../posting/coerce";
import { isNumber, scaleOf, text } from "../types/valueType";
import { numberText, plainDigits } from "./numbers";
import { ownText } from "./ownText";
import type { ImportColumn } from "./spec";

/** Stands for a text that its column's type does not take. */
export const MISFIT = Symbol("is invalid");
export type Maker = (source: string) => Stored | typeof MISFIT;

/** Texts of one column whose values are remembered. */
const MOST_KEPT = 2_000;
const LONGEST_KEPT = 40;

/**
 * Makes stored values of one column out of a file's texts; text is kept to the letter, an empty one is empty.
 * @param comma the file writes decimals with a comma
 */
export function makerOf(column: Place, { dates, affix }: Pick<ImportColumn, "dates" | "affix">, comma: boolean): Maker {
  if (column.type.kind === "text") return (source) => (source === "" ? null : source);
  const numeric = isNumber(column.type);
  const plain = plainMaker(column, comma);
  const kept = new Map<string, Stored | typeof MISFIT>();
  return (source) => {
    if (source === "") return null;
    const short = plain(source) ?? kept.get(source);
    if (short !== undefined) return short;
    const made = coerce(numeric ? numberText(source, comma, affix) : source, text, column, dates);
    const value = "why" in made ? MISFIT : made.stored;
    if (kept.size < MOST_KEPT && source.length <= LONGEST_KEPT) kept.set(ownText(source), value);
    return value;
  };
}

/** Short plain numbers of columns that keep them as whole ones, made without a pattern; undefined for anything else. */
function plainMaker({ type, storage }: Place, comma: boolean): (source: string) => bigint | undefined {
  if (type.kind !== "whole" && !(type.kind === "decimal" && storage === "scaledInteger")) return () => undefined;
  const scale = scaleOf(type);
  return (source) => {
    const digits = plainDigits(source, comma);
    if (digits < 0 || digits > scale) return undefined;
    const scaled = Number(digits === 0 ? source : source.replace(".", "")) * 10 ** (scale - digits);
    return Number.isSafeInteger(scaled) ? BigInt(scaled) : undefined;
  };
}
