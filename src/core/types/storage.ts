import type { ValueType } from "./valueType";

/**
 * How a value lies in storage. A decimal: as an integer of its smallest unit, as a binary number, or as digits. A
 * timestamp: in the ledger's form, or as it was written, with a T, fractions or an offset from UTC among them.
 */
export type Storage = "plain" | "scaledInteger" | "real" | "digits" | "written";

/** How the ledger itself lays down values of a type, and has them in what it works out: decimals as integers of their smallest unit. */
export const ownStorage = (type: ValueType): Storage => (type.kind === "decimal" ? "scaledInteger" : "plain");
