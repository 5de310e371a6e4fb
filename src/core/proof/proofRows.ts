import { aliasesOf, both, call, type Expr, isTrue, literal, negated } from "../expression/expr";
import { hasKey } from "../query/groupKeys";
import { JOIN_WAYS } from "../query/joinWays";
import { canCount, countsOf, foundExpr, matchesExpr, nearFound } from "../query/matches";
import { isKey, type Plan, type PlanColumn, type PlanCondition, rowsOfGroups, uncut } from "../query/plan";
import { mayMisfit } from "../schema/column";
import { findColumn } from "../schema/schema";
import { whole, yesno } from "../types/valueType";
import { kept, partJoins } from "./parts";
import type { ProofPick } from "./proof";
import { unmatchedRows } from "./unmatched";

/**
 * The plan of the rows behind one number of a proof: the query's columns, ungrouped, over just those rows.
 * @returns null where the pick names a step the plan does not have
 */
export function planProofRows(plan: Plan, pick: ProofPick): Plan | null {
  const parts = partJoins(plan);
  const base: Plan = {
    ...plan,
    grouped: false,
    groupConditions: [],
    lineConditions: [],
    every: [],
    limit: null,
    firstOf: null,
    columns: detailColumns(plan),
    order: [],
    joins: parts.flatJoins.map(kept),
    conditions: [],
  };
  const withTies = (p: Plan): Plan => ({ ...p, columns: visibleIn(p), tieBreak: tiesOf(p) });
  if (pick.part === "source") return withTies(base);
  if (pick.part === "kept") return withTies({ ...base, conditions: parts.flatConditions });
  const all = { ...base, joins: plan.joins, conditions: plan.conditions };
  const lines = ({ lineConditions = [] }: Plan) => withTies({ ...all, columns: detailColumns(plan, true), lineConditions });
  const { ofGroups } = rowsOfGroups(uncut(plan));
  const shown = { ...all, ...(ofGroups ? { ofGroups } : {}) };
  if (pick.part === "sheet") return plan.grouped ? withTies(shown) : lines(plan);
  if (pick.part === "group") return withTies({ ...shown, conditions: [...plan.conditions, ...groupConditions(plan, pick)] });
  if (!("id" in pick)) return null;
  const late = leftOutLate(plan, pick.id);
  if (pick.part === "leftOutGroups") return late && withTies({ ...all, ofGroups: late });
  if (late && !plan.grouped) return lines(late);

  const flatFilters = [
    ...parts.flatConditions.map((c) => ({ id: c.id, expr: isTrue(c.expr), filters: true })),
    ...parts.flatJoins.filter((j) => !j.auxiliary).map((j) => ({ id: j.id, expr: foundExpr(j), filters: !JOIN_WAYS[j.way].keepsNear })),
  ];
  const at = flatFilters.findIndex((f) => f.id === pick.id);
  if (at >= 0) {
    const chosen = flatFilters[at] as (typeof flatFilters)[number];
    if (pick.part === "repeated") return withTies({ ...base, conditions: [{ id: "none", expr: never, label: "" }] });
    if (pick.part === "unmatched") {
      const join = parts.flatJoins.find((j) => j.id === pick.id);
      const matched = flatFilters.slice(0, at + 1).filter((f) => f.filters || f === chosen);
      return join ? unmatchedRows(join, { ...base, conditions: matched.map((f) => ({ id: f.id, expr: f.expr, label: "" })) }) : null;
    }
    const before = flatFilters.slice(0, at).filter((f) => f.filters);
    const last = pick.part === "found" ? chosen.expr : negated(chosen.expr);
    return withTies({ ...base, conditions: [...before, { ...chosen, expr: last }].map((f) => ({ id: f.id, expr: f.expr, label: "" })) });
  }
  const later = laterRows(pick);
  return later && pick.part !== "unmatched" ? withTies(later) : later;

  /** Rows of a step after a join to many: the real joins and conditions before it, then the step's own test. */
  function laterRows(chosen: { part: string; id: string }): Plan | null {
    const joins = [...parts.flatJoins];
    const conditions = [...parts.flatConditions];
    let waiting = parts.laterConditions;
    const scope = new Set(parts.flat);
    const test = (expr: Expr, id: string): PlanCondition => ({ id, expr, label: "" });
    for (const join of parts.laterJoins) {
      if (join.id === chosen.id) {
        if (chosen.part === "added") {
          const near = nearFound(join, plan);
          return near && { ...base, joins: [...joins, { ...join, way: "other" }], conditions: [...conditions, test(negated(near), join.id)] };
        }
        if (chosen.part === "unmatched") return unmatchedRows(join, { ...base, joins: [...joins, { ...join, way: "only" }], conditions });
        if (join.leadsTo === "many" && !canCount(join)) return null;
        const probe = join.leadsTo === "many" ? countsOf(join, plan) : kept(join);
        const found = foundExpr(probe);
        if (chosen.part === "missing") return { ...base, joins: [...joins, probe], conditions: [...conditions, test(negated(found), join.id)] };
        if (chosen.part === "found") return { ...base, joins: [...joins, probe], conditions: [...conditions, test(found, join.id)] };
        const often = call("greater", [matchesExpr(probe), literal("1", whole)], yesno);
        return { ...base, joins: [...joins, probe, join], conditions: [...conditions, test(both(found, often), join.id)] };
      }
      for (const brought of parts.withDerived(join)) {
        joins.push(brought);
        scope.add(brought.alias);
      }
      const ready = parts.readyAfter(join, waiting, scope);
      for (const condition of ready) {
        if (condition.id === chosen.id) return { ...base, joins, conditions: [...conditions, test(negated(condition.expr), condition.id)] };
        conditions.push(condition);
      }
      waiting = waiting.filter((c) => !ready.includes(c));
    }
    return { ...base, conditions: [test(never, "none")] };
  }
}

/** What a condition on groups or lines leaves out: those before it hold, it does not, and those behind it are not asked; null where there is none of the id. */
function leftOutLate(plan: Plan, id: string): Plan | null {
  const upTo = (list: PlanCondition[] = []): PlanCondition[] | null => {
    const at = list.findIndex((c) => c.id === id);
    const failed = list[at];
    return failed ? [...list.slice(0, at), { ...failed, expr: negated(failed.expr) }] : null;
  };
  const groupConditions = upTo(plan.groupConditions);
  if (groupConditions) return { ...uncut(plan), groupConditions, lineConditions: [] };
  const lineConditions = upTo(plan.lineConditions);
  return lineConditions && { ...uncut(plan), lineConditions };
}

/** What tells the rows of a group, or of several that have their first keys in common. */
function groupConditions({ columns }: Plan, { keys, column }: Extract<ProofPick, { part: "group" }>): PlanCondition[] {
  const condition = ({ id, heading }: PlanColumn, expr: Expr): PlanCondition => ({ id: `group ${id}`, expr, label: heading });
  const ofKeys = columns.filter(isKey).flatMap((c, i) => {
    const key = keys[i];
    return key === undefined || !c.expr ? [] : [condition(c, isTrue(hasKey(c.expr, key)))];
  });
  const figure = columns.find((c) => c.id === column);
  // What a figure does not count is empty to it.
  const counted = figure?.figure && figure.figure !== "formula" && figure.expr ? [condition(figure, call("isNotNull", [figure.expr], yesno))] : [];
  return [...ofKeys, ...counted];
}

const never: Expr = call("is", [literal("0", whole), literal("1", whole)], yesno);

/** The columns shown for the rows behind a number: the source's key, then what the query shows, ungrouped. @param lines with those worked out from the lines beside */
function detailColumns(plan: Plan, lines = false): PlanColumn[] {
  const { table, alias } = plan.source;
  const keys = table.key.flatMap((name): PlanColumn[] => {
    const column = findColumn(table, name);
    if (!column) return [];
    const expr: Expr = { node: "field", alias, column: name, type: column.type, storage: column.storage, guarded: mayMisfit(column) };
    return [
      { id: `key ${name}`, expr, type: column.type, heading: column.label, origin: column.label, hidden: false, format: { grouping: false }, totalled: false },
    ];
  });
  const shown = plan.columns.flatMap((c): PlanColumn[] => {
    // What only orders is for what is worked out in its order.
    if (c.orders !== undefined) return lines ? [c] : [];
    if (c.window && lines) return [{ ...c, hidden: false }];
    if (c.expr === null) return [];
    const { figure, foot, ...rest } = c;
    // A formula over figures has no value for a single row.
    if (figure === "formula") return [];
    return [{ ...rest, type: c.expr.type, hidden: false, format: figure ? {} : c.format, totalled: figure ? figure === "total" : c.totalled }];
  });
  const known = new Set(shown.map((c) => JSON.stringify(c.expr)));
  return [...keys.filter((k) => !known.has(JSON.stringify(k.expr))), ...shown];
}

/** Columns whose tables a proof's step does not reach are left away. */
function visibleIn(plan: Plan): PlanColumn[] {
  const scope = new Set([plan.source.alias, ...plan.joins.map((j) => j.alias)]);
  return plan.columns.filter((c) => [...aliasesOf(c.expr)].every((alias) => scope.has(alias)));
}

function tiesOf(plan: Plan): Expr[] {
  const scope = new Set([plan.source.alias, ...plan.joins.map((j) => j.alias)]);
  const ties = plan.tieBreak.filter((e) => [...aliasesOf(e)].every((alias) => scope.has(alias)));
  return ties.length > 0 ? ties : visibleIn(plan).flatMap((c) => (c.expr ? [c.expr] : []));
}
