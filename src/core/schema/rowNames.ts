import { type Column, comparisons, findColumn, findTable, type Schema, type Step, stepsFrom, type Table } from "./schema";

/*
 * Rows by their names: a column that holds the key of a row elsewhere is read by what that row is called.
 */

/** What a column is called that holds what a row is called by, the likeliest first (common practice). */
const NAMES = [
  /^name$/i,
  /^(full|display) name$/i,
  /^(title|label)$/i,
  /^(last|family|sur)[_ ]?name$/i,
  /(^|[_ ])name$/i,
  /^(description|code|waybill no|number|no)$/i,
];

/** The column that a row is most likely called by: a text that is called a name. The table's other columns do not matter. */
function likelyName({ columns }: Table): Column | undefined {
  const texts = columns.filter((c) => c.type.kind === "text" && !c.derived);
  for (const called of NAMES) {
    const found = texts.find((c) => called.test(c.label));
    if (found) return found;
  }
  return undefined;
}

/**
 * The column whose value a row is called by: the one a person chose, else the likeliest.
 * @returns undefined where none is called so, or a person chose that rows have no name
 * @example rowNameColumn(shipper)?.name // "name"
 */
export function rowNameColumn(table: Table): Column | undefined {
  if (table.named === undefined) return likelyName(table);
  const chosen = findColumn(table, table.named);
  return chosen?.derived?.broken ? undefined : chosen;
}

/** The step by which a column leads to the row whose key it holds, and the table of that row; undefined where it holds none. */
export function stepLedTo(schema: Schema, table: string, column: string): { step: Step; table: Table } | undefined {
  for (const { step, near, far } of stepsFrom(schema, table)) {
    if (far.leadsTo !== "one" || near.columns.length !== 1 || near.columns[0] !== column) continue;
    const link = schema.links.find((l) => l.id === step.link);
    const led = findTable(schema, far.table);
    if (link && comparisons(link, step.toward)[0]?.operator === "is" && led?.key.length === 1 && led.key[0] === far.columns[0]) return { step, table: led };
  }
  return undefined;
}

/** The table of which a column holds the key of a row. */
export const tableLedTo = (schema: Schema, table: string, column: string): Table | undefined => stepLedTo(schema, table, column)?.table;

/** Where the rows that a column leads to are found by their names: their table, its key, and the column they are called by. */
export type RowsNamed = { table: string; label: string; column: string; shown: string };

/** The rows that a column leads to, by their names; null where it leads to none, or they have no names. */
export function rowsNamed(schema: Schema, table: string, column: string): RowsNamed | null {
  const led = tableLedTo(schema, table, column);
  const name = led && rowNameColumn(led);
  const [key] = led?.key ?? [];
  return led && name && key !== undefined ? { table: led.name, label: led.label, column: key, shown: name.name } : null;
}

/** The table whose rows a column's values are read as by their names; undefined where they have none. */
export function namedTable(schema: Schema, table: string, column: string): Table | undefined {
  const led = tableLedTo(schema, table, column);
  return led && rowNameColumn(led) ? led : undefined;
}
