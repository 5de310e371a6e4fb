import { newAxis } from "../pivot/empty";
import type { CellPick } from "../pivot/pick";
import { pickAt, plainKey } from "../pivot/rows";
import type { PivotSpec } from "../pivot/spec";
import type { ChartAnswer } from "./data";
import { bandedPivot } from "./plan";
import type { ChartSpec } from "./spec";
import type { Drawn } from "./style";

/** A mark of a drawn chart: its series, and its place in it. */
export type Mark = { series: number; place: number };

/** The cell of a pivot whose rows a mark stands for. */
export type MarkCell = { pivot: PivotSpec; pick: CellPick };

/** What a mark stands for; null for marks of an earlier time and for lines that are no rows: targets, means, trends. */
export function markCell(spec: ChartSpec, answer: ChartAnswer, { data, config }: Drawn, { series, place }: Mark): MarkCell | null {
  const [first, second] = spec.pivot.figures;
  if (answer.shape === "values") {
    const box = answer.boxes[place];
    const [group] = spec.pivot.across;
    return box
      ? { pivot: { ...spec.pivot, down: [], across: group ? [group] : [] }, pick: { down: [], across: group ? [{ key: plainKey(box.key) }] : [] } }
      : null;
  }
  if (answer.shape === "points") {
    const point = config.data.datasets[series]?.data[place] as { row?: number } | undefined;
    const row = point?.row === undefined ? undefined : answer.points[point.row];
    if (!row || !first?.value || !second?.value) return null;
    const pivot = { ...spec.pivot, down: [newAxis("x", first.value), newAxis("y", second.value)], across: [] };
    return { pivot, pick: { down: [{ key: plainKey(row[0] ?? null) }, { key: plainKey(row[1] ?? null) }], across: [] } };
  }
  const line = data?.series[series];
  const at = data?.places[place];
  if (!line || !at || line.earlier) return null;
  const pivot = spec.kind === "histogram" ? bandedPivot(spec, answer.pivot.axes.across[0]?.format.band ?? "1") : spec.pivot;
  return { pivot, pick: pickAt(answer.pivot, line, at) };
}
