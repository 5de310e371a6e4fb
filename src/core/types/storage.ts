/**
 * How a value lies in storage. A decimal: as an integer of its smallest unit, as a binary number, or as digits. A
 * timestamp: in the ledger's form, or as it was written, with a T, fractions or an offset from UTC among them.
 */
export type Storage = "plain" | "scaledInteger" | "real" | "digits" | "written";
