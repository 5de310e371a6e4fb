"use client";

import Markdown from "markdown-to-jsx";
import { type ComponentProps, useEffect, useRef, useState } from "react";
import type { GuidePage } from "@/core/help/guidePages";
import { ask, sentenceOf } from "../ask";
import { guidePageOf } from "./screens";
import { shortcutsOf } from "./shortcuts";
import { WORDS } from "./words";

/** The page of the guide for a screen, in the margin, with the screen's keys. Escape closes it. */
export default function HelpPanel({ page: first, close }: { page: GuidePage; close: () => void }) {
  const [page, setPage] = useState(first);
  const [text, setText] = useState("");
  const panel = useRef<HTMLElement>(null);
  useEffect(() => setPage(first), [first]);
  useEffect(() => {
    const stop = new AbortController();
    ask<{ text: string }>(`/api/help?page=${page}`, undefined, { signal: stop.signal }).then(
      (found) => {
        setText(found.text);
        panel.current?.scrollTo({ top: 0 });
      },
      (error) => !stop.signal.aborted && setText(sentenceOf(error)),
    );
    return () => stop.abort();
  }, [page]);
  useEffect(() => {
    panel.current?.focus();
    const onKey = (event: KeyboardEvent) => event.key === "Escape" && close();
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [close]);

  const link = ({ href = "", children }: ComponentProps<"a">) => {
    const to = guidePageOf(href);
    return to ? (
      <button type="button" className="link" onClick={() => setPage(to)}>
        {children}
      </button>
    ) : (
      <span>{children}</span>
    );
  };
  return (
    <aside
      ref={panel}
      tabIndex={-1}
      aria-label={WORDS.help}
      className="no-print absolute inset-y-0 right-0 z-30 w-[26rem] max-w-full overflow-auto border-l-[3px] border-double border-column bg-paper px-5 py-4 shadow-lg outline-none"
    >
      <div className="flex items-center justify-between pb-2">
        <button type="button" className="link text-small" onClick={() => setPage("README")}>
          {WORDS.contents}
        </button>
        <button type="button" className="small-button" aria-label={WORDS.close} onClick={close}>
          ×
        </button>
      </div>
      <div className="guide">
        <Markdown options={{ overrides: { a: { component: link } }, disableParsingRawHTML: true }}>{text}</Markdown>
      </div>
      <h2 className="pt-5 pb-1 font-serif text-[1.125rem] font-semibold">{WORDS.shortcuts}</h2>
      <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1 text-small">
        {shortcutsOf(page).map(({ keys, does }) => (
          <div key={keys + does} className="contents">
            <dt className="font-semibold">{keys}</dt>
            <dd className="text-soft">{does}</dd>
          </div>
        ))}
      </dl>
    </aside>
  );
}
