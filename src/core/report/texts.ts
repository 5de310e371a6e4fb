import { type Ast, FormulaSyntaxError, parseFormula } from "../expression/parse";
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

function inAst(ast: Ast): boolean {
  if (ast.node === "call" && writtenFigure(ast.name.toUpperCase())) return true;
  return Object.values(ast).some((part) => (Array.isArray(part) ? part.some(inPart) : inPart(part)));
}

function inPart(part: unknown): boolean {
  if (typeof part !== "object" || part === null) return false;
  if ("node" in part) return inAst(part as Ast);
  return Object.values(part).some(inPart);
}
