import { parseDecimal, rescale } from "../types/decimal";
import { fold } from "../types/text";
import { type Cell, exactOf, isDated, isExact, isMisfit, isNumber, scaleOf, type ValueType } from "../types/valueType";
import { MARK_TESTS, type MarkLook, type MarkTest, type MarkTone } from "./choices";
import { OPERATORS } from "./operators";
import type { PlanColumn } from "./plan";
import type { QuerySpec } from "./spec";

/*
 * Marks in a sheet: cells that are shaded, have a sign, or a bar as long as their value, by a rule. They change no row and
 * no figure. A mark is never told by its colour alone: a shaded cell has its sign too, a bar its length.
 */

/** The sign that goes with a tone, so that tones are told apart without colours. */
export const MARK_SIGNS: Record<MarkTone, string> = { wrong: "▼", look: "◆", agrees: "▲" };

export type Mark = NonNullable<QuerySpec["marks"]>[number];

/** The comparisons that can be made of a column of a type. */
export const testsFor = (type: ValueType): MarkTest[] =>
  MARK_TESTS.filter((test) => {
    if (test === "contains") return type.kind === "text";
    if (test === "beyond") return isNumber(type);
    return test === "is" || test === "isNot" || test === "empty" || test === "notEmpty" || isNumber(type) || isDated(type);
  });

/** How a rule says its comparison. */
export const testWords = (test: MarkTest, type: ValueType): string => (test === "beyond" ? "differs from 0 by more than" : OPERATORS[test].words(type));

export const needsValue = (test: MarkTest): boolean => test !== "empty" && test !== "notEmpty";

/** A value compared with what a rule names: below 0, 0 or above it; null where they cannot be compared. */
function compared(cell: string | number, type: ValueType, value: string): number | null {
  if (isExact(type)) {
    const scale = Math.max(scaleOf(type), 12);
    const wanted = parseDecimal(value, scale);
    const own = exactOf(cell);
    if (wanted === null || own === null) return null;
    const is = rescale(own, scaleOf(type), scale);
    return is < wanted ? -1 : is > wanted ? 1 : 0;
  }
  if (type.kind === "floating") return value.trim() === "" || Number.isNaN(Number(value)) ? null : Number(cell) - Number(value);
  if (type.kind === "yesno") return value === "" ? null : Number(Boolean(Number(cell))) - Number(value === "yes");
  if (value === "") return null;
  // A timestamp compared with a day counts by its day.
  const text = isDated(type) ? String(cell).slice(0, value.length) : String(cell);
  return text < value ? -1 : text > value ? 1 : 0;
}

/** Whether a cell meets a rule. An empty cell, one that does not fit its type, or a rule without its value meets no comparison but those of emptiness. */
export function meetsRule(cell: Cell, type: ValueType, test: MarkTest, value: string): boolean {
  if (test === "empty") return cell === null;
  if (test === "notEmpty") return cell !== null;
  if (cell === null || isMisfit(cell)) return false;
  if (test === "contains") return value !== "" && fold(String(cell)).includes(fold(value));
  const order = compared(cell, type, value);
  if (order === null) return false;
  switch (test) {
    case "atLeast":
      return order >= 0;
    case "greater":
      return order > 0;
    case "atMost":
      return order <= 0;
    case "less":
      return order < 0;
    case "beyond":
      return order > 0 || (compared(cell, type, `-${value.trim()}`) ?? 0) < 0;
    case "is":
      return order === 0;
    case "isNot":
      return order !== 0;
    default:
      return test satisfies never;
  }
}

/** How a cell is marked; `share` of a bar is of the longest, from 0 to 1. */
export type CellMark = { id: string; look: MarkLook; tone: MarkTone; share?: number };

/** The greatest size of a column's values, as its cells hold them; by the column's id. */
export type Sizes = Readonly<Record<string, number>>;

/** The columns whose bars need the greatest size there is. */
export const barColumns = (marks: readonly Mark[] = []): string[] => [...new Set(marks.filter((m) => m.look === "bar").map((m) => m.column))];

const sizeOf = (cell: Cell): number => (cell === null || isMisfit(cell) ? 0 : Math.abs(Number(cell)));

/** Of two ends of a column the greater size. */
export const greatestSize = (...ends: Cell[]): number => Math.max(...ends.map(sizeOf));

/**
 * The marks of a row's cells, by their places; of several rules that a cell meets the first counts, a bar beside it.
 * @param cells a row, as the columns of the plan are
 */
export function marksOfRow(marks: readonly Mark[], columns: readonly PlanColumn[], cells: readonly Cell[], sizes: Sizes): Map<number, CellMark[]> {
  const found = new Map<number, CellMark[]>();
  for (const { id, column, look, tone, test, value, by } of marks) {
    const at = columns.findIndex((c) => c.id === column);
    const asked = by === undefined ? at : columns.findIndex((c) => c.id === by);
    const type = columns[asked]?.type;
    if (at < 0 || !type) continue;
    const known = found.get(at) ?? [];
    const cell = cells[at] ?? null;
    if (look === "bar") {
      const most = sizes[column] ?? 0;
      if (most > 0 && sizeOf(cell) > 0) found.set(at, [...known, { id, look, tone, share: Math.min(1, sizeOf(cell) / most) }]);
    } else if (!known.some((m) => m.look !== "bar") && meetsRule(cells[asked] ?? null, type, test, value)) found.set(at, [...known, { id, look, tone }]);
  }
  return found;
}

/** The marks whose columns are shown. */
export const marksShown = (marks: readonly Mark[] = [], columns: readonly PlanColumn[]): Mark[] =>
  marks.filter((m) => columns.some((c) => c.id === m.column && !c.hidden) && (m.by === undefined || columns.some((c) => c.id === m.by)));

/** A mark for a column, as it begins: of numbers those that are greatest, else those that are something. */
export function newMark(spec: QuerySpec, column: Pick<PlanColumn, "id" | "type">): Mark {
  let n = 1;
  while (spec.marks?.some((m) => m.id === `m${n}`)) n++;
  const [test = "is"] = testsFor(column.type);
  return { id: `m${n}`, column: column.id, look: "shade", tone: "look", test, value: "" };
}

/** A description with a mark: in the place of the one of its id, else added. */
export function setMark(spec: QuerySpec, mark: Mark): QuerySpec {
  const marks = spec.marks ?? [];
  return { ...spec, marks: marks.some((m) => m.id === mark.id) ? marks.map((m) => (m.id === mark.id ? mark : m)) : [...marks, mark] };
}

export function removeMark(spec: QuerySpec, id: string): QuerySpec {
  const marks = (spec.marks ?? []).filter((m) => m.id !== id);
  return { ...spec, marks: marks.length > 0 ? marks : undefined };
}
