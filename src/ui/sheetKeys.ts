import { type GridPlace, type GridSize, placeAfter } from "./gridWalk";

/** A key as it is pressed; `far` where Ctrl (or Cmd) is held. */
export type Press = { key: string; far: boolean; alt: boolean };
/** What a sheet allows, and whether cells are selected. */
export type SheetCan = { type: boolean; remove: boolean; open: boolean; selected: boolean };
export type SheetDeed = { does: "menu" | "open" | "sort" | "copy" | "all" | "remove" } | { does: "move"; to: GridPlace } | { does: "type"; first?: string };

/**
 * What a key does on a sheet, at a place in it: row -1 is its headings.
 * @returns null for a key that is the browser's
 * @see WAI-ARIA Authoring Practices, grid pattern (editing and navigating inside a cell)
 */
export function sheetDeed({ key, far, alt }: Press, at: GridPlace, size: GridSize, can: SheetCan): SheetDeed | null {
  const heading = at.row < 0;
  if (alt && key === "ArrowDown" && heading) return { does: "menu" };
  const to = placeAfter(key, far, at, size);
  if (to) return { does: "move", to };
  if (far && key.toLowerCase() === "c") return can.selected ? { does: "copy" } : null;
  if (far && key.toLowerCase() === "a") return size.rows > 0 ? { does: "all" } : null;
  if (heading) return key === "Enter" ? { does: "sort" } : null;
  if (key === "F2") return can.type ? { does: "type" } : null;
  if (key === "Delete") return can.remove && can.selected ? { does: "remove" } : null;
  if (key === "Enter") return can.open ? { does: "open" } : null;
  const types = can.type && key.length === 1 && key !== " " && !far && !alt;
  return types ? { does: "type", first: key } : null;
}
