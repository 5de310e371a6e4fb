import { comparisonsIn } from "../query/conditions";
import type { WantedNames } from "../query/namedRows";
import { scopeOf } from "../query/reach";
import type { Condition, QuerySpec } from "../query/spec";
import { namedTable } from "../schema/rowNames";
import type { Schema } from "../schema/schema";
import type { Phrase } from "./brief";

/*
 * The values of a brief's conditions that are keys of rows with names, said by these: "shipper id is Mirrin Wool".
 */

type Keyed = { condition: Condition; table: string };

/** The conditions whose values are typed keys of rows with names. */
function keyed(spec: QuerySpec, schema: Schema): Keyed[] {
  const scope = scopeOf(spec, schema);
  return comparisonsIn(spec.conditions).flatMap((condition): Keyed[] => {
    const { left, values } = condition;
    if (left.kind !== "field" || left.part || left.band || left.limits || left.letters) return [];
    const near = scope.find((s) => s.id === left.join)?.table.name;
    const table = near === undefined ? undefined : namedTable(schema, near, left.column);
    return table && values.some((v) => v.kind === "value" && v.text !== "") ? [{ condition, table: table.name }] : [];
  });
}

const typed = ({ values }: Condition): string[] => values.flatMap((v) => (v.kind === "value" && v.text !== "" ? [v.text] : []));

/** The rows whose names the conditions of a query are said by. */
export const namesInConditions = (spec: QuerySpec, schema: Schema): WantedNames[] =>
  keyed(spec, schema).map(({ condition, table }) => ({ table, keys: typed(condition) }));

/** A brief with names in place of keys, as far as they are known. */
export function withRowNames(phrases: Phrase[], spec: QuerySpec, schema: Schema, nameOf: (table: string, key: string) => string | undefined): Phrase[] {
  const conditions = keyed(spec, schema);
  return phrases.map((phrase): Phrase => {
    const { target } = phrase;
    const at = target?.kind === "value" ? conditions.find((c) => c.condition.id === target.id) : undefined;
    if (!at || target?.kind !== "value") return phrase;
    const said = (key: string) => nameOf(at.table, key) ?? key;
    const value = at.condition.values[target.index];
    const text = at.condition.operator === "oneOf" || at.condition.operator === "notOneOf" ? typed(at.condition).map(said).join(", ") : undefined;
    return { ...phrase, text: text ?? (value?.kind === "value" ? said(value.text) : phrase.text) };
  });
}
