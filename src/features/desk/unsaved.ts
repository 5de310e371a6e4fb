"use client";

import { useEffect, useState } from "react";
import { hasPlace, type PlaceKind, placeOf } from "../places";

/** Changes that were left unsaved in this tab: of an object by its id, or of a new one by the address it was begun at. */
export type Unsaved = { key: string; kind: PlaceKind; id: string | null; href: string };

/**
 * What a key of the tab's store says was left unsaved.
 * @returns null where the key is of something else, or of what has no page of its own
 * @example unsavedOf("unsaved query a1") // { key: …, kind: "query", id: "a1", href: "/queries/a1" }
 */
export function unsavedOf(key: string): Unsaved | null {
  const [, kind, place] = /^unsaved (\w+) (\S.*)$/.exec(key) ?? [];
  if (kind === undefined || place === undefined || !hasPlace(kind)) return null;
  if (place.startsWith("/")) return { key, kind, id: null, href: place };
  return place.includes(" ") ? null : { key, kind, id: place, href: placeOf(kind, place) };
}

/** What was left unsaved in this tab, and how to drop it. */
export function useUnsaved(): { unsaved: Unsaved[]; discard: (key: string) => void } {
  const [unsaved, setUnsaved] = useState<Unsaved[]>([]);
  const read = () => {
    try {
      setUnsaved(Object.keys(sessionStorage).flatMap((key) => unsavedOf(key) ?? []));
    } catch {
      // A browser that keeps nothing has nothing unsaved.
    }
  };
  useEffect(read, []);
  const discard = (key: string) => {
    sessionStorage.removeItem(key);
    read();
  };
  return { unsaved, discard };
}
