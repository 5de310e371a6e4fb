import { useCallback, useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import { ask, sentenceOf } from "../ask";
import type { Point } from "./mapLayout";

const SETTLE_MS = 400;

const keep = (places: Record<string, Point>): void => {
  ask("/api/tables/map", { places }).catch((error: unknown) => void toast.error(sentenceOf(error)));
};

/** Where people put the boxes of the map: they are moved at once, and written down once they have come to rest, or when the map is left. */
export function useKeptPlaces(first: Record<string, Point>) {
  const [kept, setKept] = useState(first);
  const waiting = useRef<Record<string, Point> | null>(null);
  const settle = useCallback(() => {
    if (waiting.current) keep(waiting.current);
    waiting.current = null;
  }, []);
  useEffect(() => {
    const timer = setTimeout(settle, SETTLE_MS);
    return () => clearTimeout(timer);
  }, [kept, settle]);
  useEffect(() => settle, [settle]);
  function move(places: Record<string, Point>): void {
    waiting.current = places;
    setKept(places);
  }
  return { kept, move };
}
