import { isProblem } from "../expression/check";
import { call, type Expr, literal } from "../expression/expr";
import type { GroupPart } from "../types/date";
import { problem } from "../types/problem";
import { ownStorage } from "../types/storage";
import { date, isDated, type ValueType, whole } from "../types/valueType";
import { emptyQuery } from "./empty";
import { partOfField } from "./fieldParts";
import { operandWords, type Resolver, report, type ScopeTable } from "./operands";
import type { PlanColumn, PlanEvery } from "./plan";
import type { Operand, QueryColumn, QuerySpec } from "./spec";

/*
 * Groups without rows: which values a group key has whether or not a row has them. Dates and bands run from the least
 * to the greatest there is; other fields have the values of their table.
 */

/** The one value a step starts from. */
export const STEP = { alias: "step", column: "v" };

type FieldKey = QueryColumn & { value: Extract<Operand, { kind: "field" }> };

const isFieldKey = (column: QueryColumn): column is FieldKey => !column.figure && column.value?.kind === "field";

/** Parts of a date that are stretches of days, from short to long, with how a date of one is moved to the next. */
const STRETCHES: { part: Exclude<GroupPart, "weekday">; fn: "addDays" | "addMonths"; by: number }[] = [
  { part: "day", fn: "addDays", by: 1 },
  { part: "isoWeek", fn: "addDays", by: 7 },
  { part: "month", fn: "addMonths", by: 1 },
  { part: "quarter", fn: "addMonths", by: 3 },
  { part: "year", fn: "addMonths", by: 12 },
  { part: "businessYear", fn: "addMonths", by: 12 },
];
const lengthOf = (key: FieldKey): number => STRETCHES.findIndex(({ part }) => part === (key.value.part ?? "day"));

const step = (type: ValueType): Expr => ({ node: "field", ...STEP, type, storage: ownStorage(type), guarded: false });
const count = (n: number): Expr => literal(String(n), whole);

/**
 * Of which keys of a description groups without rows are shown, and what their values are.
 * @param columns the description's columns as they are planned
 */
export function resolveEvery(spec: QuerySpec, columns: PlanColumn[], resolver: Resolver): PlanEvery[] {
  if (!spec.grouped) return [];
  const made: PlanEvery[] = [];
  for (const column of spec.columns) {
    if (!column.everyValue || column.figure || made.some((m) => m.columns.includes(column.id))) continue;
    const planned = columns.find((c) => c.id === column.id);
    const found = planned && isFieldKey(column) ? everyOfField(column, planned, spec, resolver) : null;
    if (found) made.push(found);
    else
      report(
        resolver.problems,
        problem("everyField", ["columns", spec.columns.indexOf(column)], { column: column.label ?? operandWords(column.value, resolver.scope) }),
      );
  }
  return made;
}

function everyOfField(key: FieldKey, { expr, type }: PlanColumn, spec: QuerySpec, resolver: Resolver): PlanEvery | null {
  const at = resolver.scope.find((s) => s.id === key.value.join);
  if (!at || !expr) return null;
  const { part, band, limits, letters } = key.value;
  const listed = (values: Expr[]): PlanEvery => ({ kind: "listed", columns: [key.id], values });
  if (part === "weekday") return listed([1, 2, 3, 4, 5, 6, 7].map(count));
  if (limits) return listed(limitsOf(expr));
  if (type.kind === "yesno") return listed([literal("0", type), literal("1", type)]);
  if (band) return bandSteps(key.id, expr);
  if (type.kind === "timestamp") return null;
  if (isDated(type) && !letters) return periodSteps(key, spec, resolver);
  return valuesOfTable(key, at, spec, resolver);
}

/** The limits of bands, which stand in the key's own expression. */
const limitsOf = (expr: Expr): Expr[] => (expr.node === "call" ? expr.args.filter((_, i) => i % 2 === 1 && i < expr.args.length - 2).toReversed() : []);

/** Bands of one width, the next one that much on; floating numbers would miss them. */
function bandSteps(id: string, expr: Expr): PlanEvery | null {
  const width = expr.node === "call" ? expr.args[1] : undefined;
  if (!width || expr.type.kind === "floating") return null;
  const from = step(expr.type);
  return { kind: "steps", columns: [id], of: id, next: call("add", [from, width], expr.type), values: [from] };
}

/** Periods of a date. Where a query groups by several of them (year and month), all are told by the shortest. */
function periodSteps(key: FieldKey, spec: QuerySpec, { context }: Resolver): PlanEvery | null {
  const { join, column } = key.value;
  const same = spec.columns
    .filter(isFieldKey)
    .filter((c) => c.value.join === join && c.value.column === column && lengthOf(c) >= 0)
    .sort((a, b) => lengthOf(a) - lengthOf(b));
  const [shortest = key] = same;
  const stretch = STRETCHES[lengthOf(shortest)];
  if (!stretch) return null;
  const from = step(date);
  const values = same.map((c) => (c === shortest ? from : partOfField(c.value, from, context.today.calendar, [])));
  if (values.some(isProblem)) return null;
  return { kind: "steps", columns: same.map((c) => c.id), of: shortest.id, next: call(stretch.fn, [from, count(stretch.by)], date), values: values as Expr[] };
}

/**
 * The values a field's table has. Other keys of the same table go with them, as its rows have them together, unless its
 * rows are those that are grouped.
 */
function valuesOfTable(key: FieldKey, at: ScopeTable, spec: QuerySpec, resolver: Resolver): PlanEvery | null {
  const { schema, context, problems } = resolver;
  const together = at.join?.leadsTo === "one" ? spec.columns.filter(isFieldKey).filter((c) => c.value.join === at.id) : [key];
  const columns = together.map((c): QueryColumn => ({ id: c.id, value: { ...c.value, join: "" } }));
  const source = at.join === null ? { source: spec.source, ...(spec.stack ? { stack: spec.stack } : {}) } : { source: at.table.name };
  const resolved = resolver.resolve({ ...emptyQuery(source.source), ...source, grouped: true, columns, parameters: spec.parameters }, schema, context);
  if (resolved.ok) return { kind: "rows", columns: together.map((c) => c.id), rows: resolved.value };
  problems.push(...resolved.problems.map((p) => ({ ...p, path: ["columns", spec.columns.indexOf(key)] })));
  return null;
}
