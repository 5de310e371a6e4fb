/*
 * A block of texts put over the cells of a sheet: pasted, or filled down from the first row of a selection.
 */

/** Cells that a block changes at the most. */
export const MOST_BLOCK_CELLS = 20_000;

/** The cells a person has selected, the edges among them. */
export type Selected = { top: number; bottom: number; left: number; right: number };

/** Texts over the cells from a place on; null leaves the cell as it is. */
export type Block = { top: number; left: number; texts: (string | null)[][] };

export type BlockProblem = { kind: "tooMany"; cells: number } | { kind: "rowsBeyond" | "columnsBeyond"; count: number } | { kind: "nothing" };

/**
 * Where pasted rows come to stand: from the first selected cell on, repeated where a whole number of them fills the selection.
 * @param pasted rows of texts; a row may be shorter than others, and leaves the cells behind it as they are
 * @param sheet how many rows and columns there are: a block does not reach beyond
 */
export function pastedBlock(pasted: readonly (readonly string[])[], selected: Selected, sheet: { rows: number; columns: number }): Block | BlockProblem {
  const width = Math.max(0, ...pasted.map((row) => row.length));
  if (width === 0) return { kind: "nothing" };
  const { top, left } = selected;
  const [high, wide] = [selected.bottom - top + 1, selected.right - left + 1];
  const repeats = high % pasted.length === 0 && wide % width === 0;
  const [rows, columns] = repeats ? [high, wide] : [pasted.length, width];
  if (rows * columns > MOST_BLOCK_CELLS) return { kind: "tooMany", cells: rows * columns };
  if (top + rows > sheet.rows) return { kind: "rowsBeyond", count: top + rows - sheet.rows };
  if (left + columns > sheet.columns) return { kind: "columnsBeyond", count: left + columns - sheet.columns };
  return {
    top,
    left,
    texts: Array.from({ length: rows }, (_, r) => Array.from({ length: columns }, (_, c) => pasted[r % pasted.length]?.[c % width] ?? null)),
  };
}
