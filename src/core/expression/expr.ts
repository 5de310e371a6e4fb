import type { AggregateName } from "../query/choices";
import type { DatePart } from "../types/date";
import type { Storage } from "../types/storage";
import { date, type ValueType, whole, yesno } from "../types/valueType";
import type { FunctionName } from "./names";

/** A checked expression: every node knows its type. Read-only plain data; nothing is patched in place. */
export type Expr =
  | FieldExpr
  /** A value to be bound, in its bound form: scaled digits, ISO dates, "1" or "0" for yes and no. null is empty. */
  | { node: "literal"; value: string | null; type: ValueType; parameter?: string }
  | { node: "period"; part: DatePart; of: Expr; type: ValueType }
  | { node: "call"; fn: FunctionName; args: Expr[]; type: ValueType }
  /** True where the table of the alias has a row: its compared column is not empty. */
  | { node: "found"; alias: string; column: string; type: ValueType }
  | FigureExpr;

/** A column of a table. Where it is guarded, some values do not fit its type, and are empty. */
export type FieldExpr = { node: "field"; alias: string; column: string; type: ValueType; storage: Storage; guarded: boolean };

/** A figure over the rows of a group. What is asked of them stands in `of`: it is empty for rows that are not counted. */
export type FigureExpr = {
  node: "figure";
  figure: AggregateName;
  /** null only for a count of rows. */
  of: Expr | null;
  /** What tells the order, or the weight. */
  by: Expr | null;
  direction: "up" | "down";
  separator: string;
  /** Of a percentile, in hundredths of a percent. */
  percent: number;
  /** Of the n-th: which; of a list: how many values at most. */
  count?: number | undefined;
  /** Of a total that counts the rows of its home once: what tells those apart. */
  keys: Expr[] | null;
  type: ValueType;
};

export const literal = (value: string | null, type: ValueType, parameter?: string): Expr =>
  parameter === undefined ? { node: "literal", value, type } : { node: "literal", value, type, parameter };

export const call = (fn: FunctionName, args: Expr[], type: ValueType): Expr => ({ node: "call", fn, args, type });

export const period = (part: DatePart, of: Expr): Expr => ({ node: "period", part, of, type: date });

export const both = (a: Expr, b: Expr): Expr => call("and", [a, b], yesno);

export const isTrue = (condition: Expr): Expr => call("isTrue", [condition], yesno);

export const negated = (condition: Expr): Expr => call("not", [isTrue(condition)], yesno);

/**
 * The column whose values a text is made of, where some of them do not fit its type: those are a text as they are stored, so that a
 * formula can clean what does not fit.
 */
export const storedAsText = (expr: Expr): FieldExpr | null => {
  const [of] = expr.node === "call" && expr.fn === "toText" ? expr.args : [];
  return of?.node === "field" && of.guarded ? of : null;
};

/** The columns an expression reads, each as often as it stands there; a row found is read by its compared column. */
export function fieldsOf(expr: Expr | null): { alias: string; column: string }[] {
  if (expr === null) return [];
  switch (expr.node) {
    case "field":
    case "found":
      return [expr];
    case "literal":
      return [];
    case "period":
      return fieldsOf(expr.of);
    case "call":
      return expr.args.flatMap(fieldsOf);
    case "figure":
      return [expr.of, expr.by, ...(expr.keys ?? [])].flatMap(fieldsOf);
    default:
      return expr satisfies never;
  }
}

/** The figures an expression over a group reads. */
export function figuresOf(expr: Expr): FigureExpr[] {
  switch (expr.node) {
    case "figure":
      return [expr];
    case "period":
      return figuresOf(expr.of);
    case "call":
      return expr.args.flatMap(figuresOf);
    case "field":
    case "found":
    case "literal":
      return [];
    default:
      return expr satisfies never;
  }
}

/** The aliases of the tables an expression reads. */
export const aliasesOf = (expr: Expr | null): Set<string> => new Set(fieldsOf(expr).map((f) => f.alias));

/** An expression over a group with each of its figures replaced. */
export function withFigures(expr: Expr, replace: (figure: FigureExpr) => Expr): Expr {
  switch (expr.node) {
    case "figure":
      return replace(expr);
    case "field":
    case "found":
    case "literal":
      return expr;
    case "period":
      return { ...expr, of: withFigures(expr.of, replace) };
    case "call":
      return { ...expr, args: expr.args.map((arg) => withFigures(arg, replace)) };
    default:
      return expr satisfies never;
  }
}

/** A figure of the rows for which conditions hold: the others are empty in it. */
export const figureWhere = (figure: FigureExpr, where: Expr[]): FigureExpr => {
  const [first, ...rest] = where;
  if (!first) return figure;
  return { ...figure, of: call("case", [rest.reduce(both, first), figure.of ?? literal("1", whole)], figure.of?.type ?? whole) };
};

/**
 * Over a query's rows, what does not fit its column is empty; it stays so where the column itself is put in place of the query's: else a
 * formula would have other values in its rows than in their figures.
 */
const onlyFitting = (made: Expr, was: FieldExpr): Expr =>
  made.node === "field" && made.guarded && !was.guarded ? call("coalesce", [made, literal(null, made.type)], made.type) : made;

/** An expression with each of its fields replaced. */
export function withFields(expr: Expr, replace: (field: FieldExpr) => Expr): Expr {
  const within = (inner: Expr | null) => inner && withFields(inner, replace);
  switch (expr.node) {
    case "field":
      return replace(expr);
    case "found":
    case "literal":
      return expr;
    case "period":
      return { ...expr, of: withFields(expr.of, replace) };
    case "call":
      return {
        ...expr,
        args: expr.args.map((arg) => (arg.node === "field" && expr.fn === "toText" ? onlyFitting(replace(arg), arg) : withFields(arg, replace))),
      };
    case "figure":
      return { ...expr, of: within(expr.of), by: within(expr.by), keys: expr.keys?.map((key) => withFields(key, replace)) ?? null };
    default:
      return expr satisfies never;
  }
}
