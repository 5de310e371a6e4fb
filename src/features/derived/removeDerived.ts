"use client";

import { toast } from "sonner";
import { ask, sentenceOf } from "../ask";
import { COMMON } from "../words";
import { WORDS } from "./words";

/** Removes a derived field; it can be brought back under the id that queries name it by. */
export async function removeDerived(id: string, label: string, removed: () => void): Promise<void> {
  try {
    const all = await ask<{ id: string; name: string; spec: unknown }[]>(`/api/objects?kind=derived`);
    const saved = all.find((o) => o.id === id);
    await ask(`/api/objects/${id}`, {}, { method: "DELETE" });
    removed();
    toast(WORDS.derivedFieldRemoved(label), {
      action: {
        label: COMMON.undo,
        onClick: () => void ask("/api/objects", { kind: "derived", name: label, spec: saved?.spec, id }).then(removed, (e) => toast.error(sentenceOf(e))),
      },
    });
  } catch (error) {
    toast.error(sentenceOf(error));
  }
}
