import type { Outcome } from "./outcome";

/* The choices of a posting, for descriptions and for what is chosen from. */

export const ACTIONS = ["add", "change", "remove", "move"] as const;
export type Action = (typeof ACTIONS)[number];

export const PRESENT = ["leave", "change", "add"] as const;
export type Present = (typeof PRESENT)[number];

/** What becomes of a column in rows that exist already: kept as it is, or written only where it is empty. */
export const EXISTING = ["keep", "fill"] as const;
export type Existing = (typeof EXISTING)[number];

/** What a control total of a posting can be about: rows of the source by their outcome, or the change in a column's total. */
export const CONTROL_FIGURES = ["source", "add", "change", "remove", "move", "refused", "unmatched", "differs", "total"] as const;
export type ControlFigure = (typeof CONTROL_FIGURES)[number];

export const CONTROL_COMPARES = ["is", "atLeast", "atMost"] as const;
export type ControlCompare = (typeof CONTROL_COMPARES)[number];

/** What becomes of one row of a posting's source, in words. */
export const OUTCOME_WORDS: Record<Outcome, string> = {
  add: "add",
  change: "change",
  remove: "remove",
  move: "move",
  there: "exists already",
  differs: "exists, different",
  unchanged: "unchanged",
  repeated: "repeated in the source",
  unmatched: "not found",
  refused: "refused",
};
