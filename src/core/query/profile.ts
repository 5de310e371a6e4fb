import { dayNumber, type Period, shiftPeriod } from "../types/date";
import { decimalText, parseDecimal } from "../types/decimal";
import { type Checked, problem } from "../types/problem";
import type { ColumnFormat } from "../types/schemas";
import { type Cell, exactOf, isDated, isMisfit, isNumber, scaleOf, type ValueType } from "../types/valueType";
import { AGGREGATES } from "./aggregates";
import { mapComparisons } from "./conditions";
import type { RunContext } from "./operands";
import { overRows, resolveOver } from "./over";
import type { Plan } from "./plan";
import type { Operand, QueryColumn, QuerySpec } from "./spec";
import { withoutWaiting } from "./waiting";

/*
 * What stands in a column of a query, told at a glance: how many values, how many different ones, the least and the
 * greatest, the most frequent, and how they are spread. Each is a query over the query's rows.
 */

/** How many of the most frequent values are told. */
export const MOST_FREQUENT = 8;
/** Into how many bands numbers are put at most, about. */
const BANDS = 6;

/** What a column comes to as a whole; `least` and `greatest` are unset where its type has no order. */
export type ColumnFigures = { rows: number; filled: number; different: number; least: Cell; greatest: Cell };
/** One of the most frequent values, and in how many rows it stands. */
export type FrequentValue = { value: Cell; rows: number };
/** How values are put together to show their spread: numbers by bands of one width, dates by periods. */
export type Spread = { by: "band"; width: string } | { by: "period"; part: Period };
/** Values from one on and before another, in the column's own notation; `value` is how the band is written, by a format of its own. */
export type Band = { value: string | number; from: string; before: string; rows: number };
export type Profile = ColumnFigures & { frequent: FrequentValue[]; bands: Band[]; bandFormat: ColumnFormat };

const ofColumn = (id: string): Extract<Operand, { kind: "field" }> => ({ kind: "field", join: "", column: id });
const notEmpty = (id: string): QuerySpec["conditions"] => [{ id: "filled", left: ofColumn(id), operator: "notEmpty", values: [] }];
const count: QueryColumn = { id: "rows", value: null, figure: "count" };

function over(plan: Plan, spec: Partial<QuerySpec>, context: RunContext): Checked<Plan> {
  return resolveOver({ ...overRows(), grouped: true, ...spec }, plan, context);
}

const hasEnds = (type: ValueType): boolean => AGGREGATES.least.takes(type) && type.kind !== "yesno";

/** One row: how many rows there are, how many have a value, how many different ones, the least and the greatest. */
export function planFigures(plan: Plan, id: string, context: RunContext): Checked<Plan> {
  const type = plan.columns.find((c) => c.id === id)?.type;
  if (!type) return { ok: false, problems: [problem("columnGone", ["columns"], { table: "query", column: id })] };
  const figure = (name: "count" | "countDifferent" | "least" | "greatest"): QueryColumn => ({ id: name, value: ofColumn(id), figure: name });
  const ends = hasEnds(type) ? [figure("least"), figure("greatest")] : [];
  return over(plan, { columns: [count, figure("count"), figure("countDifferent"), ...ends] }, context);
}

/** The answer of `planFigures`. */
export function readFigures([rows = 0, filled = 0, different = 0, least = null, greatest = null]: Cell[]): ColumnFigures {
  return { rows: Number(rows), filled: Number(filled), different: Number(different), least, greatest };
}

/** The most frequent values with their rows, the most first. @param sought part of the text they hold; unset: any */
export function planFrequent(plan: Plan, id: string, context: RunContext, sought: string | string[] = ""): Checked<Plan> {
  const left = ofColumn(id);
  const text = (value: string) => ({ kind: "value" as const, text: value });
  const holds = (): QuerySpec["conditions"] => {
    if (typeof sought !== "string") return [{ id: "sought", left, operator: "oneOf", values: sought.map(text) }];
    return sought === "" ? [] : [{ id: "sought", left, operator: "contains", values: [text(sought)] }];
  };
  const columns: QueryColumn[] = [{ id: "value", value: ofColumn(id) }, count];
  const order: QuerySpec["order"] = [
    { column: "rows", direction: "down" },
    { column: "value", direction: "up" },
  ];
  return over(plan, { columns, order, conditions: [...notEmpty(id), ...holds()] }, context);
}

export const readFrequent = (rows: Cell[][]): FrequentValue[] => rows.map(([value = null, n = 0]) => ({ value, rows: Number(n) }));

/** 1, 2 or 5 times a power of ten: the least that is not less than a size. */
function roundWidth(size: number): number {
  const power = 10 ** Math.floor(Math.log10(size));
  return ([1, 2, 5, 10].find((n) => n * power >= size * (1 - 1e-9)) ?? 10) * power;
}

/** How the values of a column are best put together; null where they are too few, or of a type without an order. */
export function spreadOf(type: ValueType, { different, least, greatest }: ColumnFigures): Spread | null {
  if (different <= 2 || least === null || greatest === null || isMisfit(least) || isMisfit(greatest)) return null;
  if (isDated(type)) return { by: "period", part: periodFor(String(least), String(greatest)) };
  if (!isNumber(type)) return null;
  if (type.kind === "floating") return { by: "band", width: String(Number(roundWidth((Number(greatest) - Number(least)) / BANDS).toPrecision(12))) };
  const scaled = Number((exactOf(greatest) ?? 0n) - (exactOf(least) ?? 0n));
  return { by: "band", width: decimalText(BigInt(Math.max(1, Math.round(roundWidth(scaled / BANDS)))), scaleOf(type)) };
}

/** The widest period of which a dozen or so show the whole. */
function periodFor(least: string, greatest: string): Period {
  const days = dayNumber(greatest.slice(0, 10)) - dayNumber(least.slice(0, 10));
  if (days < 14) return "day";
  return days <= 370 ? "month" : days <= 1100 ? "quarter" : "year";
}

/** How many rows lie in each band, from the least. */
export function planBands(plan: Plan, id: string, spread: Spread, context: RunContext): Checked<Plan> {
  const value: Operand = { ...ofColumn(id), ...(spread.by === "band" ? { band: { width: spread.width } } : { part: spread.part }) };
  return over(plan, { columns: [{ id: "from", value }, count], order: [{ column: "from", direction: "up" }], conditions: notEmpty(id) }, context);
}

/** The bands in which there are rows. */
export function readBands(rows: Cell[][], type: ValueType, spread: Spread): Band[] {
  return rows.flatMap(([from = null, n = 0]): Band[] => {
    if (from === null || isMisfit(from)) return [];
    return [{ value: from, ...endsOf(from, type, spread), rows: Number(n) }];
  });
}

function endsOf(from: string | number, type: ValueType, spread: Spread): { from: string; before: string } {
  if (spread.by === "period") {
    const first = String(from).slice(0, 10);
    return { from: first, before: shiftPeriod(first, spread.part, 1) };
  }
  if (type.kind === "floating") return { from: String(from), before: String(Number((Number(from) + Number(spread.width)).toPrecision(12))) };
  const scale = scaleOf(type);
  const first = exactOf(from) ?? 0n;
  return { from: decimalText(first, scale), before: decimalText(first + (parseDecimal(spread.width, scale) ?? 0n), scale) };
}

/**
 * The rows whose values a condition can be given, as a query of that one value: all but those that this condition
 * itself leaves out, so that what it was not yet given is offered too.
 */
export function valuesToCompare(spec: QuerySpec, left: Operand, condition: string): QuerySpec {
  const { groupConditions: _, lineConditions: __, firstOf: ___, ...rest } = withoutWaiting(spec);
  const others = mapComparisons(rest.conditions, (c) => (c.id === condition ? null : c));
  return { ...rest, conditions: others, grouped: false, columns: [{ id: COMPARED, value: left }], order: [], limit: null };
}

/** The column of `valuesToCompare`. */
export const COMPARED = "value";
