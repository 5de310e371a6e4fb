import { linkPanel } from "../folio/panel";
import type { Schema, Step } from "../schema/schema";
import type { LetterSpec } from "./spec";

/** A letter with one table more, of the rows a step leads to, under an id no other table has; as it was where the step leads nowhere. */
export function addTable(spec: LetterSpec, schema: Schema, step: Step): { spec: LetterSpec; id: string } {
  const taken = new Set(spec.tables.map((t) => t.id));
  let n = 1;
  while (taken.has(`t${n}`)) n++;
  const id = `t${n}`;
  const panel = linkPanel(schema, step, id);
  if (!panel) return { spec, id };
  const { first: _, ...related } = panel;
  return { spec: { ...spec, tables: [...spec.tables, related] }, id };
}
