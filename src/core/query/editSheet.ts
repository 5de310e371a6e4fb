import { LEAST_WIDTH, MOST_WIDTH, type WindowName } from "./choices";
import { addColumn, changeColumn } from "./edit";
import { periodOf } from "./resolveWindow";
import type { QueryColumn, QuerySpec } from "./spec";
import { WINDOWS } from "./windows";

/*
 * How a query's columns stand in its sheet: their place, their width, which stay in sight.
 */

/** Puts a column before another, or last; a group stays among the groups, a figure among the figures. */
export function placeColumn(spec: QuerySpec, id: string, before: string | null): QuerySpec {
  const column = spec.columns.find((c) => c.id === id);
  const next = spec.columns.find((c) => c.id === before);
  if (!column || id === before || (before !== null && !next)) return spec;
  const rest = spec.columns.filter((c) => c.id !== id);
  const alike = (c: QueryColumn) => !spec.grouped || Boolean(c.figure) === Boolean(column.figure);
  if (next && !alike(next)) {
    // Before the first figure is behind the last group.
    const behind = rest.findLastIndex(alike) + 1;
    return !column.figure && spec.columns.find((c) => c.figure)?.id === next.id ? { ...spec, columns: rest.toSpliced(behind, 0, column) } : spec;
  }
  const at = next ? rest.indexOf(next) : rest.findLastIndex(alike) + 1;
  return { ...spec, columns: rest.toSpliced(at, 0, column) };
}

/** One more column, right behind another where it may stand there. */
export function addBeside(spec: QuerySpec, id: string, column: Omit<QueryColumn, "id">): QuerySpec {
  const added = addColumn(spec, column);
  const own = added.columns.at(-1)?.id ?? "";
  const next = spec.columns[spec.columns.findIndex((c) => c.id === id) + 1];
  return next ? placeColumn(added, own, next.id) : added;
}

/**
 * A figure over the rows shown, beside the column it is of. One that looks back looks back a period where the query's groups
 * are periods, each row at its own: “a quarter before” is meant then, not the row above.
 */
export function addWindowBeside(spec: QuerySpec, id: string, kind: WindowName): QuerySpec {
  const looksBack = WINDOWS[kind].back === true && spec.grouped && periodOf(spec, undefined, "period") !== null;
  return addBeside(spec, id, { value: { kind: "column", id }, figure: "window", window: { kind, ...(looksBack ? { back: "period" } : {}) } });
}

/** Moves a column past its shown neighbour on one side. */
export function shiftColumn(spec: QuerySpec, id: string, by: -1 | 1): QuerySpec {
  const shown = spec.columns.filter((c) => !c.hidden);
  const at = shown.findIndex((c) => c.id === id);
  if (at < 0 || (by < 0 && at === 0)) return spec;
  return placeColumn(spec, id, shown[by < 0 ? at - 1 : at + 2]?.id ?? null);
}

/** A column as wide as given, within bounds; null: as wide as its values. */
export function setWidth(spec: QuerySpec, id: string, width: number | null): QuerySpec {
  return changeColumn(spec, id, { width: width === null ? undefined : Math.round(Math.min(MOST_WIDTH, Math.max(LEAST_WIDTH, width))) });
}

/** Keeps the shown columns up to one in sight, or lets all move again where they were kept up to that one. */
export function freezeTo(spec: QuerySpec, id: string): QuerySpec {
  const { frozen, ...rest } = spec;
  const count = spec.columns.filter((c) => !c.hidden).findIndex((c) => c.id === id) + 1;
  return count === 0 || count === frozen ? rest : { ...rest, frozen: count };
}
