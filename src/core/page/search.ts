import { withKey } from "../folio/panel";
import type { OperatorName } from "../query/choices";
import type { RunContext } from "../query/operands";
import { OPERATORS, operatorsFor, takesPeriod, valuesNeeded, writtenOperatorsFor } from "../query/operators";
import { overRows, resolveOver } from "../query/over";
import type { Plan, PlanColumn } from "../query/plan";
import { resolveQuery } from "../query/resolve";
import type { Condition, QueryColumn, QuerySpec } from "../query/spec";
import { findTable, type Schema } from "../schema/schema";
import { type Checked, type Problem, problem } from "../types/problem";
import { isDated, isNumber, type ValueType } from "../types/valueType";
import type { Asked } from "./asked";
import type { SearchField, SearchSpec } from "./spec";

/*
 * What a visitor asks of a search page, and the one query it comes to. Whatever they send, the query reads the columns
 * that were chosen for the page, and keeps to the rows of its query: what is asked is a condition more, never one less.
 *
 *   the page's query ─▶ its rows with their key ─▶ a query over them: chosen columns, conditions asked, order asked
 */

/** The plan of a search: its visible columns are those chosen, in order; the row's key stands hidden after them. */
export type SearchPlan = { plan: Plan; columns: PlanColumn[]; key: number[]; asked: boolean };

const filled = (values: string[]): string[] => values.map((v) => v.trim()).filter((v) => v !== "");

/** The condition a field of the form asks for; null where nothing was filled in. A comparison that is not offered is not made. */
function conditionOf(field: Extract<SearchField, { kind: "column" }>, asked: Asked["fields"][number], type: ValueType, id: string): Condition | null {
  const left = { kind: "field" as const, join: "", column: field.column };
  const value = (text: string) => ({ kind: "value" as const, text });
  const given = filled(asked.values);
  const made = (operator: OperatorName, texts: string[]): Condition => ({ id, left, operator, values: texts.map(value) });
  switch (field.input) {
    case "typed": {
      const offered = operatorsOffered(field, type);
      const operator = offered.find((o) => o === asked.operator) ?? offered[0] ?? "is";
      const needs = OPERATORS[operator].values;
      if (needs === 0) return asked.operator === operator ? made(operator, []) : null;
      if (given.length === 0) return null;
      return made(operator, needs === "many" ? given : given.slice(0, valuesNeeded(operator)));
    }
    case "choice":
      return given[0] === undefined ? null : made("is", [given[0]]);
    case "several":
      return given.length === 0 ? null : made("oneOf", given);
    case "range": {
      const [from = "", to = ""] = asked.values.map((v) => v.trim());
      if (from !== "" && to !== "") return made("between", [from, to]);
      return from !== "" ? made("atLeast", [from]) : to !== "" ? made("atMost", [to]) : null;
    }
    default:
      return field.input satisfies never;
  }
}

/** The comparisons that one typed value can be asked with; a period has fields of its own. */
export const fieldOperators = (type: ValueType): OperatorName[] => writtenOperatorsFor(type).filter((o) => !takesPeriod(o));

/** The comparisons a typed field offers: those chosen for it that its type can be asked. */
export function operatorsOffered({ operators }: Pick<Extract<SearchField, { kind: "column" }>, "operators">, type: ValueType): OperatorName[] {
  const known = operators.filter((o) => fieldOperators(type).includes(o));
  return known.length > 0 ? known : [type.kind === "text" ? "contains" : "is"];
}

/** How a form asks for a column, until somebody says otherwise. */
export const firstField = ({ id, heading, type }: Pick<PlanColumn, "id" | "heading" | "type">): SearchField => ({
  kind: "column",
  column: id,
  label: heading,
  input: isDated(type) || isNumber(type) ? "range" : type.kind === "yesno" ? "choice" : "typed",
  operators: operatorsFor(type).filter((o) => ["contains", "beginsWith", "is"].includes(o)),
});

/** What a form gives the query's parameters; those it does not ask for keep their defaults. */
function parametersAsked(fields: SearchField[], asked: Asked): Record<string, string> {
  return Object.fromEntries(
    fields.flatMap((field, i) => {
      const [text = ""] = asked.fields[i]?.values ?? [];
      return field.kind === "parameter" && text.trim() !== "" ? [[field.name, text.trim()]] : [];
    }),
  );
}

/**
 * Resolves a search.
 * @param query the page's query
 * @param asked what the visitor filled in; fields by their place in the form
 * @returns the plan; or problems: those of a field under ["fields", place]
 */
export function planSearch(search: SearchSpec, query: QuerySpec, schema: Schema, context: Omit<RunContext, "values">, asked: Asked): Checked<SearchPlan> {
  const keyed = search.details || search.changes ? withKey(query, schema) : null;
  const values = parametersAsked(search.fields, asked);
  const inner = resolveQuery(keyed?.spec ?? query, schema, { ...context, values });
  if (!inner.ok) return inner;
  const known = new Map(inner.value.columns.map((c) => [c.id, c]));
  const gone = search.columns.filter((id) => !known.has(id));
  if (gone.length > 0) return { ok: false, problems: gone.map((column): Problem => problem("groupGone", ["columns"], { column })) };

  const conditions: Condition[] = [];
  const places: number[] = [];
  search.fields.forEach((field, i) => {
    const given = asked.fields[i];
    const type = field.kind === "column" ? known.get(field.column)?.type : undefined;
    const condition = field.kind === "column" && given && type ? conditionOf(field, given, type, `asked ${i}`) : null;
    if (!condition) return;
    conditions.push(condition);
    places.push(i);
  });
  const asField = (column: string) => ({ kind: "field" as const, join: "", column });
  const columns: QueryColumn[] = search.columns.map((id) => ({ id, value: asField(id), label: known.get(id)?.heading ?? id }));
  const keys = (keyed?.key ?? []).map((id) => ({ id, value: asField(id), hidden: true }));
  const sorted = search.sortable && asked.sort && search.columns.includes(asked.sort.column) ? [asked.sort] : [];
  const own = inner.value.order.filter((o) => o.column !== sorted[0]?.column);
  const orders = own.map(({ column }, i) => ({ id: `order ${i}`, value: asField(column), hidden: true }));
  const order = [...sorted, ...own.map(({ direction }, i) => ({ column: `order ${i}`, direction }))];
  const outer = resolveOver({ ...overRows(), columns: [...columns, ...keys, ...orders], conditions, order }, inner.value, { ...context, values });
  if (!outer.ok) {
    const at = (path: Problem["path"]) => (path[0] === "conditions" ? ["fields", places[Number(path[1])] ?? 0] : path);
    return { ok: false, problems: outer.problems.map((p) => ({ ...p, path: at(p.path) })) };
  }
  const made = outer.value.columns.map((c) => ({ ...c, totalled: false, format: known.get(c.id)?.format ?? c.format, unit: known.get(c.id)?.unit }));
  return {
    ok: true,
    value: {
      plan: { ...outer.value, columns: made },
      columns: made.slice(0, search.columns.length),
      key: keys.map((_, i) => search.columns.length + i),
      asked: conditions.length > 0 || Object.keys(values).length > 0,
    },
  };
}

/** A search page over a query as it stands: its parameters asked for, its columns shown. */
export const searchOf = (id: string, query: QuerySpec, columns: Pick<PlanColumn, "id" | "heading" | "type" | "hidden">[]): SearchSpec => ({
  kind: "search",
  query: id,
  fields: query.parameters.map((p) => ({ kind: "parameter", name: p.name, label: p.name })),
  columns: columns.filter((c) => !c.hidden).map((c) => c.id),
  perPage: 25,
  sortable: true,
  atOnce: true,
  details: null,
  changes: null,
});

/** A search page to begin with: its parameters and its texts asked for, and what belongs to a row shown. */
export function firstSearch(id: string, query: QuerySpec, columns: Pick<PlanColumn, "id" | "heading" | "type" | "hidden">[], schema: Schema): SearchSpec {
  const shown = columns.filter((c) => !c.hidden);
  const table = query.grouped ? undefined : findTable(schema, query.source);
  const asked = shown.filter((c) => c.type.kind === "text" || isDated(c.type)).slice(0, 3);
  const plain = searchOf(id, query, columns);
  return {
    ...plain,
    fields: [...plain.fields, ...asked.map(firstField)],
    details:
      table && table.key.length > 0
        ? {
            columns: table.columns
              .filter((c) => !c.derived?.broken)
              .map((c) => c.name)
              .slice(0, 8),
            panels: [],
          }
        : null,
  };
}
