"use client";

import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import type { ComponentProps, ReactNode } from "react";
import { toast } from "sonner";
import { download, sentenceOf } from "./ask";
import { SavedName } from "./SavedName";
import { UndoButtons } from "./UndoButtons";
import type { useSavedObject } from "./useSavedObject";

export type Deed = { words: string; disabled?: boolean; tone?: string; act: () => void };

type Props = {
  object: ReturnType<typeof useSavedObject>;
  history: ComponentProps<typeof UndoButtons>;
  /** What the menu offers, in order; deleting comes after it. */
  deeds: Deed[];
  children?: ReactNode;
};

/** The head of a page on which a saved object is built: its name, undo and redo, what else can be done with it, saving. */
export function SavedHeader({ object, history, deeds, children }: Props) {
  const { stored, changed, save, remove, renamed } = object;
  const all: Deed[] = [...deeds, { words: "Delete", tone: "text-vermilion", act: () => void remove() }];
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-2">
      <SavedName id={stored.id} name={stored.name} revision={stored.revision} onSaved={renamed} />
      <span className="text-small text-soft">{changed ? "changed" : "saved"}</span>
      <span className="ml-auto flex flex-wrap items-center gap-2">
        <UndoButtons {...history} />
        {children}
        <Menu>
          <MenuButton className="button">More ▾</MenuButton>
          <MenuItems anchor="bottom end" className="popover w-56">
            {all.map(({ words, disabled, tone = "", act }) => (
              <MenuItem key={words}>
                <button type="button" className={`menu-item ${tone}`} disabled={disabled} onClick={act}>
                  {words}
                </button>
              </MenuItem>
            ))}
          </MenuItems>
        </Menu>
        <button type="button" className="button-primary" disabled={!changed} onClick={save}>
          Save
        </button>
      </span>
    </div>
  );
}

/** Has the server make a file, and says that it is made or why it is not. */
export const makeFile = (path: string, body: object, format: string): void =>
  void download(path, { ...body, format }).then(
    () => toast(`The ${format.toUpperCase()} file is made.`),
    (error) => toast.error(sentenceOf(error)),
  );
