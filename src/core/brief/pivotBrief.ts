import type { PivotPlan } from "../pivot/pivot";
import { SHOWN } from "../pivot/show";
import type { PivotAxis, PivotFigure, PivotSpec } from "../pivot/spec";
import { figureWords } from "../query/aggregates";
import { schemaOfPlan } from "../query/over";
import type { Plan } from "../query/plan";
import { ROWS_OF_QUERY } from "../query/planTable";
import { resolveTables } from "../query/scope";
import { findTable, type Table } from "../schema/schema";
import { GROUP_PART_WORDS } from "../types/date";
import type { Locale } from "../types/format";
import { conditionPhrases, listed, type Phrase } from "./brief";

const say = (text: string): Phrase => ({ text });

/** What a pivot shows, in one sentence: "Freight, by island and trade, across quarter of lodged on." */
export function pivotBrief({ figures, down, across, inner }: PivotPlan, spec: PivotSpec, locale: Locale): Phrase[] {
  const words = figures.map(({ spec: figure, column }) => [
    say(figure.showAs === "asIs" ? column.origin : `${column.origin} as ${SHOWN[figure.showAs].words}`),
  ]);
  const by = (list: typeof down) => listed(list.map(({ column }) => [say(column.origin)]));
  return [
    ...listed(words),
    ...(down.length > 0 ? [say(", by "), ...by(down)] : []),
    ...(across.length > 0 ? [say(", across "), ...by(across)] : []),
    say(". "),
    ...ownConditions(spec, inner, locale),
  ];
}

/** The conditions a description over a query's rows adds to the query's own: "Only rows where …". */
export function ownConditions(spec: Pick<PivotSpec, "conditions">, inner: Plan, locale: Locale): Phrase[] {
  const schema = schemaOfPlan(inner);
  const table = findTable(schema, ROWS_OF_QUERY);
  const scope = table ? resolveTables({ joins: [] }, schema, table, []) : [];
  if (spec.conditions.length === 0) return [];
  return [say("Only rows where "), ...listed(spec.conditions.map((c) => conditionPhrases(c, { scope, schema, locale }))), say(". ")];
}

const columnOf = (table: Table, value: PivotFigure["value"]) => (value?.kind === "field" ? table.columns.find((c) => c.name === value.column) : undefined);

/** A field of a pivot and how it is parted, in words. */
export function axisChip(axis: PivotAxis, table: Table) {
  const value = axis.value.kind === "field" ? axis.value : null;
  const more = [value?.part && GROUP_PART_WORDS[value.part], value?.band && `by ${value.band.width}`, axis.first && `first ${axis.first}`]
    .filter(Boolean)
    .join(", ");
  return { id: axis.id, words: axis.label ?? columnOf(table, axis.value)?.label ?? (value ? "a missing field" : "formula"), more };
}

/** A figure's field and what is made of it, in words. */
export function figureChip(figure: PivotFigure, table: Table) {
  const words =
    figure.label ??
    (figure.value === null ? "rows" : figure.value.kind === "formula" ? figure.value.text : (columnOf(table, figure.value)?.label ?? "a missing field"));
  return { id: figure.id, words, more: figure.showAs === "asIs" ? figureWords(figure.figure) : SHOWN[figure.showAs].words };
}
