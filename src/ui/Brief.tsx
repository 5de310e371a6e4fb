"use client";

import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { Fragment, type ReactNode, useEffect, useRef } from "react";

export type BriefPhrase<T> = { text: string; target?: T; tone?: "parameter" | "waiting" };

/** How a phrase looks that is no plain one: a value asked for when run, one that is not given yet. */
export const PHRASE_TONES = { parameter: "border-ochre bg-ochre-tint text-ochre px-1", waiting: "border-ochre bg-ochre-tint text-ochre px-2" } as const;

type Props<T> = {
  phrases: BriefPhrase<T>[];
  /** A stable name for what a phrase edits. */
  keyOf: (target: T) => string;
  editor: (target: T, close: () => void) => ReactNode;
  onDelete?: (target: T) => void;
  /** Names of phrases that have a problem, with its sentence. */
  problems?: Map<string, string>;
  /** The name of a phrase whose editor opens by itself, as soon as it stands in the sentence. */
  opening?: string | null;
  onOpened?: () => void;
  children?: ReactNode;
};

/** One plain sentence whose phrases are controls: Tab walks them, Enter opens, Escape closes, Delete removes. */
export function Brief<T>({ phrases, keyOf, editor, onDelete, problems, opening, onOpened, children }: Props<T>) {
  return (
    <p className="text-brief">
      {phrases.map((phrase, i) => {
        const { target } = phrase;
        if (target === undefined) return <Fragment key={`words ${i}`}>{phrase.text}</Fragment>;
        const key = keyOf(target);
        const wrong = problems?.get(key);
        const tone = wrong ? "border-vermilion bg-vermilion-tint text-vermilion" : phrase.tone ? PHRASE_TONES[phrase.tone] : "border-bottle text-bottle";
        return (
          <BriefPopover
            key={key}
            inText
            label={phrase.text}
            className={`cursor-pointer border-b border-dotted font-semibold hover:bg-bottle-tint ${tone}`}
            title={wrong}
            onDelete={onDelete && (() => onDelete(target))}
            onOpened={opening === key ? onOpened : undefined}
          >
            {(close) => editor(target, close)}
          </BriefPopover>
        );
      })}
      {children}
    </p>
  );
}

/** A button in a sentence that opens a small popover at its place. */
export function BriefPopover({
  label,
  className,
  title,
  onDelete,
  children,
  name,
  onOpened,
  inText = false,
  spent = false,
}: {
  label: ReactNode;
  className: string;
  title?: string | undefined;
  onDelete?: (() => void) | undefined;
  name?: string;
  /** Given, it opens by itself, and says so. */
  onOpened?: (() => void) | undefined;
  /** It is words of a sentence, whose lines break within it: a button element would be a block of its own. */
  inText?: boolean;
  /** What it adds is there: the button goes, though not while its popover is open or the focus is on it. */
  spent?: boolean;
  children: (close: () => void) => ReactNode;
}) {
  const button = useRef<HTMLElement>(null);
  useEffect(() => {
    if (!onOpened) return;
    // What was open closes first, and gives its focus back.
    const timer = setTimeout(() => {
      if (button.current?.getAttribute("aria-expanded") !== "true") button.current?.click();
      onOpened();
    });
    return () => clearTimeout(timer);
  }, [onOpened]);
  return (
    <Popover as="span" className={spent ? "not-data-open:not-focus-within:absolute" : undefined}>
      <PopoverButton
        ref={(element: HTMLElement | null) => {
          button.current = element;
        }}
        as={inText ? "span" : "button"}
        {...(inText ? { role: "button", tabIndex: 0 } : { tabIndex: spent ? -1 : undefined })}
        className={`${className} ${spent ? "not-data-open:not-focus:sr-only" : ""}`}
        title={title}
        aria-label={name}
        onKeyDown={(event: React.KeyboardEvent) => {
          if (event.key !== "Delete" || !onDelete) return;
          event.preventDefault();
          onDelete();
        }}
      >
        {label}
      </PopoverButton>
      <PopoverPanel anchor={{ to: "bottom start", gap: 6, padding: 12 }} focus className="popover">
        {({ close }) => <KeptFocus>{children(() => close())}</KeptFocus>}
      </PopoverPanel>
    </Popover>
  );
}

/** Where what had the focus goes by being used, as a choice that was made, the focus stays at its place instead of falling to the page. */
function KeptFocus({ children }: { children: ReactNode }) {
  const inside = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const root = inside.current;
    if (!root) return;
    let place = 0;
    /** Between two fields the focus is nowhere for a moment, and is not lost. */
    let between = false;
    const all = () => [...root.querySelectorAll<HTMLElement>("button, input, select, textarea, a[href]")];
    const come = () => {
      between = false;
      place = all().indexOf(document.activeElement as HTMLElement);
    };
    const leave = (event: FocusEvent) => {
      between = event.relatedTarget !== null;
    };
    const observer = new MutationObserver(() => {
      if (document.activeElement === document.body && !between)
        all()
          .at(Math.min(Math.max(place, 0), all().length - 1))
          ?.focus();
    });
    root.addEventListener("focusin", come);
    root.addEventListener("focusout", leave);
    observer.observe(root, { childList: true, subtree: true });
    return () => {
      root.removeEventListener("focusin", come);
      root.removeEventListener("focusout", leave);
      observer.disconnect();
    };
  }, []);
  return (
    <div ref={inside} className="contents">
      {children}
    </div>
  );
}
