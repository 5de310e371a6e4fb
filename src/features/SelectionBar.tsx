"use client";

import { useEffect, useState } from "react";
import { toast } from "sonner";
import type { Folder } from "@/core/desk/listing";
import { LEVELS, type Level } from "@/core/people/roles";
import { counted } from "@/core/types/format";
import type { ListedItem } from "@/server/services/objects/lists";
import type { Sharing } from "@/server/services/people/sharing";
import { BriefPopover } from "@/ui/Brief";
import { AskError, ask, askRaw, saveFile, sentenceOf } from "./ask";
import { Choice } from "./editors/parts";
import { COMMON } from "./words";
import { useLocale } from "./workspace/locale";
import { useSignedIn } from "./workspace/person";

type Props = { items: ListedItem[]; folders: Folder[]; clear: () => void; done: () => void };

/** What can be done with the objects selected in a list. */
export function SelectionBar({ items, folders, clear, done }: Props) {
  const locale = useLocale();
  const { person } = useSignedIn();
  const ids = items.map((i) => i.id);
  const only = items.length === 1 ? items[0] : undefined;
  const words = counted(items.length, "item", locale);
  async function act(body: object, told: string, anyway?: () => void): Promise<void> {
    try {
      await ask("/api/objects/several", { ids, ...body });
      toast(told);
      done();
    } catch (error) {
      const used = error instanceof AskError && error.body.code === "used" && anyway;
      toast.error(sentenceOf(error), used ? { duration: 30_000, action: { label: COMMON.deleteAnyway, onClick: used } } : {});
    }
  }
  const remove = (anyway: boolean): void => void act({ deed: "delete", anyway }, COMMON.deletedSeveral(words), () => remove(true));
  async function exported(): Promise<void> {
    try {
      await saveFile(await askRaw(`/api/definitions?${new URLSearchParams(ids.map((id) => ["id", id]))}`));
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  }
  return (
    <div
      role="toolbar"
      aria-label={COMMON.selectedItems(items.length)}
      className="sticky top-0 z-10 mb-2 flex flex-wrap items-center gap-2 border border-bottle bg-sheet px-3 py-1.5"
    >
      <span className="mr-2 font-semibold" role="status">
        {COMMON.selectedItems(items.length)}
      </span>
      <BriefPopover label={COMMON.moveToFolder} className="small-button">
        {(close) => (
          <FolderChoice
            folders={folders}
            choose={(folder) => {
              close();
              void act({ deed: "folder", folder }, COMMON.movedSeveral(words, folder));
            }}
          />
        )}
      </BriefPopover>
      {only?.mayEdit && (
        <BriefPopover label={COMMON.note} className="small-button">
          {(close) => (
            <NoteEditor
              item={only}
              save={(note) => {
                close();
                void act({ deed: "note", note }, COMMON.noted(only.name));
              }}
            />
          )}
        </BriefPopover>
      )}
      {person && items.every((i) => i.mayShare) && (
        <BriefPopover label={COMMON.shareSeveral} className="small-button">
          {(close) => (
            <WhomChoice
              id={ids[0] as string}
              choose={(whom, name, level) => {
                close();
                void act({ deed: "share", person: whom, level }, level ? COMMON.sharedSeveral(words, name) : COMMON.unsharedSeveral(words, name));
              }}
            />
          )}
        </BriefPopover>
      )}
      <button type="button" className="small-button" onClick={() => void exported()}>
        {COMMON.exportSelected}
      </button>
      {items.every((i) => i.mayShare) && (
        <button type="button" className="small-button text-vermilion" onClick={() => remove(false)}>
          {COMMON.deleteSelected}
        </button>
      )}
      <button type="button" className="small-button ml-auto" onClick={clear}>
        {COMMON.clearSelection}
      </button>
    </div>
  );
}

function FolderChoice({ folders, choose }: { folders: Folder[]; choose: (folder: string) => void }) {
  const [name, setName] = useState("");
  return (
    <>
      <p className="caption pb-1">{COMMON.moveToFolder}</p>
      {folders.map(({ folder }) => (
        <Choice key={folder} onClick={() => choose(folder)}>
          {folder || COMMON.outOfFolders}
        </Choice>
      ))}
      <form
        className="flex gap-2 pt-2"
        onSubmit={(e) => {
          e.preventDefault();
          if (name.trim() !== "") choose(name.trim());
        }}
      >
        <input
          className="field"
          aria-label={COMMON.newFolder}
          placeholder={COMMON.newFolder}
          maxLength={80}
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <button type="submit" className="small-button" disabled={name.trim() === ""}>
          {COMMON.move}
        </button>
      </form>
    </>
  );
}

/** With whom, and what they may: everyone, or one of the people there are. */
function WhomChoice({ id, choose }: { id: string; choose: (person: string, name: string, level: Level | null) => void }) {
  const [sharing, setSharing] = useState<Sharing | null>(null);
  const [level, setLevel] = useState<Level | null>("see");
  useEffect(() => void ask<Sharing>(`/api/objects/${id}/shares`).then(setSharing, (error) => toast.error(sentenceOf(error))), [id]);
  if (!sharing) return <p className="text-soft">{COMMON.loading}</p>;
  // Those who only look change nothing.
  const able = sharing.people.filter((p) => level !== "edit" || p.role !== "viewer");
  return (
    <>
      <label className="grid gap-0.5 pb-2 text-small">
        {COMMON.theyCan}
        <select className="field" aria-label={COMMON.theyCan} value={level ?? ""} onChange={(e) => setLevel(LEVELS.find((l) => l === e.target.value) ?? null)}>
          <option value="see">{COMMON.viewThem}</option>
          <option value="edit">{COMMON.changeThem}</option>
          <option value="">{COMMON.noLongerOpenThem}</option>
        </select>
      </label>
      <p className="caption pb-1">{COMMON.shareSelected}</p>
      {[{ id: "", name: COMMON.everyone }, ...able].map((p) => (
        <Choice key={p.id} onClick={() => choose(p.id, p.name, level)}>
          {p.name}
        </Choice>
      ))}
    </>
  );
}

/** What is noted of an object: for all who can open it. */
function NoteEditor({ item, save }: { item: ListedItem; save: (note: string) => void }) {
  const [note, setNote] = useState(item.note);
  return (
    <form
      className="grid gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        save(note);
      }}
    >
      <textarea className="field h-20 resize-none" aria-label={COMMON.note} maxLength={1000} value={note} onChange={(e) => setNote(e.target.value)} />
      <p className="text-small text-soft">{COMMON.noteHelp}</p>
      <button type="submit" className="button-primary justify-self-start">
        {COMMON.save}
      </button>
    </form>
  );
}
