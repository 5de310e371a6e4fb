import { moved, replaced } from "../types/list";
import type { QuerySpec } from "./spec";

/*
 * Changes to the order of a description's rows, and to how many of the first are shown.
 */

/** Sorting by a heading: up, then down, then not at all; it comes before the other orders. */
export function sortBy(spec: QuerySpec, column: string): QuerySpec {
  const [first] = spec.order;
  const rest = spec.order.filter((o) => o.column !== column);
  if (first?.column !== column) return { ...spec, order: [{ column, direction: "up" }, ...rest] };
  return { ...spec, order: first.direction === "up" ? [{ column, direction: "down" }, ...rest] : rest };
}

/** Sorting by a column in one direction, before the other orders. */
export const orderBy = (spec: QuerySpec, column: string, direction: "up" | "down"): QuerySpec => ({
  ...spec,
  order: [{ column, direction }, ...spec.order.filter((o) => o.column !== column)],
});

/** Another column to order by, after those there are. */
export const addOrder = (spec: QuerySpec, column: string): QuerySpec => ({ ...spec, order: [...spec.order, { column, direction: "up" }] });

/** How many of the first rows a query shows, and for each value of which column; null: of all rows. */
export const firstRows = ({ limit, firstOf }: QuerySpec): { rows: number | null; per: string | null } => ({
  rows: firstOf?.rows ?? limit,
  per: firstOf?.per[0] ?? null,
});

/** So many of the first rows, of all or for each value of a column. */
export function setFirstRows(spec: QuerySpec, rows: number | null, per: string | null): QuerySpec {
  const { firstOf: _, ...rest } = spec;
  return per === null || rows === null ? { ...rest, limit: rows } : { ...rest, limit: null, firstOf: { rows, per: [per] } };
}

/** One of the orders the other way round. */
export const turnOrder = (spec: QuerySpec, at: number): QuerySpec => ({
  ...spec,
  order: replaced(spec.order, at, (o) => ({ ...o, direction: o.direction === "up" ? "down" : "up" })),
});

/** One of the orders before the one it followed. */
export const raiseOrder = (spec: QuerySpec, at: number): QuerySpec => ({ ...spec, order: moved(spec.order, at, -1) });

export const dropOrder = (spec: QuerySpec, at: number): QuerySpec => ({ ...spec, order: replaced(spec.order, at, () => null) });
