import { toast } from "sonner";
import { ask, sentenceOf } from "../ask";
import { COMMON } from "../words";
import { WORDS } from "./words";

/** Removes a link that a person made, with a way back; what was derived through it stays, marked, and works again with it. */
export async function removeLink(id: string, label: string, onSaved: () => void): Promise<void> {
  try {
    const saved = (await ask<{ id: string; name: string; spec: unknown }[]>("/api/objects?kind=link")).find((o) => o.id === id);
    await ask(`/api/objects/${id}`, {}, { method: "DELETE" });
    onSaved();
    const back = () =>
      void ask("/api/objects", { kind: "link", name: saved?.name ?? label, spec: saved?.spec, id }).then(onSaved, (e) => toast.error(sentenceOf(e)));
    toast(WORDS.linkToRemoved(label), { action: { label: COMMON.undo, onClick: back } });
  } catch (error) {
    toast.error(sentenceOf(error));
  }
}
