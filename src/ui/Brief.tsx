"use client";

import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { Fragment, type ReactNode } from "react";

export type BriefPhrase<T> = { text: string; target?: T; tone?: "parameter" };

type Props<T> = {
  phrases: BriefPhrase<T>[];
  /** A stable name for what a phrase edits. */
  keyOf: (target: T) => string;
  editor: (target: T, close: () => void) => ReactNode;
  onDelete?: (target: T) => void;
  /** Names of phrases that have a problem, with its sentence. */
  problems?: Map<string, string>;
  children?: ReactNode;
};

/** One plain sentence whose phrases are controls: Tab walks them, Enter opens, Escape closes, Delete removes. */
export function Brief<T>({ phrases, keyOf, editor, onDelete, problems, children }: Props<T>) {
  return (
    <p className="text-brief">
      {phrases.map((phrase, i) => {
        const { target } = phrase;
        if (target === undefined) return <Fragment key={`words ${i}`}>{phrase.text}</Fragment>;
        const key = keyOf(target);
        const wrong = problems?.get(key);
        const tone = wrong
          ? "border-vermilion bg-vermilion-tint text-vermilion"
          : phrase.tone === "parameter"
            ? "border-ochre bg-ochre-tint text-ochre px-1"
            : "border-bottle text-bottle";
        return (
          <BriefPopover
            key={key}
            label={phrase.text}
            className={`border-b border-dotted font-semibold hover:bg-bottle-tint ${tone}`}
            title={wrong}
            onDelete={onDelete && (() => onDelete(target))}
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
}: {
  label: ReactNode;
  className: string;
  title?: string | undefined;
  onDelete?: (() => void) | undefined;
  name?: string;
  children: (close: () => void) => ReactNode;
}) {
  return (
    <Popover as="span">
      <PopoverButton
        className={className}
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
        {({ close }) => <>{children(() => close())}</>}
      </PopoverPanel>
    </Popover>
  );
}
