import { divideCarried, tenTo } from "../types/decimal";
import type { ColumnFormat } from "../types/schemas";
import { type Cell, carriedTo, exactOf, floating, isMisfit, type ValueType, whole } from "../types/valueType";
import type { ShowAs } from "./choices";
import type { Heading } from "./pivot";
import { exactCell } from "./tree";

/** Digits after the point of a share of one: a percentage with four. */
export const SHARE_DIGITS = 6;

/** What a shown cell is worked out from: one figure's cells with the headings of both axes, by their indexes. */
type Field = {
  type: ValueType;
  down: Heading[];
  across: Heading[];
  /** The sibling just before each heading of the axis that runs; -1 where there is none. */
  before: number[];
  runsAcross: boolean;
  at: (down: number, across: number) => Cell;
  /** Cells already shown; those before a cell are there when it is worked out. */
  shown: (down: number, across: number) => Cell;
  /** The places of each cell among its siblings down, by size. */
  rank: (down: number, across: number) => Cell;
};

type Shown = {
  words: string;
  help: string;
  /** Has a meaning for numbers only. */
  numbersOnly: boolean;
  /** Has a meaning only where the figures of parts add up to that of the whole. */
  partsOnly: boolean;
  gives: (type: ValueType) => ValueType;
  /** Written as a percentage. */
  percent: boolean;
  cell: (field: Field, down: number, across: number) => Cell;
};

const shareType = (type: ValueType): ValueType => (type.kind === "floating" ? floating : carriedTo(SHARE_DIGITS));

/** A part of a whole as a share of one, to be rounded where it is written; empty where there is no whole. */
export function shareOf(part: Cell, of: Cell, type: ValueType): Cell {
  if (part === null || of === null || isMisfit(part) || isMisfit(of) || Number(of) === 0) return null;
  if (type.kind === "floating") return Number(part) / Number(of);
  return exactCell(divideCarried((exactOf(part) ?? 0n) * tenTo(SHARE_DIGITS + 1), exactOf(of) ?? 1n));
}

/** The sum of two cells of a type; an empty one adds nothing. */
export function plus(a: Cell, b: Cell, type: ValueType): Cell {
  if (a === null || b === null || isMisfit(a) || isMisfit(b)) return a === null || isMisfit(a) ? b : a;
  if (typeof a === "number" && typeof b === "number" && (type.kind === "floating" || Number.isSafeInteger(a + b))) return a + b;
  return exactCell((exactOf(a) ?? 0n) + (exactOf(b) ?? 0n));
}

const minus = (a: Cell, b: Cell, type: ValueType): Cell => {
  if (a === null || b === null || isMisfit(a) || isMisfit(b)) return null;
  return type.kind === "floating" ? Number(a) - Number(b) : exactCell((exactOf(a) ?? 0n) - (exactOf(b) ?? 0n));
};

const magnitude = (cell: Cell, type: ValueType): Cell => {
  if (cell === null || isMisfit(cell)) return null;
  return type.kind === "floating" ? Math.abs(Number(cell)) : exactCell(BigInt(cell) < 0n ? -BigInt(cell) : BigInt(cell));
};

/** The cell one step back along the axis that runs; null at its start. */
function previous({ before, runsAcross }: Field, down: number, across: number): [number, number] | null {
  const back = before[runsAcross ? across : down] ?? -1;
  if (back < 0) return null;
  return runsAcross ? [down, back] : [back, across];
}

const same = (type: ValueType) => type;
const share = (words: string, help: string, of: (field: Field, down: number, across: number) => Cell): Shown => ({
  words,
  help,
  numbersOnly: true,
  partsOnly: true,
  gives: shareType,
  percent: true,
  cell: (field, d, a) => shareOf(field.at(d, a), of(field, d, a), field.type),
});

/** One record per way of showing a figure; pickers, the check and the computation read it. */
export const SHOWN: Record<ShowAs, Shown> = {
  asIs: { words: "as is", help: "The figure itself.", numbersOnly: false, partsOnly: false, gives: same, percent: false, cell: (f, d, a) => f.at(d, a) },
  shareOfRow: share("share of row", "Percentage of its row total.", (f, d) => f.at(d, 0)),
  shareOfColumn: share("share of column", "Percentage of its column total.", (f, _, a) => f.at(0, a)),
  shareOfWhole: share("share of whole", "Percentage of the grand total.", (f) => f.at(0, 0)),
  shareOfParent: share("share of group", "Percentage of its group, in the same column.", (f, d, a) => f.at(Math.max(0, f.down[d]?.parent ?? 0), a)),
  running: {
    words: "running total",
    help: "Cumulative: across the columns, or down the rows if there are no columns.",
    numbersOnly: true,
    partsOnly: true,
    gives: same,
    percent: false,
    cell: (f, d, a) => {
      const back = previous(f, d, a);
      return back ? plus(f.shown(...back), f.at(d, a), f.type) : f.at(d, a);
    },
  },
  difference: {
    words: "difference from previous",
    help: "Minus the previous column, or the previous row if there are no columns.",
    numbersOnly: true,
    partsOnly: false,
    gives: same,
    percent: false,
    cell: (f, d, a) => {
      const back = previous(f, d, a);
      return back && minus(f.at(d, a), f.at(...back), f.type);
    },
  },
  change: {
    words: "change from previous",
    help: "The difference from the previous figure, as a percentage of it.",
    numbersOnly: true,
    partsOnly: false,
    gives: shareType,
    percent: true,
    cell: (f, d, a) => {
      const back = previous(f, d, a);
      return back && shareOf(minus(f.at(d, a), f.at(...back), f.type), magnitude(f.at(...back), f.type), f.type);
    },
  },
  rank: {
    words: "rank",
    help: "Rank within its group, in the column; the largest is 1, equal values share a rank.",
    numbersOnly: true,
    partsOnly: false,
    gives: () => whole,
    percent: false,
    cell: (f, d, a) => f.rank(d, a),
  },
};

const bySize = (type: ValueType) => (a: Cell, b: Cell) => {
  if (type.kind === "floating" || (typeof a === "number" && typeof b === "number")) return Number(b) - Number(a);
  const difference = (exactOf(b) ?? 0n) - (exactOf(a) ?? 0n);
  return difference > 0n ? 1 : difference < 0n ? -1 : 0;
};

/** The sibling just before each heading, by index; -1 for a first one. Headings stand in the order they are shown. */
function siblingsBefore(headings: Heading[]): number[] {
  const last = new Map<number, number>();
  return headings.map(({ parent }, i) => {
    const before = last.get(parent) ?? -1;
    last.set(parent, i);
    return before;
  });
}

/**
 * A figure's cells as they are to be shown.
 * @param cells row by row: down.length × across.length; index 0 of each axis is its total
 */
export function showCells(showAs: ShowAs, type: ValueType, cells: Cell[], down: Heading[], across: Heading[]): Cell[] {
  if (showAs === "asIs") return cells;
  const width = across.length;
  const result: Cell[] = new Array(cells.length).fill(null);
  const runsAcross = width > 1;
  const ranks = showAs === "rank" ? ranksOf(type, cells, down, width) : [];
  const field: Field = {
    type,
    down,
    across,
    before: siblingsBefore(runsAcross ? across : down),
    runsAcross,
    at: (d, a) => cells[d * width + a] ?? null,
    shown: (d, a) => result[d * width + a] ?? null,
    rank: (d, a) => ranks[d * width + a] ?? null,
  };
  const { cell } = SHOWN[showAs];
  for (let d = 0; d < down.length; d++) for (let a = 0; a < width; a++) result[d * width + a] = cell(field, d, a);
  return result;
}

/** Competition ranks (1, 2, 2, 4): common practice. The total has none. */
function ranksOf(type: ValueType, cells: Cell[], down: Heading[], width: number): Cell[] {
  const ranks: Cell[] = new Array(cells.length).fill(null);
  const groups = new Map<number, number[]>();
  down.forEach(({ parent }, d) => {
    if (d === 0) return;
    const group = groups.get(parent);
    if (group) group.push(d);
    else groups.set(parent, [d]);
  });
  const compare = bySize(type);
  for (const group of groups.values())
    for (let a = 0; a < width; a++) {
      const sized = group.map((d) => ({ d, cell: cells[d * width + a] ?? null })).filter((c) => c.cell !== null);
      sized.sort((x, y) => compare(x.cell, y.cell));
      sized.forEach(({ d, cell }, i) => {
        const before = sized[i - 1];
        ranks[d * width + a] = before && compare(before.cell, cell) === 0 ? (ranks[before.d * width + a] ?? null) : i + 1;
      });
    }
  return ranks;
}

/** How a figure shown so is written, until a person says otherwise. */
export const shownFormat = (showAs: ShowAs, format: ColumnFormat): ColumnFormat =>
  SHOWN[showAs].percent ? { percent: true, ...(format.percent ? format : {}) } : showAs === "rank" ? {} : format;
