import type { Plan } from "../query/plan";
import { removeColumn, removeLevel } from "./edit";
import type { FootingCell, ReportSpec } from "./spec";

/*
 * What a report names of its query that the query does not have: after another query was chosen, or after the query or the
 * database was changed. Each can be pointed at another column, or removed.
 */

/** A column that is gone, and what it was used for. */
export type Gone = { column: string; uses: ("group" | "column" | "footing")[] };

/** The columns that a report names and its query lacks. */
export function goneFrom(spec: ReportSpec, query: Pick<Plan, "columns">): Gone[] {
  const known = new Set(query.columns.map((c) => c.id));
  const found = new Map<string, Set<Gone["uses"][number]>>();
  const note = (column: string | undefined, use: Gone["uses"][number]) => {
    if (column === undefined || known.has(column)) return;
    found.set(column, (found.get(column) ?? new Set()).add(use));
  };
  for (const { value } of spec.levels) note(value.kind === "field" ? value.column : undefined, "group");
  for (const { value } of spec.columns) note(value.kind === "field" ? value.column : undefined, "column");
  for (const { cells } of spec.lines) for (const cell of Object.values(cells)) note(cell.kind === "figure" ? cell.by : undefined, "footing");
  return [...found].map(([column, uses]) => ({ column, uses: [...uses] }));
}

/** A report with each column of its query known by another name; undefined leaves it. */
export function mapColumns(spec: ReportSpec, to: (column: string) => string | undefined): ReportSpec {
  const value = <V extends { kind: string }>(v: V): V => ("column" in v ? { ...v, column: to(String(v.column)) ?? v.column } : v);
  const cell = (c: FootingCell): FootingCell => (c.kind === "figure" && c.by !== undefined ? { ...c, by: to(c.by) ?? c.by } : c);
  return {
    ...spec,
    levels: spec.levels.map((l) => ({ ...l, value: value(l.value) })),
    columns: spec.columns.map((c) => ({ ...c, value: value(c.value) })),
    lines: spec.lines.map((l) => ({ ...l, cells: Object.fromEntries(Object.entries(l.cells).map(([id, c]) => [id, cell(c)])) })),
  };
}

/** Points what a column was used for at another one of the query. */
export const replaceColumn = (spec: ReportSpec, gone: string, by: string): ReportSpec => mapColumns(spec, (column) => (column === gone ? by : undefined));

/** A report without what some columns of its query were used for. */
export function withoutColumns(spec: ReportSpec, gone: string[]): ReportSpec {
  const isGone = (value: { kind: string; column?: string }) => value.kind === "field" && gone.includes(value.column ?? "");
  const levels = spec.levels.filter((l) => isGone(l.value)).reduce((made, l) => removeLevel(made, l.id), spec);
  const columns = spec.columns.filter((c) => isGone(c.value)).reduce((made, c) => removeColumn(made, c.id), levels);
  const kept = (cells: Record<string, FootingCell>) =>
    Object.fromEntries(Object.entries(cells).filter(([, c]) => !(c.kind === "figure" && c.by !== undefined && gone.includes(c.by))));
  return { ...columns, lines: columns.lines.map((l) => ({ ...l, cells: kept(l.cells) })) };
}
