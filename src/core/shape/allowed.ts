import { nameOf, sqlTokens } from "./sqlTokens";

/**
 * The values that a check allows a column, where it is a list of texts or whole numbers and nothing else.
 * @param check as it is written
 * @returns undefined where it says anything else, or is about another column
 * @example allowedIn(`CHECK (grade IN ('A', 'B'))`, "grade") // ["A", "B"]
 */
export function allowedIn(check: string, column: string): string[] | undefined {
  const all = sqlTokens(check);
  const at = all.findIndex((t) => t.kind === "word" && t.text.toUpperCase() === "CHECK");
  const [open, name, word, list, ...rest] = all.slice(at + 1);
  if (at < 0 || open?.kind !== "open" || !name || word?.text.toUpperCase() !== "IN" || list?.kind !== "open") return undefined;
  if (nameOf(name).toLowerCase() !== column.toLowerCase()) return undefined;
  const [values, end] = [rest.slice(0, -2), rest.slice(-2)];
  if (end.some((t) => t.kind !== "close") || values.length % 2 === 0) return undefined;
  const isValue = (i: number) => (i % 2 === 1 ? values[i]?.kind === "comma" : values[i]?.kind === "text" || /^\d+$/.test(values[i]?.text ?? ""));
  return values.every((_, i) => isValue(i)) ? values.filter((_, i) => i % 2 === 0).map(nameOf) : undefined;
}
