import { daysEarlier } from "../chart/plan";
import type { ChartSpec } from "../chart/spec";
import { isProblem } from "../expression/check";
import * as edit from "../query/edit";
import { parseValue } from "../query/parseValue";
import type { Condition, QuerySpec, Value } from "../query/spec";
import { findTable, type Schema, type Step, stepsFrom } from "../schema/schema";
import { type Today, usualDay } from "../types/calendar";
import { RELATIVE_DATES, type RelativeDate } from "../types/relative";
import type { DashboardFilter, DashboardSpec, FilterValue, FilterValues, Meeting } from "./spec";

/*
 * Filters become conditions of each tile's query, so that they narrow its rows before anything is counted.
 */

const RELATIVE = "day:";
/** A relative date as a filter's end of a span is written. */
export const relativeText = (date: RelativeDate): string => `${RELATIVE}${date}`;
export const relativeOf = (text: string): RelativeDate | null => {
  const name = text.startsWith(RELATIVE) ? text.slice(RELATIVE.length) : "";
  return name in RELATIVE_DATES ? (name as RelativeDate) : null;
};

/** A filter's value for a viewer: their own, or else the filter's default. null is everything. */
export const valueFor = (filter: DashboardFilter, values: FilterValues): FilterValue | null => {
  const own = values[filter.id];
  return own === undefined ? filter.default : own;
};

/** Whether any filter narrows a dashboard for a viewer. */
export const isAsked = (spec: DashboardSpec, values: FilterValues): boolean => spec.filters.some((f) => valueFor(f, values) !== null);

/** Whether a viewer's own choice differs from what a dashboard shows first. */
export const isMoved = (spec: DashboardSpec, values: FilterValues): boolean =>
  spec.filters.some((f) => values[f.id] !== undefined && JSON.stringify(values[f.id]) !== JSON.stringify(f.default));

/** A viewer's values that let everything through, whatever the filters' defaults. */
export const showEverything = (spec: DashboardSpec): FilterValues => Object.fromEntries(spec.filters.map((f) => [f.id, null]));

/** The shortest walk by links that lead to one, from a table to another; null where there is none within so many steps. */
export function walkTo(schema: Schema, from: string, to: string, most = 4): Step[] | null {
  let paths: { table: string; steps: Step[] }[] = [{ table: from, steps: [] }];
  for (let length = 0; length <= most; length++) {
    const found = paths.find((p) => p.table === to);
    if (found) return found.steps;
    paths = paths.flatMap(({ table, steps }) =>
      stepsFrom(schema, table)
        .filter((s) => s.far.leadsTo === "one")
        .map((s) => ({ table: s.far.table, steps: [...steps, s.step] })),
    );
  }
  return null;
}

/** How a filter meets a tile made from a query: by the links, where they lead to its table. */
export function proposeMeeting(schema: Schema, query: QuerySpec, filter: Pick<DashboardFilter, "table">): Meeting | null {
  const steps = walkTo(schema, query.source, filter.table);
  return steps && { steps };
}

/** The field of a tile's query that a filter is on. @returns the query with the tables on the way brought */
export function metField(filter: DashboardFilter, { steps, column }: Meeting, query: QuerySpec): { spec: QuerySpec; field: Condition["left"] } {
  const { spec, join } = edit.bring(query, steps);
  return { spec, field: { kind: "field", join, column: column ?? filter.column } };
}

/** The condition a filter's value makes; null where it lets everything through. */
function conditionOf(
  filter: DashboardFilter,
  value: FilterValue | null,
  left: Condition["left"],
  today: Today,
  earlier: ChartSpec["earlier"],
): Condition | null {
  const id = `filter ${filter.id}`;
  const given = (text: string): Value => ({ kind: "value", text });
  if (value === null) return null;
  switch (value.kind) {
    case "person":
      return { id, left, operator: "is", values: [{ kind: "person" }] };
    case "set": {
      const named = value.values.filter((v) => v !== "");
      const [one] = named;
      if (one === undefined) return null;
      if (named.length === 1) return { id, left, operator: value.not ? "isNot" : "is", values: [given(one)] };
      return { id, left, operator: value.not ? "notOneOf" : "oneOf", values: named.map(given) };
    }
    case "span": {
      const end = (text: string): Value | null => {
        const relative = relativeOf(text);
        const date = relative ? RELATIVE_DATES[relative].of(today) : text.trim();
        return date === "" ? null : given(earlier ? daysEarlier(date, earlier) : date);
      };
      const [from, to] = [end(value.from), end(value.to)];
      if (from && to) return { id, left, operator: "between", values: [from, to] };
      if (from) return { id, left, operator: "atLeast", values: [from] };
      return to && { id, left, operator: "atMost", values: [to] };
    }
    default:
      return value satisfies never;
  }
}

/** Whether a value leaves anything out does not depend on the day. */
const ANY_DAY = usualDay("2000-01-01");

/** The filters that narrow something for a viewer, but not a tile: what that shows is of every value. */
export const unmetFilters = (spec: DashboardSpec, tile: string, values: FilterValues): DashboardFilter[] =>
  spec.filters.filter((f) => !f.meets[tile] && conditionOf(f, valueFor(f, values), { kind: "field", join: "", column: f.column }, ANY_DAY, null) !== null);

/**
 * A tile's query with the conditions its dashboard's filters make for a viewer, on a day.
 * @param earlier every date of a span so much earlier: for figures held against an earlier time
 */
export function filteredQuery(
  spec: DashboardSpec,
  tile: string,
  query: QuerySpec,
  values: FilterValues,
  today: Today,
  earlier: ChartSpec["earlier"] = null,
): QuerySpec {
  let next = query;
  for (const filter of spec.filters) {
    const meeting = filter.meets[tile];
    if (!meeting) continue;
    const { spec: brought, field } = metField(filter, meeting, next);
    const condition = conditionOf(filter, valueFor(filter, values), field, today, earlier);
    if (condition) next = { ...brought, conditions: [...brought.conditions, condition] };
  }
  return next;
}

/** The filters that ask for what is the viewer's own, on columns that cannot hold what the data knows them as: they find nothing. */
export const strangerTo = (spec: DashboardSpec, values: FilterValues, schema: Schema, person: string): DashboardFilter[] =>
  spec.filters.filter((f) => {
    const column = filterColumn(schema, f);
    return column && valueFor(f, values)?.kind === "person" && (person === "" || isProblem(parseValue(person, column.type, [])));
  });

/** The type of the column a filter is on; undefined where it is gone. */
export const filterColumn = (schema: Schema, filter: Pick<DashboardFilter, "table" | "column">) =>
  findTable(schema, filter.table)?.columns.find((c) => c.name === filter.column);
