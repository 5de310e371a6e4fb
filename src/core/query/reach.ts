import { PARENT } from "../derive/parent";
import { findTable, type Schema, type Step, stepsFrom, type Table } from "../schema/schema";
import { GROUP_PARTS, type GroupPart } from "../types/date";
import { isComparable, isDated, type ValueType } from "../types/valueType";
import { placeOf } from "./conditions";
import { bring, joinAt, operandTypeIn, tableOf } from "./edit";
import { partWords } from "./fieldParts";
import { isLinked } from "./joinWays";
import { columnWords, operandWords, type ScopeTable } from "./operands";
import { resolveTables } from "./scope";
import type { Condition, Operand, QuerySpec, Value } from "./spec";

/** The tables a description reaches, with their names; none where its source is gone. */
export function scopeOf(spec: QuerySpec, schema: Schema): ScopeTable[] {
  const table = findTable(schema, spec.source);
  return table ? resolveTables(spec, schema, table, []) : [];
}

/** A field that can be picked: the walk to its table, or the join by comparisons it comes from, and its name in words; of a date maybe a part. */
export type ReachedField = { steps: Step[]; join?: string; column: string; part?: GroupPart; words: string; type: ValueType };

/** The fields of the tables a description has brought, and those within so many links to one of any of them. */
export function reachable(spec: QuerySpec, schema: Schema, depth: number): ReachedField[] {
  const fields: ReachedField[] = [];
  const walk = (table: string, steps: Step[], path: string[], left: number) => {
    for (const c of findTable(schema, table)?.columns ?? []) fields.push({ steps, column: c.name, words: [...path, c.label].join(" › "), type: c.type });
    for (const { step, far } of stepsFrom(schema, table)) {
      const brought = joinAt(spec, [...steps, step]) !== undefined;
      if (brought || (left > 0 && far.leadsTo === "one")) walk(far.table, [...steps, step], [...path, far.name], brought ? left : left - 1);
    }
  };
  walk(spec.source, [], [], depth);
  const compared = scopeOf(spec, schema).filter((s) => spec.joins.some((j) => j.id === s.id && !isLinked(j)));
  return [
    ...fields,
    ...compared.flatMap(({ id, path, table }) =>
      table.columns.map((c) => ({ steps: [], join: id, column: c.name, words: [...path, c.label].join(" › "), type: c.type })),
    ),
  ];
}

/**
 * Of fields those that a person seeks: every word of theirs stands in its name. A date is found by its parts too.
 * @param parts whether parts of dates can be picked: "quarter lodged" finds the quarter of lodged on
 */
export function foundFields(fields: ReachedField[], sought: string, parts: boolean): ReachedField[] {
  const typed = sought.toLowerCase().split(/\s+/).filter(Boolean);
  const has = ({ words }: ReachedField) => typed.every((word) => words.toLowerCase().includes(word));
  const whole = fields.filter(has);
  if (!parts) return whole;
  const dated = fields.filter((f) => isDated(f.type) && !whole.includes(f));
  return [...whole, ...dated.flatMap((f) => GROUP_PARTS.map((part) => ({ ...f, part, words: partWords({ part }, f.words) })).filter(has))];
}

/** A field that was picked as an operand, with its table brought where it was not yet. */
export function withReached(spec: QuerySpec, { steps, join, column, part }: ReachedField): { spec: QuerySpec; operand: Extract<Operand, { kind: "field" }> } {
  const brought = join === undefined ? bring(spec, steps) : { spec, join };
  return { spec: brought.spec, operand: { kind: "field", join: brought.join, column, ...(part ? { part } : {}) } };
}

/**
 * The fields a condition's field can be compared with, itself left out.
 * @param parent in a rollup, the table of the row the figure belongs to: its stored fields come first
 */
export function comparableFields(
  spec: QuerySpec,
  schema: Schema,
  left: Operand,
  type: ValueType,
  parent?: Table,
): { join: string; column: string; words: string }[] {
  const own = (parent?.columns ?? [])
    .filter((c) => !c.derived && isComparable(type, c.type))
    .map((c) => ({ join: PARENT, column: c.name, words: `this row › ${c.label}` }));
  const others = scopeOf(spec, schema).flatMap((at) =>
    at.table.columns.filter((c) => isComparable(type, c.type)).map((c) => ({ join: at.id, column: c.name, words: [...at.path, c.label].join(" › ") })),
  );
  return [...own, ...others].filter((f) => !(left.kind === "field" && f.join === left.join && f.column === left.column));
}

/** Something a condition can ask of, with its words. */
export type Left = { left: Operand; words: string };

/** The query's own columns: what conditions on its groups ask of. @param lines with those worked out from the lines beside: what conditions on lines ask of */
export const ownColumns = (spec: QuerySpec, schema: Schema, lines = false): Left[] => {
  const scope = scopeOf(spec, schema);
  return spec.columns
    .filter((c) => lines || c.figure !== "window")
    .map((c) => ({ left: { kind: "column", id: c.id }, words: columnWords(c, scope, spec.columns) }));
};

/** What a condition can compare with in the row itself: fields of its tables; in a group or a line the query's own columns. */
export function valuesBeside(spec: QuerySpec, schema: Schema, { id, left }: Condition, type: ValueType, parent?: Table): { value: Value; words: string }[] {
  if (left.kind !== "column")
    return comparableFields(spec, schema, left, type, parent).map(({ join, column, words }) => ({ value: { kind: "field", join, column }, words }));
  return ownColumns(spec, schema, placeOf(spec, id)?.of === "lines").flatMap(({ left: other, words }) => {
    const own = other.kind === "column" && other.id !== left.id ? operandTypeIn(spec, schema, other) : undefined;
    return own && other.kind === "column" && isComparable(type, own) ? [{ value: other, words }] : [];
  });
}

/** What a condition asks of, in words. */
export function leftWords({ left }: Condition, spec: QuerySpec, schema: Schema): string {
  const scope = scopeOf(spec, schema);
  const column = left.kind === "column" ? spec.columns.find((c) => c.id === left.id) : undefined;
  return column ? columnWords(column, scope, spec.columns) : operandWords(left, scope);
}

/** The columns of a table that rows only have to have rows of. */
export const matchColumns = (spec: QuerySpec, schema: Schema, join: string): Left[] =>
  (findTable(schema, tableOf(spec, schema, join) ?? "")?.columns ?? []).map((c) => ({ left: { kind: "field", join, column: c.name }, words: c.label }));
