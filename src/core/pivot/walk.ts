/** A place in a pivot's grid: line -1 is the headings above the columns, column -1 the headings of the lines. */
export type GridPlace = { line: number; column: number };
/** How many lines and columns a grid has, and how many lines are in sight at once. */
export type GridSize = { lines: number; columns: number; page: number };

/** The place nearest to one that a grid has. */
export const withinGrid = ({ line, column }: GridPlace, { lines, columns }: GridSize): GridPlace => ({
  line: Math.max(-1, Math.min(lines - 1, line)),
  column: Math.max(-1, Math.min(columns - 1, column)),
});

/**
 * Where a key leads within a grid.
 * @param far whether Ctrl (or Cmd) is held: to the end of the line, the column or the grid
 * @returns null for a key that does not move
 * @see WAI-ARIA Authoring Practices, grid pattern (keys of a data grid)
 */
export function placeAfter(key: string, far: boolean, { line, column }: GridPlace, size: GridSize): GridPlace | null {
  const last = { line: size.lines - 1, column: size.columns - 1 };
  const moves: Record<string, GridPlace> = {
    ArrowDown: { line: far ? last.line : line + 1, column },
    ArrowUp: { line: far ? 0 : line - 1, column },
    ArrowRight: { line, column: far ? last.column : column + 1 },
    ArrowLeft: { line, column: far ? 0 : column - 1 },
    PageDown: { line: line + size.page, column },
    PageUp: { line: Math.max(0, line - size.page), column },
    Home: far ? { line: 0, column: 0 } : { line, column: -1 },
    End: far ? last : { line, column: last.column },
  };
  const to = Object.hasOwn(moves, key) ? moves[key] : undefined;
  return to ? withinGrid(to, size) : null;
}
