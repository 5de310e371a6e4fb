import { distance } from "fastest-levenshtein";
import { fold } from "../types/text";

/** Shorter names have too many neighbours for one letter to mean a slip. */
const LEAST_LETTERS = 5;

/**
 * What names have in common that are written otherwise: case, accents, punctuation, blanks and the order of words do not count.
 * @example similarKey("Kilns, Fennimore") === similarKey("FENNIMORE  kilns") // true
 */
export const similarKey = (source: string): string =>
  fold(source)
    .split(/[^\p{L}\p{N}]+/u)
    .filter((word) => word !== "")
    .sort()
    .join(" ");

/** Rows that are alike, by their places; `near` where some differ by a letter, which may be no slip. */
export type SimilarGroup = { rows: number[]; near: boolean };

/**
 * Finds rows whose names are alike. A row with nothing in one of the columns is like no other.
 * @param names what each row is compared by, column by column
 * @param near whether names are alike, too, that differ by one letter (a Levenshtein distance of 1); names with other digits never are
 * @returns groups of two rows and more, in the order of their first rows
 */
export function similarGroups(names: Iterable<readonly string[]>, near: boolean): SimilarGroup[] {
  const byKey = new Map<string, number[]>();
  let at = 0;
  for (const columns of names) {
    const parts = columns.map(similarKey);
    if (parts.every((part) => part !== "")) {
      const key = parts.join("\u0001");
      const known = byKey.get(key);
      if (known) known.push(at);
      else byKey.set(key, [at]);
    }
    at++;
  }
  const keys = [...byKey.keys()];
  const heads = near ? neighbours(keys) : keys.map((_, i) => i);
  const groups = new Map<number, SimilarGroup>();
  keys.forEach((key, i) => {
    const head = headOf(heads, i);
    const group = groups.get(head) ?? { rows: [], near: false };
    groups.set(head, group);
    if (group.rows.length > 0) group.near = true;
    group.rows.push(...(byKey.get(key) ?? []));
  });
  return [...groups.values()]
    .filter((group) => group.rows.length > 1)
    .map((group) => ({ ...group, rows: group.rows.sort((a, b) => a - b) }))
    .sort((a, b) => (a.rows[0] ?? 0) - (b.rows[0] ?? 0));
}

function headOf(heads: number[], i: number): number {
  let at = i;
  while (heads[at] !== at) at = heads[at] as number;
  heads[i] = at;
  return at;
}

const digitsOf = (key: string): string => key.replace(/\D/g, "");

/**
 * Which keys differ by one letter: two that do have a form in common with one letter left out, or one is such a form of the other.
 * @returns for each key, one that stands for all it is alike to through others
 */
function neighbours(keys: string[]): number[] {
  const heads = keys.map((_, i) => i);
  const byForm = new Map<string, number[]>();
  keys.forEach((key, i) => {
    if (key.length < LEAST_LETTERS) return;
    for (let out = -1; out < key.length; out++) {
      const form = out < 0 ? key : key.slice(0, out) + key.slice(out + 1);
      const known = byForm.get(form);
      if (!known) {
        byForm.set(form, [i]);
        continue;
      }
      for (const other of known) {
        if (headOf(heads, other) === headOf(heads, i)) continue;
        const [a, b] = [keys[other] as string, key];
        if (digitsOf(a) === digitsOf(b) && distance(a, b) === 1) heads[headOf(heads, i)] = headOf(heads, other);
      }
      if (known.at(-1) !== i) known.push(i);
    }
  });
  return heads;
}
