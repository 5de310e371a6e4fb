import { expandDefinition, expandDerived } from "../derive/expand";
import { PARENT } from "../derive/parent";
import { call, type Expr, fieldsOf, literal } from "../expression/expr";
import { asText } from "../expression/functions";
import { type Column, findColumn, findTable, goneLinkWords, plural, type Schema, type Table } from "../schema/schema";
import { usualDay } from "../types/calendar";
import { type Checked, type Problem, problem } from "../types/problem";
import type { ColumnFormat } from "../types/schemas";
import { isNumber, TYPE_WORDS, type ValueType, whole, yesno } from "../types/valueType";
import { AGGREGATES } from "./aggregates";
import { isGroup, mapComparisons } from "./conditions";
import { emptyQuery } from "./empty";
import { homeOf } from "./home";
import { brings, keepsFar } from "./joinWays";
import {
  operandWords,
  type Path,
  probeValues,
  type Resolver,
  type RunContext,
  report,
  resolveConditions,
  resolveOperand,
  resolveParameters,
  type ScopeTable,
  storedExpr,
} from "./operands";
import type { Plan, PlanColumn, PlanCondition, PlanJoin } from "./plan";
import { resolveTables } from "./scope";
import type { ConditionTree, Join, Operand, QueryColumn, QuerySpec, Value } from "./spec";

/**
 * Turns a description into a plan: finds tables, columns and links in the schema, checks types, binds parameters.
 * @returns the plan, or all problems found, each with its path into the description
 * @example resolveQuery(emptyQuery("consignment"), schema, { today: "2026-11-23", values: {} })
 */
export function resolveQuery(spec: QuerySpec, schema: Schema, context: RunContext): Checked<Plan> {
  const table = findTable(schema, spec.source);
  if (!table) return { ok: false, problems: [problem("tableGone", ["source"], { table: spec.source })] };
  const problems: Problem[] = [];
  const scope = resolveTables(spec, schema, table, problems);
  const parameters = resolveParameters(spec.parameters, context, problems);
  const resolver: Resolver = {
    schema,
    context,
    scope,
    parameters: parameters.bound,
    dropped: parameters.dropped,
    asked: [],
    problems,
    derived: new Map(),
    expanding: [],
    expand: expandDerived,
  };
  const conditions = [
    ...resolveHaving(spec, resolver),
    ...resolveConditions(spec.conditions, resolver, ["conditions"]).map((found) => planCondition(found, scope)),
  ];
  const columns = resolveColumns(spec, schema, resolver);
  if (columns.filter((c) => !c.hidden).length === 0 && problems.length === 0) problems.push(problem("noColumns", ["columns"]));
  spec.order.forEach((o, i) => {
    if (!spec.columns.some((c) => c.id === o.column)) problems.push(problem("orderGone", ["order", i]));
  });
  if (spec.limit !== null && !(Number.isInteger(spec.limit) && spec.limit > 0)) problems.push(problem("limitRange", ["limit"]));
  if (problems.length > 0) return { ok: false, problems };
  const source = { alias: scope[0]?.alias ?? "", table };
  const joins = withDerived(
    scope.flatMap((s) => (s.join ? [s.join] : [])),
    [...resolver.derived.values()],
  );
  return {
    ok: true,
    value: {
      source,
      joins,
      conditions,
      grouped: spec.grouped,
      columns: columns.map((column) =>
        placed(
          column,
          spec.columns.find((c) => c.id === column.id),
          { source, joins },
          schema,
        ),
      ),
      order: spec.order,
      tieBreak: tieBreak(spec.grouped, scope, columns),
      limit: spec.limit,
      parameters: [...parameters.list, ...resolver.asked],
    },
  };
}

/** A condition of a plan, with what its line of the proof says. */
function planCondition({ condition, expr }: { condition: ConditionTree; expr: Expr }, scope: ScopeTable[]): PlanCondition {
  if (!isGroup(condition)) return { id: condition.id, expr, label: operandWords(condition.left, scope) };
  const many = `${condition.of.length} conditions`;
  const leftOut = { all: `do not meet all of ${many}`, any: `meet none of ${many}`, none: `meet one of ${many}` }[condition.holds];
  return { id: condition.id, expr, label: many, leftOut };
}

/**
 * Tables that rows must have rows of, or none of: how many match is counted for each row by a join of its own, which
 * neither repeats rows nor leaves any out, and a condition asks for the count.
 */
function resolveHaving(spec: QuerySpec, resolver: Resolver): PlanCondition[] {
  return spec.joins.flatMap((join, i): PlanCondition[] => {
    if (brings(join.way)) return [];
    const { schema, scope, problems } = resolver;
    const at = scope.find((s) => s.id === join.from);
    const far = schema.links.find((l) => l.id === join.link)?.[join.toward];
    if (!at || !far) return report(problems, problem("linkGone", ["joins", i], { link: goneLinkWords(schema, join.link) })) ?? [];
    const definition = { kind: "rollup" as const, step: { link: join.link, toward: join.toward }, query: matchingRows(join, far.table) };
    const count = expandDefinition(definition, at, resolver, ["joins", i]);
    if (!count) return [];
    const has = join.way === "has";
    const expr = call(has ? "greater" : "is", [count, literal("0", whole)], yesno);
    return [{ id: join.id, expr, label: far.name, leftOut: `have ${has ? "no " : ""}${far.name}` }];
  });
}

/** The rows of a table that match, counted: what is asked of them names the table itself, and the row they are to match. */
function matchingRows(join: Join, table: string): QuerySpec {
  const within = <V extends Operand | Value>(v: V): V => (v.kind === "field" ? { ...v, join: v.join === join.id ? "" : PARENT } : v);
  const conditions = mapComparisons(join.where ?? [], (c) => ({ ...c, left: within(c.left), values: c.values.map(within) }));
  return { ...emptyQuery(table), grouped: true, columns: [{ id: "matches", value: null, figure: "count" }], conditions };
}

/** Joins in an order in which each comes after what it starts from; those of derived fields right after it. */
function withDerived(joins: PlanJoin[], auxiliary: PlanJoin[]): PlanJoin[] {
  const after = (alias: string): PlanJoin[] => auxiliary.filter((j) => j.from === alias).flatMap((j) => [j, ...after(j.alias)]);
  const starts = new Set(joins.map((j) => j.alias));
  const own = new Set(auxiliary.map((j) => j.alias));
  const ofSource = auxiliary.filter((j) => !starts.has(j.from) && !own.has(j.from)).flatMap((j) => [j, ...after(j.alias)]);
  return [...ofSource, ...joins.flatMap((j) => [j, ...after(j.alias)])];
}

function resolveColumns(spec: QuerySpec, schema: Schema, resolver: Resolver): PlanColumn[] {
  const columns = spec.columns.flatMap((column, i) => {
    const resolved = resolveColumn(column, spec, schema, resolver, ["columns", i]);
    return resolved ? [resolved] : [];
  });
  return columns.map((column, i) => {
    const given = spec.columns.find((c) => c.id === column.id)?.label;
    const taken = !given && columns.some((other, j) => j !== i && !other.hidden && other.heading === column.heading);
    return taken ? { ...column, heading: capitalised(column.origin.replaceAll(" › ", " ")) } : column;
  });
}

function resolveColumn(column: QueryColumn, spec: QuerySpec, schema: Schema, resolver: Resolver, path: Path): PlanColumn | null {
  const { scope, problems } = resolver;
  const operand = column.value ? resolveOperand(column.value, resolver, [...path, "value"]) : null;
  if (column.value && !operand) return null;
  const operandType = operand?.type ?? whole;
  const expr = operand && column.figure === "list" ? asText(operand) : operand;
  const by = column.by ? resolveOperand(column.by, resolver, [...path, "by"]) : null;
  const aggregate = column.figure && AGGREGATES[column.figure];
  if (aggregate?.order === "needed" && !column.by) return report(problems, problem("figureNeedsOrder", path, { figure: aggregate.words }));
  if (!spec.grouped && (aggregate || !expr)) return report(problems, problem("figureNeedsGroup", path, { figure: aggregate?.words ?? "count" }));
  if (aggregate && !aggregate.takes(operandType))
    return report(problems, problem("figureType", path, { figure: aggregate.words, type: TYPE_WORDS[operandType.kind] }));
  const origin = aggregate
    ? column.value
      ? `${aggregate.words} of ${operandWords(column.value, scope)}`
      : "count of rows"
    : operandWords(column.value, scope);
  const { part, band } = column.value?.kind === "field" ? column.value : { part: undefined, band: undefined };
  const type = aggregate ? aggregate.gives(operandType) : operandType;
  const stored = column.value?.kind === "field" ? fieldOf(column.value, scope) : undefined;
  const derivedWords = aggregate ? undefined : stored?.column.derived?.words;
  return {
    id: column.id,
    expr,
    ...(column.figure ? { figure: column.figure } : {}),
    ...(aggregate?.order ? { by, direction: column.direction ?? "up", separator: column.separator ?? ", " } : {}),
    ...(stored?.column.derived ? { derived: true } : {}),
    type,
    heading: column.label ?? capitalised(headingOf(column, scope)),
    origin: derivedWords ?? origin,
    unit: aggregate && !["total", "average", "median", "least", "greatest", "first", "last"].includes(column.figure ?? "") ? undefined : stored?.column.unit,
    hidden: column.hidden ?? false,
    format: {
      ...(part && !aggregate ? { date: part } : {}),
      ...(band && !aggregate ? { band: band.width } : {}),
      ...averageFormat(column, operandType),
      ...(!aggregate && type.kind === "whole" && isYear(operand) ? { grouping: false } : {}),
      ...(!aggregate && stored ? columnFormat(schema, stored) : {}),
      ...column.format,
    },
    totalled: !(spec.grouped && !column.figure) && isTotalled(column, type, schema, stored),
  };
}

/**
 * A column with the rows its values belong to. Only where a person said so are repeated values added up that nothing
 * tells apart, and values that are no amounts.
 */
function placed(column: PlanColumn, given: QueryColumn | undefined, rows: Pick<Plan, "source" | "joins">, schema: Schema): PlanColumn {
  const home = homeOf(column.expr, rows);
  const uncounted = home?.repeated === true && home.keys === null && (!column.figure || column.figure === "total");
  const unasked = uncounted || (!column.figure && column.expr !== null && !isAmount(column.expr, rows, schema));
  return { ...column, home, ...(given?.everyRow ? { everyRow: true } : {}), totalled: column.totalled && (given?.footing === "total" || !unasked) };
}

/** Whether values are amounts that can be added up: no ratios, no averages and the like, no names and parts of dates. */
function isAmount(expr: Expr, rows: Pick<Plan, "source" | "joins">, schema: Schema): boolean {
  switch (expr.node) {
    case "field": {
      const join = rows.joins.find((j) => j.alias === expr.alias);
      if (join?.rollup) return join.rollup.figures.every((f) => f.name !== expr.column || AGGREGATES[f.figure].addsUp);
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
    default:
      return true;
  }
}

const isYear = (expr: Expr | null): boolean => expr?.node === "call" && expr.fn === "extractYEAR";

/** An average of exact numbers is written with two digits more than its values until a person says otherwise. */
const averageFormat = (column: QueryColumn, type: ValueType) =>
  column.figure === "average" && type.kind !== "floating" ? { decimals: (type.kind === "decimal" ? type.scale : 0) || 2 } : {};

function fieldOf(operand: Extract<Operand, { kind: "field" }>, scope: ScopeTable[]): { table: Table; column: Column } | undefined {
  const at = scope.find((s) => s.id === operand.join);
  const column = at && findColumn(at.table, operand.column);
  return at && column ? { table: at.table, column } : undefined;
}

/** A column of a description as it is planned, whatever its parameters are given; undefined while it cannot be. */
export function plannedColumn(spec: QuerySpec, schema: Schema, id: string): PlanColumn | undefined {
  const resolved = resolveQuery(spec, schema, { today: usualDay("2000-01-01"), values: probeValues(spec.parameters) });
  return resolved.ok ? resolved.value.columns.find((c) => c.id === id) : undefined;
}

export const capitalised = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);

function headingOf(column: QueryColumn, scope: ScopeTable[]): string {
  if (column.value === null) return plural(scope[0]?.table.label ?? "row");
  if (column.value.kind === "formula") return column.value.text.trim().slice(0, 40);
  if (column.value.kind === "column") return "";
  const at = scope.find((s) => s.id === (column.value as { join: string }).join);
  const name =
    operandWords({ ...column.value, part: undefined, band: undefined }, scope)
      .split(" › ")
      .at(-1) ?? "";
  const short = name === "name" && at?.path.length ? (at.path.at(-1) ?? name) : name;
  if (!column.figure || column.figure === "total") return short;
  return `${AGGREGATES[column.figure].words} of ${short}`.replace("count of different of", "different");
}

/** Adds up in the footing, unless it is what groups are made by: numbers that are no keys, unless a person said otherwise; figures only where parts make the whole. */
function isTotalled(column: QueryColumn, type: ValueType, schema: Schema, stored?: { table: Table; column: Column }): boolean {
  if (!isNumber(type)) return false;
  if (column.figure && !AGGREGATES[column.figure].addsUp) return false;
  if (column.value?.kind === "field" && (column.value.part || column.value.band) && !column.figure) return false;
  if (column.footing) return column.footing === "total";
  if (column.figure || !stored) return true;
  return !namesSomething(schema, stored);
}

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

function tieBreak(grouped: boolean, scope: ScopeTable[], columns: PlanColumn[]): Expr[] {
  if (grouped) return columns.flatMap((c) => (c.figure || !c.expr ? [] : [c.expr]));
  const repeating = scope.filter((s) => s.join === null || s.join.leadsTo === "many" || keepsFar(s.join.way));
  if (repeating.some((s) => s.table.key.length === 0)) return columns.flatMap((c) => (c.expr ? [c.expr] : []));
  return repeating.flatMap((s) =>
    s.table.key.flatMap((name) => {
      const column = findColumn(s.table, name);
      return column ? [storedExpr(s.alias, column)] : [];
    }),
  );
}
