/** A place in a grid: row -1 is the headings above; a first column of -1 the headings of the rows. */
export type GridPlace = { row: number; column: number };
/** The rows and columns of a grid, the column its rows begin with, and how many rows are in sight at once. */
export type GridSize = { rows: number; columns: number; firstColumn: 0 | -1; page: number };
/** A block of cells, its edges among them. */
export type Range = { top: number; bottom: number; left: number; right: number };

/** The place nearest to one that a grid has. */
export const withinGrid = ({ row, column }: GridPlace, { rows, columns, firstColumn }: GridSize): GridPlace => ({
  row: Math.max(-1, Math.min(rows - 1, row)),
  column: Math.max(firstColumn, Math.min(columns - 1, column)),
});

/**
 * Where a key leads within a grid.
 * @param far whether Ctrl (or Cmd) is held: to the end of the row, the column or the grid
 * @returns null for a key that does not move
 * @see WAI-ARIA Authoring Practices, grid pattern (keys of a data grid)
 */
export function placeAfter(key: string, far: boolean, { row, column }: GridPlace, size: GridSize): GridPlace | null {
  const last = { row: size.rows - 1, column: size.columns - 1 };
  const moves: Record<string, GridPlace> = {
    ArrowDown: { row: far ? last.row : row + 1, column },
    ArrowUp: { row: far ? 0 : row - 1, column },
    ArrowRight: { row, column: far ? last.column : column + 1 },
    ArrowLeft: { row, column: far ? 0 : column - 1 },
    PageDown: { row: row + size.page, column },
    PageUp: { row: Math.max(0, row - size.page), column },
    Home: far ? { row: 0, column: 0 } : { row, column: size.firstColumn },
    End: far ? last : { row, column: last.column },
  };
  const to = Object.hasOwn(moves, key) ? moves[key] : undefined;
  return to ? withinGrid(to, size) : null;
}

/** The block between two cells, whichever of them comes first. */
export const rangeBetween = (a: GridPlace, b: GridPlace): Range => ({
  top: Math.min(a.row, b.row),
  bottom: Math.max(a.row, b.row),
  left: Math.min(a.column, b.column),
  right: Math.max(a.column, b.column),
});

export const isWithin = (range: Range | null, row: number, column: number): boolean =>
  range !== null && row >= range.top && row <= range.bottom && column >= range.left && column <= range.right;

/** Chrome lays out elements up to about 33 million pixels: a sheet of more rows is scrolled in proportion. */
const MOST_LAID_OUT = 1_000_000;
export const rowsLaidOut = (rows: number): number => Math.min(rows, MOST_LAID_OUT);

/** How many rows lie above those laid out, where only so many of all rows are: none at the top, all that are left at the bottom. */
export function rowsAbove(topmost: number, inSight: number, rows: number): number {
  const laidOut = rowsLaidOut(rows);
  return laidOut < rows ? Math.round((topmost / (laidOut - inSight)) * (rows - laidOut)) : 0;
}

/** Where a row stands among those laid out. */
export function laidOutPlace(row: number, rows: number): number {
  const laidOut = rowsLaidOut(rows);
  return laidOut < rows ? Math.round((row * (laidOut - 1)) / (rows - 1)) : row;
}
