import { call, type Expr, literal, withFields } from "../expression/expr";
import { homeOf } from "../query/home";
import { type RunContext, sameName } from "../query/operands";
import { overRows, resolveOver } from "../query/over";
import type { Plan, PlanColumn, PlanJoin } from "../query/plan";
import { tableOfPlan } from "../query/planTable";
import type { QueryColumn, QuerySpec } from "../query/spec";
import { type Checked, type Problem, problem } from "../types/problem";
import { whole, yesno } from "../types/valueType";
import { GRAND } from "./choices";
import type { ReportSpec } from "./spec";
import { holdsFigure, partsOfFormula } from "./texts";

/*
 * Formulas of a row that hold figures of the groups it is in, such as freight / SUM(freight): the figures are worked out by groups,
 * joined to the rows, and stand in the formula as values of the row.
 *
 *   formula ─▶ figures ─▶ a query over the rows, by the keys of a level ─▶ joined ─▶ the formula over row and figures
 */

/** The figures of the groups of a depth that rows hold; `columns` are their places in `plan` and their ids among the rows. */
export type RowFigures = { depth: number; plan: Plan; keys: number[]; columns: { at: number; id: string }[] };

/** A formula of the rows: the column it is of, over the groups of which depth, and where it stands in the report. */
export type RowFormula = { id: string; text: string; depth: number; path: (string | number)[]; column: Partial<QueryColumn>; isCondition: boolean };

/** The depth of the groups that a column's figures are over. */
export function depthOver(spec: Pick<ReportSpec, "levels">, over: string | undefined): number {
  const at = spec.levels.findIndex((l) => l.id === over);
  return over === GRAND ? 0 : at < 0 ? spec.levels.length : at + 1;
}

/** The rows of a report, as far as they are planned. */
type Rows = { plan: Plan; query: Plan; levels: { key: string; rest: string | null }[] };

const ONE = "one";

/** Rows with formulas that hold figures worked out. @param formulas those of the rows, whose columns stand empty so far */
export function withRowFigures<R extends Rows>(rows: R, formulas: RowFormula[], query: QuerySpec, context: RunContext): Checked<R & { figures: RowFigures[] }> {
  const held = formulas.filter((f) => holdsFigure(f.text));
  let plan = rows.plan;
  const figures: RowFigures[] = [];
  const columns: QueryColumn[] = [];
  for (const depth of [...new Set(held.map((f) => f.depth))]) {
    const own = held.filter((f) => f.depth === depth);
    const made = figuresOfDepth(rows, own, depth, query, context);
    if (!made.ok) return made;
    const { join, far, figures: found, formulas: written } = made.value;
    plan = { ...plan, joins: [...plan.joins, join], columns: [...plan.columns, ...far] };
    figures.push(found);
    columns.push(...own.map((f, i): QueryColumn => ({ ...f.column, id: f.id, value: { kind: "formula", text: written[i] ?? "" } })));
  }
  if (columns.length === 0) return { ok: true, value: { ...rows, figures } };
  const queried = new Set(rows.query.columns.map((c) => c.id));
  const isFigure = (id: string) => figures.some((f) => f.columns.some((c) => c.id === id));
  const given: Plan = { ...plan, order: [], columns: plan.columns.filter((c) => queried.has(c.id) || isFigure(c.id)) };
  const outer = resolveOver({ ...overRows(), columns, parameters: query.parameters }, given, context);
  const pathOf = (id: string | undefined) => held.find((f) => f.id === id)?.path ?? [];
  if (!outer.ok)
    return { ok: false, problems: outer.problems.map((p) => ({ ...p, path: p.path[0] === "columns" ? pathOf(columns[Number(p.path[1])]?.id) : p.path })) };
  const exprOf = (column: string) => plan.columns.find((c) => c.id === column)?.expr ?? null;
  const inside = (expr: Expr, leaf: (column: string) => Expr | null) => withFields(expr, (field) => leaf(field.column) ?? field);
  const problems: Problem[] = [];
  const worked = new Map(
    columns.map(({ id }): [string, PlanColumn] => {
      const column = outer.value.columns.find((c) => c.id === id) as PlanColumn;
      if (held.find((f) => f.id === id)?.isCondition && column.type.kind !== "yesno") problems.push(problem("reportCondition", pathOf(id)));
      const expr = inside(column.expr as Expr, exprOf);
      // It stands where what it reads of the row stands; the figures are the same for all of its group.
      const home = homeOf(
        inside(column.expr as Expr, (c) => (isFigure(c) ? literal(null, whole) : exprOf(c))),
        rows.plan,
      );
      return [id, { ...column, expr, home }];
    }),
  );
  if (problems.length > 0) return { ok: false, problems };
  return { ok: true, value: { ...rows, figures, plan: { ...plan, columns: plan.columns.map((c) => worked.get(c.id) ?? c) } } };
}

type Made = { join: PlanJoin; far: PlanColumn[]; figures: RowFigures; formulas: string[] };

/** The figures of formulas over the groups of one depth, as a query that is joined to the rows. */
function figuresOfDepth(rows: Rows, formulas: RowFormula[], depth: number, query: QuerySpec, context: RunContext): Checked<Made> {
  const { plan, levels } = rows;
  const alias = `figures ${depth}`;
  const texts: string[] = [];
  // Named as no column of the query is.
  const stem = (name: string): string => (rows.query.columns.some((c) => sameName(c.heading, name)) ? stem(`${name}'`) : name);
  const nameOf = (n: number) => stem(`figure ${depth}.${n}`);
  const written = formulas.map(({ text }) => {
    const parts = partsOfFormula(text, (n) => nameOf(placeOf(partsOfFormula(text, String).figures[n] ?? "")));
    return parts.formula;
  });
  function placeOf(figure: string): number {
    const known = texts.indexOf(figure);
    return known < 0 ? texts.push(figure) - 1 : known;
  }
  const ids = levels.slice(0, depth).flatMap((l) => (l.rest ? [l.rest, l.key] : [l.key]));
  const keys: QueryColumn[] =
    ids.length > 0 ? ids.map((id) => ({ id, value: { kind: "field", join: "", column: id } })) : [{ id: ONE, value: { kind: "formula", text: "1" } }];
  const asked = texts.map((text, n): QueryColumn => ({ id: nameOf(n), value: { kind: "formula", text }, figure: "formula" }));
  const resolved = resolveOver({ ...overRows(), grouped: true, columns: [...keys, ...asked], parameters: query.parameters }, { ...plan, order: [] }, context);
  if (!resolved.ok) {
    const at = ({ path }: Problem) => {
      const text = path[0] === "columns" ? texts[Number(path[1]) - keys.length] : undefined;
      return formulas.find((f) => text !== undefined && f.text.includes(text))?.path ?? path;
    };
    return { ok: false, problems: resolved.problems.map((p) => ({ ...p, path: at(p) })) };
  }
  const grouped: Plan = { ...resolved.value, parameters: plan.parameters };
  const place = (id: string) => grouped.columns.findIndex((c) => c.id === id);
  const field = (column: string): Expr => ({
    node: "field",
    alias,
    column,
    type: grouped.columns[place(column)]?.type ?? whole,
    storage: "plain",
    guarded: false,
  });
  const near = (id: string): Expr => (id === ONE ? literal("1", whole) : (plan.columns.find((c) => c.id === id)?.expr ?? literal(null, whole)));
  const far = asked.map(({ id }): PlanColumn => {
    const type = grouped.columns[place(id)]?.type ?? whole;
    return { id, expr: field(id), type, heading: id, origin: "", hidden: true, format: {}, totalled: false, home: null };
  });
  const join: PlanJoin = {
    id: alias,
    alias,
    from: plan.source.alias,
    table: { ...tableOfPlan(grouped, alias, alias, true), key: keys.map((k) => k.id) },
    path: [alias],
    leadsTo: "one",
    back: "many",
    way: "keep",
    on: [],
    query: grouped,
    when: keys.map(({ id }) => call("isSame", [near(id), field(id)], yesno)),
    auxiliary: true,
  };
  const columns = asked.map(({ id }) => ({ at: place(id), id }));
  return { ok: true, value: { join, far, formulas: written, figures: { depth, plan: grouped, keys: ids.map(place), columns } } };
}
