import { isMisfit } from "../types/valueType";
import type { Pivot } from "./assemble";
import type { PivotSpec } from "./spec";

/** The size of a figure's cells within the leaves: what its shades run from and to. */
export function heatOf(pivot: Pivot, spec: PivotSpec): { figure: number; most: number } | null {
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
