import { rowNameColumn, tableLedTo } from "../schema/rowNames";
import type { Schema, Table } from "../schema/schema";
import { moved, replaced } from "../types/list";
import type { RowCells } from "./panel";
import type { FolioSpec, Panel, Shown } from "./spec";

/* What is done to the page of a row, as functions from one description to the next. */

/** A short id that nothing on the page has yet. */
export function freshPanelId({ panels, shown = [] }: FolioSpec): string {
  for (let n = 1; ; n++) if (![...panels, ...shown].some((p) => p.id === `p${n}`)) return `p${n}`;
}

const placeOf = (spec: FolioSpec, id: string): number => spec.panels.findIndex((p) => p.id === id);

export const addPanel = (spec: FolioSpec, panel: Panel): FolioSpec => ({ ...spec, panels: [...spec.panels, panel] });

/** A panel as it is now; gone where it is null. */
export const setPanel = (spec: FolioSpec, id: string, next: Panel | null): FolioSpec => ({
  ...spec,
  panels: replaced(spec.panels, placeOf(spec, id), () => next),
});

export const movePanel = (spec: FolioSpec, id: string, by: -1 | 1): FolioSpec => ({ ...spec, panels: moved(spec.panels, placeOf(spec, id), by) });

export const addShown = (spec: FolioSpec, next: Shown): FolioSpec => ({ ...spec, shown: [...(spec.shown ?? []), next] });

export const removeShown = (spec: FolioSpec, id: string): FolioSpec => ({ ...spec, shown: (spec.shown ?? []).filter((s) => s.id !== id) });

/** What a row is called: the text of its name or title, else its first text that is there, else its key. */
export function rowName(table: Table, cells: RowCells | null, key: string[]): string {
  const column = rowNameColumn(table) ?? table.columns.find((c) => c.type.kind === "text");
  const named = cells && column ? cells[column.name] : null;
  return typeof named === "string" && named !== "" ? named : key.join(", ");
}

/** The row that a column leads to by a link on its key: its table and the value of its key; null where it leads to none. */
export function rowLedTo(schema: Schema, table: Table, column: string, cells: RowCells): { table: string; key: string } | null {
  const led = tableLedTo(schema, table.name, column);
  return led ? { table: led.name, key: String(cells[column]) } : null;
}
