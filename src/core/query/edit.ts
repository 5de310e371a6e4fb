import { namedTable } from "../schema/rowNames";
import type { Schema, Step } from "../schema/schema";
import { findColumn, findTable, stepsFrom } from "../schema/schema";
import { isDated, isNumber, type ValueType, whole } from "../types/valueType";
import { aggregateOf, figureStart, firstFigure } from "./aggregates";
import { type AggregateName, type FigureName, type HoldsName, MOST_LETTERS, type OperatorName } from "./choices";
import { comparisonOf, conditionLists, conditionOperands, conditionsIn, isGroup, mapComparisons, mapConditionLists, replaceCondition } from "./conditions";
import { brings, isLinked } from "./joinWays";
import { namesSomething } from "./naming";
import { operandsOf } from "./operands";
import { OPERATORS, operatorsFor, takesPeriod, valuesNeeded } from "./operators";
import { relatedFigure, relatedType } from "./related";
import type { Condition, ConditionTree, Join, Operand, QueryColumn, QuerySpec, Value } from "./spec";
import { WINDOWS } from "./windows";

/*
 * Changes to a description, each a function from one description to the next: what the interface does, without it.
 */

/** A short id that a description does not use yet. */
export function freshId(spec: QuerySpec, stem: string): string {
  const used = new Set([...spec.joins, ...spec.columns, ...conditionLists(spec).flatMap(conditionsIn)].map((x) => x.id));
  for (let n = 1; ; n++) if (!used.has(`${stem}${n}`)) return `${stem}${n}`;
}

/** Whether a join brings a table by a link, so that its columns can be read. */
const isAlong = (join: Join, from: string | undefined, step: Step): boolean =>
  isLinked(join) && join.from === from && join.link === step.link && join.toward === step.toward && brings(join.way);

/** The join that a walk along steps leads to; undefined where the walk has not been brought. "" is the source. */
export function joinAt(spec: QuerySpec, steps: Step[]): string | undefined {
  let at: string | undefined = "";
  for (const step of steps) at = spec.joins.find((j) => isAlong(j, at, step))?.id;
  return at;
}

/** The walk that a join of a description ends. */
export function stepsToJoin(spec: QuerySpec, id: string): Step[] {
  const join = spec.joins.find((j) => j.id === id);
  return join && isLinked(join) ? [...stepsToJoin(spec, join.from), { link: join.link, toward: join.toward }] : [];
}

/** Brings every table on a walk that is not yet brought, keeping rows without a match. */
export function bring(spec: QuerySpec, steps: Step[]): { spec: QuerySpec; join: string } {
  let next = spec;
  let from = "";
  for (const step of steps) {
    const known = next.joins.find((j) => isAlong(j, from, step));
    const join: Join = known ?? { id: freshId(next, "j"), from, link: step.link, toward: step.toward, way: "keep" };
    if (!known) next = { ...next, joins: [...next.joins, join] };
    from = join.id;
  }
  return { spec: next, join: from };
}

const columnsIn = (operand: Operand | null): string[] => (operand?.kind === "field" || operand?.kind === "related" ? [operand.join] : []);
const mentionsTables = (spec: QuerySpec): boolean => operandsOf(spec).some((o) => o.kind === "formula" && o.text.includes("."));

/** Takes away joins that nothing reads any more. One that leaves rows out, or lets rows in, stays: it decides by itself which rows there are. */
export function dropUnusedJoins(spec: QuerySpec): QuerySpec {
  if (mentionsTables(spec)) return spec;
  const used = new Set(operandsOf(spec).flatMap(columnsIn));
  for (const join of [...spec.joins].reverse()) if (used.has(join.id) || join.way !== "keep") used.add(join.id).add(join.from);
  return { ...spec, joins: spec.joins.filter((j) => used.has(j.id)) };
}

export const isTicked = (spec: QuerySpec, steps: Step[], column: string): boolean => {
  const join = joinAt(spec, steps);
  return spec.columns.some((c) => c.value?.kind === "field" && c.value.join === join && c.value.column === column && !c.hidden);
};

/** Ticks or unticks a column in the tree, bringing or letting go what it needs. */
export function toggleColumn(spec: QuerySpec, schema: Schema, steps: Step[], column: string): QuerySpec {
  if (isTicked(spec, steps, column)) {
    const join = joinAt(spec, steps);
    const gone = spec.columns.filter((c) => c.value?.kind === "field" && c.value.join === join && c.value.column === column).map((c) => c.id);
    return removeColumns(spec, gone);
  }
  const brought = bring(spec, steps);
  return showField(brought.spec, schema, { kind: "field", join: brought.join, column });
}

/** A field among the columns: among groups a number becomes a figure, any other a group. */
function showField(spec: QuerySpec, schema: Schema, value: Operand): QuerySpec {
  if (!spec.grouped) return addColumn(spec, { value });
  const type = operandTypeIn(spec, schema, value);
  return type && isNumber(type) ? addColumn(spec, { value, figure: firstFigure(type) }) : addGroup(spec, value);
}

/** One more group, with the others and before their figures. */
function addGroup(spec: QuerySpec, value: Operand): QuerySpec {
  const behind = spec.columns.findLastIndex((c) => !c.figure) + 1;
  return { ...spec, columns: spec.columns.toSpliced(behind, 0, { id: freshId(spec, "c"), value }) };
}

/** The same for a column of a table that was joined by comparisons. */
export function toggleJoined(spec: QuerySpec, schema: Schema, join: string, column: string): QuerySpec {
  const gone = spec.columns.filter((c) => isOf(c, join, column)).map((c) => c.id);
  if (gone.length > 0) return removeColumns(spec, gone);
  return showField(spec, schema, { kind: "field", join, column });
}

/** One more column: a figure over the rows that a link leads to from a table on a walk, which is brought where it was not. */
export function addRelated(spec: QuerySpec, schema: Schema, steps: Step[], step: Step, figure: AggregateName, column: string | null): QuerySpec {
  const { spec: brought, join } = bring(spec, steps);
  return addColumn(brought, { value: relatedFigure(join, step, figure, column, schema), ...(spec.grouped ? { figure: "total" as const } : {}) });
}

/** Whether a column is one of a joined table's, shown or not. */
export const isOf = ({ value }: QueryColumn, join: string, column: string): boolean =>
  value?.kind === "field" && value.join === join && value.column === column;

export function removeColumns(spec: QuerySpec, ids: string[]): QuerySpec {
  return dropUnusedJoins(withoutColumns({ ...spec, columns: spec.columns.filter((c) => !ids.includes(c.id)) }, (column) => !ids.includes(column)));
}

export const changeColumn = (spec: QuerySpec, id: string, change: Partial<QueryColumn>): QuerySpec => ({
  ...spec,
  columns: spec.columns.map((c) => (c.id === id ? { ...c, ...change } : c)),
});

/** Moves a column past its neighbour: a group past the next group, a figure past the next figure. */
export function moveColumn(spec: QuerySpec, id: string, by: -1 | 1): QuerySpec {
  const at = spec.columns.findIndex((c) => c.id === id);
  if (at < 0) return spec;
  const isAlike = (column: QueryColumn | undefined) => !spec.grouped || Boolean(column?.figure) === Boolean(spec.columns[at]?.figure);
  let to = at + by;
  while (to >= 0 && to < spec.columns.length && !isAlike(spec.columns[to])) to += by;
  if (to < 0 || to >= spec.columns.length) return spec;
  const columns = [...spec.columns];
  [columns[at], columns[to]] = [columns[to] as QueryColumn, columns[at] as QueryColumn];
  return { ...spec, columns };
}

export const addColumn = (spec: QuerySpec, column: Omit<QueryColumn, "id">): QuerySpec => ({
  ...spec,
  columns: [...spec.columns, { ...column, id: freshId(spec, "c") }],
});

/** The table a join of a description leads to. */
export function tableOf(spec: QuerySpec, schema: Schema, join: string): string | undefined {
  if (join === "") return spec.source;
  const found = spec.joins.find((j) => j.id === join);
  if (found && !isLinked(found)) return found.table;
  return found && schema.links.find((l) => l.id === found.link)?.[found.toward].table;
}

/** The type of a field operand, without resolving the whole description. */
export function operandTypeIn(spec: QuerySpec, schema: Schema, operand: Operand): ValueType | undefined {
  if (operand.kind === "column") return figureTypeIn(spec, schema, operand.id);
  if (operand.kind === "formula") return undefined;
  if (operand.kind === "related") return relatedType(operand, schema);
  const table = findTable(schema, tableOf(spec, schema, operand.join) ?? "");
  return table && findColumn(table, operand.column)?.type;
}

/** The type of one of a query's own columns, as far as the description tells. */
function figureTypeIn(spec: QuerySpec, schema: Schema, id: string): ValueType | undefined {
  const column = spec.columns.find((c) => c.id === id);
  const type = column?.value ? operandTypeIn(spec, schema, column.value) : undefined;
  if (!column?.figure) return type;
  if (column.figure === "window") return column.window && WINDOWS[column.window.kind].gives(type ?? whole);
  return column.figure === "count" || column.figure === "countDifferent" ? { kind: "whole" } : type && aggregateOf(column.figure)?.gives(type);
}

/** A comparison of a field as it is first offered. */
export function firstComparison(spec: QuerySpec, schema: Schema, left: Operand): Condition {
  const type = operandTypeIn(spec, schema, left) ?? { kind: "text" as const };
  const operator: OperatorName = isDated(type) ? "between" : left.kind === "column" && isNumber(type) ? "atLeast" : "is";
  return { id: freshId(spec, "w"), left, operator, values: blank(operator) };
}

export function addCondition(spec: QuerySpec, schema: Schema, left: Operand): { spec: QuerySpec; id: string } {
  const condition = firstComparison(spec, schema, left);
  return { spec: { ...spec, conditions: [...spec.conditions, condition] }, id: condition.id };
}

/** What a group must meet to be shown: a comparison of one of the query's own columns. */
export function addGroupCondition(spec: QuerySpec, schema: Schema, column: string): QuerySpec {
  const condition = firstComparison(spec, schema, { kind: "column", id: column });
  return { ...spec, groupConditions: [...(spec.groupConditions ?? []), condition] };
}

/** What a line of the sheet must meet to be shown: a comparison of one of the query's own columns, worked out from the lines beside it or not. */
export function addLineCondition(spec: QuerySpec, schema: Schema, column: string): QuerySpec {
  const condition = firstComparison(spec, schema, { kind: "column", id: column });
  return { ...spec, lineConditions: [...(spec.lineConditions ?? []), condition] };
}

/** A condition beside another, of which one is enough: in its group, where that is one of alternatives, else in a new one. */
export function addAlternative(spec: QuerySpec, schema: Schema, id: string, left: Operand): QuerySpec {
  const added = firstComparison(spec, schema, left);
  const around = conditionLists(spec)
    .flatMap(conditionsIn)
    .find((c) => isGroup(c) && c.holds === "any" && c.of.some((inner) => inner.id === id));
  if (around) return addToGroup(spec, schema, around.id, left);
  const group = freshId(spec, "g");
  return mapConditionLists(spec, (list) => replaceCondition(list, id, (c) => [{ id: group, holds: "any", of: [c, added] }]));
}

/** What a row must meet to be counted in one figure. */
export function addFigureCondition(spec: QuerySpec, schema: Schema, column: string, left: Operand): QuerySpec {
  const condition = firstComparison(spec, schema, left);
  return { ...spec, columns: spec.columns.map((c) => (c.id === column ? { ...c, where: [...(c.where ?? []), condition] } : c)) };
}

/** A column's figure changed for another, with what that starts with. */
export const asFigure = (column: QueryColumn, figure: FigureName): Partial<QueryColumn> => ({ figure, ...figureStart(figure, column.percent) });

/** One more condition in a group. */
export function addToGroup(spec: QuerySpec, schema: Schema, group: string, left: Operand): QuerySpec {
  const added = firstComparison(spec, schema, left);
  return mapConditionLists(spec, (list) => replaceCondition(list, group, (c) => [isGroup(c) ? { ...c, of: [...c.of, added] } : c]));
}

/** How many of a group's conditions must hold. */
export const setHolds = (spec: QuerySpec, group: string, holds: HoldsName): QuerySpec =>
  mapConditionLists(spec, (list) => replaceCondition(list, group, (c) => [isGroup(c) ? { ...c, holds } : c]));

/** A group's conditions one by one, each of which must then hold. */
export const dissolveGroup = (spec: QuerySpec, group: string): QuerySpec =>
  mapConditionLists(spec, (list) => replaceCondition(list, group, (c) => (isGroup(c) ? c.of : [c])));

const blank = (operator: OperatorName) => Array.from({ length: valuesNeeded(operator) }, () => ({ kind: "value" as const, text: "" }));

export const changeCondition = (spec: QuerySpec, id: string, change: Partial<Condition>): QuerySpec =>
  mapConditionLists(spec, (list) => mapComparisons(list, (c) => (c.id === id ? { ...c, ...change } : c)));

/** Another comparison, keeping the values it has use for. */
export function changeOperator(spec: QuerySpec, id: string, operator: OperatorName): QuerySpec {
  const condition = comparisonOf(spec, id);
  const ofRows = OPERATORS[operator].values === "rows";
  // A period is no date, and rows are no value.
  const stays = (v: Value) => (v.kind === "rows") === ofRows && takesPeriod(operator) === (condition !== undefined && takesPeriod(condition.operator));
  const kept = blank(operator).map((empty, i) => condition?.values.filter(stays)[i] ?? empty);
  return changeCondition(spec, id, { operator, values: kept });
}

/** Another field; comparison and values stay where the new type allows them. */
export function changeConditionField(spec: QuerySpec, schema: Schema, id: string, left: Operand): QuerySpec {
  const condition = comparisonOf(spec, id);
  const was = condition && operandTypeIn(spec, schema, condition.left);
  const type = operandTypeIn(spec, schema, left);
  const next = changeCondition(spec, id, { left });
  if (type && was && type.kind === was.kind) return next;
  const fits = type && condition && operatorsFor(type).includes(condition.operator);
  const operator: OperatorName = fits && condition ? condition.operator : "is";
  return changeCondition(next, id, { operator, values: blank(operator) });
}

/** A condition taken away, or a group with all it holds. */
export const removeCondition = (spec: QuerySpec, id: string): QuerySpec =>
  dropUnusedJoins(mapConditionLists(spec, (list) => replaceCondition(list, id, () => [])));

/** Lets a table go, with all that was brought from it and every column and condition that reads it. */
export function removeJoin(spec: QuerySpec, id: string): QuerySpec {
  const gone = new Set([id]);
  for (const join of spec.joins) if (gone.has(join.from)) gone.add(join.id);
  const stays = (operand: Operand | null) => !columnsIn(operand).some((join) => gone.has(join));
  // A list goes on without its order; which row is first or last cannot be told without it.
  const columns = spec.columns.flatMap((c): QueryColumn[] => {
    if (!stays(c.value)) return [];
    if (!c.by || stays(c.by)) return [c];
    return aggregateOf(c.figure)?.order === "needed" || aggregateOf(c.figure)?.weighs ? [] : [{ ...c, by: undefined }];
  });
  const left: QuerySpec = { ...spec, joins: spec.joins.filter((j) => !gone.has(j.id)), columns };
  return withoutColumns(
    mapConditionLists(left, (list) => mapComparisons(list, (c) => (conditionOperands(c).every(stays) ? c : null))),
    (column) => columns.some((c) => c.id === column),
  );
}

/** A description without what names columns it no longer has: in its order, and in conditions on its groups and lines. */
function withoutColumns(spec: QuerySpec, stays: (column: string) => boolean): QuerySpec {
  const reads = (value: Operand | Value) => value.kind === "column" && !stays(value.id);
  const kept = (list: ConditionTree[] = []) => mapComparisons(list, (c) => ([c.left, ...c.values].some(reads) ? null : c));
  const [ofGroups, ofLines] = [kept(spec.groupConditions), kept(spec.lineConditions)];
  const { groupConditions: _, lineConditions: __, firstOf, ...rest } = spec;
  const next: QuerySpec = {
    ...rest,
    columns: spec.columns.flatMap((c) => withoutNamed(c, stays)),
    order: spec.order.filter((o) => stays(o.column)),
    ...(ofGroups.length > 0 ? { groupConditions: ofGroups } : {}),
    ...(ofLines.length > 0 ? { lineConditions: ofLines } : {}),
    ...(firstOf?.per.every(stays) ? { firstOf } : {}),
  };
  // What was worked out from a column that went goes too, and with it what names that.
  return next.columns.length === spec.columns.length ? next : withoutColumns(next, (id) => next.columns.some((c) => c.id === id));
}

/** A column worked out from others, without those that are gone; none where the one it is of is. */
function withoutNamed(column: QueryColumn, stays: (column: string) => boolean): QueryColumn[] {
  const { window, value } = column;
  if (!window) return [column];
  if (value?.kind === "column" && !stays(value.id)) return [];
  const { by, per, ...rest } = window;
  const kept = per?.filter(stays) ?? [];
  return [{ ...column, window: { ...rest, ...(by !== undefined && stays(by) ? { by } : {}), ...(kept.length > 0 ? { per: kept } : {}) } }];
}

/** A field as it is first grouped by: a date by its month, which can be changed where it stands. */
function asGroup(spec: QuerySpec, schema: Schema, value: Operand): Operand {
  const type = operandTypeIn(spec, schema, value);
  return value.kind === "field" && !value.part && type && isDated(type) ? { ...value, part: "month" } : value;
}

/**
 * What a group's values are put together by, as a person types it: bands of one width, limits of their own, or first
 * letters; nothing typed takes it off. Width and limits replace each other.
 */
export function setGroupPart(spec: QuerySpec, id: string, { band, limits, letters }: Partial<Record<"band" | "limits" | "letters", string>>): QuerySpec {
  const value = spec.columns.find((c) => c.id === id)?.value;
  if (value?.kind !== "field") return spec;
  const field: Operand = { kind: "field", join: value.join, column: value.column };
  const listed = limits?.split(/[;\s]+/).filter((limit) => limit !== "") ?? [];
  const count = Number.parseInt(letters ?? "", 10);
  const parted: Operand = {
    ...field,
    ...(band?.trim() ? { band: { width: band.trim() } } : {}),
    ...(listed.length > 0 ? { limits: listed } : {}),
    ...(count > 0 ? { letters: Math.min(count, MOST_LETTERS) } : {}),
  };
  return changeColumn(spec, id, { value: parted });
}

/** One row per a field: what was shown becomes figures where it can, and goes where it cannot, with what was worked out from it. */
export function groupBy(spec: QuerySpec, schema: Schema, field: Operand): QuerySpec {
  const value = asGroup(spec, schema, field);
  if (spec.grouped) return addGroup(spec, value);
  const type = (column: QueryColumn) => (column.value ? operandTypeIn(spec, schema, column.value) : undefined);
  const figures = spec.columns.filter((c) => {
    const t = c.figure ? undefined : type(c);
    return t && isNumber(t) && !c.hidden && !isName(spec, schema, c.value);
  });
  const key: QueryColumn = { id: freshId(spec, "c"), value };
  const count: QueryColumn = { id: "count", value: null, figure: "count" };
  const windows = spec.columns.filter((c) => c.figure === "window");
  const columns = [key, count, ...figures.map((c) => ({ ...c, figure: "total" as const })), ...windows];
  return dropUnusedJoins(withoutColumns({ ...spec, grouped: true, columns }, (id) => columns.some((c) => c.id === id)));
}

/** Whether a field is a number that names something, as a key does: its total would say nothing. */
function isName(spec: QuerySpec, schema: Schema, operand: Operand | null): boolean {
  if (operand?.kind !== "field") return false;
  const table = findTable(schema, tableOf(spec, schema, operand.join) ?? "");
  const column = table && findColumn(table, operand.column);
  return table !== undefined && column !== undefined && namesSomething(schema, { table, column });
}

/** Back to one row for each row: figures are shown as the values they were made of, and what was worked out from them is where it still can be. */
export function ungroup(spec: QuerySpec, schema: Schema): QuerySpec {
  const still = ({ value, window }: QueryColumn): boolean => {
    const of = value?.kind === "column" ? spec.columns.find((c) => c.id === value.id) : undefined;
    const type = of?.value ? operandTypeIn(spec, schema, of.value) : undefined;
    const takes = window && WINDOWS[window.kind].takes;
    return (window?.back ?? "row") === "row" && (!takes || (type !== undefined && takes(type)));
  };
  const columns = spec.columns.flatMap((c) => {
    if (c.figure === "window") return still(c) ? [c] : [];
    return c.value === null ? [] : [{ ...c, figure: undefined, where: undefined }];
  });
  return withoutColumns({ ...spec, grouped: false, columns, groupConditions: [] }, (column) => columns.some((c) => c.id === column));
}

/**
 * The columns a new query of a table starts with: not its numbered keys, nor columns that link to rows without names.
 * @param links whether those are among them that link to rows with names, by which they are shown
 */
export function firstColumns(schema: Schema, source: string, links = true): QuerySpec["columns"] {
  const table = findTable(schema, source);
  if (!table) return [];
  const linking = new Set(stepsFrom(schema, source).flatMap((s) => s.near.columns));
  const shown = table.columns.filter((c) => !linking.has(c.name) || (links && namedTable(schema, source, c.name) !== undefined));
  return (shown.length > 0 ? shown : table.columns).map((c, i) => ({ id: `c${i + 1}`, value: { kind: "field" as const, join: "", column: c.name } }));
}
