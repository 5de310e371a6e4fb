import type { Column, Schema, Table } from "../schema/schema";
import type { ColumnFormat } from "../types/schemas";

export const capitalised = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);

/** Words that end the name of a number which tells things apart or places them in time (common practice). */
const NAMING = /(^|[_ ])(id|key|ref|reference|year|month|week|day|no|nr|number|code|zip|postcode|phone|iban|account)$/i;

/** Whether a number is a name rather than an amount: a key, a link's column, a year, a code. Such are neither added up nor set apart by thousands. */
export function namesSomething(schema: Schema, { table, column }: { table: Table; column: Column }): boolean {
  const linked = schema.links.some((l) => [l.a, l.b].some((end) => end.table === table.name && end.columns.includes(column.name)));
  return linked || table.key.includes(column.name) || column.long === true || NAMING.test(column.label);
}

/** How a column of a table is written: as it is set, and a number that names something without separators. */
export const columnFormat = (schema: Schema, stored: { table: Table; column: Column }): ColumnFormat => ({
  ...(stored.column.type.kind === "whole" && namesSomething(schema, stored) ? { grouping: false } : {}),
  ...stored.column.format,
});
