import { expandDefinition, expandDerived } from "../derive/expand";
import { PARENT } from "../derive/parent";
import { aliasesOf, call, type Expr, literal } from "../expression/expr";
import { findColumn, findTable, goneLinkWords, plural, type Schema, type Table } from "../schema/schema";
import { usualDay } from "../types/calendar";
import { type Checked, type Problem, problem } from "../types/problem";
import { ownStorage } from "../types/storage";
import { type ValueType, whole, yesno } from "../types/valueType";
import { comparisonProblems, comparisonSchema } from "./comparison";
import { isGroup, mapComparisons } from "./conditions";
import { emptyQuery } from "./empty";
import { resolveEvery } from "./everyValue";
import { brings, isLinked, keepsFar } from "./joinWays";
import { canCount, countsOf, foundExpr, matchesExpr } from "./matches";
import { orderedAsShown } from "./nameOrder";
import { namedFormulas, operandWords, type Path, type Resolver, type RunContext, report, type ScopeTable, storedExpr } from "./operands";
import { probeValues, resolveParameters } from "./parameters";
import { LINE, type Plan, type PlanColumn, type PlanCondition, type PlanJoin, type PlanParameter, type PlanSource } from "./plan";
import { resolveColumns } from "./resolveColumns";
import { resolveConditions } from "./resolveConditions";
import { comparedTable, resolveTables } from "./scope";
import { resolveSource, rowsOfQuery } from "./source";
import type { ComparedJoin, ConditionTree, LinkedJoin, Operand, QuerySpec, Value } from "./spec";

/**
 * Turns a description into a plan: finds tables, columns and links in the schema, checks types, binds parameters.
 * @returns the plan, or all problems found, each with its path into the description
 * @example resolveQuery(emptyQuery("consignment"), schema, { today: "2026-11-23", values: {} })
 */
export function resolveQuery(spec: QuerySpec, given: Schema, context: RunContext): Checked<Plan> {
  const problems: Problem[] = spec.compare ? comparisonProblems(spec.compare, given) : [];
  if (problems.length > 0) return { ok: false, problems };
  const schema = comparisonSchema(given, spec, context.today, resolveQuery);
  const found = resolveSource(spec, schema, context, problems, resolveQuery);
  if (!found) return { ok: false, problems };
  const { parameters: inner, ...source } = found;
  const { table } = source;
  const scope = resolveTables(spec, schema, table, problems, source.alias);
  const parameters = resolveParameters(spec.parameters, context, problems);
  const resolver: Resolver = {
    schema,
    context,
    scope,
    parameters: parameters.bound,
    several: parameters.several,
    periods: parameters.periods,
    dropped: parameters.dropped,
    asked: [],
    problems,
    formulas: namedFormulas(spec),
    derived: new Map(),
    expanding: [],
    expand: expandDerived,
    resolve: resolveQuery,
  };
  const conditions = [
    ...resolveHaving(spec, resolver, source),
    ...resolveConditions(spec.conditions, resolver, ["conditions"]).map((found) => planCondition(found, scope)),
  ];
  const compared = resolveCompared(spec, resolver);
  const joins = () =>
    withDerived(
      scope.flatMap((s) => (s.join ? [compared.get(s.id) ?? s.join] : [])),
      [...resolver.derived.values()],
    );
  const columns = resolveColumns(spec, schema, resolver, () => ({ source, joins: joins() }));
  const ordered = orderedAsShown(spec, columns, resolver);
  const every = resolveEvery(spec, columns, resolver);
  const subtotals = subtotalKeys(spec);
  if (subtotals.length > 0 && (spec.limit !== null || spec.firstOf)) problems.push(problem("subtotalsCut", [spec.firstOf ? "firstOf" : "limit"]));
  const groupConditions = spec.grouped
    ? resolveConditions(spec.groupConditions ?? [], resolver, ["groupConditions"]).map((found) => planCondition(found, scope, resolver.columns))
    : [];
  const lineConditions = resolveLines(spec, columns, resolver);
  if (columns.filter((c) => !c.hidden).length === 0 && problems.length === 0) problems.push(problem("noColumns", ["columns"]));
  spec.order.forEach((o, i) => {
    if (!spec.columns.some((c) => c.id === o.column)) problems.push(problem("orderGone", ["order", i]));
  });
  if (spec.firstOf?.per.some((id) => !spec.columns.some((c) => c.id === id))) problems.push(problem("firstOfGone", ["firstOf"]));
  if (spec.limit !== null && !(Number.isInteger(spec.limit) && spec.limit > 0)) problems.push(problem("limitRange", ["limit"]));
  if (problems.length > 0) return { ok: false, problems };
  return {
    ok: true,
    value: {
      source,
      joins: joins(),
      conditions,
      grouped: spec.grouped,
      groupConditions,
      lineConditions,
      columns: ordered.columns,
      every,
      subtotals,
      order: subtotals.length > 0 ? orderByLevels(spec, subtotals) : ordered.order,
      tieBreak: tieBreak(spec.grouped, scope, columns),
      limit: spec.limit,
      firstOf: spec.firstOf ?? null,
      parameters: eachOnce([...parameters.list, ...inner, ...resolver.asked]),
    },
  };
}

/** What lines must meet: their columns are all that can be asked of them. */
function resolveLines({ lineConditions = [] }: QuerySpec, columns: PlanColumn[], resolver: Resolver): PlanCondition[] {
  const own = new Map(columns.map(({ id, type, heading }) => [id, { expr: lineExpr(id, type), heading }]));
  const lines: Resolver = { ...resolver, scope: [], formulas: [], columns: own };
  return resolveConditions(lineConditions, lines, ["lineConditions"]).map((found) => planCondition(found, [], own));
}

const lineExpr = (column: string, type: ValueType): Expr => ({ node: "field", alias: LINE, column, type, storage: ownStorage(type), guarded: false });

/** Parameters by their names, the first of each. */
const eachOnce = (all: PlanParameter[]): PlanParameter[] => all.filter((p, i) => all.findIndex((q) => q.name === p.name) === i);

/** The keys of a description that have subtotals; behind the last, each line would be one. */
function subtotalKeys(spec: QuerySpec): string[] {
  const keys = spec.grouped ? spec.columns.filter((c) => !c.figure) : [];
  return keys.slice(0, -1).flatMap((c) => (c.subtotal ? [c.id] : []));
}

/** An order in which the lines of each subtotal stand together: by the keys up to the last that has them, then as was asked. */
function orderByLevels(spec: QuerySpec, subtotals: string[]): QuerySpec["order"] {
  const keys = spec.columns.filter((c) => !c.figure);
  const last = keys.findIndex((c) => c.id === subtotals.at(-1));
  const first = keys.slice(0, last + 1).map(({ id }) => spec.order.find((o) => o.column === id) ?? { column: id, direction: "up" as const });
  return [...first, ...spec.order.filter((o) => !first.some((f) => f.column === o.column))];
}

/** A condition of a plan, with what its line of the proof says. */
function planCondition({ condition, expr }: { condition: ConditionTree; expr: Expr }, scope: ScopeTable[], own?: Resolver["columns"]): PlanCondition {
  if (!isGroup(condition)) {
    const { left } = condition;
    return { id: condition.id, expr, label: left.kind === "column" ? (own?.get(left.id)?.heading ?? "") : operandWords(left, scope) };
  }
  const many = `${condition.of.length} conditions`;
  const leftOut = { all: `do not meet all of ${many}`, any: `meet none of ${many}`, none: `meet one of ${many}` }[condition.holds];
  return { id: condition.id, expr, label: many, leftOut };
}

/**
 * Tables that rows must have rows of, or none of: how many match is counted for each row by a join of its own, which
 * neither repeats rows nor leaves any out, and a condition asks for the count.
 */
function resolveHaving(spec: QuerySpec, resolver: Resolver, source: PlanSource): PlanCondition[] {
  return spec.joins.flatMap((join, i): PlanCondition[] => {
    if (brings(join.way)) return [];
    const { schema, scope, problems } = resolver;
    if (!isLinked(join)) return resolveHavingCompared(join, resolver, source, ["joins", i]);
    const at = scope.find((s) => s.id === join.from);
    const far = schema.links.find((l) => l.id === join.link)?.[join.toward];
    if (!at || !far) return report(problems, problem("linkGone", ["joins", i], { link: goneLinkWords(schema, join.link) })) ?? [];
    const definition = { kind: "rollup" as const, step: { link: join.link, toward: join.toward }, query: matchingRows(join, far.table) };
    const count = expandDefinition(definition, at, resolver, ["joins", i]);
    if (!count) return [];
    const has = join.way === "has";
    const expr = call(has ? "greater" : "is", [count, literal("0", whole)], yesno);
    return [{ id: join.id, expr, label: far.name, leftOut: `have ${has ? "no " : ""}${far.name}` }];
  });
}

/** The same of a table that is matched by comparisons: they are of its stored columns and of those of the table it is asked for. */
function resolveHavingCompared(join: ComparedJoin, resolver: Resolver, source: PlanSource, path: Path): PlanCondition[] {
  const { schema, scope, context, problems, derived } = resolver;
  const at = scope.find((s) => s.id === join.from);
  const table = findTable(schema, join.table);
  if (!at) return report(problems, problem("joinGone", path, { join: join.from })) ?? [];
  if (!table) return report(problems, problem("tableGone", path, { table: join.table })) ?? [];
  const own = comparedTable(join, table, at, [...scope, ...[...derived.values()].map((j) => ({ ...at, alias: j.alias, path: j.path }))]);
  const planned = { ...(own.join as PlanJoin), ...joinedRows(table, schema, context, problems, path) };
  resolver.asked.push(...(planned.query?.parameters ?? []));
  if (join.on.length === 0) return report(problems, problem("joinHasNoComparison", path, { table: table.label })) ?? [];
  const before = problems.length;
  const when = resolveConditions(join.on, { ...resolver, scope: [...scope, own] }, [...path, "on"]).map((c) => c.expr);
  if (problems.length > before) return [];
  const counted = { ...planned, when };
  if (!canCount(counted)) return report(problems, problem("joinHasReach", path, { table: table.label, near: at.table.label })) ?? [];
  const brought = scope.flatMap((s) => (s.join ? [s.join] : []));
  const counts: PlanJoin = { ...countsOf(counted, { source, joins: brought }), leadsTo: "one", auxiliary: true };
  derived.set(`has ${join.id}`, counts);
  const has = join.way === "has";
  const matches = call("coalesce", [matchesExpr(counts), literal("0", whole)], whole);
  // A row that is not there has neither.
  const known = at.join ? call("case", [foundExpr(at.join), matches], whole) : matches;
  const words = plural(table.label);
  return [{ id: join.id, expr: call(has ? "greater" : "is", [known, literal("0", whole)], yesno), label: words, leftOut: `have ${has ? "no " : ""}${words}` }];
}

/** Joins by comparisons, with those: each may name its own table and those before it. */
function resolveCompared(spec: QuerySpec, resolver: Resolver): Map<string, PlanJoin> {
  const { scope, schema, context, problems } = resolver;
  const made = new Map<string, PlanJoin>();
  spec.joins.forEach((join, i) => {
    const at = scope.findIndex((s) => s.id === join.id);
    const planned = scope[at]?.join;
    if (isLinked(join) || !planned || !brings(join.way)) return;
    const path = ["joins", i];
    const table = joinedRows(planned.table, schema, context, problems, path);
    resolver.asked.push(...(table.query?.parameters ?? []));
    const nearRows = scope.find((s) => s.alias === planned.from)?.table.rows ?? 0;
    const pairs = nearRows * planned.table.rows;
    if (join.on.length === 0 && join.way !== "every")
      problems.push(problem("joinNoComparison", path, { table: planned.table.label, pairs: pairs.toLocaleString("en") }));
    if (join.on.length === 0 && pairs > MOST_PAIRS)
      problems.push(problem("joinPairs", path, { pairs: pairs.toLocaleString("en"), most: MOST_PAIRS.toLocaleString("en") }));
    const when = resolveConditions(join.on, resolver, [...path, "on"]).map((c) => c.expr);
    const reach = withBrought(new Set(scope.slice(0, at).map((s) => s.alias)), [...resolver.derived.values()]).add(planned.alias);
    if (when.some((expr) => [...aliasesOf(expr)].some((alias) => !reach.has(alias)))) problems.push(problem("joinReach", path, { table: planned.table.label }));
    made.set(join.id, { ...planned, ...table, when, leadsTo: isKeyed(when, planned) ? "one" : "many" });
  });
  return made;
}

/** Tables with what derived fields bring from them. */
function withBrought(aliases: Set<string>, derived: PlanJoin[]): Set<string> {
  const brought = derived.filter((j) => aliases.has(j.from) && !aliases.has(j.alias));
  return brought.length === 0 ? aliases : withBrought(new Set([...aliases, ...brought.map((j) => j.alias)]), derived);
}

/** Pairs that are made of two tables at most where nothing compares their rows. */
const MOST_PAIRS = 100_000_000;

/** Whether comparisons find one row at most: every column of the table's key is compared as the same. */
function isKeyed(when: Expr[], { table, alias }: PlanJoin): boolean {
  const same = when.flatMap((e) => (e.node === "call" && e.fn === "is" ? e.args : []));
  return table.key.length > 0 && table.key.every((key) => same.some((e) => e.node === "field" && e.alias === alias && e.column === key));
}

/** A joined table's rows, where they are a saved query's. */
function joinedRows(table: Table, schema: Schema, context: RunContext, problems: Problem[], path: Path): Partial<PlanJoin> {
  if (!table.rowsOf) return {};
  const query = rowsOfQuery(table, schema, context, problems, resolveQuery, path);
  return query ? { query } : {};
}

/** The rows of a table that match, counted: what is asked of them names the table itself, and the row they are to match. */
function matchingRows(join: LinkedJoin, table: string): QuerySpec {
  const within = <V extends Operand | Value>(v: V): V => (v.kind === "field" ? { ...v, join: v.join === join.id ? "" : PARENT } : v);
  const conditions = mapComparisons(join.where ?? [], (c) => ({ ...c, left: within(c.left), values: c.values.map(within) }));
  return { ...emptyQuery(table), grouped: true, columns: [{ id: "matches", value: null, figure: "count" }], conditions };
}

/** Joins in an order in which each comes after what it starts from; those of derived fields right after it. */
function withDerived(joins: PlanJoin[], auxiliary: PlanJoin[]): PlanJoin[] {
  const after = (alias: string): PlanJoin[] => auxiliary.filter((j) => j.from === alias).flatMap((j) => [j, ...after(j.alias)]);
  const starts = new Set(joins.map((j) => j.alias));
  const own = new Set(auxiliary.map((j) => j.alias));
  const ofSource = auxiliary.filter((j) => !starts.has(j.from) && !own.has(j.from)).flatMap((j) => [j, ...after(j.alias)]);
  return [...ofSource, ...joins.flatMap((j) => [j, ...after(j.alias)])];
}

/** A column of a description as it is planned, whatever its parameters are given; undefined while it cannot be. */
export function plannedColumn(spec: QuerySpec, schema: Schema, id: string): PlanColumn | undefined {
  const resolved = resolveQuery(spec, schema, { today: usualDay("2000-01-01"), values: probeValues(spec.parameters), probing: true });
  return resolved.ok ? resolved.value.columns.find((c) => c.id === id) : undefined;
}

/** The type that an operand comes to in a query, a formula's too; undefined while it cannot be worked out. */
export function plannedType({ source, stack, joins, parameters }: QuerySpec, schema: Schema, operand: Operand): ValueType | undefined {
  const alone: QuerySpec = { ...emptyQuery(source), stack, joins, parameters, columns: [{ id: "operand", value: operand }] };
  return plannedColumn(alone, schema, "operand")?.type;
}

function tieBreak(grouped: boolean, scope: ScopeTable[], columns: PlanColumn[]): Expr[] {
  if (grouped) return columns.flatMap((c) => (c.figure || !c.expr ? [] : [c.expr]));
  const repeating = scope.filter((s) => s.join === null || s.join.leadsTo === "many" || keepsFar(s.join.way));
  if (repeating.some((s) => s.table.key.length === 0)) return columns.flatMap((c) => (c.expr ? [c.expr] : []));
  return repeating.flatMap((s) =>
    s.table.key.flatMap((name) => {
      const column = findColumn(s.table, name);
      return column ? [storedExpr(s.alias, column)] : [];
    }),
  );
}
