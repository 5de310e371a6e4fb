import { AGGREGATES, writtenFigure } from "../query/aggregates";
import type { AggregateName } from "../query/choices";
import { EXTRACT_PARTS, type ExtractPart, isIsoDate } from "../types/date";
import { isTooLong, MOST_EXACT_DIGITS, parseDecimal } from "../types/decimal";
import { isPattern, withBackslash } from "../types/like";
import { type Problem, problem } from "../types/problem";
import { MOST_CHARACTERS } from "../types/text";
import { date, decimal, isDated, isNumber, TYPE_WORDS, text, type ValueType, whole, yesno } from "../types/valueType";
import { call, type Expr, literal } from "./expr";
import { type Ask, cast, FORMULA_FUNCTIONS, namedType } from "./formulaFunctions";
import { align, arithmetic, asText, comparison } from "./functions";
import { type Ast, type BinaryOperator, FormulaSyntaxError, parseFormula } from "./parse";

/** What a formula may refer to. */
export type FormulaScope = {
  field: (path: string[]) => Expr | null;
  parameter: (name: string) => Expr | Problem | null;
  /** The day of the run, which CURRENT_DATE stands for. */
  today: string;
  /** Of a formula over a group: what its figures may refer to, and how one is made. */
  figures?: { field: FormulaScope["field"]; figure: (figure: WrittenFigure) => Expr | Problem };
};

/** A figure as a formula writes it, its parts checked: SUM(x) FILTER (WHERE y). */
export type WrittenFigure = { figure: AggregateName; of: Expr | null; by: Expr | null; percent: number; where: Expr | null };

class FormulaProblem extends Error {
  constructor(readonly problem: Problem) {
    super(problem.code);
  }
}

const COMPARISONS: Partial<Record<BinaryOperator, "is" | "isNot" | "less" | "atMost" | "greater" | "atLeast">> = {
  "=": "is",
  "<>": "isNot",
  "<": "less",
  "<=": "atMost",
  ">": "greater",
  ">=": "atLeast",
};
const ARITHMETIC: Partial<Record<BinaryOperator, "add" | "subtract" | "multiply" | "divide">> = {
  "+": "add",
  "-": "subtract",
  "*": "multiply",
  "/": "divide",
};

/**
 * Reads a formula and checks it against what it may refer to.
 * @returns the typed expression, or the first problem with its position (1-based character) in detail.at
 */
export function checkFormula(source: string, scope: FormulaScope, path: (string | number)[]): Expr | Problem {
  try {
    return checkNode(parseFormula(source), scope, path);
  } catch (error) {
    if (error instanceof FormulaSyntaxError) return problem("syntax", path, { at: error.at + 1, expected: error.expected });
    if (error instanceof FormulaProblem) return error.problem;
    throw error;
  }
}

/** What an interval is counted in. */
const INTERVAL_UNITS: Record<string, { fn: "addMinutes" | "addDays" | "addMonths"; each: number }> = {
  MINUTE: { fn: "addMinutes", each: 1 },
  HOUR: { fn: "addMinutes", each: 60 },
  DAY: { fn: "addDays", each: 1 },
  WEEK: { fn: "addDays", each: 7 },
  MONTH: { fn: "addMonths", each: 1 },
  YEAR: { fn: "addMonths", each: 12 },
};

export const isProblem = (result: object): result is Problem => "code" in result;

function checkNode(ast: Ast, scope: FormulaScope, path: (string | number)[]): Expr {
  const fail = (code: Problem["code"], detail: Problem["detail"]): never => {
    throw new FormulaProblem(problem(code, path, detail));
  };
  const wrongType = (at: Ast, where: string, wanted: string, found: ValueType): never =>
    fail("formulaType", { where, at: at.at + 1, wanted, found: `a ${TYPE_WORDS[found.kind]}` });
  const check = (node: Ast): Expr => checkNode(node, scope, path);
  const checkYesNo = (node: Ast, where: string): Expr => {
    const checked = check(node);
    return checked.type.kind === "yesno" ? checked : wrongType(node, where, "a yes/no", checked.type);
  };
  const common = (nodes: Ast[], exprs: Expr[], where: string): Expr[] =>
    align(exprs) ??
    wrongType(nodes[1] ?? ast, where, `values of one type, as the first (${TYPE_WORDS[exprs[0]?.type.kind ?? "text"]})`, exprs[1]?.type ?? text);

  switch (ast.node) {
    case "number": {
      const digits = ast.text.split(".")[1]?.length ?? 0;
      const scaled = parseDecimal(ast.text, digits);
      if (scaled === null || isTooLong(scaled)) return fail("numberLong", { most: MOST_EXACT_DIGITS });
      return literal(scaled.toString(), digits === 0 ? whole : decimal(digits));
    }
    case "string":
      return literal(ast.text, text);
    case "date":
      return isIsoDate(ast.text) ? literal(ast.text, date) : fail("valueType", { value: ast.text, type: "date", example: "DATE '2026-09-30'" });
    case "truth":
      return literal(ast.value ? "1" : "0", yesno);
    case "null":
      return literal(null, text);
    case "name":
      return scope.field(ast.path) ?? fail("unknownField", { name: ast.path.join("."), at: ast.at + 1 });
    case "parameter": {
      const found = scope.parameter(ast.name) ?? fail("parameterGone", { name: ast.name });
      if (isProblem(found)) throw new FormulaProblem(found);
      return found;
    }
    case "unary": {
      if (ast.operator === "NOT") return call("not", [checkYesNo(ast.of, "NOT")], yesno);
      const of = check(ast.of);
      return isNumber(of.type) ? call("negate", [of], of.type) : wrongType(ast.of, "“-”", "a number", of.type);
    }
    case "isNull":
      return call(ast.not ? "isNotNull" : "isNull", [check(ast.of)], yesno);
    case "isDistinct": {
      const [a, b] = common([ast.left, ast.right], [check(ast.left), check(ast.right)], "IS DISTINCT FROM");
      return call(ast.not ? "isSame" : "isDistinct", [a as Expr, b as Expr], yesno);
    }
    case "like": {
      const [of, pattern] = [check(ast.of), check(ast.pattern)];
      if (of.type.kind !== "text") return wrongType(ast.of, "LIKE", "a text", of.type);
      if (pattern.type.kind !== "text") return wrongType(ast.pattern, "LIKE", "a text", pattern.type);
      if (pattern.node !== "literal") return fail("patternField", {});
      if (pattern.value !== null && !isPattern(pattern.value, ast.escape)) return fail("patternEnds", {});
      const matched = call("like", [of, { ...pattern, value: pattern.value === null ? null : withBackslash(pattern.value, ast.escape) }], yesno);
      return ast.not ? call("not", [matched], yesno) : matched;
    }
    case "case": {
      const values = [...ast.whens.map((w) => w.value), ...(ast.otherwise ? [ast.otherwise] : [])];
      const checked = common(values, values.map(check), "CASE");
      const args = ast.whens.flatMap((w, i) => [checkYesNo(w.when, "WHEN"), checked[i] as Expr]);
      if (ast.otherwise) args.push(checked.at(-1) as Expr);
      return call("case", args, checked[0]?.type ?? text);
    }
    case "today":
      return literal(scope.today, date);
    case "interval":
      return fail("syntax", { at: ast.at + 1, expected: "a date and + or − are expected before INTERVAL" });
    case "extract": {
      const of = check(ast.of);
      if (!isDated(of.type)) return wrongType(ast.of, "EXTRACT", "a date", of.type);
      if (!(EXTRACT_PARTS as readonly string[]).includes(ast.part))
        return fail("syntax", { at: ast.at + 1, expected: `one of ${EXTRACT_PARTS.join(", ")} is expected` });
      if (of.type.kind === "date" && /HOUR|MINUTE/.test(ast.part)) return wrongType(ast.of, "EXTRACT", "a timestamp", of.type);
      return call(`extract${ast.part as ExtractPart}`, [of], whole);
    }
    case "cast": {
      const of = check(ast.of);
      const type = namedType(ast.type, ast.numbers) ?? fail("syntax", { at: ast.at + 1, expected: `a type that there is, not ${ast.type}, is expected` });
      return cast(of, type) ?? wrongType(ast.of, "CAST", `what can become a ${TYPE_WORDS[type.kind]}`, of.type);
    }
    case "in": {
      const aligned = common([ast.of, ...ast.list], [ast.of, ...ast.list].map(check), "IN");
      const inside = call("oneOf", aligned, yesno);
      return ast.not ? call("not", [inside], yesno) : inside;
    }
    case "between": {
      const parts = [ast.of, ast.low, ast.high];
      const inside = call("between", common(parts, parts.map(check), "BETWEEN"), yesno);
      return ast.not ? call("not", [inside], yesno) : inside;
    }
    case "binary":
      return checkBinary();
    case "call":
      return checkCall();
    default:
      return ast satisfies never;
  }

  function checkBinary(): Expr {
    if (ast.node !== "binary") throw new TypeError("not a binary node");
    const { operator, left, right } = ast;
    if (operator === "AND" || operator === "OR")
      return call(operator === "AND" ? "and" : "or", [checkYesNo(left, operator), checkYesNo(right, operator)], yesno);
    if (right.node === "interval") return checkInterval(operator, left, right);
    const [a, b] = [check(left), check(right)];
    const days = dateArithmetic(operator, a, b);
    if (days) return days;
    if (operator === "||") return call("concat", [asText(a), asText(b)], text);
    const compare = COMPARISONS[operator];
    if (compare) return comparison(compare, a, b) ?? wrongType(right, `“${operator}”`, `a ${TYPE_WORDS[a.type.kind]}, as on its left`, b.type);
    const fn = ARITHMETIC[operator] as "add";
    const [wrong, type] = isNumber(a.type) ? [right, b.type] : [left, a.type];
    return arithmetic(fn, a, b) ?? wrongType(wrong, `“${operator}”`, "a number", type);
  }

  /** Days are whole numbers: a date and a number give a date, two dates give the days between them. */
  function dateArithmetic(operator: BinaryOperator, a: Expr, b: Expr): Expr | null {
    if (operator === "+" && b.type.kind === "date" && a.type.kind === "whole") return call("addDays", [b, a], date);
    if (!isDated(a.type) || (operator !== "+" && operator !== "-")) return null;
    if (b.type.kind === "whole") return call("addDays", [a, operator === "-" ? call("negate", [b], whole) : b], a.type);
    if (operator !== "-" || !isDated(b.type)) return null;
    const aligned = align([a, b]);
    return a.type.kind === "timestamp" && b.type.kind === "timestamp" ? null : aligned && call("daysBetween", aligned, whole);
  }

  function checkInterval(operator: BinaryOperator, left: Ast, interval: Extract<Ast, { node: "interval" }>): Expr {
    const of = check(left);
    if (!isDated(of.type) || (operator !== "+" && operator !== "-")) return wrongType(left, "INTERVAL", "a date before + or −", of.type);
    const count = /^[+-]?\d{1,5}$/.test(interval.count) ? Number(interval.count) * (operator === "-" ? -1 : 1) : Number.NaN;
    const unit = INTERVAL_UNITS[interval.unit];
    if (Number.isNaN(count) || !unit)
      return fail("syntax", { at: interval.at + 1, expected: `INTERVAL '3' ${Object.keys(INTERVAL_UNITS).join(", ")} is expected` });
    if (unit.fn === "addMinutes" && of.type.kind !== "timestamp")
      return wrongType(left, `INTERVAL '${interval.count}' ${interval.unit}`, "a timestamp before + or −", of.type);
    return call(unit.fn, [of, literal(String(count * unit.each), whole)], of.type);
  }

  function checkCall(): Expr {
    if (ast.node !== "call") throw new TypeError("not a call");
    const { name } = ast;
    const figure = writtenFigure(name);
    if (figure) return checkFigure(ast, ast.distinct && figure === "count" ? "countDifferent" : figure);
    if (ast.star || ast.distinct || ast.where) return fail("notAFigure", { name, at: ast.at + 1 });
    const record = FORMULA_FUNCTIONS[name] ?? fail("unknownFunction", { name, known: Object.keys(FORMULA_FUNCTIONS).join(", ") });
    if (ast.args.length < record.least || ast.args.length > record.most) fail("argumentCount", { name, wanted: record.form });
    const args = ast.args.map(check);
    const at = (i: number) => args[i] as Expr;
    const need = (i: number, test: (type: ValueType) => boolean, wanted: string): Expr =>
      test(at(i).type) ? at(i) : wrongType(ast.args[i] ?? ast, name, wanted, at(i).type);
    const ask: Ask = {
      count: args.length,
      any: at,
      text: (i) => need(i, (t) => t.kind === "text", "a text"),
      number: (i) => need(i, isNumber, "a number"),
      exact: (i) => need(i, (t) => t.kind === "whole" || t.kind === "decimal", "a whole number or a decimal"),
      whole: (i) => need(i, (t) => t.kind === "whole", "a whole number"),
      date: (i) => need(i, isDated, "a date"),
      written: (i) => {
        const found = at(i);
        const number = found.node === "literal" && found.type.kind === "whole" && found.value !== null ? Number(found.value) : null;
        if (number !== null && number <= MOST_CHARACTERS) return number;
        return Number(wrongType(ast.args[i] ?? ast, name, `a written whole number of ${MOST_CHARACTERS.toLocaleString("en")} at most`, found.type));
      },
      words: (i) => {
        const found = at(i);
        return found.node === "literal" && found.type.kind === "text" && found.value !== null
          ? found.value
          : String(wrongType(ast.args[i] ?? ast, name, "a text written out in quotes", found.type));
      },
      refuse: (i, code) => fail(code, { at: (ast.args[i]?.at ?? ast.at) + 1 }),
      common: () => common(ast.args, args, name),
    };
    return record.build(ask);
  }

  /** A figure within a formula over a group: its own parts are of the group's rows. */
  function checkFigure(written: Extract<Ast, { node: "call" }>, figure: AggregateName): Expr {
    const { name, args, star, where } = written;
    if (!scope.figures) return fail("figureInFormula", { name, at: written.at + 1 });
    const { weighs, percent } = AGGREGATES[figure];
    const wanted = weighs || percent ? 2 : 1;
    if (star ? figure !== "count" : args.length !== wanted)
      return fail("argumentCount", { name, wanted: percent ? "a value and a percentage, such as 90" : weighs ? "a value and its weight" : "one value" });
    const inner: FormulaScope = { field: scope.figures.field, parameter: scope.parameter, today: scope.today };
    const within = (node: Ast): Expr => checkNode(node, inner, path);
    const condition = where ? within(where) : null;
    if (where && condition?.type.kind !== "yesno") return wrongType(where, "FILTER", "a yes/no", condition?.type ?? text);
    const of = args[0] ? within(args[0]) : null;
    const by = weighs && args[1] ? within(args[1]) : null;
    const hundredths = percent && args[1]?.node === "number" ? Math.round(Number(args[1].text) * 100) : 0;
    const made = scope.figures.figure({ figure, of, by, percent: hundredths, where: condition });
    if (isProblem(made)) throw new FormulaProblem(made);
    return made;
  }
}
