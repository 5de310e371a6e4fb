import { schemaRead } from "../query/comparedSchema";
import { columnWords } from "../query/operands";
import { scopeOf } from "../query/reach";
import type { QuerySpec } from "../query/spec";
import type { Schema } from "../schema/schema";
import type { Locale } from "../types/format";
import { briefText, conditionPhrases, queryBrief } from "./brief";

/** What a query's sentence says, each part by itself, so that two of them can be told apart: its rows, conditions, columns, order, parameters. */
export function briefParts(spec: QuerySpec, given: Schema, locale: Locale): string[] {
  const schema = schemaRead(given, spec);
  const scope = scopeOf(spec, schema);
  const condition = (c: QuerySpec["conditions"][number]) => briefText(conditionPhrases(c, { scope, schema, locale, own: spec.columns }));
  const bare = { ...spec, conditions: [], groupConditions: [], lineConditions: [], columns: [], order: [], limit: null };
  const { firstOf: _, ...rows } = bare;
  const [source = ""] = briefText(queryBrief({ ...rows, grouped: false }, schema, locale)).split(". ");
  return [
    source,
    ...spec.conditions.map((c) => `where ${condition(c)}`),
    ...(spec.groupConditions ?? []).map((c) => `only groups where ${condition(c)}`),
    ...(spec.lineConditions ?? []).map((c) => `then only those where ${condition(c)}`),
    ...spec.columns.map((c) => `${spec.grouped && !c.figure ? "one row per" : c.hidden ? "hidden column" : "column"} ${columnWords(c, scope, spec.columns)}`),
    ...spec.order.map((o) => {
      const column = spec.columns.find((c) => c.id === o.column);
      return `sorted by ${column ? columnWords(column, scope, spec.columns) : o.column}, ${o.direction === "up" ? "ascending" : "descending"}`;
    }),
    ...(spec.limit === null ? [] : [`first ${spec.limit} rows`]),
    ...(spec.firstOf ? [`first ${spec.firstOf.rows} rows of each`] : []),
    ...spec.parameters.map((p) => `parameter ${p.name}`),
    ...(spec.controls ?? []).map((c) => `control total ${c.value}`),
  ];
}
