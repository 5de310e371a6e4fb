"use client";

import { type RefObject, useRef, useState } from "react";
import { writeCount } from "@/core/types/format";
import type { Found } from "@/server/services/queries/find";
import { ask, isAbort, sentenceOf } from "../ask";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import type { Question } from "./questions";
import { WORDS } from "./words";

type Props = {
  question: Question;
  /** The row reached in the sheet, from 0; -1 on its headings. */
  at: () => number;
  /** Goes to a row. */
  go: (row: number) => void;
  field: RefObject<HTMLInputElement | null>;
  leave: () => void;
};

/** Finds a text, a number or a date in all rows of a sheet: Enter the next row that holds it, Shift Enter the one before. */
export function FindBar({ question, at, go, field, leave }: Props) {
  const locale = useLocale();
  const [sought, setSought] = useState("");
  const [told, setTold] = useState("");
  const asking = useRef<AbortController | null>(null);

  async function find(backwards: boolean): Promise<void> {
    if (sought.trim() === "") return setTold("");
    asking.current?.abort();
    const abort = new AbortController();
    asking.current = abort;
    const seek = (from: number) =>
      ask<Found>("/api/query/find", { spec: question.spec, values: question.values, sought, from, backwards }, { signal: abort.signal });
    setTold(COMMON.counting);
    try {
      const here = at() + 1;
      let found = await seek(Math.max(1, backwards ? here - 1 : here + 1));
      // At the end the search begins again at the other one.
      if (found.row === null && found.rows > 0) found = await seek(backwards ? Number.MAX_SAFE_INTEGER : 1);
      setTold(found.row === null ? WORDS.foundNone : WORDS.foundIn(writeCount(found.rows, locale), found.rows === 1));
      if (found.row !== null) go(found.row - 1);
    } catch (error) {
      if (!isAbort(error)) setTold(sentenceOf(error));
    }
  }

  return (
    <span className="flex items-center gap-2">
      <input
        ref={field}
        type="search"
        className="field h-7 w-44 py-0"
        aria-label={WORDS.findInSheet}
        placeholder={WORDS.findInSheet}
        value={sought}
        onChange={(e) => setSought(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === "Enter") void find(e.shiftKey);
          if (e.key === "Escape") leave();
        }}
      />
      <span data-testid="found-rows">{told}</span>
    </span>
  );
}
