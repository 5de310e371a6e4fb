import { call, type Expr, literal, withFields } from "../expression/expr";
import { homeOf } from "../query/home";
import { capitalised } from "../query/naming";
import { type RunContext, sameName } from "../query/operands";
import { isPlain, overRows, resolveOver } from "../query/over";
import type { Plan, PlanColumn, PlanJoin, PlanParameter } from "../query/plan";
import { tableOfPlan } from "../query/planTable";
import { resolveQuery } from "../query/resolve";
import type { Operand, QueryColumn, QuerySpec } from "../query/spec";
import type { Schema } from "../schema/schema";
import { type Checked, type Problem, problem } from "../types/problem";
import { whole, yesno } from "../types/valueType";
import { figureColumn } from "./footingCells";
import { depthOver, type RowFigures, type RowFormula, withRowFigures } from "./rowFigures";
import type { Grouped, ReportColumn, ReportLevel, ReportSpec } from "./spec";
import { formulasIn, holdsFigure } from "./texts";

/*
 * The rows of a report: those of its query in the order of its groups, with a column for each thing that is printed of a
 * row or decides how.
 *
 *   query ─▶ its rows, with keys of groups, values, texts' fields and conditions ─▶ ranks of groups, joined ─▶ order
 */

/** Names of the columns of a report's rows, by what they are for. */
export const keyId = (level: string) => `level ${level}`;
export const restId = (level: string) => `rest ${level}`;
export const valueId = (column: string) => `value ${column}`;
export const windowId = (column: string) => `window ${column}`;
export const fieldId = (formula: string) => `field ${formula}`;
export const whenId = (formula: string) => `when ${formula}`;
const rankId = (level: string) => `rank ${level}`;
const placeId = (level: string) => `place ${level}`;
const sourceId = (name: string) => `source ${name}`;
const byNameId = (column: string) => `${column} by name`;

/** One level's place among the rows: what makes its groups, and by what they stand in order. */
export type LevelRows = { level: ReportLevel; key: string; rest: string | null; order: Plan["order"] };

export type ReportRows = {
  /** Every column there is of a row; `query` is the report's own. */
  plan: Plan;
  query: Plan;
  levels: LevelRows[];
};
/** With what rows hold of their groups. */
export type FiguredRows = ReportRows & { figures: RowFigures[] };

/** A report's value as an operand over its query's columns; a formula that is not written yet is empty. */
export const operandOf = (value: Grouped | ReportColumn["value"]): Operand =>
  value.kind === "field" ? { ...value, join: "" } : { kind: "formula", text: value.text.trim() || "NULL" };

/** The parameter that a field of a text names; none where a column of the query has that name. */
export function parameterNamed({ columns, parameters }: Pick<Plan, "columns" | "parameters">, field: string): PlanParameter | undefined {
  return columns.some((c) => sameName(c.heading, field)) ? undefined : parameters.find((p) => sameName(p.name, field));
}

/**
 * The formulas of a report that are worked out for each row, with where they stand; conditions by themselves.
 * @param query its query's plan, whose parameters texts may name
 */
export function rowFormulas(spec: ReportSpec, query: Plan): { fields: Map<string, (string | number)[]>; whens: Map<string, (string | number)[]> } {
  const fields = new Map<string, (string | number)[]>();
  const whens = new Map<string, (string | number)[]>();
  const text = (words: string | undefined, path: (string | number)[]) => {
    for (const formula of formulasIn(words ?? ""))
      if (!formula.figure && !fields.has(formula.text) && !parameterNamed(query, formula.text)) fields.set(formula.text, path);
  };
  const when = (formula: string | undefined, path: (string | number)[]) => {
    if (formula?.trim() && !whens.has(formula)) whens.set(formula, path);
  };
  for (const [path, words] of textsOf(spec)) text(words, path);
  spec.columns.forEach((c, i) => {
    when(c.when, ["columns", i, "when"]);
    c.marks?.forEach((mark, j) => {
      when(mark.when, ["columns", i, "marks", j]);
    });
  });
  spec.passages?.forEach((p, i) => {
    when(p.when, ["passages", i, "when"]);
  });
  return { fields, whens };
}

/** A formula by itself, as a text that is nothing but its field. */
export const formulaText = (formula: string): string => `{${formula}}`;

/** Every text of a report that may hold fields, with where it stands. */
export function textsOf(spec: ReportSpec): [(string | number)[], string][] {
  const parts = (name: "header" | "footer", of: ReportSpec["header"], path: (string | number)[] = []) =>
    (["left", "center", "right"] as const).map((side): [(string | number)[], string] => [[...path, name, side], of[side]]);
  return [
    [["title"], spec.title],
    [["subtitle"], spec.subtitle ?? ""],
    ...spec.levels.map((l, i): [(string | number)[], string] => [["levels", i, "heading"], l.heading]),
    ...spec.lines.map((l, i): [(string | number)[], string] => [["lines", i, "text"], l.text]),
    ...(spec.summaries ?? []).flatMap((s, i) =>
      s.lines.flatMap((l, k): [(string | number)[], string][] => [
        [["summaries", i, "lines", k, "text"], l.text],
        ...(l.of.kind === "formula" && l.of.text.trim() ? [[["summaries", i, "lines", k, "of"], formulaText(l.of.text)] as [(string | number)[], string]] : []),
      ]),
    ),
    ...(spec.passages ?? []).map((p, i): [(string | number)[], string] => [["passages", i, "text"], p.text]),
    ...(spec.shape.kind === "labels" ? spec.shape.lines.map((l, i): [(string | number)[], string] => [["shape", "lines", i], l]) : []),
    ...parts("header", spec.header),
    ...parts("footer", spec.footer),
    ...(spec.first ? [...parts("header", spec.first.header, ["first"]), ...parts("footer", spec.first.footer, ["first"])] : []),
  ];
}

type Asked = { columns: QueryColumn[]; places: (string | number)[][] };

/** What is asked of each row besides the query's own columns. */
function askedOf(spec: ReportSpec, query: Plan): Asked {
  const columns: QueryColumn[] = [];
  const places: (string | number)[][] = [];
  const add = (column: QueryColumn, path: (string | number)[]) => {
    columns.push(column);
    places.push(path);
  };
  spec.levels.forEach((level, i) => {
    add({ id: keyId(level.id), value: operandOf(level.value) }, ["levels", i]);
    const listed = level.order.by === "list" ? level.order.values : [];
    if (listed.length > 0) add({ id: placeId(level.id), value: { kind: "formula", text: listPlace(level.value, listed, query) }, hidden: true }, ["levels", i]);
  });
  spec.columns.forEach((c, i) => {
    add({ id: valueId(c.id), value: withoutFigures(operandOf(c.value)), ...wordsOf(c) }, ["columns", i]);
  });
  const { fields, whens } = rowFormulas(spec, query);
  for (const [text, path] of fields) add({ id: fieldId(text), value: { kind: "formula", text } }, path);
  for (const [text, path] of whens) add({ id: whenId(text), value: withoutFigures({ kind: "formula", text }) }, path);
  return { columns, places };
}

/** What a column is headed by, and how it is written. A formula is headed by its own text: what it is planned by may be another. */
function wordsOf({ label, format, value }: ReportColumn): Pick<QueryColumn, "label" | "format"> {
  const heading = label || (value.kind === "formula" ? capitalised(value.text.trim().slice(0, 200) || "formula") : "");
  return { ...(heading ? { label: heading } : {}), ...(format ? { format } : {}) };
}

/** A formula that holds figures of groups is worked out once there are groups (rowFigures.ts); until then it is empty. */
const withoutFigures = (value: Operand): Operand => (value.kind === "formula" && holdsFigure(value.text) ? { kind: "formula", text: "NULL" } : value);

/** The formulas of rows that may hold figures: values of columns, and conditions, whose figures are over the innermost groups. */
function rowFormulasOver(spec: ReportSpec, query: Plan): RowFormula[] {
  const values = spec.columns.flatMap((c, i): RowFormula[] =>
    c.value.kind === "formula"
      ? [{ id: valueId(c.id), text: c.value.text, depth: depthOver(spec, c.over), path: ["columns", i], column: wordsOf(c), isCondition: false }]
      : [],
  );
  const whens = [...rowFormulas(spec, query).whens].map(
    ([text, path]): RowFormula => ({ id: whenId(text), text, depth: spec.levels.length, path, column: {}, isCondition: true }),
  );
  return [...values, ...whens];
}

/** The place of a value in a list, as a formula; what is not in it comes after. */
function listPlace(value: Grouped, listed: string[], query: Plan): string {
  const column = value.kind === "field" ? query.columns.find((c) => c.id === value.column) : undefined;
  const of = value.kind === "field" ? `"${(column?.heading ?? value.column).replaceAll('"', '""')}"` : `(${value.text})`;
  const whens = listed.map((text, i) => `WHEN CAST(${of} AS TEXT) = '${text.replaceAll("'", "''")}' THEN ${i}`);
  return `CASE ${whens.join(" ")} ELSE ${listed.length} END`;
}

/**
 * The query a report reads, with what the report needs of it beside its columns: the key of its source, by which level
 * rows stand, the order by names of what it is grouped by, and columns of the rows that related ones belong to.
 */
function queryWith(spec: ReportSpec, query: QuerySpec, schema: Schema, needed: { join: string; column: string }[]): QuerySpec {
  const key = query.grouped ? [] : (schema.tables.find((t) => t.name === query.source)?.key ?? []);
  const own = [...key.map((column) => ({ join: "", column })), ...needed].filter(
    (n, i, all) => all.findIndex((o) => o.join === n.join && o.column === n.column) === i,
  );
  const columns = own.map((n): QueryColumn => ({ id: neededId(n.join, n.column), value: { kind: "field", ...n }, hidden: true }));
  const grouped = spec.levels.flatMap(({ value }) => (value.kind === "field" && query.columns.some((c) => c.id === value.column) ? [value.column] : []));
  const order = [...new Set(grouped)].filter((id) => !query.order.some((o) => o.column === id)).map((column) => ({ column, direction: "up" as const }));
  return { ...query, columns: [...query.columns, ...columns], order: [...query.order, ...order] };
}

/** The name of a column that is read of a table of the query for the report alone. */
export const neededId = (join: string, column: string) => sourceId(`${join} ${column}`);

/** Over a query whose rows are rows of its tables, those are read at once: then values that do not fit are seen as they are. */
function flattened(outer: Plan, inner: Plan): Plan {
  if (!isPlain(inner)) return outer;
  const known = new Map(inner.columns.map((c) => [c.id, c]));
  const inside = (expr: Expr) => withFields(expr, (field) => known.get(field.column)?.expr ?? field);
  const columns = outer.columns.map((column): PlanColumn => {
    if (column.expr === null) return column;
    const of = column.expr.node === "field" ? known.get(column.expr.column) : undefined;
    const expr = inside(column.expr);
    return { ...column, expr, home: of ? of.home : homeOf(expr, inner), ...(of?.everyRow ? { everyRow: true } : {}) };
  });
  return { ...inner, columns };
}

/**
 * The rows of a report.
 * @param needed columns of the query's tables that the report reads besides
 * @returns the plan of the rows; or all problems, with paths into the report
 */
export function planRows(
  spec: ReportSpec,
  query: QuerySpec,
  schema: Schema,
  context: RunContext,
  needed: { join: string; column: string }[],
): Checked<FiguredRows> {
  const inner = resolveQuery(queryWith(spec, query, schema, needed), schema, context);
  if (!inner.ok) return inner;
  const gone = goneColumns(spec, inner.value);
  if (gone.length > 0) return { ok: false, problems: gone };
  const { columns, places } = askedOf(spec, inner.value);
  const own = inner.value.columns.map((c): QueryColumn => ({ id: c.id, value: { kind: "field", join: "", column: c.id }, label: c.heading, hidden: c.hidden }));
  const outer = resolveOver({ ...overRows(), columns: [...own, ...columns], parameters: query.parameters }, inner.value, context);
  if (!outer.ok) {
    const at = ({ path }: Problem) => (path[0] === "columns" ? (places[Number(path[1]) - own.length] ?? path) : path);
    return { ok: false, problems: outer.problems.map((p) => ({ ...p, path: at(p) })) };
  }
  const problems = [...rowFormulas(spec, inner.value).whens].flatMap(([text, path]) =>
    holdsFigure(text) || outer.value.columns.find((c) => c.id === whenId(text))?.type.kind === "yesno" ? [] : [problem("reportCondition", path)],
  );
  if (problems.length > 0) return { ok: false, problems };
  const known = new Map(inner.value.columns.map((c) => [c.id, c]));
  const asIs = outer.value.columns.map((c): PlanColumn => {
    const of = known.get(c.id);
    return of ? { ...c, heading: of.heading, format: of.format, unit: of.unit, totalled: of.totalled, ...(of.orders ? { orders: of.orders } : {}) } : c;
  });
  const flat = flattened({ ...outer.value, columns: asIs, parameters: inner.value.parameters }, inner.value);
  const rows = ranked(spec, { plan: { ...flat, order: [] }, query: inner.value, levels: [] }, context);
  return rows.ok ? withRowFigures(rows.value, rowFormulasOver(spec, inner.value), query, context) : rows;
}

/** The columns of the query that a report names and that are not there any more. */
function goneColumns(spec: ReportSpec, query: Plan): Problem[] {
  const missing = (value: Grouped | ReportColumn["value"], path: (string | number)[]): Problem[] =>
    value.kind === "field" && !query.columns.some((c) => c.id === value.column) ? [problem("groupGone", path, { column: value.column })] : [];
  return [...spec.levels.flatMap((l, i) => missing(l.value, ["levels", i])), ...spec.columns.flatMap((c, i) => missing(c.value, ["columns", i]))];
}

/** The rows with the order of their groups, level by level: a level that stands by a figure, or shows the first of its groups, is ranked. */
function ranked(spec: ReportSpec, rows: ReportRows, context: RunContext): Checked<ReportRows> {
  let made = rows;
  for (const [i, level] of spec.levels.entries()) {
    const next =
      level.order.by === "figure" || level.first !== undefined ? rankLevel(spec, made, i, context) : { ok: true as const, value: inOrder(made, level) };
    if (!next.ok) return next;
    made = next.value;
  }
  const grouped = made.levels.flatMap((l) => l.order);
  const rest = made.query.order.filter((o) => made.plan.columns.some((c) => c.id === o.column) && !grouped.some((g) => g.column === o.column));
  const keys = made.plan.columns.filter((c) => c.id.startsWith(sourceId(" "))).map((c) => ({ column: c.id, direction: "up" as const }));
  return { ok: true, value: { ...made, plan: { ...made.plan, order: [...grouped, ...rest, ...keys] } } };
}

/** By what the groups of a level stand in order where nothing ranks them: a list, the names of their rows, their values. */
function ownOrder(plan: Plan, { id, value, direction, order }: ReportLevel): Plan["order"] {
  const names = value.kind === "field" ? [byNameId(value.column)] : [];
  const listed = order.by === "list" ? [{ column: placeId(id), direction: "up" as const }] : [];
  const own = [...names, keyId(id)].map((column) => ({ column, direction }));
  return [...listed, ...own].filter((o) => plan.columns.some((c) => c.id === o.column));
}

const inOrder = (rows: ReportRows, level: ReportLevel): ReportRows => ({
  ...rows,
  levels: [...rows.levels, { level, key: keyId(level.id), rest: null, order: ownOrder(rows.plan, level) }],
});

/** The rows with the rank of each one's group, which is worked out over all rows; groups past the first are one. */
function rankLevel(spec: ReportSpec, rows: ReportRows, at: number, context: RunContext): Checked<ReportRows> {
  const level = spec.levels[at];
  if (!level) return { ok: true, value: rows };
  const outer = rows.levels.flatMap((l) => (l.rest ? [l.rest, l.key] : [l.key]));
  const keys = [...outer, keyId(level.id)];
  const asked = keys.map((id): QueryColumn => ({ id, value: { kind: "field", join: "", column: id } }));
  const own = ownOrder(rows.plan, level);
  const orders = own
    .filter((o) => o.column !== keyId(level.id))
    .map((o): QueryColumn => ({ id: o.column, value: { kind: "field", join: "", column: o.column }, figure: "least", hidden: true }));
  const { order } = level;
  const line = order.by === "figure" ? spec.lines.find((l) => l.id === order.line) : undefined;
  const column = order.by === "figure" ? spec.columns.find((c) => c.id === order.column) : undefined;
  const cell = column && line?.cells[column.id];
  const figure = column && cell ? figureColumn("rank by", column, cell) : null;
  // Its figures are of groups, which stand in order first.
  if (column?.value.kind === "formula" && holdsFigure(column.value.text)) return { ok: false, problems: [problem("groupOrderFigure", ["levels", at])] };
  if (order.by === "figure" && !figure) return { ok: false, problems: [problem("groupOrderGone", ["levels", at])] };
  const ranks: QueryColumn = { id: rankId(level.id), value: null, figure: "window", window: { kind: "number", per: outer } };
  const resolved = resolveOver(
    {
      ...overRows(),
      grouped: true,
      columns: [...asked, ...orders, ...(figure ? [figure] : []), ranks],
      order: [...(figure ? [{ column: figure.id, direction: level.direction }] : []), ...own],
    },
    rows.plan,
    context,
  );
  if (!resolved.ok) return { ok: false, problems: resolved.problems.map((p) => ({ ...p, path: ["levels", at] })) };
  return { ok: true, value: joinRank(rows, level, keys, resolved.value) };
}

/** Rows joined with the ranks of their groups. */
function joinRank(rows: ReportRows, level: ReportLevel, keys: string[], ranks: Plan): ReportRows {
  const alias = rankId(level.id);
  const far = (column: string): Expr => ({
    node: "field",
    alias,
    column,
    type: ranks.columns.find((c) => c.id === column)?.type ?? whole,
    storage: "plain",
    guarded: false,
  });
  const near = (id: string): Expr => rows.plan.columns.find((c) => c.id === id)?.expr ?? literal(null, whole);
  const join: PlanJoin = {
    id: alias,
    alias,
    from: rows.plan.source.alias,
    table: { ...tableOfPlan(ranks, alias, alias, true), key: [rankId(level.id)] },
    path: [alias],
    leadsTo: "one",
    back: "many",
    way: "keep",
    on: [],
    query: ranks,
    when: keys.map((id) => call("isSame", [near(id), far(id)], yesno)),
    auxiliary: true,
  };
  const rank = far(rankId(level.id));
  const plain = { heading: "", origin: "", hidden: true, format: {}, totalled: false, home: null };
  const key = rows.plan.columns.find((c) => c.id === keyId(level.id));
  const isRest = call("greater", [rank, literal(String(level.first ?? 0), whole)], yesno);
  const rest = level.first === undefined ? [] : [{ ...plain, id: restId(level.id), expr: isRest, type: yesno }];
  const columns = rows.plan.columns.map((c) =>
    c !== key || level.first === undefined ? c : { ...c, expr: call("case", [call("not", [isRest], yesno), c.expr as Expr], c.type), home: null },
  );
  // Groups put together as the rest have a rank each: they stand behind, in one.
  const shownRank = level.first === undefined ? rank : call("case", [call("not", [isRest], yesno), rank], whole);
  const plan: Plan = {
    ...rows.plan,
    joins: [...rows.plan.joins, join],
    columns: [...columns, ...rest, { ...plain, id: rankId(level.id), expr: shownRank, type: whole }],
  };
  const order: Plan["order"] = [...rest.map((r) => ({ column: r.id, direction: "up" as const })), { column: rankId(level.id), direction: "up" }];
  return { ...rows, plan, levels: [...rows.levels, { level, key: keyId(level.id), rest: rest[0]?.id ?? null, order }] };
}
