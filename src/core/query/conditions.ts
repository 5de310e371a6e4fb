import { isLinked } from "./joinWays";
import type { Condition, ConditionGroup, ConditionTree, Join, Operand, QuerySpec } from "./spec";

/*
 * Conditions as a tree: each is a comparison, or a group of conditions of which all, any or none must hold. Every
 * condition of a description has an id of its own, wherever it stands.
 */

export const isGroup = (condition: ConditionTree): condition is ConditionGroup => "of" in condition;

/** The comparisons of a tree, in the order they are written. */
export const comparisonsIn = (conditions: ConditionTree[]): Condition[] => conditions.flatMap((c) => (isGroup(c) ? comparisonsIn(c.of) : [c]));

/** Every condition of a tree, groups before what they hold. */
export const conditionsIn = (conditions: ConditionTree[]): ConditionTree[] => conditions.flatMap((c) => (isGroup(c) ? [c, ...conditionsIn(c.of)] : [c]));

/** A tree with each comparison replaced; one that is replaced by nothing goes, and so does a group left without any. */
export function mapComparisons(conditions: ConditionTree[], replace: (condition: Condition) => ConditionTree | null): ConditionTree[] {
  return conditions.flatMap((c): ConditionTree[] => {
    if (!isGroup(c)) return [replace(c)].filter((kept) => kept !== null);
    const of = mapComparisons(c.of, replace);
    return of.length === 0 ? [] : [{ ...c, of }];
  });
}

/** A tree with the condition of an id replaced, be it a comparison or a group; a group left empty goes. */
export function replaceCondition(conditions: ConditionTree[], id: string, replace: (condition: ConditionTree) => ConditionTree[]): ConditionTree[] {
  return conditions.flatMap((c): ConditionTree[] => {
    if (c.id === id) return replace(c);
    if (!isGroup(c)) return [c];
    const of = replaceCondition(c.of, id, replace);
    return of.length === 0 ? [] : [{ ...c, of }];
  });
}

/** What the rows of a joined table must meet to be a match. */
export const joinConditions = (join: Join): ConditionTree[] => (isLinked(join) ? (join.where ?? []) : join.on);

type Conditioned = Pick<QuerySpec, "conditions" | "columns"> & Partial<Pick<QuerySpec, "joins" | "groupConditions" | "lineConditions">>;

/** Every list of conditions a description holds: of its rows, of its groups, of its lines, of single figures and of joined tables. */
export const conditionLists = (spec: Conditioned): ConditionTree[][] => [
  spec.conditions,
  spec.groupConditions ?? [],
  spec.lineConditions ?? [],
  ...spec.columns.map((c) => c.where ?? []),
  ...(spec.joins ?? []).map(joinConditions),
];

/** A description with each of its lists of conditions changed. A list it does not have stays away. */
export function mapConditionLists(spec: QuerySpec, change: (conditions: ConditionTree[]) => ConditionTree[]): QuerySpec {
  const optional = (list: ConditionTree[] | undefined) => {
    const next = change(list ?? []);
    return next.length === 0 ? undefined : next;
  };
  return {
    ...spec,
    conditions: change(spec.conditions),
    ...(spec.groupConditions ? { groupConditions: optional(spec.groupConditions) } : {}),
    ...(spec.lineConditions ? { lineConditions: optional(spec.lineConditions) } : {}),
    columns: spec.columns.map((c) => (c.where ? { ...c, where: optional(c.where) } : c)),
    joins: spec.joins.map((j) => (isLinked(j) ? (j.where ? { ...j, where: optional(j.where) } : j) : { ...j, on: change(j.on) })),
  };
}

/** The comparison of an id, wherever it stands. */
export const comparisonOf = (spec: Conditioned, id: string): Condition | undefined =>
  conditionLists(spec)
    .flatMap(comparisonsIn)
    .find((c) => c.id === id);

/** The group of conditions of an id. */
export const groupOf = (spec: Conditioned, id: string): ConditionGroup | undefined =>
  conditionLists(spec)
    .flatMap(conditionsIn)
    .find((c): c is ConditionGroup => c.id === id && isGroup(c));

/** What a condition asks of: the query's rows, its groups, the lines of its sheet, or the rows of a table that only have to match. */
export type ConditionPlace = { of: "rows" } | { of: "groups" } | { of: "lines" } | { of: "match"; join: string };

/** Where the condition of an id stands, a comparison or a group; undefined where there is none. Conditions of a figure are on rows. */
export function placeOf(spec: Conditioned, id: string): ConditionPlace | undefined {
  const holds = (list: ConditionTree[] | undefined) => conditionsIn(list ?? []).some((c) => c.id === id);
  if (holds(spec.groupConditions)) return { of: "groups" };
  if (holds(spec.lineConditions)) return { of: "lines" };
  const join = spec.joins?.find((j) => holds(joinConditions(j)));
  if (join) return { of: "match", join: join.id };
  return holds(spec.conditions) || spec.columns.some((c) => holds(c.where)) ? { of: "rows" } : undefined;
}

/** What a condition compares: its field, and the fields it is compared with. */
export const conditionOperands = (condition: Condition): Operand[] => [condition.left, ...condition.values.filter((v) => v.kind === "field")];

/** What a tree of conditions compares. */
export const operandsIn = (conditions: ConditionTree[]): Operand[] => comparisonsIn(conditions).flatMap(conditionOperands);
