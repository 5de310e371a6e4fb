/** A formula as read: its shape and where each part stands, nothing yet known of types. */
export type Ast =
  | { at: number; node: "number"; text: string }
  | { at: number; node: "string"; text: string }
  | { at: number; node: "date"; text: string }
  | { at: number; node: "truth"; value: boolean }
  | { at: number; node: "null" }
  | { at: number; node: "name"; path: string[] }
  | { at: number; node: "parameter"; name: string }
  /** `star`, `distinct` and `where` are only of figures: COUNT(*), COUNT(DISTINCT x), SUM(x) FILTER (WHERE y). `end` is behind its last bracket. */
  | { at: number; end?: number; node: "call"; name: string; args: Ast[]; star?: boolean; distinct?: boolean; where?: Ast }
  | { at: number; node: "extract"; part: string; of: Ast }
  | { at: number; node: "cast"; of: Ast; type: string; numbers: number[] }
  | { at: number; node: "interval"; count: string; unit: string }
  | { at: number; node: "today" }
  | { at: number; node: "in"; of: Ast; list: Ast[]; not: boolean }
  | { at: number; node: "between"; of: Ast; low: Ast; high: Ast; not: boolean }
  | { at: number; node: "unary"; operator: "-" | "NOT"; of: Ast }
  | { at: number; node: "binary"; operator: BinaryOperator; left: Ast; right: Ast }
  | { at: number; node: "isNull"; of: Ast; not: boolean }
  | { at: number; node: "isDistinct"; left: Ast; right: Ast; not: boolean }
  | { at: number; node: "like"; of: Ast; pattern: Ast; escape: string | null; not: boolean }
  | { at: number; node: "case"; whens: { when: Ast; value: Ast }[]; otherwise: Ast | null };

export type BinaryOperator = "OR" | "AND" | "=" | "<>" | "<" | "<=" | ">" | ">=" | "||" | "+" | "-" | "*" | "/";

/** Where reading stopped (0-based character) and what was expected there. */
export class FormulaSyntaxError extends Error {
  constructor(
    readonly at: number,
    readonly expected: string,
  ) {
    super(`at ${at}: ${expected}`);
  }
}

type Token = { kind: "number" | "string" | "word" | "quoted" | "parameter" | "symbol" | "end"; text: string; at: number };

const TOKEN =
  /\s*(?:(\d+(?:\.\d+)?|\.\d+)|'((?:[^']|'')*)'|"((?:[^"]|"")+)"|:([\p{L}_][\p{L}\p{N}_]*)|:"([^"]+)"|([\p{L}_][\p{L}\p{N}_]*)|(<>|<=|>=|\|\||[-+*/=<>(),.]))/uy;

function readTokens(source: string): Token[] {
  const tokens: Token[] = [];
  TOKEN.lastIndex = 0;
  for (let at = 0; at < source.length; at = TOKEN.lastIndex) {
    TOKEN.lastIndex = at;
    const match = TOKEN.exec(source);
    if (!match) {
      const rest = source.slice(at);
      if (rest.trim() === "") break;
      const where = at + rest.length - rest.trimStart().length;
      throw new FormulaSyntaxError(where, source[where] === "'" ? "this text is not closed with '" : `“${source[where]}” has no meaning here`);
    }
    const [all, number, string, quoted, parameter, quotedParameter, word, symbol] = match;
    const start = at + all.length - all.trimStart().length;
    const push = (kind: Token["kind"], text: string) => tokens.push({ kind, text, at: start });
    if (number !== undefined) push("number", number);
    else if (string !== undefined) push("string", string.replaceAll("''", "'"));
    else if (quoted !== undefined) push("quoted", quoted.replaceAll('""', '"'));
    else if (parameter !== undefined || quotedParameter !== undefined) push("parameter", parameter ?? quotedParameter ?? "");
    else if (word !== undefined) push("word", word);
    else push("symbol", symbol ?? "");
  }
  tokens.push({ kind: "end", text: "", at: source.length });
  return tokens;
}

const LEVELS: BinaryOperator[][] = [["OR"], ["AND"], ["=", "<>", "<", "<=", ">", ">="], ["+", "-", "||"], ["*", "/"]];
/** Expressions one within another at most; databases bound them too. */
const MOST_NESTED = 200;
const TOO_DEEP = `at most ${MOST_NESTED} operations one within another are expected; work a part of it out in a derived field`;
const COMPARISON_LEVEL = 2;
const VALUE_LEVEL = 3;
/** The words of comparisons that stand after what they ask of. */
const ASKS = /^(IN|BETWEEN|LIKE)$/i;
const RESERVED = new Set(["LIKE", "ESCAPE", "CASE", "WHEN", "THEN", "ELSE", "END", "AND", "OR", "NOT", "IS", "NULL", "IN", "BETWEEN", "FROM", "FOR", "AS"]);

/** A text as a formula writes it. */
export const quotedText = (text: string): string => `'${text.replaceAll("'", "''")}'`;

/** The value of a column as a formula reads it as text: as it is stored, values that do not fit too. */
export const asText = ({ label, type }: { label: string; type: { kind: string } }): string =>
  type.kind === "text" ? writtenName(label) : `CAST(${writtenName(label)} AS TEXT)`;

/** A column's name as a formula writes it: in double quotes where it is no plain word. */
export const writtenName = (name: string): string => (/^[\p{L}_][\p{L}\p{N}_]*$/u.test(name) ? name : `"${name.replaceAll('"', '""')}"`);

/**
 * A formula with one of the names it uses replaced by another, wherever it stands alone: not as a part of a longer name, nor as
 * a function's. A formula that cannot be read stays as it is.
 * @param isIt whether a name is the one
 * @example renameInFormula("Freight / Weight", (n) => n === "Freight", "Total freight") // '"Total freight" / Weight'
 */
export const renameInFormula = (source: string, isIt: (name: string) => boolean, name: string): string =>
  withNames(
    source,
    nameTokens(source).filter((token) => isIt(token.text)),
    name,
  );

/**
 * The same of the last part of longer names: of a column that is named after the links that lead to it.
 * @param isIt whether the parts of a name are those of the one
 * @example renameAtEnd("yard.rent * 2", (names) => names.join(".") === "yard.rent", "fee") // "yard.fee * 2"
 */
export function renameAtEnd(source: string, isIt: (names: string[]) => boolean, name: string): string {
  const tokens = tokensOf(source);
  const isName = (token: Token | undefined) => token?.kind === "word" || token?.kind === "quoted";
  const ends = tokens.filter((token, i) => {
    if (!isName(token) || !isSymbol(tokens[i - 1], ".") || isSymbol(tokens[i + 1], ".")) return false;
    let first = i;
    while (isSymbol(tokens[first - 1], ".") && isName(tokens[first - 2])) first -= 2;
    return isIt(tokens.slice(first, i + 1).flatMap((t) => (isName(t) ? [t.text] : [])));
  });
  return withNames(source, ends, name);
}

/** A formula with another name in the place of each of some tokens. */
function withNames(source: string, tokens: Token[], name: string): string {
  return tokens.reduceRight((written, token) => {
    const length = token.kind === "quoted" ? token.text.replaceAll('"', '""').length + 2 : token.text.length;
    return written.slice(0, token.at) + writtenName(name) + written.slice(token.at + length);
  }, source);
}

/** The names that a formula uses by themselves; none of one that cannot be read. */
export const namesInFormula = (source: string): string[] => nameTokens(source).map((token) => token.text);

const isSymbol = (token: Token | undefined, symbol: string): boolean => token?.kind === "symbol" && token.text === symbol;

/** The tokens of a formula; none of one that cannot be read. */
function tokensOf(source: string): Token[] {
  try {
    return readTokens(source);
  } catch {
    return [];
  }
}

/** Names that stand alone: neither parts of longer ones, nor those of functions. */
function nameTokens(source: string): Token[] {
  const tokens = tokensOf(source);
  return tokens.filter((token, i) => {
    const [before, after] = [tokens[i - 1], tokens[i + 1]];
    const plain = token.kind === "word" && !RESERVED.has(token.text.toUpperCase()) && !isSymbol(after, "(");
    return (plain || token.kind === "quoted") && !isSymbol(before, ".") && !isSymbol(after, ".");
  });
}

/**
 * Reads a formula: a scalar expression of SQL (a subset of ISO/IEC 9075-2, value expressions).
 * @throws FormulaSyntaxError with the position and what was expected there
 * @example parseFormula("freight + 1") // { node: "binary", operator: "+", … }
 */
export function parseFormula(source: string): Ast {
  const tokens = readTokens(source);
  let next = 0;
  const peek = (): Token => tokens[next] as Token;
  const take = (): Token => tokens[next++] as Token;
  const isWord = (word: string) => peek().kind === "word" && peek().text.toUpperCase() === word;
  const isSymbol = (symbol: string) => peek().kind === "symbol" && peek().text === symbol;
  const expect = (test: boolean, what: string) => {
    if (!test) throw new FormulaSyntaxError(peek().at, `${what} is expected`);
    return take();
  };

  function operatorAt(level: number): BinaryOperator | null {
    return (LEVELS[level] ?? []).find((op) => (/[A-Z]/.test(op) ? isWord(op) : isSymbol(op))) ?? null;
  }

  let depth = 0;
  /** One expression within another. @throws FormulaSyntaxError where there are more than can be worked out */
  function nested(): Ast {
    if (++depth > MOST_NESTED) throw new FormulaSyntaxError(peek().at, TOO_DEEP);
    const ast = binary(0);
    depth--;
    return ast;
  }

  function binary(level: number): Ast {
    if (level === LEVELS.length) return unary();
    if (level === COMPARISON_LEVEL && isWord("NOT")) {
      const at = take().at;
      return { at, node: "unary", operator: "NOT", of: binary(level) };
    }
    let left = binary(level + 1);
    for (;;) {
      const operator = operatorAt(level);
      if (operator) {
        const at = take().at;
        left = { at, node: "binary", operator, left, right: binary(level + 1) };
      } else if (level === COMPARISON_LEVEL && isWord("IS")) {
        const at = take().at;
        const not = isWord("NOT") && Boolean(take());
        if (isWord("DISTINCT")) {
          take();
          expect(isWord("FROM"), "FROM");
          left = { at, node: "isDistinct", left, right: binary(VALUE_LEVEL), not };
        } else {
          expect(isWord("NULL"), "NULL or DISTINCT FROM");
          left = { at, node: "isNull", of: left, not };
        }
      } else if (level === COMPARISON_LEVEL && ASKS.test(isWord("NOT") ? (tokens[next + 1]?.text ?? "") : peek().kind === "word" ? peek().text : ""))
        left = askedOf(left);
      else return left;
    }
  }

  /** IN, BETWEEN and LIKE, each with or without NOT. */
  function askedOf(of: Ast): Ast {
    const not = isWord("NOT") && Boolean(take());
    const { at, text } = take();
    if (text.toUpperCase() === "IN") {
      expect(isSymbol("("), "“(”");
      return { at, node: "in", of, list: argsUpTo(), not };
    }
    if (text.toUpperCase() === "LIKE") {
      const pattern = binary(VALUE_LEVEL);
      const by = isWord("ESCAPE") && take() ? expect(peek().kind === "string" && [...peek().text].length === 1, "one character in single quotes").text : null;
      return { at, node: "like", of, pattern, escape: by, not };
    }
    const low = binary(VALUE_LEVEL);
    expect(isWord("AND"), "AND");
    return { at, node: "between", of, low, high: binary(VALUE_LEVEL), not };
  }

  /** Arguments after “(” up to its “)”. */
  function argsUpTo(): Ast[] {
    const args: Ast[] = [];
    while (!isSymbol(")")) {
      args.push(nested());
      if (isSymbol(",")) take();
      else if (!isSymbol(")")) throw new FormulaSyntaxError(peek().at, "“,” or “)” is expected");
    }
    take();
    return args;
  }

  function unary(): Ast {
    if (isSymbol("-")) return { at: take().at, node: "unary", operator: "-", of: unary() };
    return primary();
  }

  function primary(): Ast {
    const token = peek();
    if (token.kind === "number") return { at: take().at, node: "number", text: token.text };
    if (token.kind === "string") return { at: take().at, node: "string", text: token.text };
    if (token.kind === "parameter") return { at: take().at, node: "parameter", name: token.text };
    if (isSymbol("(")) {
      take();
      const inner = nested();
      expect(isSymbol(")"), "“)”");
      return inner;
    }
    if (isWord("CASE")) return caseOf();
    if (isWord("NULL")) return { at: take().at, node: "null" };
    if (isWord("TRUE") || isWord("FALSE")) return { at: take().at, node: "truth", value: token.text.toUpperCase() === "TRUE" };
    if (isWord("DATE") && tokens[next + 1]?.kind === "string") {
      take();
      return { at: token.at, node: "date", text: take().text };
    }
    if (isWord("INTERVAL") && tokens[next + 1]?.kind === "string") {
      take();
      const count = take().text;
      return { at: token.at, node: "interval", count, unit: expect(peek().kind === "word", "MINUTE, HOUR, DAY, WEEK, MONTH or YEAR").text.toUpperCase() };
    }
    if (isWord("CURRENT_DATE")) return { at: take().at, node: "today" };
    if (token.kind === "quoted" || (token.kind === "word" && !RESERVED.has(token.text.toUpperCase()))) return nameOrCall();
    throw new FormulaSyntaxError(token.at, "a column, a number, a text in single quotes or a function is expected");
  }

  function nameOrCall(): Ast {
    const first = take();
    if (first.kind === "word" && isSymbol("(")) {
      take();
      return callOf(first.at, first.text.toUpperCase());
    }
    const path = [first.text];
    while (isSymbol(".")) {
      take();
      path.push(expect(peek().kind === "word" || peek().kind === "quoted", "a column name").text);
    }
    return { at: first.at, node: "name", path };
  }

  /** A call, “(” being read: most take arguments between commas, some have words of their own between them. */
  function callOf(at: number, name: string): Ast {
    if (name === "EXTRACT") {
      const part = expect(peek().kind === "word", "YEAR, MONTH, DAY or another part").text.toUpperCase();
      expect(isWord("FROM"), "FROM");
      const of = nested();
      expect(isSymbol(")"), "“)”");
      return { at, node: "extract", part, of };
    }
    if (name === "CAST") {
      const of = nested();
      expect(isWord("AS"), "AS");
      const type = expect(peek().kind === "word", "a type").text.toUpperCase();
      if (isWord("PRECISION")) take();
      const numbers = isSymbol("(") && take() ? argsUpTo() : [];
      expect(isSymbol(")"), "“)”");
      return { at, node: "cast", of, type, numbers: numbers.map((n) => (n.node === "number" ? Number(n.text) : 0)) };
    }
    if (name === "POSITION") {
      const part = binary(VALUE_LEVEL);
      if (!isSymbol(",")) expect(isWord("IN"), "IN");
      else take();
      return { at, node: "call", name, args: [part, ...argsUpTo()] };
    }
    if (name === "SUBSTRING") {
      const args = [nested()];
      if (isWord("FROM") || isSymbol(",")) {
        take();
        args.push(nested());
      }
      if (isWord("FOR") || isSymbol(",")) {
        take();
        args.push(nested());
      }
      expect(isSymbol(")"), "“)”");
      return { at, node: "call", name, args };
    }
    if (isSymbol("*")) {
      take();
      expect(isSymbol(")"), "“)”");
      return filtered({ at, node: "call", name, args: [], star: true });
    }
    const distinct = isWord("DISTINCT") && Boolean(take());
    return filtered({ at, node: "call", name, args: argsUpTo(), ...(distinct ? { distinct } : {}) });
  }

  /** A figure with FILTER (WHERE …) behind it, where that stands there. */
  function filtered(figure: Extract<Ast, { node: "call" }>): Ast {
    // What was taken last is the bracket that closes it.
    const end = () => (tokens[next - 1]?.at ?? 0) + 1;
    if (!isWord("FILTER")) return { ...figure, end: end() };
    take();
    expect(isSymbol("("), "“(”");
    expect(isWord("WHERE"), "WHERE");
    const where = nested();
    expect(isSymbol(")"), "“)”");
    return { ...figure, where, end: end() };
  }

  function caseOf(): Ast {
    const at = take().at;
    // The short form, CASE x WHEN 1 THEN …, compares x with each.
    const subject = isWord("WHEN") || isWord("END") ? null : nested();
    const whens: { when: Ast; value: Ast }[] = [];
    while (isWord("WHEN")) {
      take();
      const asked = nested();
      const when: Ast = subject ? { at: asked.at, node: "binary", operator: "=", left: subject, right: asked } : asked;
      expect(isWord("THEN"), "THEN");
      whens.push({ when, value: nested() });
    }
    if (whens.length === 0) throw new FormulaSyntaxError(peek().at, "WHEN is expected");
    let otherwise: Ast | null = null;
    if (isWord("ELSE")) {
      take();
      otherwise = nested();
    }
    expect(isWord("END"), "END");
    return { at, node: "case", whens, otherwise };
  }

  const formula = nested();
  if (peek().kind !== "end") throw new FormulaSyntaxError(peek().at, "the formula should end here, or an operator is missing");
  if (depthOf(formula) > MOST_NESTED) throw new FormulaSyntaxError(0, TOO_DEEP);
  return formula;
}

/** How many operations stand one within another at most. */
function depthOf(part: unknown): number {
  if (typeof part !== "object" || part === null) return 0;
  const inner = Math.max(0, ...(Array.isArray(part) ? part : Object.values(part)).map(depthOf));
  return inner + ("node" in part ? 1 : 0);
}
