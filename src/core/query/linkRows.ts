import { findTable, plural, type Schema, type Step } from "../schema/schema";
import { firstColumns } from "./edit";
import { emptyQuery } from "./empty";
import type { Condition, QuerySpec } from "./spec";

/** Rows of a link's one side, by how many rows of the other side they lead to. */
export const LINK_ROWS = ["found", "none", "several"] as const;
export type LinkRows = (typeof LINK_ROWS)[number];

/**
 * The rows of the table a step starts from that lead to a row of the other, to none, or to several.
 * @returns the query and what it is called; null where the link is gone
 */
export function linkRows(schema: Schema, step: Step, which: LinkRows): { name: string; spec: QuerySpec } | null {
  const link = schema.links.find((l) => l.id === step.link);
  if (!link) return null;
  const [near, far] = step.toward === "b" ? [link.a, link.b] : [link.b, link.a];
  const [table, other] = [findTable(schema, near.table), findTable(schema, far.table)];
  if (!table || !other) return null;
  const spec = { ...emptyQuery(near.table), columns: firstColumns(schema, near.table) };
  const rows = plural(table.label);
  if (which !== "several") {
    const way = which === "found" ? ("has" as const) : ("hasNone" as const);
    const words = which === "found" ? "with" : "without";
    return { name: `${rows} ${words} ${far.name}`, spec: { ...spec, joins: [{ id: "linked", from: "", ...step, way }] } };
  }
  const counted: Condition = {
    id: "several",
    left: { kind: "related", join: "", step, figure: "count", column: null, words: plural(other.label) },
    operator: "greater",
    values: [{ kind: "value", text: "1" }],
  };
  return { name: `${rows} with several ${plural(other.label)}`, spec: { ...spec, conditions: [counted] } };
}
