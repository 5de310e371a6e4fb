import type { LetterSpec, When } from "../letter/spec";

/** When a passage is printed, in words. @param titleOf the title of a table of the letter */
export function whenWords(when: When, titleOf: (id: string) => string): string {
  if (when.kind === "rows") return `“${titleOf(when.table)}” has ${when.some ? "rows" : "no rows"}`;
  return when.text.trim() || "…";
}

/** Why a row gets no letter, in words. @param empty whether the condition has no answer for it */
export function withoutWords(only: When, empty: boolean, titleOf: (id: string) => string): string {
  if (only.kind === "rows") return whenWords({ ...only, some: !only.some }, titleOf);
  return `${whenWords(only, titleOf)} is ${empty ? "empty" : "not true"}`;
}

/** Where in a letter a problem lies, in words before its sentence. */
export function placeInLetter([part, which = ""]: (string | number)[], spec: LetterSpec): string {
  if (part === "fields") return `Field ${which}: `;
  if (part === "conditions") return `The text “only when ${which || "…"}”: `;
  if (part === "only") return "Letters for: ";
  if (part === "letterhead") return "Letterhead: ";
  if (part === "address") return "Address: ";
  if (part === "foot") return "Page footer: ";
  if (part === "page") return "Page: ";
  if (part === "fileName") return "File names: ";
  if (part === "tables") return `The table “${spec.tables.find((t) => t.id === which)?.title ?? ""}”: `;
  return "Query: ";
}
