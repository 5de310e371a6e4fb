import type { Range } from "./gridWalk";

export type SheetColumn = {
  id: string;
  heading: string;
  origin?: string;
  right: boolean;
  width: number;
  sorted?: "up" | "down" | undefined;
  tone?: "derived" | undefined;
};
export type SheetCell = {
  text: string;
  /** Drawn as a line in place of the text, which stays for readers. */
  spark?: { at: number; value: number }[] | undefined;
  tone?: "negative" | "misfit" | "missing" | "agrees" | "faint" | "subtotal" | undefined;
};

export type SheetEdit = {
  text: (row: number, column: number) => string | null;
  save: (row: number, column: number, text: string) => Promise<string | null>;
  remove?: (range: Range) => void;
};

/** Pixels of a row, by how close rows stand. */
export const ROW_HEIGHTS = { comfortable: 30, compact: 24 } as const;
export const CELL = "flex items-center border-r border-column px-2.5 overflow-hidden whitespace-nowrap";
export const TONES = {
  negative: "text-vermilion",
  misfit: "text-vermilion italic",
  missing: "text-ochre",
  agrees: "font-semibold text-bottle",
  faint: "text-faint",
  subtotal: "bg-group font-semibold",
} as const;
