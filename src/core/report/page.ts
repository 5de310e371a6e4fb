import type { Locale } from "../types/format";
import type { ReportPlan } from "./plan";
import type { ReportSpec } from "./spec";

/* What a laid-out page is made of. All places are in points from the paper's top left corner; a text's y is its baseline. */

export type Font = "serifBold" | "sans" | "sansBold" | "sansItalic" | "sansBoldItalic";
export type Tone = "ink" | "faint" | "green" | "ochre" | "vermilion";
export type PageItem =
  /** `end` is given for what stands flush right: its right edge, the same place as x for a reader with other fonts. */
  | { kind: "text"; x: number; y: number; text: string; font: Font; size: number; tone: Tone; end?: number }
  | { kind: "rule"; x: number; y: number; width: number; weight: number }
  /** A PNG picture, in base64. */
  | { kind: "picture"; x: number; y: number; width: number; height: number; png: string; alt: string };
export type Page = { number: number; width: number; height: number; items: PageItem[] };

/** How wide a text is in points: the metrics of the fonts that will print it. */
export type Metrics = { width: (text: string, font: Font, size: number) => number };

export type ReportTexts = { brief: string; printedAt: string };
/** What laying out works on. */
export type LayoutInput = { report: ReportPlan; spec: ReportSpec; metrics: Metrics; locale: Locale; texts: ReportTexts };

/** Sizes of type, in points. */
export const SIZE = { title: 15, brief: 8, heading: 8.5, body: 8, small: 7 };
