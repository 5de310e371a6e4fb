import { distance } from "fastest-levenshtein";
import { fold } from "./text";

/** A text as it is looked up past case, accents and blanks around it and between its words. */
export const lookedUp = (source: string): string => fold(source.trim().replace(/\s+/g, " "));

/**
 * The name that a text was likely meant to be: the one with the fewest letters to change (Levenshtein 1966), a quarter of its
 * length at the most. Of several as near, the first.
 * @param names what it may be
 * @returns null where none is near
 * @example nearest("Fennimore Kiln", ["Fennimore Kilns", "Mirrin Wool"]) // "Fennimore Kilns"
 */
export function nearest(written: string, names: Iterable<string>): string | null {
  const sought = lookedUp(written);
  let best: string | null = null;
  let least = Math.max(1, Math.floor(sought.length / 4)) + 1;
  for (const name of names) {
    const other = lookedUp(name);
    if (Math.abs(other.length - sought.length) >= least) continue;
    const changes = distance(sought, other);
    if (changes < least) [best, least] = [name, changes];
  }
  return best;
}
