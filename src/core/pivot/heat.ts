import { isMisfit } from "../types/valueType";
import { type Column, cellAt, type Line } from "./lines";
import type { Pivot } from "./pivot";
import type { PivotSpec } from "./spec";

/** A figure that is shaded, and the greatest size of its cells. */
export type Heat = { figure: number; most: number };

/** The size of a figure's cells within the leaves: what its shades run from and to. */
export function heatOf(pivot: Pivot, spec: PivotSpec): Heat | null {
  const figure = spec.figures.findIndex((f) => f.id === spec.heat);
  if (figure < 0) return null;
  const depth = { down: spec.down.length, across: spec.across.length };
  let most = 0;
  pivot.down.forEach((d, i) =>
    pivot.across.forEach((a, k) => {
      if (d.level !== depth.down || a.level !== depth.across) return;
      const cell = pivot.cells[figure]?.[i * pivot.across.length + k] ?? null;
      if (cell !== null && !isMisfit(cell)) most = Math.max(most, Math.abs(Number(cell)));
    }),
  );
  return { figure, most };
}

/**
 * The shade of a cell, from 1 (smallest) to `shades`: its share of the greatest size, rounded up. A nought has shade 0.
 * @returns null where the cell is not shaded: of another figure, within a total, empty or a misfit
 */
export function shadeAt(pivot: Pivot, heat: Heat | null, line: Line, column: Column, shades: number): { shade: number; negative: boolean } | null {
  if (!heat || heat.most === 0 || column.figure !== heat.figure || line.kind !== "leaf" || column.kind !== "leaf") return null;
  const cell = cellAt(pivot, line, column);
  if (cell === null || isMisfit(cell)) return null;
  const number = Number(cell);
  return { shade: Math.min(shades, Math.ceil((Math.abs(number) / heat.most) * shades)), negative: number < 0 };
}
