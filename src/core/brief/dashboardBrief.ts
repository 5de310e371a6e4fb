import { filterColumn, relativeOf, unmetFilters, valueFor } from "../dashboard/filters";
import type { DashboardFilter, DashboardSpec, FilterValue, FilterValues, Meeting, PlainTile } from "../dashboard/spec";
import type { QuerySpec } from "../query/spec";
import { findColumn, findTable, type Schema } from "../schema/schema";
import { isIsoDate } from "../types/date";
import { type Locale, writeDate } from "../types/format";
import { RELATIVE_DATES } from "../types/relative";
import { isDated, isNumber, type ValueType } from "../types/valueType";
import { briefText, listed, type Phrase } from "./brief";

/** Where more values than this are chosen, their number is said. */
const MOST_NAMED = 3;

const said = (text: string, locale: Locale): string => {
  const relative = relativeOf(text);
  return relative ? RELATIVE_DATES[relative].words : isIsoDate(text) ? writeDate(text, locale) : text;
};

/** A filter that lets everything through, in words: "every island", "lodged on any day", "any weight". */
function everyWords(label: string, type: ValueType | undefined): string {
  if (type && isDated(type)) return `${label} on any day`;
  return type && isNumber(type) ? `any ${label}` : `every ${label}`;
}

/**
 * A filter's value in words: "every island", "my shippers", "Pell or Skarrow", "any status but void", "1 Sep to 30 Sep".
 * @param type of its column; undefined where that is gone
 */
export function filterWords(label: string, value: FilterValue | null, type: ValueType | undefined, locale: Locale): string {
  const every = everyWords(label, type);
  if (value === null) return every;
  switch (value.kind) {
    case "person":
      return `my ${label}`;
    case "set": {
      const named = value.values.filter((v) => v !== "");
      if (named.length === 0) return every;
      const words = named.length > MOST_NAMED ? `${named.length} of them` : named.join(value.not ? " and " : " or ");
      return value.not ? `any ${label} but ${words}` : `${label} ${words}`;
    }
    case "span": {
      const [from, to] = [said(value.from, locale), said(value.to, locale)];
      if (from && to) return `${label} ${from} to ${to}`;
      if (from) return `${label} from ${from}`;
      return to ? `${label} to ${to}` : every;
    }
    default:
      return value satisfies never;
  }
}

type Asked = { spec: DashboardSpec; values: FilterValues; schema: Schema; locale: Locale };

/** What each filter of a dashboard shows its viewer, in words. */
export const filtersInWords = ({ spec, values, schema, locale }: Asked): { id: string; words: string }[] =>
  spec.filters.map((f) => ({ id: f.id, words: filterWords(f.label, valueFor(f, values), filterColumn(schema, f)?.type, locale) }));

/** The same as text, for texts of tiles and printed pages. */
export const filtersText = (asked: Asked): string =>
  filtersInWords(asked)
    .map((f) => f.words)
    .join(", ") || "everything";

/** What a tile is not narrowed by, though its dashboard's brief says so: "not narrowed by island and trade"; "" where it is by all. */
export function unmetWords(spec: DashboardSpec, tile: PlainTile, values: FilterValues): string {
  if (tile.kind === "text" || tile.kind === "picture") return "";
  const unmet = unmetFilters(spec, tile.id, values);
  return unmet.length > 0 ? `not filtered by ${briefText(listed(unmet.map((f) => [{ text: f.label }])))}` : "";
}

/** The brief of a dashboard as a viewer has it: one phrase a filter. */
export function dashboardBrief(asked: Asked): Phrase[] {
  if (asked.spec.filters.length === 0) return [{ text: "Showing everything." }];
  const phrases = filtersInWords(asked).map(({ id, words }): Phrase[] => [{ text: words, target: { kind: "field", name: id } }]);
  return [{ text: "Showing " }, ...listed(phrases), { text: "." }];
}

/** The way to the field in which a filter meets a tile, in words. */
export function meetingWords(schema: Schema, query: QuerySpec, filter: DashboardFilter, { steps, column }: Meeting): string {
  const ends = steps.map((s) => schema.links.find((l) => l.id === s.link)?.[s.toward]);
  const table = findTable(schema, ends.length > 0 ? (ends.at(-1)?.table ?? "") : query.source);
  const name = column ?? filter.column;
  return [...ends.map((end) => end?.name ?? "?"), (table && findColumn(table, name)?.label) ?? name].join(" › ");
}
