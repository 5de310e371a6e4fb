import { WORDS } from "./words";

/** A word of our own, explained where somebody meets it first: on which pages, and how. */
type NewWord = { word: string; on: RegExp; about: string };

const NEW_WORDS: NewWord[] = [
  { word: "brief", on: /^\/queries\/[^/]+$/, about: WORDS.newWords.brief },
  { word: "folio", on: /^\/tables\/[^/]+\/folio$/, about: WORDS.newWords.folio },
  { word: "posting", on: /^\/postings(\/|$)/, about: WORDS.newWords.posting },
  { word: "pivot", on: /^\/pivots\/[^/]+$/, about: WORDS.newWords.pivot },
];

/** Where a browser keeps the words somebody knows. */
export const KNOWN_KEY = "known words";

/** The words a browser kept as known; none where it kept nothing that can be read. */
export function readKnown(kept: string | null): string[] {
  try {
    const known: unknown = JSON.parse(kept ?? "[]");
    return Array.isArray(known) ? known.filter((w) => typeof w === "string") : [];
  } catch {
    return [];
  }
}

/** The word that is new on a page for somebody who knows some of them. */
export const newWordOn = (path: string, known: string[]): NewWord | undefined => NEW_WORDS.find(({ word, on }) => on.test(path) && !known.includes(word));
