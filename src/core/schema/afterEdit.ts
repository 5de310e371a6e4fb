import { findTable, type Schema } from "./schema";

/** What an edit in a sheet wrote: how many rows more or fewer, and the columns written, null where whole rows came or went. */
export type Written = { table: string; rows: number; columns: string[] | null };

/**
 * A schema as reading the whole database again would find it after an edit that nobody else's change came between;
 * null where only reading tells: where values that do not fit, links a person made, or views rest on what was written.
 * Types stand as they are, for a value typed into a sheet is of its column's type.
 */
export function schemaAfterEdit(schema: Schema, { table: name, rows, columns }: Written): Schema | null {
  const table = findTable(schema, name);
  const touches = (column: string) => columns === null || columns.includes(column);
  if (!table || schema.tables.some((t) => t.view)) return null;
  if (table.columns.some((c) => touches(c.name) && c.misfits > 0)) return null;
  const ends = schema.links.filter((l) => l.madeBy === "person").flatMap((l) => [l.a, l.b]);
  if (ends.some((end) => end.table === name && end.columns.some(touches))) return null;
  // What the database makes of the values written is not looked at.
  if (table.columns.some((c) => c.generated)) return null;
  if (table.rows === 0 || table.rows + rows === 0) return null;
  return { ...schema, tables: schema.tables.map((t) => (t === table ? { ...t, rows: t.rows + rows } : t)) };
}
