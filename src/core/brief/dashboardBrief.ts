import { relativeOf, valueFor } from "../dashboard/filters";
import type { DashboardSpec, FilterValue, FilterValues } from "../dashboard/spec";
import { isIsoDate, RELATIVE_DATES } from "../types/date";
import { type Locale, writeDate } from "../types/format";
import { listed, type Phrase } from "./brief";

/** Where more values than this are chosen, their number is said. */
const MOST_NAMED = 3;

const said = (text: string, locale: Locale): string => {
  const relative = relativeOf(text);
  return relative ? RELATIVE_DATES[relative].words : isIsoDate(text) ? writeDate(text, locale) : text;
};

/** A filter's value in words: "every island", "my shippers", "Pell or Skarrow", "any status but void", "1 Sep to 30 Sep". */
export function filterWords(label: string, value: FilterValue | null, locale: Locale): string {
  if (value === null) return `every ${label}`;
  switch (value.kind) {
    case "person":
      return `my ${label}`;
    case "set": {
      const named = value.values.filter((v) => v !== "");
      if (named.length === 0) return `every ${label}`;
      const words = named.length > MOST_NAMED ? `${named.length} of them` : named.join(value.not ? " and " : " or ");
      return value.not ? `any ${label} but ${words}` : `${label} ${words}`;
    }
    case "span": {
      const [from, to] = [said(value.from, locale), said(value.to, locale)];
      if (from && to) return `${label} ${from} to ${to}`;
      if (from) return `${label} from ${from}`;
      return to ? `${label} to ${to}` : `every ${label}`;
    }
    default:
      return value satisfies never;
  }
}

/** The brief of a dashboard as a viewer has it: one phrase a filter. */
export function dashboardBrief(spec: DashboardSpec, values: FilterValues, locale: Locale): Phrase[] {
  if (spec.filters.length === 0) return [{ text: "Showing everything." }];
  const phrases = spec.filters.map((f): Phrase[] => [{ text: filterWords(f.label, valueFor(f, values), locale), target: { kind: "field", name: f.id } }]);
  return [{ text: "Showing " }, ...listed(phrases), { text: "." }];
}
