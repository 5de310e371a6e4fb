"use client";

import type { ComponentProps, ReactNode } from "react";
import type { RowFormat } from "@/core/schedule/choices";
import type { Entry } from "@/server/jobs/posting/journal";
import { useAbout } from "../AboutObject";
import { DeedsMenu } from "../DeedsMenu";
import { SavedName } from "../SavedName";
import { UndoButtons } from "../UndoButtons";
import type { SavedState } from "../useSavedObject";
import { COMMON } from "../words";
import { WORDS } from "./words";

type Props = {
  object: SavedState;
  history: ComponentProps<typeof UndoButtons>;
  /** The entry that the description was posted as, while it is looked at. */
  standing: Entry | null;
  exportRows: (format: RowFormat) => void;
  children: ReactNode;
};

/** The head of a posting: its name, undo and redo, what else can be done with it, saving, and posting. */
export function PostingHead({ object, history, standing, exportRows, children }: Props) {
  const { stored, changed, save, remove, rename } = object;
  const about = useAbout(object);
  const exports = (["csv", "xlsx"] as const).map((format) => ({ words: WORDS.exportPreview(format.toUpperCase()), act: () => exportRows(format) }));
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-2">
      <SavedName shared={false} id={stored.id} name={stored.name} onRename={rename} />
      <span className="text-small text-soft">{standing ? WORDS.postedAs2(standing.number) : WORDS.draftNothingChangedYet}</span>
      <span className="ml-auto flex gap-2">
        <UndoButtons {...history} />
        <DeedsMenu deeds={[...exports, ...about.deeds, { words: COMMON.delete, tone: "text-vermilion", act: () => void remove() }]} />
        <button type="button" className="button" disabled={!changed} onClick={save}>
          {WORDS.saveDraft}
        </button>
        {children}
      </span>
      {about.panel}
    </div>
  );
}
