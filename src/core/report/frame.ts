import { PAPERS } from "./choices";
import type { ReportSpec } from "./spec";

export const POINTS_PER_MM = 72 / 25.4;

export type Frame = {
  width: number;
  height: number;
  left: number;
  right: number;
  top: number;
  bottom: number;
  /** What the margins leave, in mm. */
  inner: { width: number; height: number };
};

/** The paper and what the margins leave of it, in points. @param page its number: on even ones margins change places where both sides are printed */
export function pageFrame({ page }: Pick<ReportSpec, "page">, number = 1): Frame {
  const paper = PAPERS[page.paper];
  const [width, height] = page.landscape ? [paper.height, paper.width] : [paper.width, paper.height];
  const { top, bottom } = page.margins;
  const turned = page.duplex === true && number % 2 === 0;
  const [left, right] = turned ? [page.margins.right, page.margins.left] : [page.margins.left, page.margins.right];
  return {
    width: width * POINTS_PER_MM,
    height: height * POINTS_PER_MM,
    left: left * POINTS_PER_MM,
    right: (width - right) * POINTS_PER_MM,
    top: top * POINTS_PER_MM,
    bottom: (height - bottom) * POINTS_PER_MM,
    inner: { width: width - left - right, height: height - top - bottom },
  };
}
