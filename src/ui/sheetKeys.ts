import { type GridPlace, type GridSize, placeAfter } from "./gridWalk";

/** A key as it is pressed; `far` where Ctrl (or Cmd) is held. */
export type Press = { key: string; far: boolean; alt: boolean; shift: boolean };
/** What a sheet allows, whether cells are selected, and the single keys that mean something of its own. */
export type SheetCan = {
  type: boolean;
  remove: boolean;
  fill: boolean;
  open: boolean;
  selected: boolean;
  layOut: boolean;
  cellMenu: boolean;
  find: boolean;
  keys: string;
};
export type SheetDeed =
  | { does: "menu" | "cellMenu" | "open" | "sort" | "copy" | "all" | "remove" | "find" | "fill" }
  | { does: "move"; to: GridPlace }
  | { does: "type"; first?: string }
  | { does: "widen" | "place"; by: -1 | 1 }
  | { does: "own"; key: string };

/** Keys that change how columns stand: on a heading, Shift and an arrow its width, with Ctrl its place. */
function layOutDeed({ key, far }: Press): SheetDeed | null {
  const by = key === "ArrowLeft" ? -1 : key === "ArrowRight" ? 1 : null;
  return by && { does: far ? "place" : "widen", by };
}

/**
 * What a key does on a sheet, at a place in it: row -1 is its headings.
 * @returns null for a key that is the browser's
 * @see WAI-ARIA Authoring Practices, grid pattern (editing and navigating inside a cell)
 */
export function sheetDeed(press: Press, at: GridPlace, size: GridSize, can: SheetCan): SheetDeed | null {
  const { key, far, alt, shift } = press;
  const heading = at.row < 0;
  const opens = (alt && key === "ArrowDown") || key === "ContextMenu" || (shift && key === "F10");
  if (opens && (heading || can.cellMenu)) return { does: heading ? "menu" : "cellMenu" };
  const laid = heading && shift && can.layOut ? layOutDeed(press) : null;
  if (laid) return laid;
  const to = placeAfter(key, far, at, size);
  if (to) return { does: "move", to };
  if (far && key.toLowerCase() === "c") return can.selected ? { does: "copy" } : null;
  if (far && key.toLowerCase() === "f") return can.find ? { does: "find" } : null;
  if (far && key.toLowerCase() === "d") return can.fill && can.selected && !heading ? { does: "fill" } : null;
  if (far && key.toLowerCase() === "a") return size.rows > 0 ? { does: "all" } : null;
  if (!far && !alt && !can.type && key !== " " && key.length <= 2 && can.keys.split(" ").includes(key)) return { does: "own", key };
  if (heading) return key === "Enter" ? { does: "sort" } : null;
  if (key === "F2") return can.type ? { does: "type" } : null;
  if (key === "Delete") return can.remove && can.selected ? { does: "remove" } : null;
  if (key === "Enter") return can.open ? { does: "open" } : null;
  const types = can.type && key.length === 1 && key !== " " && !far && !alt;
  return types ? { does: "type", first: key } : null;
}
