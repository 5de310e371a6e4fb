import { asText, quotedText } from "../expression/parse";
import { rowNameColumn } from "../schema/rowNames";
import { type Column, storedColumns, type Table } from "../schema/schema";
import { text, type ValueType } from "../types/valueType";
import type { ShapeMisfits } from "./choices";
import { isSame } from "./names";
import type { ShapeColumn, ShapeSpec } from "./spec";

/* What a click, a key or a drop does to the description of a table's shape. */

/** A table as it is, nothing changed. */
export const startShape = (table: Table): ShapeSpec => ({
  version: 1,
  table: table.name,
  name: table.name,
  columns: storedColumns(table).map((c) => ({ id: c.name, from: c.name, name: c.name })),
});

/** A table that is to be made: rows numbered, and a first column. */
export const startTable = (): ShapeSpec => ({
  version: 1,
  table: null,
  name: "",
  columns: [{ id: "new 1", from: null, name: "", type: text }],
  key: { kind: "number", name: "id" },
});

/**
 * A new table with the columns and the key of another, for rows that are moved out of it: "sale_archive". Its keys are those
 * that the rows had, so none is given by itself, and what a column leads to may be gone by then.
 * @param taken names of tables that there are
 */
export function archiveOf(table: Table, taken: string[]): ShapeSpec {
  const columns = storedColumns(table).map((c) => ({ id: c.name, from: null, name: c.name, type: c.type, required: !c.nullable }));
  const known = new Set(taken.map((name) => name.toLowerCase()));
  let name = `${table.name}_archive`;
  for (let n = 2; known.has(name.toLowerCase()); n++) name = `${table.name}_archive_${n}`;
  return { version: 1, table: null, name, columns, key: { kind: "columns", ids: table.key } };
}

/** An id that no column has yet. */
function freeId(spec: ShapeSpec, n = 1): string {
  return spec.columns.some((c) => c.id === `new ${n}`) ? freeId(spec, n + 1) : `new ${n}`;
}

/** A name that no column has yet. */
function freeName(spec: ShapeSpec, name: string, n = 1): string {
  const tried = n === 1 ? name : `${name} ${n}`;
  return spec.columns.some((c) => c.name.toLowerCase() === tried.toLowerCase()) ? freeName(spec, name, n + 1) : tried;
}

/** Adds an empty column at the end. */
export const addColumn = (spec: ShapeSpec): ShapeSpec => ({
  ...spec,
  columns: [...spec.columns, { id: freeId(spec), from: null, name: "", type: text }],
});

/** The column that rows of a table are looked up by: what they are called by, else its first text. */
export const lookupColumn = (table: Table): string | undefined => (rowNameColumn(table) ?? storedColumns(table).find((c) => c.type.kind === "text"))?.name;

/** Turns a column of names into a link to the rows that are called so: the link stands before it, and the names stay until they are removed. */
export function linkColumn(spec: ShapeSpec, id: string, table: Table): ShapeSpec {
  const at = spec.columns.findIndex((c) => c.id === id);
  const from = spec.columns[at]?.from;
  const twin = storedColumns(table).find((c) => c.type.kind === "text" && from && isSame(c.name, from));
  const [key, match] = [table.key[0], twin?.name ?? lookupColumn(table)];
  if (key === undefined || match === undefined || !from) return spec;
  const column: ShapeColumn = {
    id: freeId(spec),
    from: null,
    name: freeName(spec, `${table.name}_${key}`),
    lookup: { from, table: table.name, match, give: key, link: true },
  };
  return { ...spec, columns: spec.columns.toSpliced(at, 0, column) };
}

/** Puts what rows are called in the place of a link to them. */
export function unlinkColumn(spec: ShapeSpec, id: string, table: Table): ShapeSpec {
  const at = spec.columns.findIndex((c) => c.id === id);
  const [key, give] = [table.key[0], lookupColumn(table)];
  const from = spec.columns[at]?.from;
  if (key === undefined || give === undefined || !from) return spec;
  const column: ShapeColumn = {
    id: freeId(spec),
    from: null,
    name: freeName(spec, table.name),
    lookup: { from, table: table.name, match: key, give, link: false },
  };
  return removeColumn({ ...spec, columns: spec.columns.toSpliced(at, 0, column) }, id);
}

/** How the texts of a column are divided: at what, into how many columns. */
export type Splitting = { separator: string; parts: number };

/**
 * Divides a column of texts into several that follow it, the last of which has the rest; the column itself stays until it is removed.
 * @example "Kiln Row 12, Skarrow" at "," in two: "Kiln Row 12" and "Skarrow"
 */
export function splitColumn(spec: ShapeSpec, column: Column, { separator, parts }: Splitting): ShapeSpec {
  const formula = (n: number) => `NULLIF(TRIM(${n === parts ? "SPLIT_REST" : "SPLIT_PART"}(${asText(column)}, ${quotedText(separator)}, ${n})), '')`;
  const at = spec.columns.findIndex((c) => c.from === column.name) + 1;
  let next = spec;
  for (let n = 1; n <= parts; n++) {
    const made: ShapeColumn = { id: freeId(next), from: null, name: freeName(next, `${column.name} ${n}`), formula: formula(n) };
    next = { ...next, columns: next.columns.toSpliced(at + n - 1, 0, made) };
  }
  return next;
}

/** Puts columns together in a new one behind the first, with a text between those that have a value; they stay until they are removed. */
export function joinColumns(spec: ShapeSpec, columns: Column[], between: string): ShapeSpec {
  const at = spec.columns.findIndex((c) => c.from === columns[0]?.name) + 1;
  const formula = `NULLIF(CONCAT_WS(${[quotedText(between), ...columns.map((c) => `NULLIF(${asText(c)}, '')`)].join(", ")}), '')`;
  const name = freeName(spec, columns.map((c) => c.name).join(" "));
  return { ...spec, columns: spec.columns.toSpliced(at, 0, { id: freeId(spec), from: null, name, formula }) };
}

/**
 * Makes a table of columns that repeat, one row for each value of one of them: a link to its row takes their place.
 * @param by the column that tells the new table's rows apart
 */
export function splitTable(spec: ShapeSpec, { name, by, columns }: { name: string; by: string; columns: string[] }): ShapeSpec {
  const at = spec.columns.findIndex((c) => c.from === by);
  const taken = [by, ...columns.filter((c) => c !== by)];
  const match = newName(by);
  const link: ShapeColumn = {
    id: freeId(spec),
    from: null,
    name: freeName(spec, `${name}_id`),
    lookup: {
      from: by,
      table: name,
      match,
      give: "id",
      link: true,
      made: { columns: taken.map((from) => ({ from, name: newName(from) })), differing: "refuse" },
    },
  };
  const linked = { ...spec, columns: spec.columns.toSpliced(at, 0, link) };
  return taken.reduce((next, from) => removeColumn(next, next.columns.find((c) => c.from === from)?.id ?? ""), linked);
}

/** What a column is called in the table of its own: the number of rows takes the name “id”. */
const newName = (column: string): string => (column.toLowerCase() === "id" ? `${column} 2` : column);

/** A column changed; what it says that is no more than what it is already goes. */
export const setColumn = (spec: ShapeSpec, id: string, change: Partial<ShapeColumn>): ShapeSpec => ({
  ...spec,
  columns: spec.columns.map((c) => (c.id === id ? withoutUndefined({ ...c, ...change }) : c)),
});

const withoutUndefined = (column: ShapeColumn): ShapeColumn =>
  Object.fromEntries(Object.entries(column).filter(([, value]) => value !== undefined)) as ShapeColumn;

/** The formula that a new column is worked out by: it has the formula's type unless another than text was chosen. */
export function setFormula(spec: ShapeSpec, id: string, formula: string): ShapeSpec {
  const type = spec.columns.find((c) => c.id === id)?.type;
  if (formula === "") return setColumn(spec, id, { formula: undefined, type: type ?? text });
  return setColumn(spec, id, { formula, type: type?.kind === "text" ? undefined : type });
}

/** What becomes of values that do not fit, where nothing is chosen: names without a row are emptied as long as they stand beside the link. */
export function misfitsOf({ columns }: Pick<ShapeSpec, "columns">, { misfits, lookup }: ShapeColumn): ShapeMisfits {
  if (misfits) return misfits;
  return lookup && !lookup.made && columns.some((c) => c.from === lookup.from) ? "empty" : "refuse";
}

/** What can become of values that do not fit a column, or find no row: a column that is new and worked out has no other formula. */
export function waysOut({ from, lookup }: ShapeColumn): ShapeMisfits[] {
  if (lookup) return lookup.made ? [] : lookup.link ? ["refuse", "empty", "make"] : ["refuse", "empty"];
  return from === null ? ["refuse", "empty"] : ["refuse", "empty", "formula"];
}

/** Another type; what was said of values that do not fit the one before goes with it. */
export const setType = (spec: ShapeSpec, id: string, type: ValueType | undefined): ShapeSpec =>
  setColumn(spec, id, {
    type,
    misfits: undefined,
    mapped: undefined,
    fallback: undefined,
    check: undefined,
    fill: undefined,
  });

/** Takes a column away, from the key too: one that was there is dropped. */
export function removeColumn(spec: ShapeSpec, id: string): ShapeSpec {
  const { key } = spec;
  return {
    ...spec,
    columns: spec.columns.filter((c) => c.id !== id),
    ...(key?.kind === "columns" ? { key: { ...key, ids: key.ids.filter((other) => other !== id) } } : {}),
  };
}

/** The columns of the table that are dropped. */
export const droppedColumns = (spec: ShapeSpec, table: Table): Table["columns"] =>
  storedColumns(table).filter((c) => !spec.columns.some((s) => s.from === c.name));

/** Puts a dropped column back, where it stood among those that are there. */
export function restoreColumn(spec: ShapeSpec, table: Table, name: string): ShapeSpec {
  const all = storedColumns(table).map((c) => c.name);
  const before = new Set(all.slice(0, all.indexOf(name)));
  const at = spec.columns.findLastIndex((c) => c.from !== null && before.has(c.from)) + 1;
  return { ...spec, columns: spec.columns.toSpliced(at, 0, { id: name, from: name, name }) };
}

/** Moves a column by so many places. */
export function moveColumn(spec: ShapeSpec, id: string, by: number): ShapeSpec {
  const from = spec.columns.findIndex((c) => c.id === id);
  const to = Math.min(spec.columns.length - 1, Math.max(0, from + by));
  const column = spec.columns[from];
  return column === undefined || to === from ? spec : { ...spec, columns: spec.columns.toSpliced(from, 1).toSpliced(to, 0, column) };
}

/** Takes a column into the key, or out of it. @param now the key's columns as they are, by their ids */
export function toggleKey(spec: ShapeSpec, id: string, now: string[]): ShapeSpec {
  const ids = spec.key?.kind === "columns" ? spec.key.ids : now;
  return { ...spec, key: { kind: "columns", ids: ids.includes(id) ? ids.filter((other) => other !== id) : [...ids, id] } };
}

/** Says what a value that does not fit is read as; "" takes that back. */
export function mapValue(spec: ShapeSpec, id: string, written: string, read: string): ShapeSpec {
  const others = spec.columns.find((c) => c.id === id)?.mapped?.filter((m) => m.written !== written) ?? [];
  const mapped = read === "" ? others : [...others, { written, text: read }];
  return setColumn(spec, id, { mapped: mapped.length === 0 ? undefined : mapped });
}
