import { storedColumns, type Table } from "../schema/schema";
import { text, type ValueType } from "../types/valueType";
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

/** Adds an empty column at the end. */
export function addColumn(spec: ShapeSpec): ShapeSpec {
  const free = (n: number): string => (spec.columns.some((c) => c.id === `new ${n}`) ? free(n + 1) : `new ${n}`);
  return { ...spec, columns: [...spec.columns, { id: free(1), from: null, name: "", type: text }] };
}

/** A column changed; what it says that is no more than what it is already goes. */
export const setColumn = (spec: ShapeSpec, id: string, change: Partial<ShapeColumn>): ShapeSpec => ({
  ...spec,
  columns: spec.columns.map((c) => (c.id === id ? withoutUndefined({ ...c, ...change }) : c)),
});

const withoutUndefined = (column: ShapeColumn): ShapeColumn =>
  Object.fromEntries(Object.entries(column).filter(([, value]) => value !== undefined)) as ShapeColumn;

/** Another type; what was said of values that do not fit the one before goes with it. */
export const setType = (spec: ShapeSpec, id: string, type: ValueType | undefined): ShapeSpec =>
  setColumn(spec, id, { type, misfits: undefined, mapped: undefined, fallback: undefined, check: undefined, fill: undefined });

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
