"use client";

import { useRouter } from "next/navigation";
import { useCallback, useEffect, useState } from "react";
import { toast } from "sonner";
import { ask, sentenceOf } from "./ask";

/** `id` is null until it is saved for the first time, where a page allows that. */
export type SavedObject<S, Id extends string | null = string> = { id: Id; name: string; spec: S; revision: number };

/**
 * A saved object while it is worked on: whether it differs from what is kept, keeping it (also by Ctrl S), deleting it
 * with a way back. The page asks before it is left with changes.
 */
export function useSavedObject<S, Id extends string | null>(kind: string, list: string, saved: SavedObject<S, Id>, spec: S) {
  const router = useRouter();
  const [stored, setStored] = useState(saved);
  const edited = JSON.stringify(stored.spec) !== JSON.stringify(spec);

  const save = useCallback(async (): Promise<void> => {
    try {
      if (stored.id === null) {
        const done = await ask<SavedObject<S, Id>>("/api/objects", { kind, name: stored.name, spec });
        setStored((s) => ({ ...s, id: done.id, spec, revision: done.revision }));
        window.history.replaceState(null, "", `${list}/${done.id}`);
      } else {
        const done = await ask<{ revision: number }>(`/api/objects/${stored.id}`, { spec, revision: stored.revision }, { method: "PATCH" });
        setStored((s) => ({ ...s, spec, revision: done.revision }));
      }
      toast(`“${stored.name}” is saved.`);
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  }, [kind, list, stored, spec]);

  const remove = useCallback(async (): Promise<void> => {
    try {
      await ask(`/api/objects/${stored.id}`, {}, { method: "DELETE" });
    } catch (error) {
      return void toast.error(sentenceOf(error));
    }
    router.push(list);
    router.refresh();
    const back = () => void ask("/api/objects", { kind, name: stored.name, spec: stored.spec, id: stored.id }).then(() => router.refresh());
    toast(`“${stored.name}” is deleted.`, { action: { label: "Bring it back", onClick: back } });
  }, [kind, list, stored, router]);

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

  const renamed = (name: string, revision: number) => setStored((s) => ({ ...s, name, revision }));
  return { stored, changed: edited || stored.id === null, save, remove, renamed };
}
