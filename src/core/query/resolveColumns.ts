import { checkFormula, isProblem, type WrittenFigure } from "../expression/check";
import { type Expr, type FigureExpr, fieldsOf, figureWhere, withFigures } from "../expression/expr";
import { align, asText } from "../expression/functions";
import { namedTable } from "../schema/rowNames";
import { type Column, findColumn, plural, type Schema, type Table } from "../schema/schema";
import { problem } from "../types/problem";
import type { ColumnFormat } from "../types/schemas";
import { isNumber, TYPE_WORDS, type ValueType, whole } from "../types/valueType";
import { AGGREGATES, type Aggregate, addsUpByKind, aggregateOf, figureWords } from "./aggregates";
import { isParted } from "./fieldParts";
import { countsOnce, figureOfColumn, homeOf, valueOfColumn } from "./home";
import { capitalised, columnFormat, namesSomething } from "./naming";
import { namedInFormula, type OwnColumn, operandWords, type Path, type Resolver, report, resolveOperand, type ScopeTable, sameName } from "./operands";
import type { Plan, PlanColumn } from "./plan";
import { resolveConditions } from "./resolveConditions";
import { resolveWindow } from "./resolveWindow";
import type { Operand, QueryColumn, QuerySpec } from "./spec";

/*
 * The columns of a description as columns of a plan: typed, knowing their origin, the rows their values belong to, and
 * what their footing comes to. A formula over figures names other columns, so those are worked out first.
 */

type Rows = Pick<Plan, "source" | "joins">;

/**
 * The columns of a query.
 * @param rows what the tables in reach are joined to by now: what derived fields need among them
 */
export function resolveColumns(spec: QuerySpec, schema: Schema, resolver: Resolver, rows: () => Rows): PlanColumn[] {
  const made = new Map<string, PlanColumn | null>();
  const making = new Set<string>();
  const make = (column: QueryColumn | undefined): PlanColumn | null => {
    if (!column) return null;
    const known = made.get(column.id);
    if (known !== undefined) return known;
    const path = ["columns", spec.columns.indexOf(column)];
    if (making.has(column.id)) return report(resolver.problems, problem("ownCircle", path, { column: headingOf(column, resolver.scope) }));
    making.add(column.id);
    const own = (name: string): Expr | null => {
      const named = spec.columns.find((c) => c !== column && c.figure !== "window" && sameName(c.label ?? headingOf(c, resolver.scope), name));
      const found = make(named);
      return found ? valueOfColumn(found) : null;
    };
    const found = byKind(column, path, own);
    const resolved = found && column.unit !== undefined ? { ...found, unit: column.unit || undefined } : found;
    made.set(column.id, resolved);
    return resolved;
  };
  const byKind = (column: QueryColumn, path: Path, own: (name: string) => Expr | null): PlanColumn | null => {
    if (column.figure === "window") return resolveWindow(column, spec, (id) => make(spec.columns.find((c) => c.id === id)), resolver, path);
    if (column.figure === "formula") return resolveOverFigures(column, own, resolver, rows, path);
    return resolveColumn(column, spec, schema, resolver, rows, path);
  };
  const columns = spec.columns.flatMap((column) => make(column) ?? []);
  resolver.unready = new Set(spec.columns.flatMap(({ id }) => (columns.some((c) => c.id === id) ? [] : [id])));
  resolver.columns = new Map(columns.filter((c) => !c.window).map((c): [string, OwnColumn] => [c.id, { expr: valueOfColumn(c), heading: c.heading }]));
  return columns.map((column, i) => {
    const given = spec.columns.find((c) => c.id === column.id)?.label;
    const taken = !given && columns.some((other, j) => j !== i && !other.hidden && other.heading === column.heading);
    return taken ? { ...column, heading: capitalised(column.origin.replaceAll(" › ", " ")) } : column;
  });
}

/** A column that is a field, a formula over fields, or a figure of either. */
function resolveColumn(column: QueryColumn, spec: QuerySpec, schema: Schema, resolver: Resolver, rows: () => Rows, path: Path): PlanColumn | null {
  const { scope, problems } = resolver;
  const read = column.value ? resolveOperand(column.value, resolver, [...path, "value"]) : null;
  if (column.value && !read) return null;
  const given = column.by ? resolveOperand(column.by, resolver, [...path, "by"]) : null;
  const aggregate = aggregateOf(column.figure);
  if (!spec.grouped && (aggregate || !read)) return report(problems, problem("figureNeedsGroup", path, { figure: aggregate?.words ?? "count" }));
  const type = read?.type ?? whole;
  if (aggregate) {
    const wrong = wrongFigure(aggregate, type, given, column);
    if (wrong) return report(problems, problem(wrong, path, { figure: aggregate.words, type: TYPE_WORDS[type.kind] }));
  }
  const [operand, by] = aggregate?.weighs && read && given ? alike(read, given) : [column.figure === "list" && read ? asText(read) : read, given];
  const where = resolveConditions(column.where ?? [], resolver, [...path, "where"]).map((c) => c.expr);
  const home = homeOf(operand, rows());
  const expr = where.length === 0 ? operand : (figureWhere({ ...ROW_FIGURE, of: operand }, where).of as Expr);
  const stored = column.value?.kind === "field" ? fieldOf(column.value, scope) : undefined;
  const gives = aggregate ? aggregate.gives(operand?.type ?? whole) : type;
  const resolved: PlanColumn = {
    id: column.id,
    expr,
    ...(column.figure ? { figure: column.figure } : {}),
    ...(aggregate?.order || aggregate?.weighs ? { by, direction: column.direction ?? "up", separator: column.separator ?? ", " } : {}),
    ...(aggregate?.percent ? { percent: Math.round((column.percent ?? 0) * 100) } : {}),
    ...(aggregate?.counts && column.count !== undefined ? { count: column.count } : {}),
    ...(stored?.column.derived ? { derived: true } : {}),
    type: gives,
    heading: column.label ?? capitalised(headingOf(column, scope)),
    origin: originOf(column, aggregate, scope, stored),
    rowOf: aggregate ? undefined : rowOf(column, schema, stored),
    unit: aggregate && !aggregate.keepsUnit ? undefined : stored?.column.unit,
    hidden: column.hidden ?? false,
    format: formatOf(column, aggregate, { operand, type, gives }, schema, stored),
    totalled: !(spec.grouped && !column.figure) && isTotalled(column, gives, schema, stored),
  };
  return footed(placed(resolved, column, home, rows(), schema), column, problems, path);
}

/** The table of which a column's values are keys of rows with names. */
function rowOf({ value }: QueryColumn, schema: Schema, stored: Stored | undefined): string | undefined {
  const whole = value?.kind === "field" && !isParted(value) && !value.letters;
  if (!whole || !stored) return undefined;
  return stored.column.rowOf ?? namedTable(schema, stored.table.name, stored.column.name)?.name;
}

/** What stands in the way of a figure; undefined where nothing does. */
export function wrongFigure(aggregate: Aggregate, type: ValueType, by: Expr | null, column: Pick<QueryColumn, "by" | "percent">) {
  if (aggregate.order === "needed" && !column.by) return "figureNeedsOrder";
  if (!aggregate.takes(type)) return "figureType";
  if (aggregate.weighs && !(by && isNumber(by.type))) return "figureNeedsWeight";
  return aggregate.percent && column.percent === undefined ? "figurePercent" : undefined;
}

/** Two numbers of which one may be floating, both so then: a value and its weight are multiplied. */
function alike(value: Expr, weight: Expr): [Expr, Expr] {
  const floats = value.type.kind === "floating" || weight.type.kind === "floating";
  const [a, b] = (floats && align([value, weight])) || [value, weight];
  return [a as Expr, b as Expr];
}

/** Where a column comes from, in words. */
function originOf(column: QueryColumn, aggregate: Aggregate | undefined, scope: ScopeTable[], stored: Stored | undefined): string {
  const limits = column.where && column.where.length > 0 ? ", with a condition" : "";
  if (!aggregate) return stored?.column.derived?.words ?? operandWords(column.value, scope);
  return column.value && column.figure
    ? `${figureWords(column.figure, column.count)} of ${operandWords(column.value, scope)}${limits}`
    : `count of rows${limits}`;
}

function formatOf(
  column: QueryColumn,
  aggregate: Aggregate | undefined,
  { operand, type, gives }: { operand: Expr | null; type: ValueType; gives: ValueType },
  schema: Schema,
  stored: Stored | undefined,
): ColumnFormat {
  const { part, band, limits } = column.value?.kind === "field" ? column.value : {};
  return {
    ...(part && !aggregate ? { date: part } : {}),
    ...(band && !aggregate ? { band: band.width } : {}),
    ...(limits && !aggregate ? { limits } : {}),
    ...figureFormat(column, type),
    ...(!aggregate && gives.kind === "whole" && isYear(operand) ? { grouping: false } : {}),
    ...(!aggregate && stored ? columnFormat(schema, stored) : {}),
    ...column.format,
  };
}

const ROW_FIGURE: FigureExpr = { node: "figure", figure: "count", of: null, by: null, direction: "up", separator: ", ", percent: 0, keys: null, type: whole };

/** A formula over figures: it names other columns of the query, and figures of its own over the rows. */
function resolveOverFigures(column: QueryColumn, own: (name: string) => Expr | null, resolver: Resolver, rows: () => Rows, path: Path): PlanColumn | null {
  if (column.value?.kind !== "formula") return report(resolver.problems, problem("figureNeedsGroup", path, { figure: "formula" }));
  const where = resolveConditions(column.where ?? [], resolver, [...path, "where"]).map((c) => c.expr);
  const expr = formulaOverFigures(column.value.text, own, resolver, rows, [...path, "value"]);
  if (!expr) return null;
  const value = withFigures(expr, (f) => figureWhere(f, where));
  const words = column.value.text.trim();
  return {
    id: column.id,
    expr: value,
    figure: "formula",
    derived: true,
    type: value.type,
    heading: column.label ?? capitalised(words.slice(0, 40)),
    origin: words,
    hidden: column.hidden ?? false,
    format: { ...column.format },
    totalled: false,
    home: null,
    ...(column.footing === "none" ? {} : { foot: value }),
  };
}

/**
 * A formula over the figures of a group.
 * @param own another column of the query by its name; its value in the group
 * @param rows what the figures' fields are joined to
 */
export function formulaOverFigures(source: string, own: (name: string) => Expr | null, resolver: Resolver, rows: () => Rows, at: Path): Expr | null {
  const { problems, parameters, context } = resolver;
  const before = problems.length;
  const figure = (written: WrittenFigure): Expr => writtenFigureExpr(written, rows());
  const field = (names: string[]) => namedInFormula(names, resolver, at);
  const expr = checkFormula(
    source,
    {
      field: (names) => (names.length === 1 ? own(names[0] ?? "") : null),
      parameter: (name) => parameters.get(name) ?? null,
      today: context.today.day,
      figures: { field, figure },
    },
    at,
  );
  if (!isProblem(expr)) return expr;
  return problems.length > before ? null : report(problems, expr);
}

/** A figure that a formula writes; a total of what a link repeats counts each of its rows once, as a column does. */
function writtenFigureExpr({ figure, of, by, percent, where }: WrittenFigure, rows: Rows): Expr {
  const [value, weight] = AGGREGATES[figure].weighs && of && by ? alike(of, by) : [of, by];
  const home = homeOf(value, rows);
  const keys = figure === "total" && countsOnce({ home }) ? (home?.keys ?? []) : null;
  const made: FigureExpr = { ...ROW_FIGURE, figure, of: value, by: weight, percent, keys, type: AGGREGATES[figure].gives(value?.type ?? whole) };
  return figureWhere(made, where ? [where] : []);
}

/** A column with what its footing works out anew over all rows, where it is not added up. */
function footed(column: PlanColumn, { footing }: QueryColumn, problems: Resolver["problems"], path: Path): PlanColumn | null {
  if (footing === "none") return column;
  if (column.figure) return column.totalled || column.figure === "list" || addsUpByKind(column.figure) ? column : { ...column, foot: valueOfColumn(column) };
  if (footing === undefined || footing === "total" || column.expr === null) return column;
  const aggregate = AGGREGATES[footing];
  if (!aggregate.takes(column.type)) return report(problems, problem("figureType", path, { figure: aggregate.words, type: TYPE_WORDS[column.type.kind] }));
  return { ...column, totalled: false, foot: { ...figureOfColumn(column, footing), type: aggregate.gives(column.type) } };
}

/**
 * A column with the rows its values belong to. Only where a person said so are repeated values added up that nothing
 * tells apart, and values that are no amounts.
 */
function placed(column: PlanColumn, given: QueryColumn, home: PlanColumn["home"], rows: Rows, schema: Schema): PlanColumn {
  const uncounted = home?.repeated === true && home.keys === null && (!column.figure || column.figure === "total");
  const unasked = uncounted || (!column.figure && column.expr !== null && !isAmount(column.expr, rows, schema));
  return { ...column, home, ...(given.everyRow ? { everyRow: true } : {}), totalled: column.totalled && (given.footing === "total" || !unasked) };
}

/** Whether values are amounts that can be added up: no ratios, no averages and the like, no names and parts of dates. */
function isAmount(expr: Expr, rows: Rows, schema: Schema): boolean {
  switch (expr.node) {
    case "field": {
      const join = rows.joins.find((j) => j.alias === expr.alias);
      if (join?.rollup) return join.rollup.figures.every((f) => f.name !== expr.column || addsUpByKind(f.figure));
      const table = join?.table ?? rows.source.table;
      const column = findColumn(table, expr.column);
      return !column || !namesSomething(schema, { table, column });
    }
    case "call": {
      const [, divisor] = expr.args;
      if (expr.fn === "divide" && divisor && fieldsOf(divisor).length > 0) return false;
      if (expr.fn.startsWith("extract")) return false;
      return expr.args.every((arg) => !isNumber(arg.type) || isAmount(arg, rows, schema));
    }
    case "figure":
      return AGGREGATES[expr.figure].addsUp;
    default:
      return true;
  }
}

const isYear = (expr: Expr | null): boolean => expr?.node === "call" && expr.fn === "extractYEAR";

/** Averages of exact numbers and the like are written with the digits of their values, two at least, and a share as a percentage, until a person says otherwise. */
const figureFormat = (column: QueryColumn, type: ValueType): ColumnFormat => {
  if (column.figure === "share") return { percent: true, decimals: 1 };
  const divides = column.figure === "average" || column.figure === "weightedAverage" || column.figure === "percentile";
  return divides && type.kind !== "floating" ? { decimals: (type.kind === "decimal" ? type.scale : 0) || 2 } : {};
};

type Stored = { table: Table; column: Column };

function fieldOf(operand: Extract<Operand, { kind: "field" }>, scope: ScopeTable[]): Stored | undefined {
  const at = scope.find((s) => s.id === operand.join);
  const column = at && findColumn(at.table, operand.column);
  return at && column ? { table: at.table, column } : undefined;
}

function headingOf(column: QueryColumn, scope: ScopeTable[]): string {
  // Where a join repeats rows, their number is no number of the source's.
  if (column.value === null) return scope.some((s) => s.join?.leadsTo === "many") ? "Rows" : plural(scope[0]?.table.label ?? "row");
  if (column.value.kind === "formula") return column.value.text.trim().slice(0, 40);
  if (column.value.kind === "column") return "";
  if (column.value.kind === "related")
    return column.figure && column.figure !== "total" ? `${figureWords(column.figure, column.count)} of ${column.value.words}` : column.value.words;
  const at = scope.find((s) => s.id === (column.value as { join: string }).join);
  const name = operandWords({ kind: "field", join: column.value.join, column: column.value.column }, scope).split(" › ").at(-1) ?? "";
  const short = name === "name" && at?.path.length ? (at.path.at(-1) ?? name) : name;
  if (!column.figure || column.figure === "total") return short;
  return `${figureWords(column.figure, column.count)} of ${short}`;
}

/** Adds up in the footing, unless it is what groups are made by: numbers that are no keys and no percentages, unless a person said otherwise; figures only where parts make the whole. */
function isTotalled(column: QueryColumn, type: ValueType, schema: Schema, stored?: { table: Table; column: Column }): boolean {
  if (!isNumber(type)) return false;
  if (column.figure && !addsUpByKind(column.figure)) return false;
  if (column.value?.kind === "field" && isParted(column.value) && !column.figure) return false;
  if (column.footing) return column.footing === "total";
  if (column.figure) return true;
  if (column.format?.percent ?? stored?.column.format?.percent) return false;
  return !stored || !namesSomething(schema, stored);
}
