"use client";

import { createContext, type RefObject, useContext, useEffect } from "react";

/** What can be done on a page, so that find-or-do offers it too. */
export type PageDeed = { words: string; disabled?: boolean; act: () => void };

export const PageDeedsContext = createContext<RefObject<PageDeed[]>>({ current: [] });

/** Offers what can be done on the page that is shown. */
export function usePageDeeds(deeds: PageDeed[]): void {
  const offered = useContext(PageDeedsContext);
  useEffect(() => {
    offered.current = deeds;
    return () => {
      offered.current = [];
    };
  }, [offered, deeds]);
}
