import { expect, test } from "vitest";
import { type SheetCan, sheetDeed } from "./sheetKeys";

const size = { rows: 5, columns: 3, firstColumn: 0 as const, page: 2 };
const all: SheetCan = { type: true, remove: true, fill: true, open: true, selected: true, layOut: true, cellMenu: false, find: false, keys: "" };
const none: SheetCan = { type: false, remove: false, fill: false, open: false, selected: false, layOut: false, cellMenu: false, find: false, keys: "" };
const own: SheetCan = { ...none, cellMenu: true, find: true, keys: "f F2" };
const deed = (keys: string, row: number, can = all, rows = 5) => {
  const [key = "", ...held] = keys.split("+").reverse();
  return sheetDeed({ key, far: held.includes("Ctrl"), alt: held.includes("Alt"), shift: held.includes("Shift") }, { row, column: 1 }, { ...size, rows }, can);
};

test.each([
  ["ArrowDown", 2, { does: "move", to: { row: 3, column: 1 } }],
  ["Ctrl+ArrowDown", 2, { does: "move", to: { row: 4, column: 1 } }],
  ["Alt+ArrowDown", -1, { does: "menu" }],
  ["Alt+ArrowDown", 2, { does: "move", to: { row: 3, column: 1 } }],
  ["Enter", -1, { does: "sort" }],
  ["Enter", 0, { does: "open" }],
  ["F2", 0, { does: "type" }],
  ["Delete", 0, { does: "remove" }],
  ["7", 0, { does: "type", first: "7" }],
  ["Ctrl+c", 2, { does: "copy" }],
  ["Ctrl+d", 2, { does: "fill" }],
  ["Ctrl+d", -1, null],
  ["Ctrl+C", 2, { does: "copy" }],
  ["Ctrl+a", 2, { does: "all" }],
  ["Ctrl+a", -1, { does: "all" }],
])("%s on row %i", (keys, row, does) => {
  expect(deed(keys, row)).toEqual(does);
});

test.each([
  ["ContextMenu", -1, { does: "menu" }],
  ["Shift+F10", 2, { does: "cellMenu" }],
  ["Alt+ArrowDown", 2, { does: "cellMenu" }],
  ["f", -1, { does: "own", key: "f" }],
  ["F2", 1, { does: "own", key: "F2" }],
  ["g", 1, null],
  ["Ctrl+f", 1, { does: "find" }],
])("%s on row %i of a sheet with menus and keys of its own", (keys, row, does) => {
  expect(deed(keys, row, own)).toEqual(does);
});
test("where cells are typed over, a letter is typed, whatever it means on other sheets", () => {
  expect(deed("f", 1, { ...all, keys: "f" })).toEqual({ does: "type", first: "f" });
});
test("columns are laid out from their headings alone", () => {
  expect(deed("Shift+ArrowRight", -1)).toEqual({ does: "widen", by: 1 });
  expect(deed("Ctrl+Shift+ArrowLeft", -1)).toEqual({ does: "place", by: -1 });
  expect(deed("Shift+ArrowRight", 1)).toEqual({ does: "move", to: { row: 1, column: 2 } });
  expect(deed("Shift+ArrowRight", -1, none)).toEqual({ does: "move", to: { row: -1, column: 2 } });
});

test.each(["F2", "Delete", "7", " ", "Escape", "Tab"])("%s on a heading is the browser's", (keys) => {
  expect(deed(keys, -1)).toBeNull();
});
test.each([" ", "Ctrl+f", "Ctrl+v", "Alt+7", "Escape", "Tab", "F5"])("%s on a row is the browser's", (keys) => {
  expect(deed(keys, 1)).toBeNull();
});
test.each(["Enter", "F2", "Delete", "7", "Ctrl+c"])("%s does nothing on a sheet that does not allow it", (keys) => {
  expect(deed(keys, 1, none)).toBeNull();
});
test("nothing is removed or copied where nothing is selected, nor all selected where there are no rows", () => {
  expect(deed("Delete", 1, { ...all, selected: false })).toBeNull();
  expect(deed("Ctrl+c", 1, { ...all, selected: false })).toBeNull();
  expect(deed("Ctrl+a", -1, all, 0)).toBeNull();
});
