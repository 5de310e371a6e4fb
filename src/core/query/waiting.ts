import { comparisonsIn, conditionLists, mapComparisons } from "./conditions";
import { OPERATORS, valuesNeeded } from "./operators";
import type { Condition, ConditionTree, QuerySpec, Value } from "./spec";

/*
 * Conditions that were added and have no value yet. While a query is worked on they wait: the sheet keeps the rows it
 * has until the value is there. A query that is read by something else is not read without them.
 */

const isOpen = (value: Value | undefined): boolean => value === undefined || (value.kind === "value" && value.text === "");

/** The place of the first value that a comparison still needs; undefined where it has all it needs. */
export function openValue({ operator, values }: Condition): number | undefined {
  const { values: shape } = OPERATORS[operator];
  if (shape === "rows") return values[0]?.kind === "rows" ? undefined : 0;
  if (shape === "many") return values.every(isOpen) ? 0 : undefined;
  const open = Array.from({ length: valuesNeeded(operator) }, (_, i) => values[i]).findIndex(isOpen);
  return open < 0 ? undefined : open;
}

const isWaiting = (condition: Condition): boolean => openValue(condition) !== undefined;

/** The comparisons of a description that wait for a value, wherever they stand. */
export const waitingIn = (spec: QuerySpec): Condition[] => conditionLists(spec).flatMap(comparisonsIn).filter(isWaiting);

/**
 * A description without the comparisons on its rows, its groups, its lines and its figures that wait for a value. Those of joins
 * stay: without one of them a join would find other rows.
 */
export function withoutWaiting(spec: QuerySpec): QuerySpec {
  const given = (list: ConditionTree[]) => mapComparisons(list, (c) => (isWaiting(c) ? null : c));
  return {
    ...spec,
    conditions: given(spec.conditions),
    ...(spec.groupConditions ? { groupConditions: given(spec.groupConditions) } : {}),
    ...(spec.lineConditions ? { lineConditions: given(spec.lineConditions) } : {}),
    columns: spec.columns.map((c) => (c.where ? { ...c, where: given(c.where) } : c)),
  };
}

/** The value to ask for after a change: of a comparison that is new, or is another than it was, and waits for one. */
export function askedNext(before: QuerySpec, after: QuerySpec): { id: string; index: number } | undefined {
  const operators = new Map(
    conditionLists(before)
      .flatMap(comparisonsIn)
      .map((c) => [c.id, c.operator]),
  );
  const asks = waitingIn(after).find((c) => operators.get(c.id) !== c.operator);
  return asks && { id: asks.id, index: openValue(asks) ?? 0 };
}

/** The value of a comparison that is asked for after one of its values was left: the next one it needs. */
export function nextValue(spec: QuerySpec, left: { id: string; index: number }): { id: string; index: number } | undefined {
  const condition = waitingIn(spec).find((c) => c.id === left.id);
  const index = condition && openValue(condition);
  return index !== undefined && index > left.index ? { id: left.id, index } : undefined;
}
