import { quoted } from "./dialect";

/*
 * How a table of a database with schemas is named in a plan: plainly, where it lies in the schema everybody works in; else
 * with its schema before a dot. A dot within a schema's name stands behind a backslash.
 */

/** The schema whose tables are named plainly. */
const USUAL = "public";

export const tableName = (schema: string, table: string): string =>
  schema === USUAL && !table.includes(".") ? table : `${schema.replace(/[\\.]/g, "\\$&")}.${table}`;

/** The schema and the table that a name is of. */
export function tableParts(name: string): { schema: string; table: string } {
  const [, schema, table] = /^((?:[^.\\]|\\.)*)\.(.*)$/s.exec(name) ?? [];
  return schema === undefined || table === undefined ? { schema: USUAL, table: name } : { schema: schema.replace(/\\(.)/g, "$1"), table };
}

/** The table in SQL, its schema with it, so that no other of its name is read. */
export function qualified(name: string): string {
  const { schema, table } = tableParts(name);
  return `${quoted(schema)}.${quoted(table)}`;
}
