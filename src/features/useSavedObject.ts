"use client";

import { useRouter } from "next/navigation";
import { useCallback, useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import { AskError, ask, sentenceOf } from "./ask";
import { KeptObject, type SavedObject, unsavedSpec } from "./keptObject";
import { COMMON } from "./words";

/** What was left unsaved at a place, as JSON; null where nothing was, or the browser keeps nothing. */
function unsavedIn(place: string): string | null {
  try {
    return sessionStorage.getItem(place);
  } catch {
    return null;
  }
}

function keepUnsaved(place: string, spec: string | null): void {
  try {
    if (spec === null) sessionStorage.removeItem(place);
    else sessionStorage.setItem(place, spec);
  } catch {
    // A tab that keeps nothing, or is full, still asks before it is closed.
  }
}

/**
 * A saved object while it is worked on: whether it differs from what is kept, keeping it (also by Ctrl S), deleting it
 * with a way back. Changes that are not saved stay in the browser's tab: a page left by a link has them when it is opened
 * again. The browser asks before the tab is closed with them.
 * @param restore makes what was left unsaved the description again, as a change that can be undone
 * @param within for one that has no page of its own: what tells it from others of its kind, and its name in a sentence
 */
export function useSavedObject<S, Id extends string | null>(
  kind: string,
  list: string,
  saved: SavedObject<S, Id>,
  spec: S,
  restore: (spec: S) => void,
  within?: { place: string; words: string },
) {
  const router = useRouter();
  const [stored, setStored] = useState(saved);
  const edited = JSON.stringify(stored.spec) !== JSON.stringify(spec);

  const words = within?.words ?? `“${stored.name}”`;
  const [kept] = useState(
    () =>
      new KeptObject<S, Id>(
        saved,
        (id, body) => (id === null ? ask("/api/objects", { kind, ...body }) : ask(`/api/objects/${id}`, body, { method: "PATCH" })),
        setStored,
      ),
  );

  const save = useCallback(async (): Promise<void> => {
    try {
      await kept.save(spec);
      toast(COMMON.saved(words));
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  }, [kept, spec, words]);
  const ownPage = !within;
  useEffect(() => {
    if (ownPage && saved.id === null && stored.id !== null) window.history.replaceState(null, "", `${list}/${stored.id}`);
  }, [ownPage, list, saved.id, stored.id]);
  const rename = useCallback((name: string) => void kept.rename(name).catch((error) => toast.error(sentenceOf(error))), [kept]);

  const remove = useCallback(async (): Promise<void> => {
    const removed = async (anyway: boolean): Promise<void> => {
      try {
        await ask(`/api/objects/${stored.id}${anyway ? "?anyway" : ""}`, {}, { method: "DELETE" });
      } catch (error) {
        const used = error instanceof AskError && error.body.code === "used";
        const action = { label: COMMON.deleteAnyway, onClick: () => void removed(true) };
        return void toast.error(sentenceOf(error), used ? { duration: 30_000, action } : {});
      }
      keepUnsaved(place.current, null);
      router.push(list);
      router.refresh();
      const back = () => void ask("/api/objects", { kind, name: stored.name, spec: stored.spec, id: stored.id }).then(() => router.refresh());
      toast(COMMON.deleted(stored.name), { action: { label: COMMON.restore, onClick: back } });
    };
    await removed(false);
  }, [kind, list, stored, router]);

  const unsavedPlace = within?.place;
  const place = useRef("");
  const onRestore = useRef(restore);
  onRestore.current = restore;
  useEffect(() => {
    if (place.current !== "") return;
    place.current = `unsaved ${kind} ${unsavedPlace ?? saved.id ?? window.location.pathname + window.location.search}`;
    const unsaved = unsavedSpec(unsavedIn(place.current), saved.spec);
    if (unsaved === null) return;
    onRestore.current(unsaved);
    toast(COMMON.unsavedKept, { action: { label: COMMON.discard, onClick: () => onRestore.current(saved.spec) } });
  }, [kind, saved, unsavedPlace]);
  // The first look is before anything is restored: what is kept then is not what is shown.
  const looked = useRef(false);
  useEffect(() => {
    if (looked.current) keepUnsaved(place.current, edited ? JSON.stringify(spec) : null);
    looked.current = true;
  }, [edited, spec]);

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "s") return;
      event.preventDefault();
      void save();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [save]);
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => {
      if (edited) event.preventDefault();
    };
    window.addEventListener("beforeunload", warn);
    return () => window.removeEventListener("beforeunload", warn);
  }, [edited]);

  return { stored, edited, changed: edited || stored.id === null, save, remove, rename };
}

/** A saved object as a page that works on it has it. */
export type SavedState = ReturnType<typeof useSavedObject>;
