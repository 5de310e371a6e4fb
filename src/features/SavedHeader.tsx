"use client";

import type { ComponentProps, ReactNode } from "react";
import { useAbout } from "./AboutObject";
import { type Deed, DeedsMenu } from "./DeedsMenu";
import { SavedName } from "./SavedName";
import { UndoButtons } from "./UndoButtons";
import type { SavedState } from "./useSavedObject";
import { COMMON } from "./words";

type Props = {
  object: SavedState;
  history: ComponentProps<typeof UndoButtons>;
  /** What the menu offers, in order; deleting comes after it. */
  deeds: Deed[];
  children?: ReactNode;
};

/** The head of a page on which a saved object is built: its name, undo and redo, what else can be done with it, saving. */
export function SavedHeader({ object, history, deeds, children }: Props) {
  const { stored, changed, save, remove, rename } = object;
  const about = useAbout(object);
  const all: Deed[] = [...deeds, ...about.deeds, { words: COMMON.delete, tone: "text-vermilion", act: () => void remove() }];
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-2">
      <SavedName id={stored.id} name={stored.name} onRename={rename} />
      <span className="text-small text-soft">{changed ? "changed" : "saved"}</span>
      <span className="ml-auto flex flex-wrap items-center gap-2">
        <UndoButtons {...history} />
        {children}
        <DeedsMenu deeds={all} />
        <button type="button" className="button-primary" disabled={!changed} onClick={save}>
          {COMMON.save}
        </button>
      </span>
      {about.panel}
    </div>
  );
}
