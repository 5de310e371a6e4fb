import type { Cell } from "../types/valueType";
import { whole } from "../types/valueType";
import type { ReportChecks } from "./checks";
import type { ReportPlan } from "./plan";
import { FigureRecount } from "./recount";

/* Figures of groups that stand in formulas of their rows, held against the same figures taken of those rows. */

/** Those of one group while its rows come. */
export type HeldFigures = { add: (row: Cell[]) => void; end: (checks: ReportChecks) => void };

/** Makes what takes the figures of groups of a depth. */
export function heldFigures(report: ReportPlan): (depth: number, keys: Cell[]) => HeldFigures[] {
  const recounts = report.rowFigures.map((f) => ({ ...f, recount: new FigureRecount(f, report.rows) }));
  return (depth, keys) =>
    recounts
      .filter((f) => f.depth === depth)
      .map(({ plan, columns, places, recount }) => {
        const tally = recount.start(keys);
        let first: Cell[] | null = null;
        let same = true;
        return {
          add: (row) => {
            tally.add(row);
            first ??= row;
            if (places.some((at) => String(row[at]) !== String(first?.[at]))) same = false;
          },
          end: (checks) => {
            if (first === null) return;
            const recounted = tally.cells();
            for (const [i, { at }] of columns.entries())
              checks.holds(first[places[i] ?? -1] ?? null, recounted[at] ?? null, same, plan.columns[at]?.type ?? whole);
          },
        };
      });
}
