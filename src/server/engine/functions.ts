import type Database from "better-sqlite3";
import { parseDecimal } from "@/core/types/decimal";

const orNull = (fn: (text: string) => unknown) => (value: unknown) => (typeof value === "string" ? fn(value) : value === null ? null : fn(String(value)));

/** Case and accents taken away: Unicode NFD without combining marks, in small letters. */
export const fold = (text: string): string => text.normalize("NFD").replace(/\p{M}/gu, "").toLowerCase();

/** Registers on a connection the functions that the SQLite dialect writes and SQLite itself does not have. */
export function registerFunctions(db: Database.Database): void {
  const pure = { deterministic: true };
  db.function("nl_fold", pure, orNull(fold));
  db.function(
    "nl_upper",
    pure,
    orNull((t) => t.toUpperCase()),
  );
  db.function(
    "nl_lower",
    pure,
    orNull((t) => t.toLowerCase()),
  );
  db.function("nl_scaled", pure, (value: unknown, scale: unknown) => (value === null ? null : parseDecimal(String(value), Number(scale))));
}
