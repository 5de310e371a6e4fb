import type { Dialect } from "../query/dialect/dialect";
import type { ExtractPart } from "../types/date";
import { tenTo } from "../types/decimal";
import { carriedTo, decimal, digitsOf, isCarried, isDated, isExact, isNumber, scaleOf, text, type ValueType, whole, yesno } from "../types/valueType";
import { call, type Expr, literal, period } from "./expr";
import type { FunctionName } from "./names";

type Sql = (args: string[], call: { args: Expr[]; type: ValueType }, dialect: Dialect) => string;

const infix =
  (operator: string): Sql =>
  (args) =>
    `(${args.join(` ${operator} `)})`;
const scaleIn = (node: { args: Expr[] }, index: number) => scaleOf(node.args[index]?.type ?? whole);

/** The exponent to which e is raised at most: beyond it floating numbers end. */
const MOST_EXPONENT = 700;

/** How every operation of the expression language is written in SQL. Types have been checked and aligned before. */
const SQL = {
  add: infix("+"),
  subtract: infix("-"),
  multiply: infix("*"),
  divide: ([a, b], node, dialect) => {
    if (node.type.kind === "floating") return `(${a} / NULLIF(${b}, 0))`;
    const shift = scaleOf(node.type) + scaleIn(node, 1) - scaleIn(node, 0);
    const divide = isCarried(node.type) ? dialect.divideCarried : dialect.divideRounded;
    return shift >= 0 ? divide(a ?? "", `NULLIF(${b}, 0)`, shift) : divide(a ?? "", `(NULLIF(${b}, 0) * ${tenTo(-shift)})`, 0);
  },
  negate: ([a]) => `(-${a})`,
  concat: infix("||"),
  is: infix("="),
  isNot: infix("<>"),
  less: infix("<"),
  atMost: infix("<="),
  greater: infix(">"),
  atLeast: infix(">="),
  and: infix("AND"),
  or: infix("OR"),
  not: ([a]) => `(NOT ${a})`,
  isTrue: ([a], _, d) => d.isTrue(a ?? ""),
  isNull: ([a]) => `(${a} IS NULL)`,
  isNotNull: ([a]) => `(${a} IS NOT NULL)`,
  between: ([a, low, high]) => `(${a} BETWEEN ${low} AND ${high})`,
  oneOf: ([a, ...rest]) => (rest.length === 0 ? "(1 = 0)" : `(${a} IN (${rest.join(", ")}))`),
  contains: ([a, part], _, d) => `(${d.textMatch("contains", d.fold(a ?? ""), d.fold(part ?? ""))})`,
  beginsWith: ([a, part], _, d) => `(${d.textMatch("beginsWith", d.fold(a ?? ""), d.fold(part ?? ""))})`,
  endsWith: ([a, part], _, d) => `(${d.textMatch("endsWith", d.fold(a ?? ""), d.fold(part ?? ""))})`,
  like: ([a, pattern], _, d) => d.like(a ?? "", pattern ?? ""),
  likeFolded: ([a, pattern], _, d) => `(${d.fold(a ?? "")} LIKE ${d.fold(pattern ?? "")} ESCAPE '\\')`,
  regexp: ([a, pattern], _, d) => d.regexp(a ?? "", pattern ?? ""),
  groupDigits: ([a], _, d) => d.groupDigits(a ?? ""),
  // Where a number has none, its argument is empty: engines refuse it otherwise, some before they look whether it is asked.
  sqrt: ([a]) => `sqrt(CASE WHEN ${a} >= 0 THEN ${a} END)`,
  exp: ([a]) => `exp(CASE WHEN ${a} <= ${MOST_EXPONENT} THEN ${a} END)`,
  ln: ([a]) => `ln(CASE WHEN ${a} > 0 THEN ${a} END)`,
  log10: ([a]) => `log10(CASE WHEN ${a} > 0 THEN ${a} END)`,
  power: ([a, b]) => {
    const fits = `${b} * ln(CASE WHEN ${a} <> 0 THEN abs(${a}) END) <= ${MOST_EXPONENT}`;
    const whole = `(${a} > 0 OR ${b} = floor(${b}))`;
    return `CASE WHEN ${a} = 0 AND ${b} = 0 THEN 1.0 WHEN ${a} = 0 AND ${b} > 0 THEN 0.0 ELSE power(CASE WHEN ${fits} AND ${whole} THEN ${a} END, ${b}) END`;
  },
  sameText: ([a, b], _, d) => `(${d.fold(a ?? "")} = ${d.fold(b ?? "")})`,
  isDistinct: ([a, b]) => `(${a} IS DISTINCT FROM ${b})`,
  // Not the negation of the last: by this an engine can look rows up.
  isSame: ([a, b]) => `(${a} IS NOT DISTINCT FROM ${b})`,
  case: (args) => {
    const whens: string[] = [];
    for (let i = 0; i + 1 < args.length; i += 2) whens.push(`WHEN ${args[i]} THEN ${args[i + 1]}`);
    return `CASE ${whens.join(" ")}${args.length % 2 ? ` ELSE ${args.at(-1)}` : ""} END`;
  },
  coalesce: (args) => `COALESCE(${args.join(", ")})`,
  trim: ([a]) => `TRIM(${a})`,
  trimStart: ([a]) => `LTRIM(${a})`,
  trimEnd: ([a]) => `RTRIM(${a})`,
  upper: ([a], _, d) => d.upper(a ?? ""),
  lower: ([a], _, d) => d.lower(a ?? ""),
  rescale: ([a], node, dialect) => {
    const shift = scaleOf(node.type) - scaleIn(node, 0);
    if (shift === 0) return a ?? "";
    return shift > 0 ? `(${a} * ${tenTo(shift)})` : dialect.divideRounded(a ?? "", `${tenTo(-shift)}`, 0);
  },
  toFloating: ([a], node, dialect) => dialect.toFloating(a ?? "", scaleIn(node, 0)),
  toText: ([a], node, dialect) => {
    const type = node.args[0]?.type ?? text;
    if (type.kind === "yesno") return `CASE WHEN ${a} THEN 'yes' WHEN NOT ${a} THEN 'no' END`;
    return type.kind === "whole" || type.kind === "decimal"
      ? dialect.decimalText(a ?? "", scaleOf(type))
      : `CAST(${a} AS ${dialect.name === "sqlite" ? "TEXT" : "VARCHAR"})`;
  },
  fromText: ([a], node, dialect) => dialect.fromText(a ?? "", node.type),
  fromFloating: ([a], node, dialect) => dialect.fromFloating(a ?? "", scaleOf(node.type)),
  atMidnight: ([a], _, d) => (d.name === "sqlite" ? `(${a} || ' 00:00:00')` : `CAST(${a} AS TIMESTAMP)`),
  abs: ([a]) => `abs(${a})`,
  floor: ([a], node, d) => (node.type.kind === "floating" ? `floor(${a})` : towards(a ?? "", scaleIn(node, 0), "down", d)),
  ceiling: ([a], node, d) => (node.type.kind === "floating" ? `ceil(${a})` : towards(a ?? "", scaleIn(node, 0), "up", d)),
  mod: ([a, b]) => `(${a} % NULLIF(${b}, 0))`,
  /** The lower bound of the band of a width in which a number lies, counted from 0; exact numbers by remainders alone. */
  band: ([a, width], node) => (node.type.kind === "floating" ? `(floor(${a} / ${width}) * ${width})` : `(${a} - (((${a} % ${width}) + ${width}) % ${width}))`),
  nullIf: ([a, b]) => `NULLIF(${a}, ${b})`,
  charLength: ([a]) => `length(${a})`,
  position: ([part, a], _, d) => d.position(part ?? "", a ?? ""),
  /** Empty where any of the three is, which engines do not agree on where there is no part to replace. */
  replace: ([a, part, by]) => `CASE WHEN ${part} IS NOT NULL AND ${by} IS NOT NULL THEN replace(${a}, ${part}, ${by}) END`,
  lpad: ([a, length, fill], _, d) => d.lpad(a ?? "", length ?? "", fill ?? ""),
  splitPart: ([a, separator, n], _, d) => d.splitPart(a ?? "", separator ?? "", n ?? ""),
  splitRest: ([a, separator, n], _, d) => d.splitRest(a ?? "", separator ?? "", n ?? ""),
  initcap: ([a], _, d) => d.initcap(a ?? ""),
  concatWs: ([between, ...rest]) => `concat_ws(${between}, ${rest.join(", ")})`,
  /** Characters before the first one count as none, as ISO/IEC 9075-2 has it for SUBSTRING. */
  substring: ([a, from, count], _, d) => {
    const start = `CASE WHEN ${from} < 1 THEN 1 ELSE ${from} END`;
    const length = `CASE WHEN ${from} < 1 THEN ${from} + ${count} - 1 ELSE ${count} END`;
    return d.substring(a ?? "", start, `CASE WHEN (${length}) < 0 THEN 0 ELSE ${length} END`);
  },
  addDays: ([a, days], node, d) => d.shift(a ?? "", days ?? "", "DAY", node.type),
  addMonths: ([a, months], node, d) => d.shift(a ?? "", months ?? "", "MONTH", node.type),
  addMinutes: ([a, minutes], node, d) => d.shift(a ?? "", minutes ?? "", "MINUTE", node.type),
  minutesBetween: ([later, earlier], _, d) => d.minutesBetween(later ?? "", earlier ?? ""),
  daysBetween: ([a, b], _, d) => d.daysBetween(a ?? "", b ?? ""),
  ...extracts(),
} satisfies Record<FunctionName, Sql>;

/** One operation a part of a date, so that the part is in the plan and not in a value. */
function extracts() {
  const of =
    (part: ExtractPart): Sql =>
    ([a], node, dialect) =>
      dialect.extract(part, a ?? "", node.args[0]?.type ?? text);
  return {
    extractYEAR: of("YEAR"),
    extractQUARTER: of("QUARTER"),
    extractMONTH: of("MONTH"),
    extractWEEK: of("WEEK"),
    extractDAY: of("DAY"),
    extractDOW: of("DOW"),
    extractHOUR: of("HOUR"),
    extractMINUTE: of("MINUTE"),
  } satisfies Record<`extract${ExtractPart}`, Sql>;
}

/** A scaled integer brought to whole, down or up. */
function towards(exact: string, scale: number, way: "down" | "up", dialect: Dialect): string {
  const by = tenTo(scale).toString();
  const [kept, away] =
    way === "down"
      ? [`${exact} >= 0`, `-${dialect.quotient(`(-${exact} + ${tenTo(scale) - 1n})`, by)}`]
      : [`${exact} <= 0`, dialect.quotient(`(${exact} + ${tenTo(scale) - 1n})`, by)];
  const toward = way === "down" ? dialect.quotient(exact, by) : `-${dialect.quotient(`(-${exact})`, by)}`;
  return `(CASE WHEN ${kept} THEN ${toward} ELSE ${away} END)`;
}

export const functionSql = (fn: FunctionName): Sql => SQL[fn];

const ARITHMETIC_OF = new Set<FunctionName>(["add", "subtract", "multiply", "negate", "rescale", "abs"]);
const CHOOSES = new Set<FunctionName>(["case", "coalesce"]);

/** Whether an exact expression may come to more than the 64 bits in which some engines reckon, without their saying so. */
export const mayOutgrow = (expr: Expr): boolean =>
  expr.node === "call" && isExact(expr.type) && (ARITHMETIC_OF.has(expr.fn) || (CHOOSES.has(expr.fn) && expr.args.some(mayOutgrow)));

/** Whether an operation hands what outgrew 64 bits on to where it is seen, or sees it itself. */
export const passesOn = ({ fn, type }: { fn: FunctionName; type: ValueType }): boolean =>
  isExact(type) && (ARITHMETIC_OF.has(fn) || CHOOSES.has(fn) || fn === "divide");

/** Digits after the point a quotient of exact numbers carries at least. */
export const QUOTIENT_DIGITS = 6;
/** Digits after the point an exact number may carry at most; more are rounded away. */
export const MOST_DIGITS = 12;

/** Whether an expression is the bare word NULL, which takes the type of what it stands beside. */
export const isBareNull = (expr: Expr): boolean => expr.node === "literal" && expr.value === null && expr.parameter === undefined;

/** An exact expression at another scale. Literals are rewritten; everything else is computed. */
export function toScale(expr: Expr, scale: number): Expr {
  if (scaleOf(expr.type) === scale && scale > 0 === (expr.type.kind === "decimal")) return expr;
  const type = scale === 0 ? whole : decimal(scale);
  // A quotient is divided to the digits that are wanted, not rounded twice.
  if (expr.node === "call" && expr.fn === "divide" && isCarried(expr.type)) return { ...expr, type };
  const from = scaleOf(expr.type);
  if (expr.node === "literal" && scale >= from)
    return { ...expr, value: expr.value === null ? null : (BigInt(expr.value) * tenTo(scale - from)).toString(), type };
  return call("rescale", [expr], type);
}

export const toFloating = (expr: Expr): Expr => (expr.type.kind === "floating" ? expr : call("toFloating", [expr], { kind: "floating" }));

/**
 * Brings expressions that are compared or chosen between to one type: numbers to a common scale (to floating where
 * one is floating), a timestamp beside a date to its day. null where they have no common type.
 */
export function align(exprs: Expr[]): Expr[] | null {
  const known = exprs.filter((e) => !isBareNull(e));
  const first = known[0];
  if (!first) return exprs;
  const adopt = (aligned: Expr[]): Expr[] => {
    const type = aligned[0]?.type ?? first.type;
    let next = 0;
    return exprs.map((e) => (isBareNull(e) ? literal(null, type) : (aligned[next++] ?? e)));
  };
  if (known.every((e) => isNumber(e.type))) {
    if (known.some((e) => e.type.kind === "floating")) return adopt(known.map(toFloating));
    const scale = Math.max(...known.map((e) => scaleOf(e.type)));
    return adopt(known.map((e) => toScale(e, scale)));
  }
  if (known.every((e) => isDated(e.type)) && known.some((e) => e.type.kind === "date"))
    return adopt(known.map((e) => (e.type.kind === "timestamp" ? period("day", e) : e)));
  return known.every((e) => e.type.kind === first.type.kind) ? adopt(known) : null;
}

const isQuotient = (expr: Expr): expr is Extract<Expr, { node: "call" }> => expr.node === "call" && expr.fn === "divide" && isCarried(expr.type);

/** Arithmetic on two numbers, with the type rules of docs/guide/formulas.md; null where an argument is no number. */
export function arithmetic(fn: "add" | "subtract" | "multiply" | "divide", a: Expr, b: Expr): Expr | null {
  if (!isNumber(a.type) || !isNumber(b.type)) return null;
  if (a.type.kind === "floating" || b.type.kind === "floating") return call(fn, [toFloating(a), toFloating(b)], { kind: "floating" });
  const [sa, sb] = [scaleOf(a.type), scaleOf(b.type)];
  const exact = (scale: number): ValueType => (scale === 0 ? whole : decimal(scale));
  switch (fn) {
    case "add":
    case "subtract": {
      const scale = Math.max(sa, sb);
      return call(fn, [toScale(a, scale), toScale(b, scale)], exact(scale));
    }
    case "multiply": {
      // A quotient that is multiplied stays one: what was to be divided is multiplied instead, and divided at the end.
      if (isQuotient(a)) return arithmetic("divide", arithmetic("multiply", a.args[0] as Expr, b) as Expr, a.args[1] as Expr);
      if (isQuotient(b)) return arithmetic("divide", arithmetic("multiply", a, b.args[0] as Expr) as Expr, b.args[1] as Expr);
      const product = call(fn, [a, b], exact(sa + sb));
      return sa + sb > MOST_DIGITS ? toScale(product, MOST_DIGITS) : product;
    }
    case "divide":
      if (isQuotient(a)) return arithmetic("divide", a.args[0] as Expr, arithmetic("multiply", a.args[1] as Expr, b) as Expr);
      return call(fn, [a, b], carriedTo(Math.min(MOST_DIGITS - 1, Math.max(QUOTIENT_DIGITS, digitsOf(a.type), digitsOf(b.type)))));
    default:
      return fn satisfies never;
  }
}

/** A number rounded to so many digits after the point. */
export function rounded(number: Expr, digits: number): Expr {
  if (number.type.kind === "floating") return number;
  return scaleOf(number.type) <= digits ? number : toScale(number, digits);
}

export const asText = (expr: Expr): Expr =>
  expr.type.kind === "text" ? expr : call("toText", [isCarried(expr.type) ? toScale(expr, digitsOf(expr.type)) : expr], text);

export const comparison = (fn: "is" | "isNot" | "less" | "atMost" | "greater" | "atLeast", a: Expr, b: Expr): Expr | null => {
  const pair = align([a, b]);
  return pair && call(fn, pair, yesno);
};
