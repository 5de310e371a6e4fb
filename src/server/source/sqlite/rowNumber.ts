/** A name by which the rows' own number is reached, past columns that are called so; null where all are. */
export function freeRowNumber(columns: string[]): string | null {
  const taken = new Set(columns.map((name) => name.toLowerCase()));
  return ["_rowid_", "rowid", "oid"].find((name) => !taken.has(name)) ?? null;
}
