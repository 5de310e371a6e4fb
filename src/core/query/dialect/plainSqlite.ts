import type { Dialect } from "./dialect";
import { sqlite } from "./sqlite";

const { checked: _, ...shared } = sqlite;

/** A quotient by floating numbers; SQLite's own division of whole numbers would drop what is left. */
const quotient = (n: string, d: string, digits: number, round: string) => `CAST(${round}(${n} * 1e${digits} / ${d}) AS INTEGER)`;

/**
 * SQLite as another program has it, without the functions that the ledger registers, where there is a way. Quotients
 * are then rounded by floating numbers, and UPPER and LOWER change the letters A to Z alone ({@link changesCase}). It is for
 * people to copy and is never run by the ledger.
 */
export const plainSqlite: Dialect = {
  ...shared,
  divideRounded: (n, d, digits) => quotient(n, d, digits, "ROUND"),
  divideCarried: (n, d, digits) => quotient(n, d, digits, ""),
  fold: (text) => `lower(${text})`,
  upper: (text) => `upper(${text})`,
  lower: (text) => `lower(${text})`,
};

/** Whether a text of this dialect changes the case of letters, which SQLite by itself does for A to Z alone: accented texts may then differ. */
export const changesCase = (sql: string): boolean => /\b(upper|lower)\(/.test(sql);
