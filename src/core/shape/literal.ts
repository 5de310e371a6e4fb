import type { Stored } from "../posting/coerce";

/** A value as SQL writes it: for statements that take no bound values, as definitions of tables. */
export function literal(stored: Stored): string {
  if (stored === null) return "NULL";
  if (typeof stored === "bigint") return stored.toString();
  if (typeof stored === "number") return Number.isInteger(stored) ? `${stored}.0` : String(stored);
  return `'${stored.replaceAll("'", "''")}'`;
}
