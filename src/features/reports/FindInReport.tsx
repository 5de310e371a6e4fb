"use client";

import { useState } from "react";
import type { ReportSpec } from "@/core/report/spec";
import { writeCount } from "@/core/types/format";
import { onEnter } from "@/ui/onEnter";
import { ask, sentenceOf } from "../ask";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

/** Finds a text in the pages of a report, and goes from one page that has it to the next. */
export function FindInReport({ spec, go }: { spec: ReportSpec; go: (page: number) => void }) {
  const locale = useLocale();
  const [text, setText] = useState("");
  const [found, setFound] = useState<{ of: string; pages: number[]; at: number } | null>(null);
  const [said, setSaid] = useState("");
  const asked = JSON.stringify([spec, text.trim()]);
  async function find(): Promise<void> {
    if (text.trim() === "") return;
    if (found?.of === asked && found.pages.length > 0) {
      const at = (found.at + 1) % found.pages.length;
      setFound({ ...found, at });
      return go(found.pages[at] ?? 1);
    }
    try {
      const { pages } = await ask<{ pages: number[] }>("/api/report/find", { spec, text });
      setFound({ of: asked, pages, at: 0 });
      setSaid("");
      if (pages[0]) go(pages[0]);
    } catch (error) {
      setSaid(sentenceOf(error));
    }
  }
  const words =
    said ||
    (found?.of !== asked
      ? ""
      : found.pages.length === 0
        ? WORDS.foundNone
        : WORDS.found(writeCount(found.at + 1, locale), writeCount(found.pages.length, locale)));
  return (
    <span className="flex items-center gap-2">
      <input
        className="field w-36 max-[1100px]:w-24"
        aria-label={WORDS.findInReport}
        placeholder={WORDS.findInReport}
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={onEnter(() => void find())}
      />
      <output className="text-small text-soft">{words}</output>
    </span>
  );
}
