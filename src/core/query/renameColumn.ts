import { renameInFormula } from "../expression/parse";
import type { Schema } from "../schema/schema";
import { mapComparisons, mapConditionLists } from "./conditions";
import { changeColumn } from "./edit";
import { emptyQuery } from "./empty";
import { sameName } from "./operands";
import { plannedColumn } from "./resolve";
import type { Operand, QueryColumn, QuerySpec } from "./spec";

/** A description of one column alone, whatever the others say. */
const alone = ({ source, stack, joins, grouped, parameters }: QuerySpec, column: QueryColumn): QuerySpec => ({
  ...emptyQuery(source),
  stack,
  joins,
  grouped,
  parameters,
  columns: [column],
});

/**
 * A column by another heading, also in the formulas that name it by the one it had. Without one it goes by what it is of.
 */
export function renameColumn(spec: QuerySpec, schema: Schema, id: string, label: string | undefined): QuerySpec {
  const column = spec.columns.find((c) => c.id === id);
  const renamed = changeColumn(spec, id, { label });
  const unnamed = () => column && plannedColumn(alone(spec, { ...column, label: undefined }), schema, id)?.heading;
  const was = column?.label ?? unnamed();
  const name = label ?? unnamed();
  // Without a heading a formula over rows has no name that others could use.
  if (!column || was === undefined || name === undefined || sameName(was, name)) return renamed;
  const written = <V extends Operand | null>(value: V): V =>
    value?.kind === "formula" ? { ...value, text: renameInFormula(value.text, (n) => sameName(n, was), name) } : value;
  const inConditions = mapConditionLists(renamed, (list) => mapComparisons(list, (c) => ({ ...c, left: written(c.left) })));
  return { ...inConditions, columns: inConditions.columns.map((c) => (c.id === id ? c : { ...c, value: written(c.value) })) };
}
