"use client";

import { useRouter } from "next/navigation";
import { useCallback, useEffect, useState } from "react";
import { toast } from "sonner";
import { ask, sentenceOf } from "./ask";

export type SavedObject<S> = { id: string; name: string; spec: S; revision: number };

/**
 * A saved object while it is worked on: whether it differs from what is kept, keeping it (also by Ctrl S), deleting it
 * with a way back. The page asks before it is left with changes.
 */
export function useSavedObject<S>(kind: string, list: string, saved: SavedObject<S>, spec: S) {
  const router = useRouter();
  const [stored, setStored] = useState(saved);
  const changed = JSON.stringify(stored.spec) !== JSON.stringify(spec);

  const save = useCallback(async (): Promise<void> => {
    try {
      const done = await ask<{ revision: number }>(`/api/objects/${stored.id}`, { spec, revision: stored.revision }, { method: "PATCH" });
      setStored((s) => ({ ...s, spec, revision: done.revision }));
      toast(`“${stored.name}” is saved.`);
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  }, [stored, spec]);

  const remove = useCallback(async (): Promise<void> => {
    await ask(`/api/objects/${stored.id}`, {}, { method: "DELETE" });
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
      if (changed) event.preventDefault();
    };
    window.addEventListener("beforeunload", warn);
    return () => window.removeEventListener("beforeunload", warn);
  }, [changed]);

  const renamed = (name: string, revision: number) => setStored((s) => ({ ...s, name, revision }));
  return { stored, changed, save, remove, renamed };
}
