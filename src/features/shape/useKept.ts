"use client";

import { useEffect, useRef } from "react";

/**
 * Keeps in the tab what was begun at a place and not finished, so that leaving the page loses nothing.
 * @param restore is given what was kept, once
 * @returns forgets it
 */
export function useKept<T>(place: string, value: T, initial: T, restore: (kept: T) => void): () => void {
  const restored = useRef(false);
  const done = useRef(false);
  const give = useRef(restore);
  give.current = restore;
  useEffect(() => {
    if (!restored.current) {
      restored.current = true;
      const kept = window.sessionStorage.getItem(place);
      if (kept !== null) return give.current(JSON.parse(kept) as T);
    }
    if (done.current || JSON.stringify(value) === JSON.stringify(initial)) window.sessionStorage.removeItem(place);
    else window.sessionStorage.setItem(place, JSON.stringify(value));
  }, [place, value, initial]);
  return () => {
    done.current = true;
    window.sessionStorage.removeItem(place);
  };
}
