"use client";

import { useEffect, useState } from "react";
import { KNOWN_KEY, newWordOn, readKnown } from "./newWords";
import { WORDS } from "./words";

/** Explains a word of our own on the first page where somebody meets it, until they say that they know it. */
export function FirstSight({ path }: { path: string }) {
  const [known, setKnown] = useState<string[] | null>(null);
  // What the browser keeps is read once the page runs: the server does not know it.
  useEffect(() => setKnown(readKnown(localStorage.getItem(KNOWN_KEY))), []);
  const found = known && newWordOn(path, known);
  if (!found) return null;
  const know = () => {
    const next = [...known, found.word];
    setKnown(next);
    localStorage.setItem(KNOWN_KEY, JSON.stringify(next));
  };
  return (
    <div role="note" className="no-print flex shrink-0 items-center gap-3 border-b border-hairline bg-bottle-tint px-4 py-1 text-small">
      <span className="min-w-0">{found.about}</span>
      <button type="button" className="link shrink-0" onClick={know}>
        {WORDS.newWords.know}
      </button>
    </div>
  );
}
