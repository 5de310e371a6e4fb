import { operandsOf } from "../query/operands";
import type { Operand } from "../query/spec";
import { findColumn, findTable, type Schema, type Step } from "../schema/schema";
import { PARENT } from "./parent";
import type { Definition } from "./spec";

type Rollup = Extract<Definition, { kind: "rollup" }>;

/**
 * A rollup pointed at another link. Over the same table it stays as it is; over another it keeps its figure, its order and each
 * condition whose fields that table has by name and type.
 * @returns the rollup with what could not be kept, in words; nothing is dropped without them
 */
export function repointRollup(rollup: Rollup, step: Step, schema: Schema): { rollup: Rollup; dropped: string[] } {
  const source = schema.links.find((l) => l.id === step.link)?.[step.toward].table ?? rollup.query.source;
  const { query } = rollup;
  if (source === query.source) return { rollup: { ...rollup, step }, dropped: [] };
  const [before, after] = [findTable(schema, query.source), findTable(schema, source)];
  const fits = (operand: Operand | null | undefined): boolean => {
    if (!operand || (operand.kind === "field" && operand.join === PARENT)) return true;
    if (operand.kind !== "field" || operand.join !== "" || !after) return false;
    const [old, found] = [before && findColumn(before, operand.column), findColumn(after, operand.column)];
    return found !== undefined && (!old || old.type.kind === found.type.kind);
  };
  const kept = query.conditions.filter((c) => operandsOf({ conditions: [c], columns: [] }).every(fits));
  const [column] = query.columns;
  const figure = column && fits(column.value) && fits(column.by) ? column : { id: column?.id ?? "figure", value: null, figure: "count" as const };
  const dropped = [
    ...(figure === column ? [] : ["the figure"]),
    ...(kept.length === query.conditions.length
      ? []
      : [query.conditions.length - kept.length === 1 ? "a condition" : `${query.conditions.length - kept.length} conditions`]),
  ];
  return { rollup: { ...rollup, step, query: { ...query, source, joins: [], conditions: kept, columns: [figure] } }, dropped };
}
