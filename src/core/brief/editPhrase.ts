import * as edit from "../query/edit";
import type { QuerySpec } from "../query/spec";
import type { PhraseTarget } from "./brief";

/**
 * A query without what a phrase of its sentence stands for, as the Delete key on it asks: a condition whole, a brought
 * table with all that is of it, a group, the order, the limit. What a query cannot be without stays.
 */
export function withoutPhrase(spec: QuerySpec, target: PhraseTarget): QuerySpec {
  switch (target.kind) {
    case "conditionField":
    case "operator":
    case "value":
    case "holds":
      return edit.removeCondition(spec, target.id);
    case "join":
    case "way":
      return edit.removeJoin(spec, target.id);
    case "group":
      return edit.removeColumns(spec, [target.id]);
    case "order":
      return { ...spec, order: [] };
    case "firstOf":
      return { ...spec, firstOf: undefined };
    case "limit":
      return { ...spec, limit: null };
    case "source":
    case "compare":
    case "columns":
    case "field":
      return spec;
    default:
      return target satisfies never;
  }
}

/** The same where only conditions are a person's own: a rule on rows, a panel, a rollup. All else stays. */
export const withoutCondition = (spec: QuerySpec, target: PhraseTarget): QuerySpec =>
  target.kind === "conditionField" || target.kind === "operator" || target.kind === "value" || target.kind === "holds" ? withoutPhrase(spec, target) : spec;
