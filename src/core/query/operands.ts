import { checkFormula, isProblem } from "../expression/check";
import type { Expr } from "../expression/expr";
import { mayMisfit } from "../schema/column";
import { type Column, findColumn, type Schema, type Table } from "../schema/schema";
import type { Today } from "../types/calendar";
import { type Checked, type Problem, problem } from "../types/problem";
import type { Stretch } from "../types/stretch";
import { figureWords } from "./aggregates";
import { conditionLists, operandsIn } from "./conditions";
import { partOfField, partWords } from "./fieldParts";
import type { Plan, PlanJoin, PlanParameter } from "./plan";
import { relatedColumn } from "./related";
import type { Operand, ParameterValues, QueryColumn, QuerySpec } from "./spec";
import { BACK_WORDS, WINDOWS } from "./windows";

/*
 * The operands and conditions of a description as typed expressions. A derived field named in one is worked out where
 * it stands: `Resolver.expand` turns it into an expression over joins that it adds.
 */

export type Path = (string | number)[];

/** What a run supplies: the day it is in the workspace's zone, and values for parameters by name. */
export type RunContext = {
  today: Today;
  values: ParameterValues;
  /** What the data knows the signed-in person as; a comparison with nobody is never true. */
  person?: string | undefined;
  /** Values stand in for what will be given, so that columns can be told: what they come to means nothing. */
  probing?: boolean;
};

/** A table within reach of a query's fields: the source (id "") or one that was brought. */
export type ScopeTable = { id: string; alias: string; table: Table; path: string[]; join: PlanJoin | null };

export type Resolver = {
  schema: Schema;
  context: RunContext;
  scope: ScopeTable[];
  parameters: Map<string, Expr>;
  /** What is given for parameters that take several values. */
  several: Map<string, string[]>;
  /** What is given for parameters that take a period of days. */
  periods: Map<string, Stretch>;
  /** Parameters left empty, whose conditions fall away. */
  dropped: Set<string>;
  /** Parameters that derived fields ask for, beside those of the description. */
  asked: PlanParameter[];
  problems: Problem[];
  /** The query's own formulas that have a heading: others may name them by it. */
  formulas: { name: string; text: string }[];
  /** Joins that derived fields need, by what they are for. */
  derived: Map<string, PlanJoin>;
  /** The derived fields being worked out, outermost first. */
  expanding: string[];
  expand: (at: ScopeTable, column: Column, resolver: Resolver, path: Path) => Expr | null;
  /** How a query is resolved: the rows that a condition compares with are one. */
  resolve: (spec: QuerySpec, schema: Schema, context: RunContext) => Checked<Plan>;
  /** The query's own columns as they stand in a group or a line, by their ids: what conditions on those compare. */
  columns?: Map<string, OwnColumn>;
  /** Those of them that something is wrong with. */
  unready?: Set<string>;
};

/** One of the query's own columns: its value in a group or a line, and what it is called. */
export type OwnColumn = { expr: Expr; heading: string };

/** A column of a table in reach, as stored. */
export const storedExpr = (alias: string, column: Column): Expr => ({
  node: "field",
  alias,
  column: column.name,
  type: column.type,
  storage: column.storage,
  guarded: mayMisfit(column),
});

export const fieldExpr = (at: ScopeTable, column: Column, resolver: Resolver, path: Path): Expr | null =>
  column.derived ? resolver.expand(at, column, resolver, path) : storedExpr(at.alias, column);

export function report(problems: Problem[], found: Problem): null {
  problems.push(found);
  return null;
}

export function resolveOperand(operand: Operand, resolver: Resolver, path: Path): Expr | null {
  const { scope, problems, context } = resolver;
  if (operand.kind === "formula") return resolveFormula(operand.text, resolver, path);
  if (operand.kind === "column") {
    // What is wrong with a column is said of the column itself.
    if (resolver.unready?.has(operand.id)) return null;
    return resolver.columns?.get(operand.id)?.expr ?? report(problems, problem("ownColumnGone", path));
  }
  const at = scope.find((s) => s.id === operand.join);
  if (!at) return report(problems, problem("joinGone", path, { join: operand.join }));
  if (operand.kind === "related") return resolver.expand(at, relatedColumn(operand, resolver.schema), resolver, path);
  const column = findColumn(at.table, operand.column);
  if (!column) return report(problems, problem("columnGone", path, { table: at.table.label, column: operand.column }));
  const field = fieldExpr(at, column, resolver, path);
  if (!field) return null;
  const part = partOfField(operand, field, context.today.calendar, path);
  return isProblem(part) ? report(problems, part) : part;
}

/** A formula's expression over the tables in reach. */
export function resolveFormula(source: string, resolver: Resolver, path: Path): Expr | null {
  const { parameters, problems, context } = resolver;
  const before = problems.length;
  const expr = checkFormula(
    source,
    {
      field: (names) => namedInFormula(names, resolver, path),
      parameter: (name) => parameters.get(name) ?? null,
      today: context.today.day,
    },
    path,
  );
  if (!isProblem(expr)) return expr;
  // A derived field that could not be worked out has said why; that the formula lacks it is no news.
  return problems.length > before ? null : report(problems, expr);
}

/** What a name in a formula stands for: a field, or a formula of the query's own; null where there is none, or it leads back to itself. */
export function namedInFormula(names: string[], resolver: Resolver, path: Path): Expr | null {
  const { scope, formulas, expanding, problems } = resolver;
  const found = fieldByNames(scope, names);
  if (found) return fieldExpr(found.at, found.column, resolver, path);
  const formula = names.length === 1 ? formulas.find((f) => sameName(f.name, names[0] ?? "")) : undefined;
  if (!formula) return null;
  const { name, text } = formula;
  if (expanding.includes(name)) return report(problems, problem("circle", path, { names: [...expanding.slice(expanding.indexOf(name)), name].join(" → ") }));
  return resolveFormula(text, { ...resolver, expanding: [...expanding, name] }, path);
}

/** The formulas of a description that have a heading, with a value of their own in each row. */
export const namedFormulas = ({ columns }: Pick<QuerySpec, "columns">): Resolver["formulas"] =>
  columns.flatMap(({ label, value, figure }) => (label && !figure && value?.kind === "formula" ? [{ name: label, text: value.text }] : []));

/** Whether two names are the same to a formula: letter case and underscores do not tell them apart. */
export const sameName = (a: string, b: string) => a.toLowerCase().replaceAll("_", " ") === b.toLowerCase().replaceAll("_", " ");

/** A field named in a formula: its column, after the names of the links that lead to it. */
export function fieldByNames(scope: ScopeTable[], names: string[]): { at: ScopeTable; column: Column } | null {
  const name = names.at(-1) ?? "";
  const at = scope.find((s) => {
    const path = names.length > 1 && s.id === "" && names.length === 2 && sameName(names[0] ?? "", s.table.name) ? [] : names.slice(0, -1);
    return s.path.length === path.length && s.path.every((step, i) => sameName(step, path[i] ?? ""));
  });
  const column = at?.table.columns.find((c) => sameName(c.name, name) || sameName(c.label, name));
  return at && column ? { at, column } : null;
}

/** The words for an operand: "lodged on", "shipper › island", "month of lodged on", or the formula itself. */
export function operandWords(operand: Operand | null, scope: ScopeTable[]): string {
  if (operand === null) return "rows";
  if (operand.kind === "formula") return operand.text.trim() || "a formula";
  if (operand.kind === "column") return "a column";
  if (operand.kind === "related") return operand.words;
  const at = scope.find((s) => s.id === operand.join);
  const column = at && findColumn(at.table, operand.column);
  const words = [...(at?.path ?? ["?"]), column?.label ?? operand.column].join(" › ");
  return partWords(operand, words);
}

/** The words for a column of a query: its label, its field, or its figure. @param own the query's columns, which a figure over the rows shown names */
export function columnWords(column: QueryColumn, scope: ScopeTable[], own: QueryColumn[] = []): string {
  const { label, figure, value, window } = column;
  if (label) return label;
  if (figure === "window" && window) {
    const of = value?.kind === "column" ? own.find((c) => c.id === value.id) : undefined;
    const back = window.back && window.back !== "row" ? ` ${BACK_WORDS[window.back]}` : "";
    return `${WINDOWS[window.kind].words}${of ? ` of ${columnWords(of, scope, own)}` : ""}${back}`;
  }
  if (!figure || figure === "formula") return operandWords(value, scope);
  return value ? `${figureWords(figure)} of ${operandWords(value, scope)}` : "count of rows";
}

/** Every operand a description names. */
export function operandsOf(
  query: Pick<QuerySpec, "conditions" | "columns"> & Partial<Pick<QuerySpec, "joins" | "groupConditions" | "lineConditions">>,
): Operand[] {
  const inColumns = query.columns.flatMap((c) => [c.value, c.by ?? null].filter((o) => o !== null));
  return [...conditionLists(query).flatMap(operandsIn), ...inColumns];
}
