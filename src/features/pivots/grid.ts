import type { VirtualItem } from "@tanstack/react-virtual";
import type { Heat } from "@/core/pivot/heat";
import type { Column, Line } from "@/core/pivot/lines";
import type { Pivot } from "@/core/pivot/pivot";
import type { GridWidths } from "@/core/pivot/widths";
import type { Locale, Written } from "@/core/types/format";

/** The height of a line, and of a row of headings above the columns, in pixels at the usual size of type. */
export const LINE = 31;

/** What the parts of a pivot's grid share. */
export type Grid = {
  /** What the ids of its cells begin with: `id-line-column`. */
  id: string;
  pivot: Pivot;
  locale: Locale;
  columns: Column[];
  widths: GridWidths;
  heat: Heat | null;
  /** The columns in sight. */
  across: VirtualItem[];
  /** How many rows of headings stand above the columns. */
  depth: number;
  /** The height of a line and of a row of headings, in pixels. */
  line: number;
  written: (line: Line, column: Column) => Written;
  /** Whether a figure is shown as a share, which is written softer. */
  isShare: (figure: number) => boolean;
  /** The look of the cell that has the focus. */
  ringAt: (line: number, column: number) => string;
};
