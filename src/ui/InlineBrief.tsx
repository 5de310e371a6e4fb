"use client";

import { Fragment, type ReactNode, useEffect, useRef, useState } from "react";
import { type BriefPhrase, PHRASE_TONES } from "./Brief";

type Props<T> = {
  phrases: BriefPhrase<T>[];
  keyOf: (target: T) => string;
  editor: (target: T, close: () => void) => ReactNode;
  onDelete?: (target: T) => void;
};

/** A sentence within a popover: the editor of a phrase opens beneath it, as a popover of its own would close the one around it. */
export function InlineBrief<T>({ phrases, keyOf, editor, onDelete }: Props<T>) {
  const [open, setOpen] = useState<string | null>(null);
  const place = useRef<HTMLDivElement>(null);
  const words = useRef<HTMLParagraphElement>(null);
  useEffect(() => {
    if (open !== null) place.current?.querySelector<HTMLElement>("input, select, textarea, button")?.focus();
  }, [open]);
  const close = () => {
    const at = [...(words.current?.querySelectorAll("button") ?? [])].find((b) => b.dataset.key === open);
    setOpen(null);
    at?.focus();
  };
  const chosen = phrases.find((p) => p.target !== undefined && keyOf(p.target) === open)?.target;
  return (
    <>
      <p ref={words} className="text-brief">
        {phrases.map((phrase, i) => {
          const { target } = phrase;
          if (target === undefined) return <Fragment key={`words ${i}`}>{phrase.text}</Fragment>;
          const key = keyOf(target);
          return (
            <button
              key={key}
              type="button"
              data-key={key}
              aria-expanded={open === key}
              className={`border-b border-dotted font-semibold outline-offset-0 hover:bg-bottle-tint aria-expanded:bg-bottle-tint ${phrase.tone ? PHRASE_TONES[phrase.tone] : "border-bottle text-bottle"}`}
              onClick={() => setOpen(open === key ? null : key)}
              onKeyDown={(event) => {
                if (event.key === "Delete" && onDelete) {
                  event.preventDefault();
                  onDelete(target);
                }
              }}
            >
              {phrase.text}
            </button>
          );
        })}
      </p>
      {chosen !== undefined && (
        <div
          ref={place}
          className="mt-1 border-l-[3px] border-bottle bg-sheet p-2"
          onKeyDown={(event) => {
            if (event.key !== "Escape") return;
            event.stopPropagation();
            close();
          }}
        >
          {editor(chosen, close)}
        </div>
      )}
    </>
  );
}
