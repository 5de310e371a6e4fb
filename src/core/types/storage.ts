import type { ValueType } from "./valueType";

/**
 * How a value lies in storage. A decimal: as an integer of its smallest unit, as a binary number, or as digits. A
 * timestamp: in the ledger's form, or as it was written, with a T, fractions or an offset from UTC among them.
 *
 * On a database server whose columns have types: `small`, a whole number of fewer bits than others; `numeric`, a decimal or
 * whole number of digits; `zoned`, a moment, read in the workspace's zone; `collated`, text that the server orders otherwise
 * than by code point; `cast`, what is read as its text; `size`, bytes of which only how many there are is told.
 */
export type Storage = "plain" | "scaledInteger" | "real" | "digits" | "written" | "small" | "numeric" | "zoned" | "collated" | "cast" | "size";

/** What a server compares with each other as it lies: its numbers, and its texts. */
const SERVED: Partial<Record<Storage, "any" | "number" | "text">> = { plain: "any", small: "number", numeric: "number", collated: "text" };

/** Whether values of one type can be compared as they lie. */
export function comparedAlike(a: Storage, b: Storage): boolean {
  const [as, bs] = [SERVED[a], SERVED[b]];
  return a === b || (as !== undefined && bs !== undefined && (as === bs || as === "any" || bs === "any"));
}

/** How the ledger itself lays down values of a type, and has them in what it works out: decimals as integers of their smallest unit. */
export const ownStorage = (type: ValueType): Storage => (type.kind === "decimal" ? "scaledInteger" : "plain");
