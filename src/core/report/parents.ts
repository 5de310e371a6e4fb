import type { RowCells } from "../folio/panel";
import { cellWriter, type Locale } from "../types/format";
import type { Cell } from "../types/valueType";
import { GRAND } from "./choices";
import { type Sources, tellGroups } from "./groups";
import { parentOf, type ReportPlan } from "./plan";
import { type RelatedPlan, rowKey } from "./relatedPlan";
import { levelWords } from "./words";

/** What related rows belong to, in order: a row or a group in words, with the rows of the table that are compared. */
export type Parents = { words: string; parents: RowCells[] };

/** The rows or groups of a report that a related table stands under, in the order they are printed. */
export function* tellParents(report: ReportPlan, { spec, table }: RelatedPlan, sources: Sources, locale: Locale): Generator<Parents> {
  const depth = spec.under === GRAND ? null : report.levels.findIndex((l) => l.spec.id === spec.under) + 1;
  const writers = report.levels.map((l) => cellWriter(l.column.type, l.column.format, locale));
  const first = report.columns[0];
  const write = first ? cellWriter(first.column.type, first.column.format, locale) : null;
  let gathered = new Map<string, RowCells>();
  for (const told of tellGroups(report, sources)) {
    if (told.kind === "row") {
      const parent = parentOf(report, spec.of, told.row);
      const isThere = table.key.some((name) => (parent[name] ?? null) !== null);
      if (depth === null && isThere) yield { words: write?.(told.row[first?.at ?? 0] ?? null).text ?? "", parents: [parent] };
      else if (isThere) gathered.set(rowKey({ table }, parent), parent);
    } else if (told.group.depth === depth) {
      if (told.kind === "open") gathered = new Map();
      else if (gathered.size > 0) yield { words: pathOf(told.group.first, depth), parents: [...gathered.values()] };
    }
  }

  function pathOf(row: Cell[], to: number): string {
    return report.levels
      .slice(0, to)
      .map((l, i) => levelWords(l, row, (cell) => writers[i]?.(cell).text ?? "").words)
      .join(" › ");
  }
}
