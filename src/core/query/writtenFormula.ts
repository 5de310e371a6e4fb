import { isProblem } from "../expression/check";
import { writtenName } from "../expression/parse";
import type { Schema } from "../schema/schema";
import { usualDay } from "../types/calendar";
import type { Problem } from "../types/problem";
import type { ValueType } from "../types/valueType";
import { namedFormulas } from "./operands";
import { probeValues } from "./parameters";
import { ROWS_OF_QUERY } from "./planTable";
import { scopeOf } from "./reach";
import { resolveQuery } from "./resolve";
import type { QueryColumn, QuerySpec } from "./spec";

/*
 * A formula of a query while it is written: what it may name, and what it comes to.
 */

/** What a formula works on: the values of each row, or the figures of each group. */
export type FormulaOver = "rows" | "figures";

export type FormulaName = { name: string; written: string; type: ValueType };

/** The names a formula may use, as they are written in it: of rows the fields in reach and the query's own formulas, of figures its columns and, within a figure, those. */
export function formulaNames(spec: QuerySpec, schema: Schema, over: FormulaOver): FormulaName[] {
  const scope = scopeOf(spec, schema);
  const fields = scope.flatMap(({ path, table }) =>
    table.columns.map((c): FormulaName => {
      const names = [...path, (c.derived ?? table.rowsOf) ? c.label : c.name];
      return { name: names.join("."), written: names.map(writtenName).join("."), type: c.type };
    }),
  );
  const resolved = resolveColumnsOf(spec, schema);
  const planned = resolved.ok ? resolved.value.columns : [];
  const formulas = new Set(namedFormulas(spec).map((f) => f.name));
  const own = planned.filter((c) => over === "figures" || formulas.has(c.heading));
  const all = [...own.map((c) => ({ name: c.heading, written: writtenName(c.heading), type: c.type })), ...fields];
  return all.filter((n, i) => all.findIndex((m) => m.name === n.name) === i);
}

/** A description's columns planned by themselves: what its conditions and order lack is no concern of theirs. */
const resolveColumnsOf = (spec: QuerySpec, schema: Schema) =>
  resolveQuery({ ...spec, conditions: [], groupConditions: [], lineConditions: [], order: [], limit: null, firstOf: undefined }, schema, {
    today: usualDay("2000-01-01"),
    values: probeValues(spec.parameters),
    probing: true,
  });

const WRITTEN = "formula being written";

/** The type a formula comes to in a query, or the first thing that is wrong with it; null while nothing is written. */
export function formulaType(spec: QuerySpec, schema: Schema, text: string, over: FormulaOver): ValueType | Problem | null {
  if (text.trim() === "") return null;
  const column: QueryColumn = { id: WRITTEN, value: { kind: "formula", text }, ...(over === "figures" ? { figure: "formula" as const } : {}) };
  // Of the query's own columns, those that it may name are kept.
  const own = spec.columns.filter((c) => over === "figures" || (c.value?.kind === "formula" && !c.figure));
  const resolved = resolveColumnsOf({ ...spec, grouped: over === "figures", columns: [...own, column] }, schema);
  if (resolved.ok) return resolved.value.columns.find((c) => c.id === WRITTEN)?.type ?? null;
  return resolved.problems.find((p) => p.path[0] === "columns" && p.path[1] === own.length) ?? null;
}

/** What is wrong with a formula; null where nothing is. */
export const formulaProblem = (found: ValueType | Problem | null): Problem | null => (found && isProblem(found) ? found : null);

/** How many values of a formula are shown while it is written. */
export const FIRST_VALUES = 3;

/**
 * A query of a formula's first values, as it is written in another: of rows, or of groups. Null over the rows of a
 * query, which cannot be asked by themselves.
 */
export function firstValues(spec: QuerySpec, text: string, over: FormulaOver): QuerySpec | null {
  if (spec.source === ROWS_OF_QUERY || text.trim() === "") return null;
  const formula: QueryColumn = { id: "first values", value: { kind: "formula", text }, ...(over === "figures" ? { figure: "formula" } : {}) };
  // What the formula names stands beside it, unseen.
  const others = spec.columns.filter((c) => c.figure !== "window").map(({ subtotal: _, everyValue: __, ...c }) => ({ ...c, hidden: true }));
  const columns = over === "figures" ? [...others, formula] : [...others.filter((c) => !c.figure && c.value?.kind === "formula"), formula];
  const { firstOf: _, groupConditions: __, lineConditions: ___, proofColumn: ____, controls: _____, ...rest } = spec;
  return { ...rest, grouped: over === "figures", columns, order: [], limit: FIRST_VALUES };
}
