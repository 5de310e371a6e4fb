import type { Heading, Pivot } from "@/core/pivot/assemble";
import { headingWords } from "@/core/pivot/lines";
import type { Locale } from "@/core/types/format";

/** The headings that lead to one, outermost first; none for the total. */
function stepHeadings(headings: Heading[], index: number): Heading[] {
  const path: Heading[] = [];
  for (let at = index; at > 0; at = headings[at]?.parent ?? 0) path.unshift(headings[at] as Heading);
  return path;
}

/** The words of the headings that lead to one. */
export const namesTo = (pivot: Pivot, side: "down" | "across", index: number, locale: Locale): string[] =>
  stepHeadings(pivot[side], index).map((h) => headingWords(pivot.axes[side], h, locale));
