import { expandDefinition } from "../derive/expand";
import { rowNameColumn, stepLedTo } from "../schema/rowNames";
import { showsNames } from "./namedRows";
import type { Resolver } from "./operands";
import type { Plan, PlanColumn } from "./plan";
import type { QuerySpec } from "./spec";

/**
 * The order of rows as it is seen: where a column shows the names of rows, its order is that of the names, and of the keys
 * where those are the same. Each name is looked up, which leaves every row, in a hidden column that only orders; of groups
 * it is the one name that the rows of each have. Groups without rows have none, so with those, and where lines are parted
 * by subtotals, groups stand in the order of their keys.
 * @returns the columns with those that order, and the order by them
 */
export function orderedAsShown(spec: QuerySpec, columns: PlanColumn[], resolver: Resolver): Pick<Plan, "columns" | "order"> {
  if (spec.grouped && spec.columns.some((c) => c.everyValue || c.subtotal)) return { columns, order: spec.order };
  const asked = new Set([...spec.order, ...columns.flatMap((c) => c.window?.order ?? [])].map((o) => o.column));
  const ordering = columns.flatMap((column): PlanColumn[] => (asked.has(column.id) ? nameOf(spec, column, resolver) : []));
  if (ordering.length === 0) return { columns, order: spec.order };
  const byName = (order: Plan["order"]): Plan["order"] =>
    order.flatMap((o) => {
      const name = ordering.find((c) => c.orders === o.column);
      return name ? [{ ...o, column: name.id }, o] : [o];
    });
  const windowed = columns.map((c) => (c.window ? { ...c, window: { ...c.window, order: byName(c.window.order) } } : c));
  return { columns: [...windowed, ...ordering], order: byName(spec.order) };
}

/** The names that a column shows, as a hidden column that orders by them; none where it shows its values. */
function nameOf(spec: QuerySpec, column: PlanColumn, resolver: Resolver): PlanColumn[] {
  const value = spec.columns.find((c) => c.id === column.id)?.value;
  const at = value?.kind === "field" ? resolver.scope.find((s) => s.id === value.join) : undefined;
  const led = at && value?.kind === "field" && showsNames(column) ? stepLedTo(resolver.schema, at.table.name, value.column) : undefined;
  const named = led && rowNameColumn(led.table);
  const path = ["columns", spec.columns.findIndex((c) => c.id === column.id)];
  const expr = at && led && named ? expandDefinition({ kind: "lookup", steps: [led.step], column: named.name }, at, resolver, path) : null;
  if (!expr) return [];
  const shown = { type: expr.type, heading: column.heading, origin: column.origin, hidden: true, format: {}, totalled: false, home: null };
  return [{ ...shown, id: `${column.id} by name`, expr, ...(spec.grouped ? { figure: "least" as const } : {}), orders: column.id }];
}
