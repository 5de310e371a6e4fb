import { call, type Expr, fieldsOf, literal } from "../expression/expr";
import { asText } from "../expression/functions";
import { aggregateOf, figureWords as wordsOf } from "../query/aggregates";
import type { AggregateName } from "../query/choices";
import { figureOfRollup, homeOf } from "../query/home";
import { operandsOf, operandWords, type Path, type Resolver, report, resolveFormula, resolveOperand, type ScopeTable, storedExpr } from "../query/operands";
import { resolveParameters } from "../query/parameters";
import type { PlanJoin, PlanRollup } from "../query/plan";
import { formulaOverFigures, wrongFigure } from "../query/resolveColumns";
import { resolveConditions } from "../query/resolveConditions";
import { freeAlias, resolveTables } from "../query/scope";
import type { QueryColumn, QuerySpec } from "../query/spec";
import { type Column, comparisons, findColumn, findTable, goneLinkWords, type Link, type Step } from "../schema/schema";
import { problem } from "../types/problem";
import { TYPE_WORDS, whole, yesno } from "../types/valueType";
import { PARENT } from "./parent";
import type { Definition } from "./spec";

/*
 * A derived field is worked out where it is named, as an expression of the plan:
 *
 *   formula  →  its expression, written in place
 *   lookup   →  a column of tables joined for it, each by a link that leads to one
 *   rollup   →  a column of figures grouped over the far table, joined one to one
 *
 * The joins it adds are marked auxiliary: they change neither which rows there are nor how often. Several rollups over
 * one link share one pass.
 */

/** The expression of a derived field of a table in reach; null where it cannot be worked out, with the reason reported. */
export function expandDerived(at: ScopeTable, column: Column, resolver: Resolver, path: Path): Expr | null {
  const { derived } = column;
  const { problems, expanding } = resolver;
  if (!derived) return storedExpr(at.alias, column);
  if (derived.broken) return report(problems, problem("derivedBroken", path, { field: column.label, why: derived.broken }));
  const mark = `${at.table.name} › ${column.label}`;
  if (expanding.includes(mark)) return report(problems, problem("circle", path, { names: [...expanding.slice(expanding.indexOf(mark)), mark].join(" → ") }));
  return expandDefinition(derived.definition, at, { ...resolver, expanding: [...expanding, mark] }, path);
}

/** As expandDerived, for a definition that need not be saved yet. */
export function expandDefinition(definition: Definition, at: ScopeTable, asking: Resolver, path: Path): Expr | null {
  // A field of a table knows nothing of the query that names it.
  const resolver = { ...asking, formulas: [] };
  switch (definition.kind) {
    case "formula":
      return resolveFormula(definition.text, { ...resolver, scope: [{ ...at, id: "", path: [] }] }, [...path, "text"]);
    case "lookup":
      return expandLookup(definition, at, resolver, path);
    case "rollup":
      return expandRollup(definition, at, resolver, path);
    default:
      return definition satisfies never;
  }
}

const aliasesIn = (resolver: Resolver): string[] => [...resolver.scope.map((s) => s.alias), ...[...resolver.derived.values()].map((j) => j.alias)];

/** The link of a step that starts from a table; null, with the reason reported, where it is gone. */
function linkOf(step: Step, table: string, resolver: Resolver, path: Path): Link | null {
  const link = resolver.schema.links.find((l) => l.id === step.link);
  const near = link?.[step.toward === "a" ? "b" : "a"];
  if (link && near?.table === table && findTable(resolver.schema, link[step.toward].table)) return link;
  return report(resolver.problems, problem("linkGone", path, { link: goneLinkWords(resolver.schema, step.link) }));
}

function expandLookup({ steps, column }: Extract<Definition, { kind: "lookup" }>, at: ScopeTable, resolver: Resolver, path: Path): Expr | null {
  let here = at;
  for (const [i, step] of steps.entries()) {
    const link = linkOf(step, here.table.name, resolver, [...path, "steps", i]);
    if (!link) return null;
    const far = link[step.toward];
    if (far.leadsTo === "many") return report(resolver.problems, problem("lookupMany", [...path, "steps", i], { link: far.name, table: here.table.label }));
    here = lookedUp(here, link, step, resolver);
  }
  const found = findColumn(here.table, column);
  if (!found) return report(resolver.problems, problem("columnGone", path, { table: here.table.label, column }));
  return found.derived ? resolver.expand(here, found, resolver, path) : storedExpr(here.alias, found);
}

/** The table that a link to one leads to, brought once for all derived fields that pass through it. */
function lookedUp(from: ScopeTable, link: Link, step: Step, resolver: Resolver): ScopeTable {
  const end = link[step.toward];
  const table = findTable(resolver.schema, end.table) as ScopeTable["table"];
  const key = JSON.stringify([from.alias, step.link, step.toward]);
  const known = resolver.derived.get(key);
  const join: PlanJoin = known ?? {
    id: `derived ${key}`,
    alias: freeAlias(aliasesIn(resolver), `${end.name}_of_${from.alias}`),
    from: from.alias,
    table,
    path: [...from.path, end.name],
    leadsTo: "one",
    back: link[step.toward === "a" ? "b" : "a"].leadsTo,
    way: "keep",
    on: comparisons(link, step.toward),
    auxiliary: true,
  };
  resolver.derived.set(key, join);
  return { id: join.id, alias: join.alias, table, path: join.path, join };
}

const namesParent = (query: QuerySpec): boolean => operandsOf(query).some((o) => o.kind === "field" && o.join === PARENT);

function expandRollup({ step, query }: Extract<Definition, { kind: "rollup" }>, at: ScopeTable, resolver: Resolver, path: Path): Expr | null {
  const { schema, problems } = resolver;
  const link = linkOf(step, at.table.name, resolver, [...path, "step"]);
  if (!link) return null;
  const [near, far] = [link[step.toward === "a" ? "b" : "a"], link[step.toward]];
  const table = findTable(schema, far.table) as ScopeTable["table"];
  const on = comparisons(link, step.toward);
  const [column] = query.columns;
  if (!column?.figure || column.figure === "window" || query.source !== far.table)
    return report(problems, problem("rollupFigure", [...path, "query"], { table: table.label }));

  const paired = namesParent(query) || on.some((c) => c.operator !== "is");
  const key = JSON.stringify([at.alias, step, paired, query.joins]);
  const known = resolver.derived.get(key);
  const inner = resolveTables(query, schema, table, problems);
  const wide = inner.find((s) => s.join?.leadsTo === "many");
  if (wide) return report(problems, problem("lookupMany", [...path, "query"], { link: wide.path.at(-1) ?? "", table: table.label }));
  const rollup: PlanRollup = known?.rollup ?? {
    alias: table.name,
    joins: inner.flatMap((s) => (s.join ? [s.join] : [])),
    figures: [],
    pairs: paired
      ? {
          table: at.table,
          alias: freeAlias(
            inner.map((s) => s.alias),
            near.name,
          ),
          columns: [...new Set(on.map((c) => c.near))],
        }
      : null,
  };
  const figure = resolveFigure(column, query, rollup, inner, near.name, at, resolver, [...path, "query"]);
  if (!figure) return null;
  const join: PlanJoin = known ?? {
    id: `derived ${key}`,
    alias: freeAlias(aliasesIn(resolver), `${far.name}_of_${at.alias}`),
    from: at.alias,
    table,
    path: [...at.path, far.name],
    leadsTo: "one",
    back: "many",
    way: "keep",
    on,
    auxiliary: true,
    rollup,
  };
  resolver.derived.set(key, join);
  return figureExpr(join, rollup, figure, at);
}

type Figure = Omit<PlanRollup["figures"][number], "name">;

/** The column of a rollup's join that holds a figure, worked out once however often it is asked for. */
function figureExpr(join: PlanJoin, rollup: PlanRollup, figure: Figure, at: ScopeTable): Expr {
  const same = (f: PlanRollup["figures"][number]) => JSON.stringify({ ...f, name: "" }) === JSON.stringify({ ...figure, name: "" });
  let held = rollup.figures.find(same);
  if (!held) {
    held = { ...figure, name: `f${rollup.figures.length + 1}` };
    rollup.figures.push(held);
  }
  const { type } = figureOfRollup({ ...figure, name: "" });
  const value: Expr = { node: "field", alias: join.alias, column: held.name, type, storage: "plain", guarded: false };
  if (figure.figure !== "count" && figure.figure !== "countDifferent") return value;
  const counted = call("coalesce", [value, literal("0", whole)], whole);
  // A row that is there has 0 of what it has none of; where there is no row, there is nothing to count for.
  const near = at.join?.on[0]?.far;
  return near === undefined ? counted : call("case", [{ node: "found", alias: at.alias, column: near, type: yesno }, counted], whole);
}

/** The figure of a rollup, its conditions in it, over the far table's rows. */
function resolveFigure(
  column: QueryColumn,
  query: QuerySpec,
  rollup: PlanRollup,
  inner: ScopeTable[],
  parentName: string,
  at: ScopeTable,
  resolver: Resolver,
  path: Path,
): Figure | null {
  const { problems } = resolver;
  const own = query.parameters.filter((p) => ![resolver.parameters, resolver.several, resolver.periods].some((known) => known.has(p.name)));
  const parameters = resolveParameters(own, resolver.context, problems);
  for (const asked of parameters.list) if (!resolver.asked.some((a) => a.name === asked.name)) resolver.asked.push(asked);
  const { pairs } = rollup;
  const parent: ScopeTable[] = pairs
    ? [{ id: PARENT, alias: pairs.alias, table: { ...at.table, columns: at.table.columns.filter((c) => !c.derived) }, path: [parentName], join: null }]
    : [];
  const derived = new Map(rollup.joins.filter((j) => j.auxiliary).map((j) => [j.id.replace(/^derived /, ""), j]));
  const within: Resolver = {
    ...resolver,
    scope: [...inner, ...parent],
    parameters: new Map([...resolver.parameters, ...parameters.bound]),
    several: new Map([...resolver.several, ...parameters.several]),
    periods: new Map([...resolver.periods, ...parameters.periods]),
    dropped: new Set([...resolver.dropped, ...parameters.dropped]),
    derived,
  };
  const before = problems.length;
  const rows = () => ({ source: { alias: rollup.alias, table: inner[0]?.table ?? at.table }, joins: [...rollup.joins, ...derived.values()] });
  const at0 = [...path, "columns", 0, "value"];
  const operand =
    column.figure === "formula" && column.value?.kind === "formula"
      ? formulaOverFigures(column.value.text, () => null, within, rows, at0)
      : column.value
        ? resolveOperand(column.value, within, at0)
        : null;
  const by = column.by ? resolveOperand(column.by, within, [...path, "columns", 0, "by"]) : null;
  const where = resolveConditions(query.conditions, within, [...path, "conditions"]).map((c) => c.expr);
  if (problems.length > before || (column.value && !operand)) return null;
  const figure = column.figure as AggregateName | "formula";
  const aggregate = aggregateOf(figure);
  const type = operand?.type ?? whole;
  const wrong = aggregate && (!operand && figure !== "count" ? "figureNeedsValue" : wrongFigure(aggregate, type, by, column));
  if (wrong) return report(problems, problem(wrong, path, { figure: aggregate.words, type: TYPE_WORDS[type.kind] }));
  for (const join of derived.values()) if (!rollup.joins.includes(join)) rollup.joins.push(join);
  if (pairs)
    for (const { alias, column } of [operand, by, ...where].flatMap(fieldsOf))
      if (alias === pairs.alias && !pairs.columns.includes(column)) pairs.columns.push(column);
  const home = figure === "total" ? homeOf(operand, rows()) : null;
  return {
    ...(home?.repeated && home.keys ? { keys: home.keys } : {}),
    expr: operand && figure === "list" ? asText(operand) : operand,
    figure,
    where,
    by,
    direction: column.direction ?? "up",
    separator: column.separator ?? ", ",
    ...(aggregate?.percent ? { percent: Math.round((column.percent ?? 0) * 100) } : {}),
    ...(aggregate?.counts && column.count !== undefined ? { count: column.count } : {}),
  };
}

/** A rollup's figure in words: "total of freight charge". */
export const figureWords = (column: QueryColumn, scope: ScopeTable[]): string => {
  if (column.figure === "formula") return operandWords(column.value, scope);
  const words = column.figure ? wordsOf(column.figure, column.count) : "value";
  return column.value ? `${words} of ${operandWords(column.value, scope)}` : "count";
};
