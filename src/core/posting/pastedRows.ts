import type { Column } from "../schema/schema";
import { MOST_BLOCK_CELLS } from "./block";

/** Copied rows by the columns they go into: by their places among `columns`. */
export type PastedRows = { columns: number[]; texts: string[][] };

export type PastedProblem = { kind: "tooMany"; cells: number } | { kind: "columnsBeyond"; count: number } | { kind: "nothing" };

const folded = (text: string): string => text.trim().toLowerCase();

/**
 * Copied rows as new rows of a table: a first line that names columns says which is which, else they stand in the table's order.
 * @param pasted rows of texts; a row may be shorter than others, and is empty behind
 * @param columns those that a new row may be given values for, in their order
 */
export function pastedRows(pasted: readonly (readonly string[])[], columns: readonly Pick<Column, "name" | "label">[]): PastedRows | PastedProblem {
  const lines = pasted.filter((line) => line.some((text) => text.trim() !== ""));
  const [first = []] = lines;
  const named = first.map((text) => columns.findIndex((c) => folded(c.label) === folded(text) || folded(c.name) === folded(text)));
  const isHeader = named.length > 0 && !named.includes(-1) && new Set(named).size === named.length;
  const rows = isHeader ? lines.slice(1) : lines;
  const width = isHeader ? named.length : Math.max(0, ...rows.map((row) => row.length));
  if (rows.length === 0 || width === 0) return { kind: "nothing" };
  if (rows.length * width > MOST_BLOCK_CELLS) return { kind: "tooMany", cells: rows.length * width };
  const beyond = isHeader ? Math.max(0, ...rows.map((row) => row.length)) - width : width - columns.length;
  if (beyond > 0) return { kind: "columnsBeyond", count: beyond };
  const places = isHeader ? named : Array.from({ length: width }, (_, i) => i);
  return { columns: places, texts: rows.map((row) => places.map((_, i) => row[i] ?? "")) };
}
