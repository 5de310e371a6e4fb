import { nameOf, type SqlToken, sqlTokens } from "./sqlTokens";

/*
 * What a CREATE TABLE statement says, in parts whose text is kept letter by letter: a change of one part leaves all
 * others as they were written.
 */

export const CONSTRAINTS = ["primaryKey", "notNull", "null", "unique", "check", "default", "collate", "references", "generated"] as const;
export type ConstraintKind = (typeof CONSTRAINTS)[number];

/** A constraint of a column or a table, as it is written. */
export type Constraint = { kind: ConstraintKind | "foreignKey"; text: string };

export type ColumnPart = {
  name: string;
  /** As it is written, quotes and all. */
  written: string;
  /** The declared type; "" where there is none. */
  type: string;
  constraints: Constraint[];
  /** The whole definition as it is written. */
  text: string;
};

export type CreateTable = {
  /** Up to the parenthesis: CREATE TABLE and the name. */
  head: string;
  columns: ColumnPart[];
  constraints: (Constraint & { /** The columns it names first, of a key. */ columns: string[] })[];
  /** After the parenthesis: WITHOUT ROWID, STRICT. */
  tail: string;
  strict: boolean;
  withoutRowid: boolean;
};

const word = (token: SqlToken | undefined): string => (token?.kind === "word" ? token.text.toUpperCase() : "");

/** Which constraint begins with the words at a place; null where none does. */
function begins(tokens: SqlToken[], at: number): Constraint["kind"] | null {
  switch (word(tokens[at])) {
    case "PRIMARY":
      return "primaryKey";
    case "NOT":
      return word(tokens[at + 1]) === "NULL" ? "notNull" : null;
    case "NULL":
      return "null";
    case "UNIQUE":
      return "unique";
    case "CHECK":
      return "check";
    case "DEFAULT":
      return "default";
    case "COLLATE":
      return "collate";
    case "REFERENCES":
      return "references";
    case "GENERATED":
    case "AS":
      return "generated";
    case "FOREIGN":
      return "foreignKey";
    default:
      return null;
  }
}

/** The place after the parenthesis that opens at a place. */
function closing(tokens: SqlToken[], open: number): number {
  let depth = 0;
  for (let at = open; at < tokens.length; at++) {
    if (tokens[at]?.kind === "open") depth++;
    if (tokens[at]?.kind === "close" && --depth === 0) return at + 1;
  }
  return tokens.length;
}

/** Pieces split where commas stand outside of parentheses. */
function parts(tokens: SqlToken[]): SqlToken[][] {
  const made: SqlToken[][] = [[]];
  for (let at = 0; at < tokens.length; ) {
    const token = tokens[at] as SqlToken;
    if (token.kind === "comma") {
      made.push([]);
      at++;
      continue;
    }
    const end = token.kind === "open" ? closing(tokens, at) : at + 1;
    made.at(-1)?.push(...tokens.slice(at, end));
    at = end;
  }
  return made.filter((p) => p.length > 0);
}

const textOf = (sql: string, tokens: SqlToken[]): string => (tokens.length === 0 ? "" : sql.slice(tokens[0]?.at, tokens.at(-1)?.end));

/** The constraints in pieces that begin with one, the name of each kept with it. */
function constraintsIn(sql: string, tokens: SqlToken[]): (Constraint & { tokens: SqlToken[] })[] {
  const starts: { at: number; kind: Constraint["kind"] }[] = [];
  for (let at = 0; at < tokens.length; ) {
    if (tokens[at]?.kind === "open") {
      at = closing(tokens, at);
      continue;
    }
    const named = word(tokens[at]) === "CONSTRAINT" ? 2 : 0;
    const kind = begins(tokens, at + named);
    // The action of a foreign key and the value of a default have words that begin others: SET NULL, SET DEFAULT, DEFAULT NULL.
    const inside = word(tokens[at - 1]) === "SET" || word(tokens[at - 1]) === "DEFAULT" || (kind === "generated" && word(tokens[at - 1]) === "ALWAYS");
    // REFERENCES is a constraint of a column, and the end of a foreign key of a table.
    const ends = kind === "references" && starts.at(-1)?.kind === "foreignKey";
    if (kind && !inside && !ends) {
      starts.push({ at, kind });
      at += named + (kind === "notNull" ? 2 : 1);
    } else at++;
  }
  return starts.map(({ at, kind }, i) => {
    const own = tokens.slice(at, starts[i + 1]?.at);
    return { kind, text: textOf(sql, own), tokens: own };
  });
}

function columnOf(sql: string, tokens: SqlToken[]): ColumnPart {
  const [name, ...rest] = tokens as [SqlToken, ...SqlToken[]];
  const first = rest.findIndex((token, at) => token.kind !== "open" && (word(token) === "CONSTRAINT" || begins(rest, at) !== null));
  const declared = rest.slice(0, first < 0 ? rest.length : first);
  const constraints = first < 0 ? [] : constraintsIn(sql, rest.slice(first));
  return {
    name: nameOf(name),
    written: name.text,
    type: textOf(sql, declared),
    constraints: constraints.map(({ kind, text }) => ({ kind, text })),
    text: textOf(sql, tokens),
  };
}

/**
 * Takes a CREATE TABLE statement apart.
 * @param sql as SQLite keeps it in sqlite_schema
 * @returns null where it is none that has columns: a virtual table
 */
export function parseCreateTable(sql: string): CreateTable | null {
  const tokens = sqlTokens(sql);
  const open = tokens.findIndex((t) => t.kind === "open");
  if (open < 0 || word(tokens[1]) !== "TABLE") return null;
  const end = closing(tokens, open);
  const inner = parts(tokens.slice(open + 1, end - 1));
  const isConstraint = (part: SqlToken[]) =>
    ["CONSTRAINT", "PRIMARY", "UNIQUE", "CHECK", "FOREIGN"].includes(word(part[0])) && !(word(part[0]) === "CHECK" && part[1]?.kind !== "open");
  const options = tokens.slice(end).map(word);
  return {
    head: sql.slice(0, tokens[open]?.at),
    columns: inner.filter((p) => !isConstraint(p)).map((p) => columnOf(sql, p)),
    constraints: inner
      .filter(isConstraint)
      .flatMap((p) => constraintsIn(sql, p))
      .map(({ kind, text, tokens: own }) => ({ kind, text, columns: listed(own) })),
    tail: sql.slice(tokens[end - 1]?.end ?? sql.length),
    strict: options.includes("STRICT"),
    withoutRowid: options.includes("ROWID"),
  };
}

/** The names in the first parentheses of a constraint. */
function listed(tokens: SqlToken[]): string[] {
  const open = tokens.findIndex((t) => t.kind === "open");
  if (open < 0) return [];
  return parts(tokens.slice(open + 1, closing(tokens, open) - 1)).map((p) => nameOf(p[0] as SqlToken));
}

/** A CREATE TABLE statement of its parts: one that was taken apart and not changed says the same. */
export function writeCreateTable({ head, columns, constraints, tail }: Pick<CreateTable, "head" | "columns" | "constraints" | "tail">): string {
  return `${head}(${[...columns.map((c) => c.text), ...constraints.map((c) => c.text)].join(", ")})${tail}`;
}

/** The columns of a table's key as its statement says them, of a column or of the table. */
export function keyOf({ columns, constraints }: CreateTable): string[] {
  const own = columns.filter((c) => c.constraints.some((k) => k.kind === "primaryKey")).map((c) => c.name);
  return own.length > 0 ? own : (constraints.find((k) => k.kind === "primaryKey")?.columns ?? []);
}
