/** The words of this section, as a person reads them. */
export const WORDS = {
  help: "Help",
  close: "Close",
  contents: "All pages of the guide",
  shortcuts: "Keyboard",
  general: [
    { keys: "Ctrl K", does: "find or do" },
    { keys: "?", does: "help for this page" },
    { keys: "Ctrl S", does: "save" },
    { keys: "Ctrl Z, Ctrl Shift Z", does: "undo, redo" },
    { keys: "Tab, Enter, Delete", does: "in a brief: next phrase, edit it, remove it" },
  ],
  sheet: [
    { keys: "Arrow keys, Shift", does: "move, select" },
    { keys: "Ctrl C, Ctrl F", does: "copy the selection; find in the sheet" },
    { keys: "Enter", does: "open the row, or the rows of a group; sort by a heading" },
    { keys: "F2", does: "rename a heading; edit the cell of a table (or type)" },
    { keys: "Ctrl V, Ctrl D", does: "in a table: paste over the cells, fill the selection with its first row" },
    { keys: "Alt ↓, Shift F10", does: "menu of a heading or cell" },
    { keys: "F, S, G, H, %", does: "condition, sort, one row per value, hide, share of total" },
    { keys: "K, L", does: "keep only, leave out the values selected" },
    { keys: "I", does: "next issue in the proof" },
    { keys: "Shift ← →, Ctrl Shift ← →", does: "width, place of a heading" },
  ],
  pivot: [
    { keys: "Enter", does: "rows of a figure; menu of a field" },
    { keys: "Alt and arrow keys", does: "move a field" },
    { keys: "Delete", does: "remove a field" },
  ],
  chart: [
    { keys: "Arrow keys", does: "move between points" },
    { keys: "Enter", does: "rows of the point" },
    { keys: "T", does: "table of the chart" },
  ],
  folio: [{ keys: "Alt ←, Alt →", does: "previous row, next row" }],
  dashboard: [
    { keys: "Alt and arrow keys", does: "move a tile" },
    { keys: "Alt, Shift and arrow keys", does: "resize a tile" },
  ],
};
