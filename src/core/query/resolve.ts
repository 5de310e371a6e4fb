import { checkFormula, isProblem } from "../expression/check";
import { call, type Expr, literal, period } from "../expression/expr";
import { align, comparison } from "../expression/functions";
import { type Column, findColumn, findTable, plural, type Schema, type Table } from "../schema/schema";
import { DATE_PART_WORDS, type IsoDate, isIsoDate, RELATIVE_DATES } from "../types/date";
import { parseDecimal } from "../types/decimal";
import { type Checked, type Problem, problem } from "../types/problem";
import { date, decimal, isDated, isNumber, TYPE_WORDS, text, type ValueType, whole, yesno } from "../types/valueType";
import { AGGREGATES } from "./aggregates";
import { OPERATORS, valuesNeeded } from "./operators";
import type { Plan, PlanColumn, PlanJoin, PlanParameter } from "./plan";
import type { Condition, Operand, Parameter, ParameterValues, QueryColumn, QuerySpec, Value } from "./spec";

type Path = (string | number)[];

/** What a run supplies: the day it is in the workspace's zone, and values for parameters by name. */
export type RunContext = { today: IsoDate; values: ParameterValues };

const PARAMETER_TYPES: Record<Parameter["type"], ValueType> = { text, whole, decimal: decimal(6), date, yesno, choice: text };

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
  const parameters = resolveParameters(spec, context, problems);
  const resolver = { scope, parameters: parameters.bound, problems };
  const conditions = spec.conditions.flatMap((condition, i) => {
    if (condition.values.some((v) => v.kind === "parameter" && parameters.dropped.has(v.name))) return [];
    const expr = resolveCondition(condition, resolver, ["conditions", i]);
    return expr ? [{ id: condition.id, expr, label: operandWords(condition.left, scope) }] : [];
  });
  const columns = resolveColumns(spec, schema, resolver);
  if (columns.filter((c) => !c.hidden).length === 0 && problems.length === 0) problems.push(problem("noColumns", ["columns"]));
  spec.order.forEach((o, i) => {
    if (!spec.columns.some((c) => c.id === o.column)) problems.push(problem("orderGone", ["order", i]));
  });
  if (spec.limit !== null && !(Number.isInteger(spec.limit) && spec.limit > 0)) problems.push(problem("limitRange", ["limit"]));
  if (problems.length > 0) return { ok: false, problems };
  return {
    ok: true,
    value: {
      source: { alias: scope[0]?.alias ?? "", table },
      joins: scope.slice(1).map((s) => s.join as PlanJoin),
      conditions,
      grouped: spec.grouped,
      columns,
      order: spec.order,
      tieBreak: tieBreak(spec.grouped, scope, columns),
      limit: spec.limit,
      parameters: parameters.list,
    },
  };
}

/** A table within reach of a query's fields: the source (id "") or one that was brought. */
export type ScopeTable = { id: string; alias: string; table: Table; path: string[]; join: PlanJoin | null };
type Scope = ScopeTable[];
type Resolver = { scope: Scope; parameters: Map<string, Expr>; problems: Problem[] };

/** The tables a description reaches, with the names a person knows them by. Problems go to the list given. */
export function resolveTables(spec: QuerySpec, schema: Schema, source: Table, problems: Problem[]): Scope {
  const scope: Scope = [{ id: "", alias: source.name, table: source, path: [], join: null }];
  spec.joins.forEach((join, i) => {
    const from = scope.find((s) => s.id === join.from);
    const link = schema.links.find((l) => l.id === join.link);
    const far = link?.[join.toward];
    const near = link?.[join.toward === "a" ? "b" : "a"];
    const table = far && findTable(schema, far.table);
    if (!from) return problems.push(problem("joinGone", ["joins", i], { join: join.from }));
    if (!link || !far || !near || !table || near.table !== from.table.name) return problems.push(problem("linkGone", ["joins", i], { link: join.link }));
    const path = [...from.path, far.name];
    const wanted = path.join("_").replaceAll(" ", "_");
    const alias = scope.some((s) => s.alias === wanted) ? `${wanted}_${i + 1}` : wanted;
    const on = near.columns.map((column, c) => ({ near: column, far: far.columns[c] ?? "" }));
    const planned: PlanJoin = { id: join.id, alias, from: from.alias, table, path, leadsTo: far.leadsTo, unmatched: join.unmatched, on };
    scope.push({ id: join.id, alias, table, path, join: planned });
  });
  return scope;
}

const fieldExpr = (at: ScopeTable, column: Column): Expr => ({
  node: "field",
  alias: at.alias,
  column: column.name,
  type: column.type,
  storage: column.storage,
  guarded: column.misfits > 0,
});

function resolveParameters(spec: QuerySpec, context: RunContext, problems: Problem[]) {
  const bound = new Map<string, Expr>();
  const dropped = new Set<string>();
  const list: PlanParameter[] = [];
  spec.parameters.forEach((parameter, i) => {
    const path = ["parameters", i];
    if (bound.has(parameter.name) || dropped.has(parameter.name)) problems.push(problem("duplicateName", path, { name: parameter.name }));
    const given = context.values[parameter.name];
    const source = given !== undefined && given !== "" ? given : defaultText(parameter, context.today);
    const defaulted = given === undefined || given === "";
    list.push({ name: parameter.name, type: PARAMETER_TYPES[parameter.type], text: source, defaulted });
    if (source === null) {
      if (parameter.optional) dropped.add(parameter.name);
      else problems.push(problem("parameterMissing", path, { name: parameter.name }));
      return;
    }
    if (parameter.type === "choice" && !parameter.choices?.includes(source))
      return problems.push(problem("parameterChoice", path, { name: parameter.name, value: source }));
    const value = parseValue(source, PARAMETER_TYPES[parameter.type], path);
    if (isProblem(value)) problems.push(value);
    else bound.set(parameter.name, value.node === "literal" ? { ...value, parameter: parameter.name } : value);
  });
  return { bound, dropped, list };
}

/** Values for parameters that have none, so that a description can be resolved where only its columns matter. */
export function probeValues(spec: QuerySpec): ParameterValues {
  const probes: Record<Parameter["type"], string> = { text: "?", whole: "0", decimal: "0", date: "2000-01-01", yesno: "no", choice: "" };
  return Object.fromEntries(spec.parameters.filter((p) => !p.default).map((p) => [p.name, p.choices?.[0] ?? probes[p.type]]));
}

/** The text a parameter has when nothing is given for it on a day; null where it has no default. */
export function defaultText(parameter: Parameter, today: IsoDate): string | null {
  const chosen = parameter.default;
  if (!chosen) return null;
  const source = chosen.kind === "relative" ? RELATIVE_DATES[chosen.date].of(today) : chosen.text;
  return source === "" ? null : source;
}

const EXAMPLES: Record<ValueType["kind"], string> = {
  text: "text",
  whole: "1200",
  decimal: "1200.50",
  floating: "0.25",
  date: "2026-09-30",
  timestamp: "2026-09-30",
  yesno: "yes or no",
};

/** Reads a typed value as a literal of its own exact scale, to be aligned with what it is compared with. */
export function parseValue(source: string, type: ValueType, path: Path): Expr | Problem {
  const trimmed = source.trim();
  const bad = () => problem("valueType", path, { value: source, type: TYPE_WORDS[type.kind], example: EXAMPLES[type.kind] });
  if (type.kind === "text") return literal(source, text);
  if (trimmed === "") return problem("valueMissing", path);
  if (isNumber(type)) {
    const plainDigits = trimmed.replace(/^\u2212/, "-");
    const digits = plainDigits.split(".")[1]?.length ?? 0;
    const scaled = parseDecimal(plainDigits, digits);
    if (scaled === null || digits > 12) return bad();
    return literal(scaled.toString(), digits === 0 ? whole : decimal(digits));
  }
  if (isDated(type)) return isIsoDate(trimmed) ? literal(trimmed, date) : bad();
  const truth = { yes: "1", no: "0" }[trimmed.toLowerCase()];
  return truth === undefined ? bad() : literal(truth, yesno);
}

function resolveOperand(operand: Operand, { scope, parameters, problems }: Resolver, path: Path): Expr | null {
  if (operand.kind === "formula") {
    const expr = checkFormula(
      operand.text,
      {
        field: (names) => fieldByNames(scope, names),
        parameter: (name) => parameters.get(name) ?? null,
      },
      path,
    );
    if (!isProblem(expr)) return expr;
    problems.push(expr);
    return null;
  }
  const at = scope.find((s) => s.id === operand.join);
  if (!at) return report(problems, problem("joinGone", path, { join: operand.join }));
  const column = findColumn(at.table, operand.column);
  if (!column) return report(problems, problem("columnGone", path, { table: at.table.label, column: operand.column }));
  const field = fieldExpr(at, column);
  if (!operand.part) return field;
  if (!isDated(column.type))
    return report(problems, problem("datePartType", path, { part: DATE_PART_WORDS[operand.part], type: TYPE_WORDS[column.type.kind] }));
  return period(operand.part, field);
}

function report(problems: Problem[], found: Problem): null {
  problems.push(found);
  return null;
}

const sameName = (a: string, b: string) => a.toLowerCase().replaceAll("_", " ") === b.toLowerCase().replaceAll("_", " ");

/** A field named in a formula: its column, after the names of the links that lead to it. */
function fieldByNames(scope: Scope, names: string[]): Expr | null {
  const column = names.at(-1) ?? "";
  const at = scope.find((s) => {
    const path = names.length > 1 && s.id === "" && names.length === 2 && sameName(names[0] ?? "", s.table.name) ? [] : names.slice(0, -1);
    return s.path.length === path.length && s.path.every((step, i) => sameName(step, path[i] ?? ""));
  });
  const found = at?.table.columns.find((c) => sameName(c.name, column) || sameName(c.label, column));
  return at && found ? fieldExpr(at, found) : null;
}

function resolveCondition(condition: Condition, resolver: Resolver, path: Path): Expr | null {
  const left = resolveOperand(condition.left, resolver, [...path, "left"]);
  if (!left) return null;
  const { problems } = resolver;
  const operator = OPERATORS[condition.operator];
  if (!operator.takes(left.type))
    return report(problems, problem("operatorType", [...path, "operator"], { operator: operator.words(left.type), type: TYPE_WORDS[left.type.kind] }));
  if (condition.values.length < valuesNeeded(condition.operator)) return report(problems, problem("valueMissing", [...path, "values"]));
  const values = condition.values.map((value, i) => resolveValue(value, left.type, resolver, [...path, "values", i]));
  if (values.some((v) => v === null)) return null;
  const expr = conditionExpr(operator.negates ?? condition.operator, left, values as Expr[]);
  if (!operator.negates) return expr;
  return call("or", [call("not", [expr], yesno), call("isNull", [left], yesno)], yesno);
}

function resolveValue(value: Value, type: ValueType, { parameters, problems }: Resolver, path: Path): Expr | null {
  if (value.kind === "value") {
    const parsed = type.kind === "text" && value.text === "" ? problem("valueMissing", path) : parseValue(value.text, type, path);
    return isProblem(parsed) ? report(problems, parsed) : parsed;
  }
  const bound = parameters.get(value.name);
  if (!bound) {
    if (!problems.some((p) => p.detail.name === value.name)) problems.push(problem("parameterGone", path, { name: value.name }));
    return null;
  }
  return align([literalOf(type), bound])
    ? bound
    : report(problems, problem("parameterType", path, { name: value.name, type: TYPE_WORDS[bound.type.kind], wanted: `a ${TYPE_WORDS[type.kind]}` }));
}

const literalOf = (type: ValueType): Expr => literal("0", type);

type PositiveOperator = Exclude<Condition["operator"], `not${string}` | "isNot">;

function conditionExpr(operator: Condition["operator"], left: Expr, values: Expr[]): Expr {
  const aligned = align([left, ...values]) ?? [left, ...values];
  switch (operator as PositiveOperator | "notEmpty") {
    case "is":
    case "less":
    case "atMost":
    case "greater":
    case "atLeast":
      return comparison(operator as "is", left, values[0] as Expr) as Expr;
    case "between":
      return call("between", aligned, yesno);
    case "oneOf":
      return call("oneOf", aligned, yesno);
    case "contains":
    case "beginsWith":
    case "endsWith":
      return call(operator as "contains", [left, values[0] as Expr], yesno);
    case "empty":
      return call("isNull", [left], yesno);
    case "notEmpty":
      return call("isNotNull", [left], yesno);
    default:
      throw new TypeError(`no condition ${operator}`);
  }
}

/** The words for an operand: "lodged on", "shipper › island", "month of lodged on", or the formula itself. */
export function operandWords(operand: Operand | null, scope: Scope): string {
  if (operand === null) return "rows";
  if (operand.kind === "formula") return operand.text.trim() || "a formula";
  const at = scope.find((s) => s.id === operand.join);
  const column = at && findColumn(at.table, operand.column);
  const words = [...(at?.path ?? ["?"]), column?.label ?? operand.column].join(" › ");
  return operand.part ? `${DATE_PART_WORDS[operand.part]} of ${words}` : words;
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
  const expr = column.value ? resolveOperand(column.value, resolver, [...path, "value"]) : null;
  if (column.value && !expr) return null;
  const operandType = expr?.type ?? whole;
  const aggregate = column.figure && AGGREGATES[column.figure];
  if (!spec.grouped && (aggregate || !expr)) return report(problems, problem("figureNeedsGroup", path, { figure: aggregate?.words ?? "count" }));
  if (aggregate && !aggregate.takes(operandType))
    return report(problems, problem("figureType", path, { figure: aggregate.words, type: TYPE_WORDS[operandType.kind] }));
  const origin = aggregate
    ? column.value
      ? `${aggregate.words} of ${operandWords(column.value, scope)}`
      : "count of rows"
    : operandWords(column.value, scope);
  const part = column.value?.kind === "field" ? column.value.part : undefined;
  const type = aggregate ? aggregate.gives(operandType) : operandType;
  const stored = column.value?.kind === "field" ? fieldOf(column.value, scope) : undefined;
  return {
    id: column.id,
    expr,
    ...(column.figure ? { figure: column.figure } : {}),
    type,
    heading: column.label ?? capitalised(headingOf(column, scope)),
    origin,
    unit: aggregate && !["total", "average", "least", "greatest"].includes(column.figure ?? "") ? undefined : stored?.column.unit,
    hidden: column.hidden ?? false,
    format: { ...(part && !aggregate ? { date: part } : {}), ...averageFormat(column, operandType), ...column.format },
    totalled: isTotalled(column, type, schema, stored),
  };
}

/** An average of exact numbers is written with two digits more than its values until a person says otherwise. */
const averageFormat = (column: QueryColumn, type: ValueType) =>
  column.figure === "average" && type.kind !== "floating" ? { decimals: (type.kind === "decimal" ? type.scale : 0) || 2 } : {};

function fieldOf(operand: Extract<Operand, { kind: "field" }>, scope: Scope): { table: Table; column: Column } | undefined {
  const at = scope.find((s) => s.id === operand.join);
  const column = at && findColumn(at.table, operand.column);
  return at && column ? { table: at.table, column } : undefined;
}

export const capitalised = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);

function headingOf(column: QueryColumn, scope: Scope): string {
  if (column.value === null) return plural(scope[0]?.table.label ?? "row");
  if (column.value.kind === "formula") return column.value.text.trim().slice(0, 40);
  const at = scope.find((s) => s.id === (column.value as { join: string }).join);
  const name =
    operandWords({ ...column.value, part: undefined }, scope)
      .split(" › ")
      .at(-1) ?? "";
  const short = name === "name" && at?.path.length ? (at.path.at(-1) ?? name) : name;
  if (!column.figure || column.figure === "total") return short;
  return `${AGGREGATES[column.figure].words} of ${short}`.replace("count of different of", "different");
}

/** Adds up in the footing: numbers that are no keys, unless a person said otherwise; figures only where parts make the whole. */
function isTotalled(column: QueryColumn, type: ValueType, schema: Schema, stored?: { table: Table; column: Column }): boolean {
  if (!isNumber(type)) return false;
  if (column.figure && !AGGREGATES[column.figure].addsUp) return false;
  if (column.footing) return column.footing === "total";
  if (column.figure || !stored) return true;
  const { table, column: at } = stored;
  const linked = schema.links.some((l) => [l.a, l.b].some((end) => end.table === table.name && end.columns.includes(at.name)));
  return !linked && !table.key.includes(at.name) && !/(^|_)(year|no|number|code)$/i.test(at.name);
}

function tieBreak(grouped: boolean, scope: Scope, columns: PlanColumn[]): Expr[] {
  if (grouped) return columns.flatMap((c) => (c.figure || !c.expr ? [] : [c.expr]));
  const repeating = scope.filter((s) => s.join === null || s.join.leadsTo === "many");
  if (repeating.some((s) => s.table.key.length === 0)) return columns.flatMap((c) => (c.expr ? [c.expr] : []));
  return repeating.flatMap((s) =>
    s.table.key.flatMap((name) => {
      const column = findColumn(s.table, name);
      return column ? [fieldExpr(s, column)] : [];
    }),
  );
}
