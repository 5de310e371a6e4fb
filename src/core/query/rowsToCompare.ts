import { findColumn, findTable, type LinkEnd, plural, type Schema } from "../schema/schema";
import { isComparable, type ValueType } from "../types/valueType";
import { operandWords } from "./operands";
import { scopeOf } from "./reach";
import type { Operand, QuerySpec, Value } from "./spec";

/*
 * The rows a condition can compare with: the values of a column of a table or saved query.
 */

export type RowsValue = Extract<Value, { kind: "rows" }>;

/** "the ids of shippers", "the shipper ids of Late payers" */
export function rowsWords({ table, column }: RowsValue, schema: Schema): string {
  const found = findTable(schema, table);
  if (!found) return "missing rows";
  return `the ${plural(findColumn(found, column)?.label ?? column)} of ${found.rowsOf ? found.label : plural(found.label)}`;
}

/** The columns a condition's field can be among, with their words: first those called or linked as it is, and saved queries before tables. */
export function rowsToCompare(spec: QuerySpec, schema: Schema, left: Operand, type: ValueType): { value: RowsValue; words: string }[] {
  const scope = scopeOf(spec, schema);
  const called = operandWords(left, scope).split(" › ").at(-1);
  const own = left.kind === "field" ? { table: scope.find((s) => s.id === left.join)?.table.name, column: left.column } : null;
  const isOwn = (end: LinkEnd) => end.table === own?.table && end.columns.includes(own?.column ?? "");
  const isLinked = (table: string, column: string) =>
    schema.links.some(({ a, b }) => (isOwn(a) ? [b] : isOwn(b) ? [a] : []).some((end) => end.table === table && end.columns.includes(column)));
  const tables = [...(schema.queries ?? []).filter((t) => !t.rowsOf?.broken && !t.inner), ...schema.tables];
  const all = tables.flatMap((table) =>
    table.columns
      .filter((c) => isComparable(type, c.type))
      .map((c) => ({ value: { kind: "rows" as const, table: table.name, column: c.name }, alike: c.label === called || isLinked(table.name, c.name) })),
  );
  return [...all.filter((c) => c.alike), ...all.filter((c) => !c.alike)].map(({ value }) => ({ value, words: rowsWords(value, schema) }));
}
