import { isProblem } from "../expression/check";
import { both, call, type Expr, literal, negated, period } from "../expression/expr";
import { align, comparison } from "../expression/functions";
import { boundValue, compareValues } from "../recount/value";
import { addDays } from "../types/date";
import { isPattern } from "../types/like";
import { type Problem, problem } from "../types/problem";
import { RELATIVE_DATES } from "../types/relative";
import { readStretch } from "../types/stretch";
import { date, TYPE_WORDS, type ValueType, yesno } from "../types/valueType";
import { resolveAmong } from "./among";
import { isGroup, mapComparisons, mapConditionLists } from "./conditions";
import { type Path, type Resolver, report, resolveOperand } from "./operands";
import { OPERATORS, takesPeriod, valuesNeeded } from "./operators";
import { linesOf } from "./parameters";
import { parseValue } from "./parseValue";
import type { PlanParameter } from "./plan";
import type { Condition, ConditionGroup, ConditionTree, QuerySpec, Value } from "./spec";

/*
 * The conditions of a description as typed expressions; those that compare with a parameter left empty fall away.
 */

export function resolveCondition(condition: Condition, resolver: Resolver, path: Path): Expr | null {
  const left = resolveOperand(condition.left, resolver, [...path, "left"]);
  if (!left) return null;
  const { problems } = resolver;
  const operator = OPERATORS[condition.operator];
  if (!operator.takes(left.type))
    return report(problems, problem("operatorType", [...path, "operator"], { operator: operator.words(left.type), type: TYPE_WORDS[left.type.kind] }));
  if (condition.values.length < valuesNeeded(condition.operator)) return report(problems, problem("valueMissing", [...path, "values"]));
  if (operator.values === "rows") {
    const among = resolveAmong(condition, left, resolver, path);
    return among && operator.negates ? negated(among) : among;
  }
  if (takesPeriod(condition.operator)) {
    const within = duringExpr(condition, left, resolver, path);
    return within && operator.negates ? negated(within) : within;
  }
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

/** Whether a date lies in a period: from the beginning of its first day to the end of its last. */
function duringExpr({ operator, values: [value] }: Condition, left: Expr, { periods, problems, context }: Resolver, path: Path): Expr | null {
  const at = [...path, "values", 0];
  const given = value?.kind === "value" ? readStretch(value.text, context.today) : value?.kind === "parameter" ? periods.get(value.name) : undefined;
  if (!given) {
    if (value?.kind === "parameter" && problems.some((p) => p.detail.name === value.name)) return null;
    const blank = value?.kind === "value" && value.text === "";
    return report(problems, blank ? problem("valueMissing", at) : problem("periodNeeded", at, { operator: OPERATORS[operator].words(left.type) }));
  }
  if (given.start > given.end) return report(problems, problem("rangeTurned", at));
  const name = value?.kind === "parameter" ? value.name : undefined;
  const from = comparison("atLeast", left, literal(given.start, date, name));
  const to = comparison("less", left, literal(addDays(given.end, 1), date, name));
  return from && to && both(from, to);
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

/** A description with what was given in place of its parameters, and without what is not asked: to be read, not run. */
export function withGiven(spec: QuerySpec, parameters: PlanParameter[]): QuerySpec {
  const given = new Map(parameters.map((p) => [p.name, linesOf(p.text ?? "")]));
  const valuesOf = (value: Value): Value[] =>
    value.kind === "parameter" ? (given.get(value.name) ?? []).map((text) => ({ kind: "value" as const, text })) : [value];
  return mapConditionLists(spec, (list) =>
    mapComparisons(list, (condition) => {
      const asked = whatIsAsked(condition, (v) => valuesOf(v).length === 0);
      return asked && { ...asked, values: asked.values.flatMap(valuesOf) };
    }),
  );
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

/** A parameter's text read as what it is compared with: one that is chosen from a list may be a number or a date. */
function readAs(bound: Expr, type: ValueType, name: string, path: Path): Expr {
  if (bound.node !== "literal" || bound.type.kind !== "text" || type.kind === "text" || bound.value === null) return bound;
  const read = parseValue(bound.value, type, path);
  return isProblem(read) || read.node !== "literal" ? bound : { ...read, parameter: name };
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
      if (resolver.periods.has(value.name)) return report(problems, problem("periodNeedsWithin", path, { name: value.name }));
      const bound = parameters.get(value.name);
      if (bound) return fitting(readAs(bound, type, value.name, path), value.name);
      if (!problems.some((p) => p.detail.name === value.name)) problems.push(problem("parameterGone", path, { name: value.name }));
      return null;
    }
    case "rows":
      return report(problems, problem("valueMissing", path));
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
