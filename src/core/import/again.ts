import { columnNames } from "./propose";
import type { ImportSpec } from "./spec";

/** How a file was read, and the headings it had. */
export type ReadAs = { spec: ImportSpec; headings: string[] };

/**
 * How another file is read as one before it was: its columns are found by their headings, wherever they stand; those that
 * the other did not have are left out.
 * @param headings of the file, none empty and none twice
 * @returns the description for the file, or the headings that are missing
 */
export function readAgain({ spec, headings: before }: ReadAs, headings: string[]): { spec: ImportSpec; missing: string[] } {
  const places = headings.map((heading) => before.findIndex((b) => b.toLowerCase() === heading.toLowerCase()));
  const missing = before.filter((_, i) => !places.includes(i) && spec.columns[i]?.left === false);
  const columns = headings.map(
    (heading, i) => spec.columns[places[i] ?? -1] ?? { name: heading, type: { kind: "text" as const }, dates: "ymd" as const, left: true },
  );
  return { spec: { ...spec, columns }, missing };
}

/** The headings of a file as its columns are called: of one without headings, by their places. */
export const headingsOf = (first: string[], hasHeading: boolean): string[] => columnNames(hasHeading ? first : first.map(() => "")).names;
