import { linkPanel } from "../folio/panel";
import { tableOf } from "../query/edit";
import type { QuerySpec } from "../query/spec";
import { findTable, type Schema, type Step, stepsFrom } from "../schema/schema";
import type { RelatedTable } from "./spec";

/** A table whose rows belong to a report's, by a link from a table of its query. */
export type RelatedChoice = { of: string; step: Step; words: string };

/** The tables that can be printed under a report's rows or groups: by the links that lead to many. */
export function relatedChoices(query: QuerySpec, schema: Schema): RelatedChoice[] {
  if (query.grouped) return [];
  return ["", ...query.joins.map((j) => j.id)].flatMap((of) => {
    const table = findTable(schema, tableOf(query, schema, of) ?? "");
    if (!table || table.key.length === 0) return [];
    return stepsFrom(schema, table.name)
      .filter((s) => s.far.leadsTo === "many")
      .map(({ step, far }) => ({ of, step, words: `${far.name} of the ${table.label}` }));
  });
}

/** A related table to begin with. @param under the level under whose groups it stands; "" under each row */
export function newRelated({ of, step }: Pick<RelatedChoice, "of" | "step">, under: string, schema: Schema): Omit<RelatedTable, "id"> | null {
  const panel = linkPanel(schema, step, "");
  if (!panel) return null;
  const { first: _, id: __, ...table } = panel;
  return { ...table, under, of };
}
