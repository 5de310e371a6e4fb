/** A piece of SQL as SQLite reads it, with where it stands in the text. */
export type SqlToken = { kind: "word" | "quoted" | "text" | "open" | "close" | "comma" | "other"; text: string; at: number; end: number };

/** Blanks and comments, names in quotes of any kind, texts, words and numbers, and single signs. */
const TOKEN = /\s+|--[^\n]*(?:\n|$)|\/\*[\s\S]*?(?:\*\/|$)|("(?:[^"]|"")*"|`(?:[^`]|``)*`|\[[^\]]*\])|('(?:[^']|'')*')|([\p{L}\p{N}_$.]+)|(.)/gsu;

const SIGNS: Record<string, SqlToken["kind"]> = { "(": "open", ")": "close", ",": "comma" };

/** The pieces of SQL, without blanks and comments. Source: SQLite's documentation, “SQL As Understood By SQLite”. */
export function sqlTokens(sql: string): SqlToken[] {
  return [...sql.matchAll(TOKEN)].flatMap(({ 0: whole, 1: name, 2: literal, 3: word, 4: sign, index }): SqlToken[] => {
    const place = { at: index, end: index + whole.length };
    if (name !== undefined) return [{ kind: "quoted", text: name, ...place }];
    if (literal !== undefined) return [{ kind: "text", text: literal, ...place }];
    if (word !== undefined) return [{ kind: "word", text: word, ...place }];
    return sign === undefined ? [] : [{ kind: SIGNS[sign] ?? "other", text: sign, ...place }];
  });
}

/** The name that a piece is, without its quotes; a text in single quotes is one where SQLite expects a name. */
export function nameOf({ kind, text }: SqlToken): string {
  if (kind === "text") return text.slice(1, -1).replaceAll("''", "'");
  if (kind !== "quoted") return text;
  const quote = text.charAt(0);
  const inner = text.slice(1, -1);
  return quote === "[" ? inner : inner.replaceAll(quote + quote, quote);
}
