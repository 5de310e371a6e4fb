import type { Cell } from "../types/valueType";
import type { Piece } from "./fillPages";
import { POINTS_PER_MM } from "./frame";
import type { ReportSpec } from "./spec";
import { isBlank } from "./words";

/* Labels on a sheet: each row is one, and they stand side by side, a row of them after the other. */

const PAD = 6;
const LABEL_LINE = 11;

type Labels = Extract<ReportSpec["shape"], { kind: "labels" }>;

/** How many labels stand side by side in a width, in points. */
export const labelsAcross = ({ widthMm, gapXMm }: Labels, width: number): number =>
  Math.max(1, Math.floor((width + gapXMm * POINTS_PER_MM + 0.1) / ((widthMm + gapXMm) * POINTS_PER_MM)));

/**
 * A row of labels. A line that comes out empty is left out; those that a label has no room for are, too.
 * @param fill a line filled in for a row
 */
export function labelsPiece(shape: Labels, rows: Cell[][], left: number, fill: (line: string, row: Cell[]) => string): Piece {
  const [width, height] = [shape.widthMm * POINTS_PER_MM, shape.heightMm * POINTS_PER_MM];
  const most = Math.max(1, Math.floor((height - PAD) / LABEL_LINE));
  return {
    kind: "piece",
    height: height + shape.gapYMm * POINTS_PER_MM,
    row: rows[0],
    draw: (draft, y) => {
      for (const [i, row] of rows.entries()) {
        const x = left + i * (width + shape.gapXMm * POINTS_PER_MM);
        const lines = shape.lines.map((line) => fill(line, row)).filter((line) => !isBlank(line));
        for (const [n, line] of lines.slice(0, most).entries()) {
          const place = { x: x + PAD, width: width - 2 * PAD, right: false };
          draft.put(place, y + PAD + 8 + n * LABEL_LINE, line, n === 0 ? "sansBold" : "sans", "ink", { kind: "paragraph" });
        }
        draft.area(x, y, width, height, { kind: "label" });
      }
    },
  };
}
