import type { RunContext } from "../query/operands";
import { overRows, resolveOver } from "../query/over";
import type { Plan } from "../query/plan";
import type { QueryColumn } from "../query/spec";
import { type Checked, type Problem, problem } from "../types/problem";
import { GRAND } from "./choices";
import { figureColumn } from "./footingCells";
import { operandOf, type ReportRows, textsOf } from "./rowsPlan";
import type { FootingLine, ReportSpec } from "./spec";
import { formulasIn } from "./texts";

/*
 * The figures of a report's groups: one query over its rows for each level and one for all of them, whose lines stand in
 * the order of the groups. They are printed; the proof takes the same figures of the rows as they are printed.
 */

export type FiguresPlan = {
  plan: Plan;
  /** The places of what makes a group, outermost level first. */
  keys: number[];
  /** The place of the count of rows. */
  rows: number;
  /** Places of footings: by line, by column. */
  cells: Record<string, Record<string, number>>;
  /** Places of the figures that texts hold, by their formulas. */
  fields: Record<string, number>;
};

/** Whether a line stands under the groups of a level; under all rows by GRAND. */
export const standsAt = ({ levels }: Pick<FootingLine, "levels">, level: string): boolean => levels?.includes(level) ?? true;

/** The figures that texts of a level hold: its heading, its lines, passages under its heading; on all pages those of all rows. */
function textFigures(spec: ReportSpec, level: string): Map<string, (string | number)[]> {
  const found = new Map<string, (string | number)[]>();
  for (const [path, words] of textsOf(spec)) {
    if (!isOf(spec, level, path)) continue;
    for (const formula of formulasIn(words)) if (formula.figure && !found.has(formula.text)) found.set(formula.text, path);
  }
  return found;
}

function isOf(spec: ReportSpec, level: string, [part, at]: (string | number)[]): boolean {
  if (part === "levels") return spec.levels[Number(at)]?.id === level;
  if (part === "lines") return spec.lines[Number(at)] !== undefined && standsAt(spec.lines[Number(at)] as FootingLine, level);
  if (part === "summaries") return spec.summaries?.[Number(at)]?.under === level;
  const place = part === "passages" ? spec.passages?.[Number(at)]?.at : undefined;
  return typeof place === "object" ? place.level === level : level === GRAND;
}

/**
 * The figures of the groups of a level, or of all rows.
 * @param depth how many levels make the groups: 0 is all rows
 */
export function planFigures(spec: ReportSpec, rows: ReportRows, depth: number, context: RunContext): Checked<FiguresPlan> {
  const level = spec.levels[depth - 1]?.id ?? GRAND;
  const made = rows.levels.slice(0, depth);
  const columns: QueryColumn[] = [];
  const places: (string | number)[][] = [];
  const add = (column: QueryColumn, path: (string | number)[] = []): number => {
    places.push(path);
    return columns.push(column) - 1;
  };
  const keys = made.flatMap((l, i) => {
    const plain = l.rest === null ? operandOf(l.level.value) : { kind: "field" as const, join: "", column: l.key };
    // Groups without rows are told of the innermost level alone: those around them are there by their rows.
    const every = l.level.every === true && l.rest === null && i === spec.levels.length - 1;
    const key: QueryColumn = { id: l.key, value: plain, ...(every ? { everyValue: true } : {}) };
    const rest: QueryColumn[] = l.rest ? [{ id: l.rest, value: { kind: "field", join: "", column: l.rest } }] : [];
    return [...rest, key].map((c) => add(c, ["levels", i]));
  });
  const order = made.flatMap((l) => l.order);
  for (const { column } of order)
    if (!columns.some((c) => c.id === column)) add({ id: column, value: { kind: "field", join: "", column }, figure: "least", hidden: true });
  const count = add({ id: "rows", value: null, figure: "count" });
  const cells: FiguresPlan["cells"] = {};
  const problems: Problem[] = [];
  const ordered = columns.some((c) => c.figure === "least");
  if (ordered && columns.some((c) => c.everyValue)) problems.push(problem("everyOrder", ["levels", depth - 1]));
  for (const [i, line] of spec.lines.entries()) {
    if (!standsAt(line, level)) continue;
    for (const [id, cell] of Object.entries(line.cells)) {
      const column = spec.columns.find((c) => c.id === id);
      if (!column || (cell.kind === "formula" && !cell.text.trim())) continue;
      const figure = figureColumn(`${line.id} of ${id}`, column, cell);
      if (!figure) {
        problems.push(problem("footingOfWindow", ["lines", i], { column: column.label ?? id }));
        continue;
      }
      const everyRow = rows.plan.columns.find((c) => c.id === `value ${id}`)?.everyRow;
      const at = add({ ...figure, ...(everyRow ? { everyRow } : {}) }, ["lines", i, "cells", id]);
      cells[line.id] = { ...cells[line.id], [id]: at };
    }
  }
  const fields = Object.fromEntries(
    [...textFigures(spec, level)].map(([text, path]) => [text, add({ id: `text ${text}`, value: { kind: "formula", text }, figure: "formula" }, path)]),
  );
  if (problems.length > 0) return { ok: false, problems };
  const resolved = resolveOver({ ...overRows(), grouped: true, columns, order }, { ...rows.plan, order: [] }, context);
  if (!resolved.ok) {
    const at = ({ path }: Problem) => (path[0] === "columns" ? (places[Number(path[1])] ?? path) : path);
    return { ok: false, problems: resolved.problems.map((p) => ({ ...p, path: at(p) })) };
  }
  // Columns that order by names may have been added behind; those asked for keep their places.
  const at = (index: number) => resolved.value.columns.findIndex((c) => c.id === columns[index]?.id);
  const placed = (record: Record<string, number>) => Object.fromEntries(Object.entries(record).map(([k, v]) => [k, at(v)]));
  return {
    ok: true,
    value: {
      plan: resolved.value,
      keys: keys.map(at),
      rows: at(count),
      cells: Object.fromEntries(Object.entries(cells).map(([line, of]) => [line, placed(of)])),
      fields: placed(fields),
    },
  };
}
