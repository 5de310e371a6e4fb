import { checkFormula, isProblem } from "../expression/check";
import { call, type Expr, literal, negated, period } from "../expression/expr";
import { align, comparison } from "../expression/functions";
import { boundValue, compareValues } from "../recount/value";
import { type Column, findColumn, type Schema, type Table } from "../schema/schema";
import type { Today } from "../types/calendar";
import { GROUP_PART_WORDS, isIsoDate } from "../types/date";
import { isTooLong, MOST_EXACT_DIGITS, parseDecimal } from "../types/decimal";
import { isPattern } from "../types/like";
import { type Problem, problem } from "../types/problem";
import { RELATIVE_DATES } from "../types/relative";
import { date, decimal, isDated, isNumber, scaleOf, TYPE_WORDS, text, type ValueType, whole, yesno } from "../types/valueType";
import { figureWords } from "./aggregates";
import { conditionLists, isGroup, operandsIn } from "./conditions";
import { OPERATORS, valuesNeeded } from "./operators";
import type { PlanJoin, PlanParameter } from "./plan";
import type { Condition, ConditionGroup, ConditionTree, Operand, Parameter, ParameterValues, QueryColumn, QuerySpec, Value } from "./spec";
import { BACK_WORDS, WINDOWS } from "./windows";

/*
 * The operands and conditions of a description as typed expressions. A derived field named in one is worked out where
 * it stands: `Resolver.expand` turns it into an expression over joins that it adds.
 */

export type Path = (string | number)[];

/** What a run supplies: the day it is in the workspace's zone, and values for parameters by name. */
export type RunContext = {
  today: Today;
  values: ParameterValues;
  /** What the data knows the signed-in person as; a comparison with nobody is never true. */
  person?: string | undefined;
  /** Values stand in for what will be given, so that columns can be told: what they come to means nothing. */
  probing?: boolean;
};

/** A table within reach of a query's fields: the source (id "") or one that was brought. */
export type ScopeTable = { id: string; alias: string; table: Table; path: string[]; join: PlanJoin | null };

export type Resolver = {
  schema: Schema;
  context: RunContext;
  scope: ScopeTable[];
  parameters: Map<string, Expr>;
  /** What is given for parameters that take several values. */
  several: Map<string, string[]>;
  /** Parameters left empty, whose conditions fall away. */
  dropped: Set<string>;
  /** Parameters that derived fields ask for, beside those of the description. */
  asked: PlanParameter[];
  problems: Problem[];
  /** Joins that derived fields need, by what they are for. */
  derived: Map<string, PlanJoin>;
  /** The derived fields being worked out, outermost first. */
  expanding: string[];
  expand: (at: ScopeTable, column: Column, resolver: Resolver, path: Path) => Expr | null;
  /** The query's own columns as they stand in a group, by their ids: what conditions on groups compare. */
  columns?: Map<string, OwnColumn>;
};

/** One of the query's own columns: its value in a group, and what it is called. */
export type OwnColumn = { expr: Expr; heading: string };

/** A column of a table in reach, as stored. */
export const storedExpr = (alias: string, column: Column): Expr => ({
  node: "field",
  alias,
  column: column.name,
  type: column.type,
  storage: column.storage,
  guarded: column.misfits > 0,
});

export const fieldExpr = (at: ScopeTable, column: Column, resolver: Resolver, path: Path): Expr | null =>
  column.derived ? resolver.expand(at, column, resolver, path) : storedExpr(at.alias, column);

export function report(problems: Problem[], found: Problem): null {
  problems.push(found);
  return null;
}

export function resolveOperand(operand: Operand, resolver: Resolver, path: Path): Expr | null {
  const { scope, problems } = resolver;
  if (operand.kind === "formula") return resolveFormula(operand.text, resolver, path);
  if (operand.kind === "column") return resolver.columns?.get(operand.id)?.expr ?? report(problems, problem("ownColumnGone", path));
  const at = scope.find((s) => s.id === operand.join);
  if (!at) return report(problems, problem("joinGone", path, { join: operand.join }));
  const column = findColumn(at.table, operand.column);
  if (!column) return report(problems, problem("columnGone", path, { table: at.table.label, column: operand.column }));
  const field = fieldExpr(at, column, resolver, path);
  if (!field) return null;
  if (operand.band) return bandOf(field, operand.band.width, problems, path);
  if (!operand.part) return field;
  if (!isDated(field.type)) return report(problems, problem("datePartType", path, { part: GROUP_PART_WORDS[operand.part], type: TYPE_WORDS[field.type.kind] }));
  return operand.part === "weekday" ? call("extractDOW", [field], whole) : period(operand.part, field);
}

/** The lower bound of the band a number lies in; bands are counted from 0 and take their lower bound in. */
function bandOf(field: Expr, width: string, problems: Problem[], path: Path): Expr | null {
  if (!isNumber(field.type)) return report(problems, problem("bandType", path, { type: TYPE_WORDS[field.type.kind] }));
  const digits = parseDecimal(width.trim(), scaleOf(field.type));
  if (field.type.kind === "floating" ? !(Number(width) > 0) : digits === null || digits <= 0n) return report(problems, problem("bandWidth", path));
  return call("band", [field, literal(field.type.kind === "floating" ? width.trim() : String(digits), field.type)], field.type);
}

/** A formula's expression over the tables in reach. */
export function resolveFormula(source: string, resolver: Resolver, path: Path): Expr | null {
  const { scope, parameters, problems, context } = resolver;
  const before = problems.length;
  const expr = checkFormula(
    source,
    {
      field: (names) => {
        const found = fieldByNames(scope, names);
        return found && fieldExpr(found.at, found.column, resolver, path);
      },
      parameter: (name) => parameters.get(name) ?? null,
      today: context.today.day,
    },
    path,
  );
  if (!isProblem(expr)) return expr;
  // A derived field that could not be worked out has said why; that the formula lacks it is no news.
  return problems.length > before ? null : report(problems, expr);
}

/** Whether two names are the same to a formula: letter case and underscores do not tell them apart. */
export const sameName = (a: string, b: string) => a.toLowerCase().replaceAll("_", " ") === b.toLowerCase().replaceAll("_", " ");

/** A field named in a formula: its column, after the names of the links that lead to it. */
export function fieldByNames(scope: ScopeTable[], names: string[]): { at: ScopeTable; column: Column } | null {
  const name = names.at(-1) ?? "";
  const at = scope.find((s) => {
    const path = names.length > 1 && s.id === "" && names.length === 2 && sameName(names[0] ?? "", s.table.name) ? [] : names.slice(0, -1);
    return s.path.length === path.length && s.path.every((step, i) => sameName(step, path[i] ?? ""));
  });
  const column = at?.table.columns.find((c) => sameName(c.name, name) || sameName(c.label, name));
  return at && column ? { at, column } : null;
}

export function resolveCondition(condition: Condition, resolver: Resolver, path: Path): Expr | null {
  const left = resolveOperand(condition.left, resolver, [...path, "left"]);
  if (!left) return null;
  const { problems } = resolver;
  const operator = OPERATORS[condition.operator];
  if (!operator.takes(left.type))
    return report(problems, problem("operatorType", [...path, "operator"], { operator: operator.words(left.type), type: TYPE_WORDS[left.type.kind] }));
  if (condition.values.length < valuesNeeded(condition.operator)) return report(problems, problem("valueMissing", [...path, "values"]));
  const values = condition.values.flatMap((value, i) => resolveValues(value, condition.operator, left.type, resolver, [...path, "values", i]));
  if (values.some((v) => v === null)) return null;
  if (/like$/i.test(condition.operator)) {
    const wrong = wrongPattern(values[0] as Expr, [...path, "values", 0]);
    if (wrong) return report(problems, wrong);
  }
  const [low, high] = align(values as Expr[]) ?? [];
  if (!resolver.context.probing && /between/i.test(condition.operator) && low && high && isTurned(low, high))
    return report(problems, problem("rangeTurned", [...path, "values"]));
  const expr = conditionExpr(operator.negates ?? condition.operator, left, values as Expr[]);
  // A condition and its opposite part the rows: whatever it does not hold for, empty values on either side among them.
  return operator.negates ? negated(expr) : expr;
}

type Resolved = { condition: ConditionTree; expr: Expr };

/** Conditions as expressions; what compares with a parameter left empty falls away, of a range that end alone. */
export function resolveConditions(conditions: ConditionTree[], resolver: Resolver, path: Path): Resolved[] {
  return conditions.flatMap((condition, i) => {
    const at = [...path, i];
    const expr = isGroup(condition) ? resolveGroup(condition, resolver, at) : resolveAsked(condition, resolver, at);
    return expr ? [{ condition, expr }] : [];
  });
}

/** A comparison without what is not asked; null where nothing of it is. */
function resolveAsked(condition: Condition, resolver: Resolver, path: Path): Expr | null {
  const asked = whatIsAsked(condition, (v) => v.kind === "parameter" && resolver.dropped.has(v.name));
  const expr = asked && resolveCondition(asked, resolver, path);
  // Of “not between” with one end, what is left out is what lies beyond that end.
  return expr && condition.operator === "notBetween" && asked.operator !== "notBetween" ? negated(expr) : expr;
}

/** A group of conditions as one; null where none of them is asked. */
function resolveGroup({ holds, of }: ConditionGroup, resolver: Resolver, path: Path): Expr | null {
  const [first, ...rest] = resolveConditions(of, resolver, [...path, "of"]).map((c) => c.expr);
  if (!first) return null;
  const joined = rest.reduce((a, b) => call(holds === "all" ? "and" : "or", [a, b], yesno), first);
  return holds === "none" ? negated(joined) : joined;
}

/**
 * A condition without the values that are left open: a range keeps its other end, a list its other values; null where
 * nothing is left to compare with. Of “not between” with one end it is the range that is not to be.
 */
export function whatIsAsked(condition: Condition, isOpen: (value: Value) => boolean): Condition | null {
  const { operator, values } = condition;
  const kept = values.filter((v) => !isOpen(v));
  if (kept.length === values.length) return condition;
  if (kept.length === 0) return null;
  if (operator === "oneOf" || operator === "notOneOf") return { ...condition, values: kept };
  if (operator === "between" || operator === "notBetween") return { ...condition, operator: isOpen(values[0] as Value) ? "atMost" : "atLeast", values: kept };
  return null;
}

/** Whether a range is written the wrong way round: then nothing can lie in it. */
function isTurned(low: Expr, high: Expr): boolean {
  if (low.node !== "literal" || high.node !== "literal" || low.value === null || high.value === null) return false;
  return compareValues(boundValue(low.value, low.type), boundValue(high.value, high.type)) > 0;
}

/** A value, or as many as are given for a parameter that takes several: only lists have a use for those. */
function resolveValues(value: Value, operator: Condition["operator"], type: ValueType, resolver: Resolver, path: Path): (Expr | null)[] {
  const several = value.kind === "parameter" ? resolver.several.get(value.name) : undefined;
  if (!several || value.kind !== "parameter") return [resolveValue(value, type, resolver, path)];
  if (OPERATORS[operator].values !== "many") return [report(resolver.problems, problem("severalNeedList", path, { name: value.name }))];
  return several.map((text) => resolveValue({ kind: "value", text }, type, resolver, path));
}

function resolveValue(value: Value, type: ValueType, resolver: Resolver, path: Path): Expr | null {
  const { parameters, problems, context } = resolver;
  const fitting = (found: Expr | null, words: string): Expr | null => {
    if (!found || align([literal("0", type), found])) return found;
    return report(problems, problem("parameterType", path, { name: words, type: TYPE_WORDS[found.type.kind], wanted: `a ${TYPE_WORDS[type.kind]}` }));
  };
  switch (value.kind) {
    case "value": {
      const parsed = type.kind === "text" && value.text === "" ? problem("valueMissing", path) : parseValue(value.text, type, path);
      return isProblem(parsed) ? report(problems, parsed) : parsed;
    }
    case "relative":
      return fitting(literal(RELATIVE_DATES[value.date].of(context.today), date), RELATIVE_DATES[value.date].words);
    case "field":
      return fitting(resolveOperand(value, resolver, path), value.column);
    case "column":
      return fitting(resolveOperand(value, resolver, path), resolver.columns?.get(value.id)?.heading ?? "");
    case "person": {
      const known = context.person ? parseValue(context.person, type, path) : null;
      return !known || isProblem(known) ? literal(null, type) : known;
    }
    case "parameter": {
      const bound = parameters.get(value.name);
      if (bound) return fitting(bound, value.name);
      if (!problems.some((p) => p.detail.name === value.name)) problems.push(problem("parameterGone", path, { name: value.name }));
      return null;
    }
    default:
      return value satisfies never;
  }
}

/** What is wrong with a pattern: it has to be known before a row is read, and must not end in its escape. */
export function wrongPattern(pattern: Expr, path: Path): Problem | null {
  if (pattern.node !== "literal") return problem("patternField", path);
  return pattern.value !== null && !isPattern(pattern.value) ? problem("patternEnds", path) : null;
}

const SAME_PART = { sameDay: "day", sameMonth: "month", sameYear: "year" } as const;

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
    case "sameText":
      return call("sameText", [left, values[0] as Expr], yesno);
    case "sameDay":
    case "sameMonth":
    case "sameYear":
      return call(
        "is",
        [left, values[0] as Expr].map((dated) => period(SAME_PART[operator as keyof typeof SAME_PART], dated)),
        yesno,
      );
    case "like":
      return call("likeFolded", [left, values[0] as Expr], yesno);
    case "empty":
      return call("isNull", [left], yesno);
    case "notEmpty":
      return call("isNotNull", [left], yesno);
    default:
      throw new TypeError(`no condition ${operator}`);
  }
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
    if (isTooLong(scaled)) return problem("numberLong", path, { most: MOST_EXACT_DIGITS });
    return literal(scaled.toString(), digits === 0 ? whole : decimal(digits));
  }
  if (isDated(type)) return isIsoDate(trimmed) ? literal(trimmed, date) : bad();
  const truth = { yes: "1", no: "0" }[trimmed.toLowerCase()];
  return truth === undefined ? bad() : literal(truth, yesno);
}

/** The type of the values a parameter takes. */
export const PARAMETER_TYPES: Record<Parameter["type"], ValueType> = { text, whole, decimal: decimal(6), date, yesno, choice: text, several: text };

/** Binds parameters to what a run gives for them, or to their defaults. */
export function resolveParameters(parameters: Parameter[], context: RunContext, problems: Problem[]) {
  const bound = new Map<string, Expr>();
  const several = new Map<string, string[]>();
  const dropped = new Set<string>();
  const list: PlanParameter[] = [];
  parameters.forEach((parameter, i) => {
    const path = ["parameters", i];
    if (bound.has(parameter.name) || several.has(parameter.name) || dropped.has(parameter.name))
      problems.push(problem("duplicateName", path, { name: parameter.name }));
    const given = context.values[parameter.name];
    const source = given !== undefined && given.trim() !== "" ? given : defaultText(parameter, context.today);
    const defaulted = given === undefined || given === "";
    list.push({ name: parameter.name, type: PARAMETER_TYPES[parameter.type], text: source, defaulted });
    if (source === null) {
      if (parameter.optional) dropped.add(parameter.name);
      else problems.push(problem("parameterMissing", path, { name: parameter.name }));
      return;
    }
    if (parameter.type === "several") {
      const chosen = linesOf(source);
      const strange = parameter.choices && chosen.find((text) => !parameter.choices?.includes(text));
      if (strange !== undefined) problems.push(problem("parameterChoice", path, { name: parameter.name, value: strange }));
      return several.set(parameter.name, chosen);
    }
    if (parameter.type === "choice" && !parameter.choices?.includes(source))
      return problems.push(problem("parameterChoice", path, { name: parameter.name, value: source }));
    const value = parseValue(source, PARAMETER_TYPES[parameter.type], path);
    if (isProblem(value)) problems.push(value);
    else bound.set(parameter.name, value.node === "literal" ? { ...value, parameter: parameter.name } : value);
  });
  return { bound, several, dropped, list };
}

/** The values given for a parameter that takes several: a line each. */
export const linesOf = (source: string): string[] =>
  source
    .split("\n")
    .map((line) => line.trim())
    .filter((line) => line !== "");

/** Values for parameters that have none, so that a description can be resolved where only its columns matter. */
export function probeValues(parameters: Parameter[]): ParameterValues {
  const probes: Record<Parameter["type"], string> = { text: "?", whole: "0", decimal: "0", date: "2000-01-01", yesno: "no", choice: "", several: "0" };
  return Object.fromEntries(parameters.filter((p) => !p.default && !p.optional).map((p) => [p.name, p.choices?.[0] ?? probes[p.type]]));
}

/** The text a parameter has when nothing is given for it on a day; null where it has no default. */
export function defaultText(parameter: Parameter, today: Today): string | null {
  const chosen = parameter.default;
  if (!chosen) return null;
  const source = chosen.kind === "relative" ? RELATIVE_DATES[chosen.date].of(today) : chosen.text;
  return source === "" ? null : source;
}

/** The words for an operand: "lodged on", "shipper › island", "month of lodged on", or the formula itself. */
export function operandWords(operand: Operand | null, scope: ScopeTable[]): string {
  if (operand === null) return "rows";
  if (operand.kind === "formula") return operand.text.trim() || "a formula";
  if (operand.kind === "column") return "a column";
  const at = scope.find((s) => s.id === operand.join);
  const column = at && findColumn(at.table, operand.column);
  const words = [...(at?.path ?? ["?"]), column?.label ?? operand.column].join(" › ");
  if (operand.band) return `${words} by ${operand.band.width}`;
  return operand.part ? `${GROUP_PART_WORDS[operand.part]} of ${words}` : words;
}

/** The words for a column of a query: its label, its field, or its figure. @param own the query's columns, which a figure over the rows shown names */
export function columnWords(column: QueryColumn, scope: ScopeTable[], own: QueryColumn[] = []): string {
  const { label, figure, value, window } = column;
  if (label) return label;
  if (figure === "window" && window) {
    const of = value?.kind === "column" ? own.find((c) => c.id === value.id) : undefined;
    const back = window.back && window.back !== "row" ? ` ${BACK_WORDS[window.back]}` : "";
    return `${WINDOWS[window.kind].words}${of ? ` of ${columnWords(of, scope, own)}` : ""}${back}`;
  }
  if (!figure || figure === "formula") return operandWords(value, scope);
  return value ? `${figureWords(figure)} of ${operandWords(value, scope)}` : "count of rows";
}

/** Every operand a description names. */
export function operandsOf(query: Pick<QuerySpec, "conditions" | "columns"> & Partial<Pick<QuerySpec, "joins" | "groupConditions">>): Operand[] {
  const inColumns = query.columns.flatMap((c) => [c.value, c.by ?? null].filter((o) => o !== null));
  return [...conditionLists(query).flatMap(operandsIn), ...inColumns];
}
