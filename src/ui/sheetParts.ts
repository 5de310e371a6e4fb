import type { ReactNode } from "react";
import type { Range } from "./gridWalk";

export type SheetColumn = {
  id: string;
  heading: string;
  origin?: string;
  right: boolean;
  width: number;
  /** Its width was set by a person, so it does not stretch. */
  fixed?: boolean | undefined;
  sorted?: "up" | "down" | undefined;
  tone?: "derived" | undefined;
};
/** How a cell is marked: its ground, a sign before its text, a bar of a share of its width; with the words of the rule. */
export type SheetMark = { look: "shade" | "sign" | "bar"; tone: "wrong" | "look" | "agrees"; sign: string; share?: number | undefined; words: string };
export type SheetCell = {
  text: string;
  marks?: SheetMark[] | undefined;
  /** Drawn as a line in place of the text, which stays for readers. */
  spark?: { at: number; value: number }[] | undefined;
  tone?: "negative" | "misfit" | "missing" | "agrees" | "faint" | "subtotal" | undefined;
};

export type SheetEdit = {
  text: (row: number, column: number) => string | null;
  save: (row: number, column: number, text: string) => Promise<string | null>;
  remove?: (range: Range) => void;
  /** Puts a block of texts over the cells from a selection on. */
  paste?: (range: Range, text: string) => void;
  /** Fills a selection with its first row. */
  fill?: (range: Range) => void;
  /** What can stand in a cell, for what is typed so far; null where it is typed freely. */
  suggest?: (row: number, column: number, typed: string) => Promise<Suggestion[]> | null;
  /** What is shown below the values offered, to choose from by mouse: a calendar. */
  beside?: (column: number, typed: string, pick: (text: string) => void) => ReactNode;
};

/** A value that a cell can be given: as it is typed, and as it is shown. */
export type Suggestion = { text: string; words: string; note?: string };

/** Lets columns be resized and moved: by dragging, or by keys on a heading. The first `frozen` stay in sight. */
export type SheetLayout = {
  frozen: number;
  /** null: as wide as its values. */
  onWidth: (column: string, width: number | null) => void;
  /** null: last. */
  onPlace: (column: string, before: string | null) => void;
  onShift: (column: string, by: -1 | 1) => void;
};

/** Pixels between which a column can be dragged. */
export const LEAST_PULLED = 40;
export const MOST_PULLED = 1000;

/** How far from the left a frozen column stands, in pixels; undefined where it moves. */
export const frozenAt = (columns: SheetColumn[], index: number, frozen: number, gutter: number): number | undefined =>
  index < frozen ? columns.slice(0, index).reduce((sum, c) => sum + c.width, gutter) : undefined;

/** Pixels of the headings and the footing of a sheet, at the usual size of type. */
export const HEADINGS = 49;
export const FOOTING = 36;

/** Pixels of a row, by how close rows stand. */
export const ROW_HEIGHTS = { comfortable: 30, compact: 24 } as const;
export const CELL = "flex items-center border-r border-column px-2.5 overflow-hidden whitespace-nowrap";
/** The ground, the ink and the bar of a mark. */
export const MARK_GROUNDS = { wrong: "bg-vermilion-tint", look: "bg-ochre-tint", agrees: "bg-bottle-tint" } as const;
export const MARK_INKS = { wrong: "text-vermilion", look: "text-ochre", agrees: "text-bottle" } as const;
export const MARK_BARS = { wrong: "bg-vermilion", look: "bg-ochre", agrees: "bg-bottle" } as const;
export const TONES = {
  negative: "text-vermilion",
  misfit: "text-vermilion italic",
  missing: "text-ochre",
  agrees: "font-semibold text-bottle",
  faint: "text-faint",
  subtotal: "bg-group font-semibold",
} as const;
