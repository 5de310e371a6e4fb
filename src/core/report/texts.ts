import { type Ast, FormulaSyntaxError, parseFormula, writtenName } from "../expression/parse";
import { writtenFigure } from "../query/aggregates";

/*
 * Texts of a report: words with fields in braces. A field is a formula over the report's row, or one that holds a figure
 * over its group, or a name for what the page tells. A brace itself is written twice.
 *
 *   "Statement {month}, page {page} of {pages}"
 */

/** What the page, the group or the run tells, by the names that fields call it. */
export const OWN_FIELDS = {
  "": "the group’s value",
  rows: "number of rows in the group",
  page: "page number",
  pages: "number of pages",
  "page in group": "page number in the group",
  "pages in group": "number of pages in the group",
  printed: "day and time of printing",
  title: "the report’s title",
} as const;
export type OwnField = keyof typeof OWN_FIELDS;

const isOwn = (name: string): name is OwnField => Object.hasOwn(OWN_FIELDS, name);

export type TextPiece = { kind: "words"; text: string } | { kind: "own"; name: OwnField } | { kind: "formula"; text: string; figure: boolean };

/** A text that cannot be read: the place of the brace that is not closed, from 0. */
export type TextFault = { at: number };

/** The end of a field that begins after `from`: a brace outside of quotes. */
function endOf(text: string, from: number): number {
  let quote = "";
  for (let at = from; at < text.length; at++) {
    const character = text[at] ?? "";
    if (quote) quote = character === quote ? "" : quote;
    else if (character === "'" || character === '"') quote = character;
    else if (character === "}") return at;
  }
  return -1;
}

/**
 * Reads a text.
 * @returns its pieces in order; or where it cannot be read
 * @example parseText("Page {page}") // [{ kind: "words", text: "Page " }, { kind: "own", name: "page" }]
 */
export function parseText(text: string): TextPiece[] | TextFault {
  const pieces: TextPiece[] = [];
  let words = "";
  const flush = () => {
    if (words) pieces.push({ kind: "words", text: words });
    words = "";
  };
  for (let at = 0; at < text.length; ) {
    const two = text.slice(at, at + 2);
    if (two === "{{" || two === "}}") {
      words += two[0];
      at += 2;
    } else if (text[at] !== "{") words += text[at++];
    else {
      const end = endOf(text, at + 1);
      if (end < 0) return { at };
      flush();
      const source = text.slice(at + 1, end).trim();
      pieces.push(isOwn(source) ? { kind: "own", name: source } : { kind: "formula", text: source, figure: holdsFigure(source) });
      at = end + 1;
    }
  }
  flush();
  return pieces;
}

export const isFault = (read: TextPiece[] | TextFault): read is TextFault => !Array.isArray(read);

/** The formulas a text holds; none of one that cannot be read. */
export function formulasIn(text: string): { text: string; figure: boolean }[] {
  const read = parseText(text);
  return isFault(read) ? [] : read.flatMap((p) => (p.kind === "formula" ? [{ text: p.text, figure: p.figure }] : []));
}

/** Whether a formula holds a figure over a group; what cannot be read holds none. */
export function holdsFigure(source: string): boolean {
  try {
    return inAst(parseFormula(source));
  } catch (error) {
    if (error instanceof FormulaSyntaxError) return false;
    throw error;
  }
}

const inAst = (ast: Ast): boolean => !figureCalls(ast).next().done;

type Call = Extract<Ast, { node: "call" }>;

/** The figures a formula writes, those within others left out, in the order they stand. */
function* figureCalls(part: unknown): Generator<Call> {
  if (typeof part !== "object" || part === null) return;
  const ast = part as Partial<Ast>;
  if (ast.node === "call" && writtenFigure((ast as Call).name.toUpperCase())) yield ast as Call;
  else for (const inner of Object.values(part)) yield* figureCalls(inner);
}

/**
 * A formula that mixes a row's values with figures, in parts.
 * @returns the figures as they are written, each once, and the formula with a name in the place of each
 * @example partsOfFormula("freight / SUM(freight)", (n) => `f${n}`) // { figures: ["SUM(freight)"], formula: 'freight / f0' }
 */
export function partsOfFormula(source: string, nameOf: (n: number) => string): { figures: string[]; formula: string } {
  const figures: string[] = [];
  let [formula, from] = ["", 0];
  for (const { at, end = at } of [...figureCalls(parseFormula(source))].sort((a, b) => a.at - b.at)) {
    const text = source.slice(at, end);
    const known = figures.indexOf(text);
    const n = known < 0 ? figures.push(text) - 1 : known;
    formula += source.slice(from, at) + writtenName(nameOf(n));
    from = end;
  }
  return { figures, formula: formula + source.slice(from) };
}
