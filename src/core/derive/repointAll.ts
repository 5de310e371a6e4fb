import { findColumn, findTable, type Schema, type Step, stepsFrom, type Table } from "../schema/schema";
import { repointRollup } from "./repoint";
import type { Definition } from "./spec";

/** A derived field of a table with its definition. */
type Field = { id: string; label: string; definition: Definition };

/** A link that is gone, and the broken derived fields that went through it first. */
export type GoneLink = { link: string; fields: Field[] };

const firstStep = (definition: Definition): Step | undefined =>
  definition.kind === "lookup" ? definition.steps[0] : definition.kind === "rollup" ? definition.step : undefined;

/** The links that derived fields of a table need and that are gone, with those fields. */
export function goneLinks(table: Table, schema: Schema): GoneLink[] {
  const gone = new Map<string, Field[]>();
  for (const { name: id, label, derived } of table.columns) {
    const step = derived && firstStep(derived.definition);
    if (!derived || !step || schema.links.some((l) => l.id === step.link)) continue;
    gone.set(step.link, [...(gone.get(step.link) ?? []), { id, label, definition: derived.definition }]);
  }
  return [...gone].map(([link, fields]) => ({ link, fields }));
}

/**
 * A definition that goes through another link first.
 * @param step leads from the field's own table
 * @returns null where it cannot: a lookup goes to one row, and on to a column that is there; with what a rollup could not keep, in words
 */
export function repointed(definition: Definition, step: Step, schema: Schema): { definition: Definition; dropped: string[] } | null {
  const far = schema.links.find((l) => l.id === step.link)?.[step.toward];
  if (!far || definition.kind === "formula") return null;
  if (definition.kind === "rollup") {
    if (far.leadsTo !== "many") return null;
    const { rollup, dropped } = repointRollup(definition, step, schema);
    return { definition: rollup, dropped };
  }
  if (far.leadsTo !== "one") return null;
  const steps = [step, ...definition.steps.slice(1)];
  let at: string | undefined = far.table;
  for (const next of steps.slice(1)) at = stepsFrom(schema, at ?? "").find((s) => s.step.link === next.link && s.step.toward === next.toward)?.far.table;
  const end = at === undefined ? undefined : findTable(schema, at);
  return end && findColumn(end, definition.column) ? { definition: { ...definition, steps }, dropped: [] } : null;
}

/** What can take a link's place for every field that went through it: first what leads to the same rows, then the fewest losses; what is lost is told by field. */
export function replacements({ fields }: GoneLink, table: Table, schema: Schema): { step: Step; name: string; dropped: string[] }[] {
  return stepsFrom(schema, table.name)
    .flatMap(({ step, far }) => {
      const made = fields.map((field) => ({ field, next: repointed(field.definition, step, schema) }));
      if (made.some((m) => m.next === null)) return [];
      const elsewhere = fields.filter(({ definition }) => definition.kind === "rollup" && definition.query.source !== far.table).length;
      return [{ elsewhere, step, name: far.name, dropped: made.flatMap(({ field, next }) => next?.dropped.map((what) => `${what} of ${field.label}`) ?? []) }];
    })
    .sort((a, b) => a.elsewhere - b.elsewhere || a.dropped.length - b.dropped.length)
    .map(({ elsewhere: _, ...choice }) => choice);
}
