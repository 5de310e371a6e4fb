import Fuse, { type Expression } from "fuse.js";

/** Something that find-or-do offers. */
export type Offer = { key: string; name: string; kind: string; of?: string; act: () => void };

const MOST = 14;

/**
 * What fits the words, the best first; without words, what stands first. Typing errors are forgiven.
 * @param offers in the order in which they are offered where no words are given
 */
export function findOffers(offers: Offer[], words: string): Offer[] {
  const wanted = words.trim();
  if (wanted === "") return offers.slice(0, MOST);
  const fuse = new Fuse(offers, {
    keys: [
      { name: "name", weight: 4 },
      { name: "of", weight: 1 },
      { name: "kind", weight: 1 },
    ],
    threshold: 0.34,
    ignoreLocation: true,
    ignoreDiacritics: true,
    minMatchCharLength: 2,
  });
  // Each word may stand in another part: "status sailing" is the column status of sailing.
  const parts = wanted.split(/\s+/).map((word): Expression => ({ $or: ["name", "of", "kind"].map((key) => ({ [key]: word })) }));
  return fuse.search({ $and: parts }, { limit: MOST }).map((r) => r.item);
}
