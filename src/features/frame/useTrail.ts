"use client";

import { usePathname } from "next/navigation";
import { type RefObject, useCallback, useEffect, useRef, useState } from "react";
import { keepScrolling, restoreScrolling, type Scrolled } from "./scrolling";
import { arrive, cameFrom, isBack, readTrail, type Stop, type Trail } from "./trail";

const KEPT = "trail";
const addressNow = (): string => window.location.pathname + window.location.search;

/**
 * Remembers the way through the pages of this tab.
 * @param work the element that pages stand in: how far it is scrolled is found again on the way back
 * @returns the page one came from, and what a page and the bar on top tell of themselves
 */
export function useTrail(work: RefObject<HTMLElement | null>): { from: Stop | null; tell: (name: string) => void; choosing: () => void } {
  const path = usePathname();
  const trail = useRef<Trail | null>(null);
  const way = useRef<"within" | "section">("within");
  /** What pages said they are called, by path: a page says so before it is known here that one has come to it. */
  const names = useRef(new Map<string, string>());
  const places = useRef(new Map<string, Scrolled>());
  const [from, setFrom] = useState<Stop | null>(null);
  useEffect(() => {
    const here: Stop = { address: addressNow(), name: names.current.get(window.location.pathname) ?? document.title };
    const before = trail.current;
    const back = before !== null && isBack(before, here.address);
    trail.current = before ? arrive(before, here, way.current) : readTrail(sessionStorage.getItem(KEPT), here);
    way.current = "within";
    sessionStorage.setItem(KEPT, JSON.stringify(trail.current));
    setFrom(cameFrom(trail.current));
    const kept = places.current.get(path);
    const stopRestoring = back && kept && work.current ? restoreScrolling(work.current, kept) : undefined;
    const scrolled: Scrolled = new Map(back ? kept : undefined);
    places.current.set(path, scrolled);
    const stopKeeping = work.current ? keepScrolling(work.current, scrolled) : undefined;
    return () => {
      stopRestoring?.();
      stopKeeping?.();
    };
  }, [path]);
  const tell = useCallback((name: string) => {
    names.current.set(window.location.pathname, name);
    if (trail.current?.here.address.split("?")[0] !== window.location.pathname) return;
    trail.current = { ...trail.current, here: { address: addressNow(), name } };
    sessionStorage.setItem(KEPT, JSON.stringify(trail.current));
  }, []);
  const choosing = useCallback(() => {
    way.current = "section";
  }, []);
  return { from, tell, choosing };
}
