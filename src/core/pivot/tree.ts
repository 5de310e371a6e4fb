import { shiftPeriod } from "../types/date";
import { parseDecimal } from "../types/decimal";
import { type Cell, exactOf, isMisfit, scaleOf, type ValueType } from "../types/valueType";
import type { PlannedAxis } from "./pivot";

/**
 * One heading of an axis, at any depth. The root (level 0) stands for all; a node of level n has a value in the axis's
 * n-th field. `index` is its place in the table of cells. The rest of a first-n is one node, and a leaf.
 */
export type Node = {
  level: number;
  key: Cell;
  rest: Cell[] | null;
  parent: Node | null;
  children: Map<string, Node>;
  order: Node[];
  index: number;
  rows: number;
  /** What the row is called of which its value is the key; undefined where it has no name. */
  name?: string | undefined;
};

/** A key as text that tells keys apart: typed, so that 1 and "1", empty and "" do not meet. */
export const keyOf = (cell: Cell): string => JSON.stringify(cell);

export const newNode = (level: number, key: Cell, parent: Node | null, rest: Cell[] | null = null): Node => ({
  level,
  key,
  rest,
  parent,
  children: new Map(),
  order: [],
  index: -1,
  rows: 0,
});

/** The child of a node with a key, made where it is not there yet. */
export function childOf(node: Node, key: Cell): Node {
  const name = keyOf(key);
  const known = node.children.get(name);
  if (known) return known;
  const made = newNode(node.level + 1, key, node);
  node.children.set(name, made);
  return made;
}

/** The keys that lead to a node, outermost first; the root has none. */
export function pathOf(node: Node): Node[] {
  const path: Node[] = [];
  for (let at: Node | null = node; at?.parent; at = at.parent) path.unshift(at);
  return path;
}

/** The order of two values of a type: numbers and dates by size, text as the workspace sorts it. Empty comes last. */
export function compareCells(type: ValueType, locale: string): (a: Cell, b: Cell) => number {
  const collator = new Intl.Collator(locale, { sensitivity: "variant", numeric: false });
  return (a, b) => {
    if (a === null || b === null) return a === b ? 0 : a === null ? 1 : -1;
    if (isMisfit(a) || isMisfit(b)) return Number(isMisfit(a)) - Number(isMisfit(b));
    if (type.kind === "text") return collator.compare(String(a), String(b)) || (a < b ? -1 : a > b ? 1 : 0);
    if (typeof a === "number" && typeof b === "number") return a - b;
    if (type.kind === "whole" || type.kind === "decimal") {
      const [x, y] = [exactOf(a) ?? 0n, exactOf(b) ?? 0n];
      return x < y ? -1 : x > y ? 1 : 0;
    }
    return a < b ? -1 : a > b ? 1 : 0;
  };
}

/** The most groups that filling in empty ones may lead to. */
const MOST_FILLED = 20_000;

/**
 * The keys of an axis's field that have no rows but belong between those that have: the periods from the first to the
 * last, the days of the week, the bands from the least to the greatest; for other types none.
 */
export function keysBetween({ spec, column }: PlannedAxis, keys: Cell[]): Cell[] {
  if (spec.value.kind !== "field") return [];
  const { part, band } = spec.value;
  const known = keys.filter((k): k is string | number => k !== null && !isMisfit(k));
  if (part === "weekday") return [1, 2, 3, 4, 5, 6, 7];
  if (known.length === 0) return [];
  if (part) {
    const dates = known.map(String).sort();
    const last = dates.at(-1) ?? "";
    const filled: string[] = [];
    for (let at = dates[0] ?? ""; at <= last && filled.length < MOST_FILLED; at = shiftPeriod(at, part, 1)) filled.push(at);
    return filled;
  }
  if (!band || column.type.kind === "floating") return [];
  const width = parseDecimal(band.width, scaleOf(column.type)) ?? 0n;
  const sizes = known.map((k) => exactOf(k) ?? 0n).sort((a, b) => (a < b ? -1 : 1));
  const [least = 0n, most = 0n] = [sizes[0], sizes.at(-1)];
  const filled: Cell[] = [];
  if (width > 0n) for (let at = least; at <= most && filled.length < MOST_FILLED; at += width) filled.push(exactCell(at));
  return filled;
}

/** A scaled integer as a cell: a number while that is exact, else its digits. */
export const exactCell = (value: bigint): Cell => {
  const number = Number(value);
  return Number.isSafeInteger(number) ? number : value.toString();
};
