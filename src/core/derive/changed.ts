import { isProblem } from "../expression/check";
import { writtenName } from "../expression/parse";
import { emptyQuery } from "../query/empty";
import type { QuerySpec } from "../query/spec";
import type { Schema } from "../schema/schema";
import type { Today } from "../types/calendar";
import { isComparable } from "../types/valueType";
import { derivedType } from "./derive";
import type { DerivedField } from "./spec";

/** The id under which a derived field that is changed stands beside what it is today. */
export const CHANGED = "changed";

/** A field as it is changed, beside the one it is today. @param label what the changed one is called meanwhile */
export const asChanged = (field: DerivedField, label: string): DerivedField => ({ ...field, id: CHANGED, label });

/**
 * The rows of a table in which a changed derived field has another value than today; no value is one too.
 * @param now the field as it is today, `next` as it is changed (asChanged)
 * @returns null where the two cannot be compared: one of them cannot be worked out, or they are of different types
 */
export function differingRows(now: DerivedField, next: DerivedField, schema: Schema, today: Today): QuerySpec | null {
  const [was, is] = [derivedType(now, schema, today), derivedType(next, schema, today)];
  if (isProblem(was) || isProblem(is) || !isComparable(was, is)) return null;
  const text = `CASE WHEN ${writtenName(now.label)} IS DISTINCT FROM ${writtenName(next.label)} THEN 1 ELSE 0 END`;
  return {
    ...emptyQuery(now.table),
    columns: [now.id, next.id].map((column) => ({ id: column, value: { kind: "field" as const, join: "", column } })),
    conditions: [{ id: "differs", left: { kind: "formula", text }, operator: "is", values: [{ kind: "value", text: "1" }] }],
  };
}
