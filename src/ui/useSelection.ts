import { useState } from "react";
import { type GridPlace, type GridSize, type Range, rangeBetween, withinGrid } from "./gridWalk";

/**
 * The place reached in a grid of cells, and the cells selected from it. It begins on the headings (row -1), where
 * nothing is selected.
 * @param size the grid as it is now
 * @param show brings a row in sight
 */
export function useSelection(size: () => GridSize, show: (row: number) => void, onSelect: ((range: Range | null) => void) | undefined) {
  const [at, setAt] = useState<GridPlace>({ row: -1, column: 0 });
  const [anchor, setAnchor] = useState<GridPlace | null>(null);

  function select(from: GridPlace | null, to: GridPlace): void {
    setAt(to);
    setAnchor(from);
    onSelect?.(from && rangeBetween(from, to));
  }
  /** Goes to a place, or as near as there is one; extending keeps the other end of the selection. */
  function move(place: GridPlace, extend: boolean): void {
    const to = withinGrid(place, size());
    select(to.row < 0 ? null : extend && anchor ? anchor : to, to);
    if (to.row >= 0) show(to.row);
  }
  function selectAll(): void {
    const { rows, columns } = size();
    select({ row: 0, column: 0 }, { row: rows - 1, column: columns - 1 });
  }
  return { at, range: anchor && at.row >= 0 ? rangeBetween(anchor, at) : null, move, selectAll };
}
