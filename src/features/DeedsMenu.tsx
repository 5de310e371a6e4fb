"use client";

import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { toast } from "sonner";
import { download, isAbort, sentenceOf } from "./ask";
import { usePageDeeds } from "./frame/pageDeeds";
import { COMMON } from "./words";

export type Deed = { words: string; disabled?: boolean; tone?: string; act: () => void };

/** What else can be done on a page, under one button. */
export function DeedsMenu({ deeds }: { deeds: Deed[] }) {
  usePageDeeds(deeds);
  return (
    <Menu>
      <MenuButton className="button">{COMMON.more}</MenuButton>
      <MenuItems anchor="bottom end" className="popover w-56">
        {deeds.map(({ words, disabled, tone = "", act }) => (
          <MenuItem key={words}>
            <button type="button" className={`menu-item ${tone}`} disabled={disabled} onClick={act}>
              {words}
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}

/** Formats of pages; of others rows are told. */
const PAGED: ReadonlySet<string> = new Set(["pdf", "html"]);

/** What files are that formats of other names come as. */
const FILES: Record<string, string> = { totals: "csv" };

/** Has the server make a file, and says that it is being made, with a way to stop it; that it is made, or why it is not. */
export function makeFile(path: string, body: object, format: string): void {
  const file = (FILES[format] ?? format).toUpperCase();
  const stop = new AbortController();
  const id = toast.loading(COMMON.making(file), { action: { label: COMMON.stop, onClick: () => stop.abort() } });
  let over = false;
  const told = (done: number) => {
    if (!over)
      toast.loading(COMMON.makingSoFar(file, done.toLocaleString(), PAGED.has(format)), { id, action: { label: COMMON.stop, onClick: () => stop.abort() } });
  };
  const made = download(path, { ...body, format }, { signal: stop.signal, told }).finally(() => {
    over = true;
  });
  made.then(
    () => toast.success(COMMON.isReady(file), { id, action: undefined }),
    (error) => (isAbort(error) ? toast.dismiss(id) : toast.error(sentenceOf(error), { id, action: undefined })),
  );
}
