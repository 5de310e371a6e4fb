import { isIsoDate } from "../types/date";
import { parseDecimal } from "../types/decimal";
import { type Problem, problem } from "../types/problem";
import { date, decimal, isNumber, TYPE_WORDS, text, type ValueType, whole, yesno } from "../types/valueType";
import { call, type Expr, literal } from "./expr";
import { align, arithmetic, asText, comparison, FORMULA_FUNCTIONS, rounded } from "./functions";
import { type Ast, type BinaryOperator, FormulaSyntaxError, parseFormula } from "./parse";

/** What a formula may refer to. */
export type FormulaScope = {
  field: (path: string[]) => Expr | null;
  parameter: (name: string) => Expr | Problem | null;
};

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
      return literal(String(parseDecimal(ast.text, digits)), digits === 0 ? whole : decimal(digits));
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
    case "case": {
      const values = [...ast.whens.map((w) => w.value), ...(ast.otherwise ? [ast.otherwise] : [])];
      const checked = common(values, values.map(check), "CASE");
      const args = ast.whens.flatMap((w, i) => [checkYesNo(w.when, "WHEN"), checked[i] as Expr]);
      if (ast.otherwise) args.push(checked.at(-1) as Expr);
      return call("case", args, checked[0]?.type ?? text);
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
    const [a, b] = [check(left), check(right)];
    if (operator === "||") return call("concat", [asText(a), asText(b)], text);
    const compare = COMPARISONS[operator];
    if (compare) return comparison(compare, a, b) ?? wrongType(right, `“${operator}”`, `a ${TYPE_WORDS[a.type.kind]}, as on its left`, b.type);
    const fn = ARITHMETIC[operator] as "add";
    const [wrong, type] = isNumber(a.type) ? [right, b.type] : [left, a.type];
    return arithmetic(fn, a, b) ?? wrongType(wrong, `“${operator}”`, "a number", type);
  }

  function checkCall(): Expr {
    if (ast.node !== "call") throw new TypeError("not a call");
    const name = ast.name as keyof typeof FORMULA_FUNCTIONS;
    const record = FORMULA_FUNCTIONS[name] ?? fail("unknownFunction", { name: ast.name, known: Object.keys(FORMULA_FUNCTIONS).join(", ") });
    if (ast.args.length < record.least || ast.args.length > record.most) fail("argumentCount", { name: ast.name, wanted: record.form });
    const args = ast.args.map(check);
    const [first, second] = args as [Expr, Expr?];
    const checkText = () => (first.type.kind === "text" ? first : wrongType(ast.args[0] ?? ast, name, "a text", first.type));
    switch (name) {
      case "COALESCE": {
        const aligned = common(ast.args, args, name);
        return call("coalesce", aligned, aligned[0]?.type ?? text);
      }
      case "TRIM":
        return call("trim", [checkText()], text);
      case "UPPER":
        return call("upper", [checkText()], text);
      case "LOWER":
        return call("lower", [checkText()], text);
      case "ROUND": {
        if (!isNumber(first.type) || first.type.kind === "floating") return wrongType(ast.args[0] ?? ast, name, "a whole number or a decimal", first.type);
        if (second && (second.node !== "literal" || second.type.kind !== "whole"))
          return wrongType(ast.args[1] ?? ast, name, "a written whole number of digits", second.type);
        return rounded(first, second?.node === "literal" ? Number(second.value) : 0);
      }
      default:
        return name satisfies never;
    }
  }
}
