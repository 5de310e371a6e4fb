import type { Mark } from "../chart/rows";
import type { Drawn } from "../chart/style";
import type { Heading, Pivot } from "../pivot/pivot";
import type { PivotAxis } from "../pivot/spec";
import * as edit from "../query/edit";
import type { QuerySpec } from "../query/spec";
import { addDays, shiftPeriod } from "../types/date";
import type { DashboardFilter, DashboardSpec, FilterValue } from "./spec";

/** The filter of a dashboard that meets a tile in a field of its query. */
function filterOn(spec: DashboardSpec, tile: string, query: QuerySpec, axis: PivotAxis): DashboardFilter | undefined {
  const id = axis.value.kind === "field" ? axis.value.column : "";
  const value = query.columns.find((c) => c.id === id)?.value;
  if (value?.kind !== "field") return undefined;
  return spec.filters.find((f) => {
    const meeting = f.meets[tile];
    return meeting && (meeting.column ?? f.column) === value.column && edit.joinAt(query, meeting.steps) === value.join;
  });
}

/** What a heading asks of a filter: its value, its period's days, or, of the rest, all but those that stand by themselves. */
function valueOfHeading(axis: PivotAxis, { key, rest }: Heading): FilterValue | null {
  if (rest) return { kind: "set", not: true, values: rest.map(String) };
  if (key === null || typeof key === "object") return null;
  const part = axis.value.kind === "field" ? axis.value.part : undefined;
  if (part === "weekday") return null;
  if (part) return { kind: "span", from: String(key), to: addDays(shiftPeriod(String(key), part, 1), -1) };
  return { kind: "set", not: false, values: [String(key)] };
}

/** The values that a click on a mark gives to the filters it meets; none where no filter is on its fields. */
export function valuesOfMark(
  spec: DashboardSpec,
  tile: string,
  query: QuerySpec,
  pivot: Pivot,
  axes: { down: PivotAxis[]; across: PivotAxis[] },
  { data }: Drawn,
  mark: Mark,
): Record<string, FilterValue> {
  const values: Record<string, FilterValue> = {};
  const walk = (side: "down" | "across", index: number) => {
    for (let at = index; at > 0; at = pivot[side][at]?.parent ?? 0) {
      const heading = pivot[side][at] as Heading;
      const axis = axes[side][heading.level - 1];
      const filter = axis && filterOn(spec, tile, query, axis);
      const value = axis && valueOfHeading(axis, heading);
      if (filter && value) values[filter.id] = value;
    }
  };
  walk("across", data?.places[mark.place]?.heading ?? 0);
  walk("down", data?.series[mark.series]?.heading ?? 0);
  return values;
}
