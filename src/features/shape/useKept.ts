"use client";

import { useEffect, useRef } from "react";

/** What was begun at a place in this tab and not finished. */
export function kept<T>(place: string): T | null {
  const json = window.sessionStorage.getItem(place);
  return json === null ? null : (JSON.parse(json) as T);
}

/** Begins something at a place, which is there when it is opened. */
export const keep = (place: string, value: unknown): void => window.sessionStorage.setItem(place, JSON.stringify(value));

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
      const begun = kept<T>(place);
      if (begun !== null) return give.current(begun);
    }
    if (done.current || JSON.stringify(value) === JSON.stringify(initial)) window.sessionStorage.removeItem(place);
    else keep(place, value);
  }, [place, value, initial]);
  return () => {
    done.current = true;
    window.sessionStorage.removeItem(place);
  };
}
