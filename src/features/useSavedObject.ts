"use client";

import { useRouter } from "next/navigation";
import { useCallback, useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import { AskError, ask, sentenceOf } from "./ask";
import { KeptObject, type SavedObject, unsavedSpec } from "./keptObject";
import { COMMON } from "./words";
import { useSignedIn } from "./workspace/person";

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

/** How long a change stands before the server keeps it too. */
const DRAFT_SETTLE_MS = 1000;
/** How long what was left elsewhere is offered. */
const OFFERED_MS = 20_000;

/** Keeps on the server what is left unsaved; null: nothing. What it could not keep is in the tab still. */
const keepDraft = (place: string, spec: string | null): Promise<unknown> =>
  ask("/api/drafts", { place, spec: spec === null ? null : JSON.parse(spec) }).catch(() => undefined);

/** The same as the page goes, when nothing else is sent any more. */
const keepDraftLast = (place: string, spec: string): void => {
  navigator.sendBeacon("/api/drafts", new Blob([`{"place":${JSON.stringify(place)},"spec":${spec}}`], { type: "application/json" }));
};

/** What the server has of what a person left unsaved at a place; null where that is nothing, or nothing else than what is saved. */
async function draftLeft<S>(place: string, saved: S): Promise<S | null> {
  const draft = await ask<{ spec: unknown } | null>(`/api/drafts?place=${encodeURIComponent(place)}`).catch(() => null);
  return draft && unsavedSpec(JSON.stringify(draft.spec), saved);
}

/**
 * A saved object while it is worked on: whether it differs from what is kept, keeping it (also by Ctrl S), deleting it
 * with a way back. Changes that are not saved are kept in the browser's tab and, for weeks, on the server: the page has them when it is opened
 * again in the tab, and offers them elsewhere. The browser asks before the tab is closed with them.
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
  // Those who only look leave nothing unsaved.
  const builds = useSignedIn().role !== "viewer";
  const [stored, setStored] = useState(saved);
  const edited = JSON.stringify(stored.spec) !== JSON.stringify(spec);

  const words = within?.words ?? `“${stored.name}”`;
  const [kept] = useState(
    () =>
      new KeptObject<S, Id>(
        saved,
        (id, body, anyway) =>
          id === null
            ? ask(`/api/objects${anyway ? "?anyway" : ""}`, { kind, ...body })
            : ask(`/api/objects/${id}${anyway ? "?anyway" : ""}`, body, { method: "PATCH" }),
        setStored,
      ),
  );

  const save = useCallback(async (): Promise<void> => {
    const saving = async (anyway: boolean): Promise<void> => {
      try {
        await kept.save(spec, anyway);
        toast(COMMON.saved(words));
      } catch (error) {
        const asks = error instanceof AskError && (error.body.code === "breaks" || error.body.code === "named");
        toast.error(sentenceOf(error), asks ? { duration: 30_000, action: { label: COMMON.saveAnyway, onClick: () => void saving(true) } } : {});
      }
    };
    await saving(false);
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
      void keepDraft(place.current, null);
      router.push(list);
      router.refresh();
      const back = () => void ask("/api/bin", { id: stored.id }).then(() => router.refresh());
      toast(COMMON.deleted(stored.name), { action: { label: COMMON.restore, onClick: back } });
    };
    await removed(false);
  }, [kind, list, stored, router]);

  /** What is said of a draft is of this page: it goes with it. */
  const offered = useRef<string | number | null>(null);
  useEffect(
    () => () => {
      if (offered.current !== null) toast.dismiss(offered.current);
    },
    [],
  );

  const unsavedPlace = within?.place;
  const place = useRef("");
  const onRestore = useRef(restore);
  onRestore.current = restore;
  useEffect(() => {
    if (place.current !== "") return;
    place.current = `unsaved ${kind} ${unsavedPlace ?? saved.id ?? window.location.pathname + window.location.search}`;
    const unsaved = unsavedSpec(unsavedIn(place.current), saved.spec);
    if (unsaved !== null) {
      onRestore.current(unsaved);
      offered.current = toast(COMMON.unsavedKept, { action: { label: COMMON.discard, onClick: () => onRestore.current(saved.spec) } });
      return;
    }
    // What was left in another tab, or before the browser was closed, the server has: it may still be worked on there, so it is offered.
    if (!builds) return;
    void draftLeft<S>(place.current, saved.spec).then((left) => {
      if (left === null) return;
      const action = { label: COMMON.showDraft, onClick: () => onRestore.current(left) };
      const cancel = { label: COMMON.discard, onClick: () => void keepDraft(place.current, null) };
      offered.current = toast(COMMON.draftLeft, { action, cancel, duration: OFFERED_MS });
    });
  }, [kind, saved, unsavedPlace, builds]);
  // The first look is before anything is restored: what is kept then is not what is shown.
  const looked = useRef(false);
  useEffect(() => {
    const left = edited ? JSON.stringify(spec) : null;
    if (looked.current) keepUnsaved(place.current, left);
    const again = looked.current;
    looked.current = true;
    if (!again || !builds) return;
    let kept = false;
    const timer = setTimeout(() => {
      kept = true;
      void keepDraft(place.current, left);
    }, DRAFT_SETTLE_MS);
    const flush = () => left !== null && !kept && keepDraftLast(place.current, left);
    window.addEventListener("pagehide", flush);
    return () => {
      clearTimeout(timer);
      window.removeEventListener("pagehide", flush);
    };
  }, [edited, spec, builds]);

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

  /** Makes another description the one worked on, as a change that can be undone. */
  const show = useCallback((other: unknown) => onRestore.current(other as S), []);
  return { kind, stored, edited, changed: edited || stored.id === null, save, remove, rename, restore: show };
}

/** A saved object as a page that works on it has it. */
export type SavedState = ReturnType<typeof useSavedObject>;
