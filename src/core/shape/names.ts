import type { Wrong } from "./shapePlan";

/** Whether two names are the same to SQLite: it does not tell ASCII capitals apart. */
export const isSame = (a: string, b: string): boolean => a.toLowerCase() === b.toLowerCase();

/** Whether a table or a column can be called so. */
export function checkName(name: string, path: (string | number)[], wrong: Wrong): void {
  if (name.trim() === "") wrong("shapeNameMissing", path);
  else if (/^(sqlite_|next_ledger_)/i.test(name.trim())) wrong("shapeNameReserved", path, { name: name.trim() });
}
