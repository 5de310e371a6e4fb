import { useVirtualizer } from "@tanstack/react-virtual";
import { type RefObject, useEffect } from "react";
import { rowsAbove, rowsLaidOut } from "./gridWalk";
import { FOOTING, HEADINGS } from "./sheetParts";

/** Pixels of a sheet before it is known how high it is: its first rows stand in the page as it comes. */
const FIRST_SIGHT = 640;

/** The rows in sight, and how many lie above those laid out. */
export function useRowsInSight(
  scroller: RefObject<HTMLDivElement | null>,
  rowCount: number,
  rowHeight: number,
  scale: number,
  onWindow: (first: number, last: number) => void,
) {
  const virtual = useVirtualizer({
    count: rowsLaidOut(rowCount),
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 12,
    initialRect: { width: 0, height: FIRST_SIGHT },
    scrollPaddingStart: Math.round(HEADINGS * scale),
    scrollPaddingEnd: Math.round(FOOTING * scale),
  });
  // Rows are measured again when their height is another.
  useEffect(() => virtual.measure(), [rowHeight]);
  const items = virtual.getVirtualItems();
  // Where there are more rows than can be laid out, the place among those laid out tells how many rows lie above.
  const above = rowsAbove(items[0]?.index ?? 0, items.length, rowCount);
  const first = (items[0]?.index ?? 0) + above;
  const last = (items.at(-1)?.index ?? 0) + above;
  useEffect(() => {
    onWindow(first, last);
  }, [first, last, onWindow]);
  return { virtual, items, above };
}

/** Brings the cell that has the focus in sight sideways, beside the columns that stay. @param behind how much of the left is covered by those */
export function useColumnInSight(scroller: RefObject<HTMLDivElement | null>, cell: string, behind: number): void {
  useEffect(() => {
    const box = scroller.current;
    const at = document.getElementById(cell);
    if (!box || !at) return;
    const [outer, inner] = [box.getBoundingClientRect(), at.getBoundingClientRect()];
    const past = inner.right - (outer.left + box.clientWidth);
    const before = outer.left + behind - inner.left;
    if (before > 0) box.scrollLeft -= before;
    else if (past > 0) box.scrollLeft += Math.min(past, -before);
  }, [scroller, cell, behind]);
}
