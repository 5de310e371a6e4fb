import { writtenOut } from "../posting/coerce";
import type { Schema } from "../schema/schema";
import { addDays, type Period, shiftPeriod } from "../types/date";
import { type Cell, isCarried, isDated, isMisfit, isNumber, type ValueType } from "../types/valueType";
import type { OperatorName } from "./choices";
import { comparisonOf, comparisonsIn } from "./conditions";
import { addCondition, addGroupCondition, addLineCondition, changeCondition, freshId } from "./edit";
import type { PlanColumn } from "./plan";
import type { Condition, ConditionTree, Operand, QuerySpec, Value } from "./spec";

/*
 * Conditions that start from what stands in a sheet: a cell, several of a column, a stretch of its values.
 */

/** What a cell offers: only rows like it, none like it, those from it on or up to it. */
export const CELL_DEEDS = ["keep", "leaveOut", "from", "upTo"] as const;
export type CellDeed = (typeof CELL_DEEDS)[number];

type FieldOperand = Extract<Operand, { kind: "field" }>;

/** Where a condition from a sheet goes: among those on rows, on groups, or on lines. */
type ConditionsOf = "rows" | "groups" | "lines";

/**
 * What a condition on a column of the sheet asks of: its operand for rows and what groups are made by, the column itself
 * for a figure, and when the lines are there for what is worked out from those beside; null where it cannot be asked.
 */
export function leftOfColumn(spec: QuerySpec, id: string): { left: Operand; of: ConditionsOf } | null {
  const column = spec.columns.find((c) => c.id === id);
  if (!column) return null;
  if (column.figure === "window") return { left: { kind: "column", id }, of: "lines" };
  if (column.figure) return { left: { kind: "column", id }, of: "groups" };
  return column.value === null ? null : { left: column.value, of: "rows" };
}

/** A description with a condition on a column of the sheet, whose value is still to be given; unchanged where it cannot be asked. */
export function askColumn(spec: QuerySpec, schema: Schema, id: string): QuerySpec {
  const at = leftOfColumn(spec, id);
  if (!at) return spec;
  if (at.of === "rows") return addCondition(spec, schema, at.left).spec;
  return at.of === "groups" ? addGroupCondition(spec, schema, id) : addLineCondition(spec, schema, id);
}

/** The field a date's period is of, where a column shows periods that have a first and a last day. */
function periodOf(left: Operand): { field: FieldOperand; part: Period } | null {
  if (left.kind !== "field" || !left.part || left.part === "weekday") return null;
  return { field: { kind: "field", join: left.join, column: left.column }, part: left.part };
}

const lastDay = (first: string, part: Period): string => addDays(shiftPeriod(first.slice(0, 10), part, 1), -1);

/** What can be done with a cell of a column: a value that does not fit its type can be asked for by nothing. */
export function cellDeeds(spec: QuerySpec, column: PlanColumn, cell: Cell): CellDeed[] {
  if (!leftOfColumn(spec, column.id) || isMisfit(cell)) return [];
  const ordered = cell !== null && (isNumber(column.type) || isDated(column.type));
  // What is shown of a quotient is rounded: nothing else may be the same.
  const same = !isCarried(column.type) && column.type.kind !== "floating";
  return CELL_DEEDS.filter((deed) => (deed === "from" || deed === "upTo" ? ordered : same || cell === null));
}

type Compared = { left: Operand; operator: OperatorName; texts: string[] };

/**
 * Adds what some values of a column say of rows, of groups or of lines.
 * @param cells of one column of the sheet, as they stand in it; empty ones are asked for as such
 * @returns the description unchanged where the column cannot be asked for them
 * @example withCells(spec, islandColumn, ["Pell"], "keep") // … where island is Pell
 */
export function withCells(spec: QuerySpec, column: PlanColumn, cells: Cell[], deed: CellDeed): QuerySpec {
  const at = leftOfColumn(spec, column.id);
  const values = [...new Set(cells)].filter((c): c is string | number => c !== null && !isMisfit(c));
  const empty = cells.includes(null);
  if (!at || (values.length === 0 && !empty)) return spec;
  const period = periodOf(at.left);
  const compared: Compared[] = period ? periodsCompared(period, values, deed) : valuesCompared(at.left, column.type, values, deed);
  if (empty && (deed === "keep" || deed === "leaveOut")) compared.push({ left: at.left, operator: deed === "keep" ? "empty" : "notEmpty", texts: [] });
  return added(spec, at.of, compared, deed === "keep" ? "any" : "all");
}

function valuesCompared(left: Operand, type: ValueType, values: (string | number)[], deed: CellDeed): Compared[] {
  const texts = values.map((v) => writtenOut(v, type));
  if (texts.length === 0) return [];
  const several = texts.length > 1;
  const operator = { keep: several ? "oneOf" : "is", leaveOut: several ? "notOneOf" : "isNot", from: "atLeast", upTo: "atMost" } as const;
  return [{ left, operator: operator[deed], texts: deed === "from" || deed === "upTo" ? texts.slice(0, 1) : texts }];
}

function periodsCompared({ field, part }: { field: FieldOperand; part: Period }, values: (string | number)[], deed: CellDeed): Compared[] {
  const firsts = values.map((v) => String(v).slice(0, 10));
  const during = (first: string) => `${first}/${lastDay(first, part)}`;
  const [first] = firsts;
  if (first === undefined) return [];
  switch (deed) {
    case "keep":
      return firsts.map((f) => ({ left: field, operator: "during", texts: [during(f)] }));
    case "leaveOut":
      return firsts.map((f) => ({ left: field, operator: "notDuring", texts: [during(f)] }));
    case "from":
      return [{ left: field, operator: "atLeast", texts: [first] }];
    case "upTo":
      // Times of its last day are in it too.
      return [{ left: field, operator: "less", texts: [addDays(lastDay(first, part), 1)] }];
    default:
      return deed satisfies never;
  }
}

/** Adds the values from one on and before another, as a band of a column's values is; null where there is no end. */
export function withBand(spec: QuerySpec, column: PlanColumn, from: string | null, before: string | null): QuerySpec {
  const at = leftOfColumn(spec, column.id);
  if (!at) return spec;
  const left = periodOf(at.left)?.field ?? at.left;
  const ends: Compared[] = [
    ...(from === null ? [] : [{ left, operator: "atLeast" as const, texts: [from] }]),
    ...(before === null ? [] : [{ left, operator: "less" as const, texts: [before] }]),
  ];
  return added(spec, at.of, ends, "all");
}

const asValue = (text: string): Value => ({ kind: "value", text });
const sameLeft = (a: Operand, b: Operand): boolean => JSON.stringify(a) === JSON.stringify(b);

/** A description with comparisons added: of several of which one is enough, as a group. What stands already is not said twice. */
function added(spec: QuerySpec, of: ConditionsOf, compared: Compared[], holds: "any" | "all"): QuerySpec {
  const place = { rows: "conditions", groups: "groupConditions", lines: "lineConditions" } as const;
  let next = spec;
  const made = compared.map(({ left, operator, texts }): Condition => {
    const condition = { id: freshId(next, "w"), left, operator, values: texts.map(asValue) };
    next = { ...next, conditions: [...next.conditions, condition] };
    return condition;
  });
  const trees: ConditionTree[] = holds === "any" && made.length > 1 ? [{ id: freshId(next, "g"), holds, of: made }] : made;
  return { ...spec, [place[of]]: trees.reduce(withOne, spec[place[of]] ?? []) };
}

/** One more condition: a narrower end takes the place of the one before it, and values left out are told together. */
function withOne(list: ConditionTree[], tree: ConditionTree): ConditionTree[] {
  if ("of" in tree) return [...list, tree];
  const { left, operator, values } = tree;
  const known = list.findIndex((c) => !("of" in c) && sameLeft(c.left, left) && JSON.stringify([c.operator, c.values]) === JSON.stringify([operator, values]));
  if (known >= 0) return list;
  const out = operator === "isNot" || operator === "notOneOf";
  const joins = (c: ConditionTree): c is Condition =>
    !("of" in c) && sameLeft(c.left, left) && (out ? c.operator === "isNot" || c.operator === "notOneOf" : isEnd(operator) && c.operator === operator);
  const at = list.findIndex((c) => joins(c) && c.values.every((v) => v.kind === "value" && v.text !== ""));
  if (at < 0) return [...list, tree];
  const before = list[at] as Condition;
  const together: Condition = out ? { ...before, operator: "notOneOf", values: [...before.values, ...values] } : { ...before, values };
  return list.with(at, together);
}

const isEnd = (operator: OperatorName): boolean => operator === "atLeast" || operator === "atMost" || operator === "less";

const LISTED = { is: ["is", "oneOf"], isNot: ["isNot", "notOneOf"] } as const;

/** The comparisons for one value and for several that a condition picks its values by; null where it compares otherwise. */
export function pickedBy({ operator }: Condition): readonly [OperatorName, OperatorName] | null {
  return Object.values(LISTED).find((pair) => (pair as readonly OperatorName[]).includes(operator)) ?? null;
}

/** The condition on rows that a parameter's values are picked for: one that compares a field with it by “is” or “is one of”, or their opposites. */
export const pickedFor = ({ conditions }: QuerySpec, parameter: string): Condition | undefined =>
  comparisonsIn(conditions).find((c) => pickedBy(c) && c.left.kind === "field" && c.values.some((v) => v.kind === "parameter" && v.name === parameter));

/** The values a condition has been given by writing or picking them. */
export const writtenValues = ({ values }: Condition): string[] => values.flatMap((v) => (v.kind === "value" && v.text !== "" ? [v.text] : []));

/** A condition with one more of the values it picks from, or one less: of one value it says “is”, of several “is one of”. */
export function toggleValue(spec: QuerySpec, id: string, text: string): QuerySpec {
  const condition = comparisonOf(spec, id);
  const pair = condition && pickedBy(condition);
  if (!condition || !pair) return spec;
  const known = writtenValues(condition);
  const texts = known.includes(text) ? known.filter((t) => t !== text) : [...known, text];
  const values = texts.length === 0 ? [asValue("")] : texts.map(asValue);
  return changeCondition(spec, id, { operator: pair[texts.length > 1 ? 1 : 0], values });
}
