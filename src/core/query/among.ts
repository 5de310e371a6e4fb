import { PARENT } from "../derive/parent";
import { aliasesOf, type Expr } from "../expression/expr";
import { align, comparison } from "../expression/functions";
import { type Column, findColumn, findTable } from "../schema/schema";
import { problem } from "../types/problem";
import { TYPE_WORDS, yesno } from "../types/valueType";
import { emptyQuery } from "./empty";
import { type Path, type Resolver, report, type ScopeTable, storedExpr } from "./operands";
import type { Plan, PlanJoin } from "./plan";
import { tableOfPlan } from "./planTable";
import { freeAlias } from "./scope";
import type { Condition } from "./spec";

/** What the one column of the different values is called. */
const VALUE = "value";

/**
 * Whether a value is among those of a column of a table or saved query. Its different values are brought by a join of
 * their own, which finds one at most for each row, so that it neither repeats rows nor leaves any out.
 */
export function resolveAmong({ left: operand, values: [value] }: Condition, left: Expr, resolver: Resolver, path: Path): Expr | null {
  const { schema, context, derived, problems, asked, scope } = resolver;
  const at = [...path, "values", 0];
  if (value?.kind !== "rows") return report(problems, problem("valueMissing", at));
  if (operand.kind === "column") return report(problems, problem("amongGroups", path));
  const table = findTable(schema, value.table);
  if (!table) return report(problems, problem("tableGone", at, { table: value.table }));
  const column = findColumn(table, value.column);
  if (!column) return report(problems, problem("columnGone", at, { table: table.label, column: value.column }));
  if (scope.some((s) => s.id === PARENT && aliasesOf(left).has(s.alias))) return report(problems, problem("amongParent", path));
  const key = `among ${JSON.stringify([value.table, value.column, left])}`;
  const known = derived.get(key);
  if (known) return foundIn(known);
  const different = { ...emptyQuery(value.table), grouped: true, columns: [{ id: VALUE, value: { kind: "field" as const, join: "", column: value.column } }] };
  const resolved = resolver.resolve(different, schema, context);
  if (!resolved.ok) {
    problems.push(...resolved.problems.map((p) => ({ ...p, path: at })));
    return null;
  }
  for (const parameter of resolved.value.parameters) if (!asked.some((a) => a.name === parameter.name)) asked.push(parameter);
  const taken = [...scope, ...derived.values()].map((s) => s.alias);
  const alias = freeAlias(taken, `${column.label} of ${table.label}`);
  const rows = alike(resolved.value, left);
  const far = rows && { ...tableOfPlan(rows, value.table, table.label), key: [VALUE] };
  const same = far && comparison("is", left, storedExpr(alias, far.columns[0] as Column));
  if (!same) {
    const types = { type: TYPE_WORDS[left.type.kind], wanted: TYPE_WORDS[column.type.kind] };
    return report(problems, problem("amongTypes", at, { ...types, column: column.label, table: table.label }));
  }
  const from = lastOf(left, resolver);
  const join: PlanJoin = {
    id: key,
    alias,
    from: from.alias,
    table: far,
    path: [...from.path, table.label],
    leadsTo: "one",
    back: "many",
    way: "keep",
    on: [],
    query: rows,
    when: [same],
    auxiliary: true,
  };
  derived.set(key, join);
  return foundIn(join);
}

/** Different values as they are compared with another: two that are told apart only by what is not compared are one. Null where they cannot be. */
function alike(rows: Plan, left: Expr): Plan | null {
  const [column] = rows.columns;
  const aligned = column?.expr ? align([left, column.expr]) : null;
  const expr = aligned?.[1];
  return column && expr ? { ...rows, columns: [{ ...column, expr, type: expr.type }], tieBreak: [expr] } : null;
}

const foundIn = ({ alias }: PlanJoin): Expr => ({ node: "found", alias, column: VALUE, type: yesno });

/** The last table in reach that an expression reads, itself or through what derived fields bring to it: what is joined to it comes after them. */
function lastOf(expr: Expr, { scope, derived }: Resolver): ScopeTable {
  const joins = [...derived.values()];
  const rootOf = (alias: string): number => {
    const at = scope.findIndex((s) => s.alias === alias);
    return at >= 0 ? at : rootOf(joins.find((j) => j.alias === alias)?.from ?? scope[0]?.alias ?? "");
  };
  const last = Math.max(0, ...[...aliasesOf(expr)].map(rootOf));
  return scope[last] as ScopeTable;
}
