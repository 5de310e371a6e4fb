import type { Cell } from "../types/valueType";

/* What a laid-out page is made of. All places are in points from the paper's top left corner; a text's y is its baseline. */

export type Font = "serifBold" | "sans" | "sansBold" | "sansItalic" | "sansBoldItalic";
export type Tone = "ink" | "faint" | "green" | "ochre" | "vermilion";

/**
 * What a text is to those who have it read to them (ISO 32000-1, 14.8.4): headers and footers of pages have none. Texts `of` one
 * number that follow one another are one heading or paragraph; without, each is one by itself. Texts of a row with one number
 * are one cell; without, those that begin or end at one place.
 */
export type Tag =
  | { kind: "heading"; level: number; of?: number }
  | { kind: "paragraph"; of?: number }
  | { kind: "cell"; table: number; row: number; head: boolean; cell?: number };

export type PageItem =
  /** `end` is given for what stands flush right: its right edge, the same place as x for a reader with other fonts. */
  | { kind: "text"; x: number; y: number; text: string; font: Font; size: number; tone: Tone; end?: number; tag?: Tag }
  | { kind: "rule"; x: number; y: number; width: number; weight: number }
  /** A PNG or JPEG picture, in base64. */
  | { kind: "picture"; x: number; y: number; width: number; height: number; png: string; alt: string };

/** What a place on a page belongs to: by this the designer finds its settings, and a figure its rows. */
export type Part =
  | { kind: "title" | "subtitle" | "brief" | "letterhead" | "header" | "footer" | "label" }
  | { kind: "heading"; level: string }
  | { kind: "columnHeading" | "value"; column: string }
  /** A footing, or its text where it is of no column; `keys` make its group, outermost first. */
  | { kind: "footing"; line: string; level: string; column: string | null; keys: Cell[] }
  | { kind: "carried" }
  | { kind: "passage"; id: string }
  | { kind: "related"; id: string; column: string | null }
  | { kind: "insert"; id: string; level: string }
  | { kind: "summary"; level: string };
export type Area = { x: number; y: number; width: number; height: number; part: Part };

export type Page = { number: number; width: number; height: number; items: PageItem[]; areas?: Area[] };

/** How wide a text is in points: the metrics of the fonts that will print it. */
export type Metrics = { width: (text: string, font: Font, size: number) => number };

/** Sizes of type, in points. */
export const SIZE = { title: 15, subtitle: 10, brief: 8, heading: 8.5, body: 8, small: 7 };
