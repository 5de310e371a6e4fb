import { emptyQuery } from "../query/empty";
import { findTable, type Schema, type Step, stepsFrom, type Table } from "../schema/schema";
import type { Definition } from "./spec";

/** A rollup over the rows that a step leads to, as it is first offered: how many there are. */
export const rollupOver = (step: Step, far: string): Extract<Definition, { kind: "rollup" }> => ({
  kind: "rollup",
  step,
  query: { ...emptyQuery(far), grouped: true, columns: [{ id: "figure", value: null, figure: "count" }] },
});

/** A derived field of a kind as it is first offered for a table; null where no link leads to what it would be made of. */
export function firstDefinition(kind: Definition["kind"], table: Table, schema: Schema): Definition | null {
  const steps = stepsFrom(schema, table.name);
  const one = steps.find((s) => s.far.leadsTo === "one");
  const many = steps.find((s) => s.far.leadsTo === "many");
  if (kind === "formula") return { kind, text: "" };
  if (kind === "lookup") return one ? { kind, steps: [one.step], column: findTable(schema, one.far.table)?.columns[1]?.name ?? "" } : null;
  return many ? rollupOver(many.step, many.far.table) : null;
}
