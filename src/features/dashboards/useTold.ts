"use client";

import { useCallback, useState } from "react";

/** What tiles tell of themselves, by a name: the same told again changes nothing. */
export function useTold(): [Record<string, string>, (name: string, words: string) => void] {
  const [told, setTold] = useState<Record<string, string>>({});
  const tell = useCallback((name: string, words: string) => setTold((all) => (all[name] === words ? all : { ...all, [name]: words })), []);
  return [told, tell];
}
