"use client";

import { useState } from "react";
import type { ReportOutline } from "@/core/report/layOut";
import type { ReportSpec } from "@/core/report/spec";
import { writeCount } from "@/core/types/format";
import { useLocale } from "../workspace/locale";
import { PageThumbs } from "./PageThumbs";
import { WORDS } from "./words";

/** Groups that are listed at most. */
const MOST_ENTRIES = 600;

type Props = { spec: ReportSpec; outline: ReportOutline | null; at: number; go: (page: number) => void };

/** The groups of a report with the pages they begin on, and its grand total. */
export function ReportContents({ spec, outline, at, go }: Props) {
  const locale = useLocale();
  const [small, setSmall] = useState(false);
  const entries = outline?.entries.slice(0, MOST_ENTRIES) ?? [];
  return (
    <nav aria-label={WORDS.contents} className="w-57 shrink-0 overflow-auto border-r border-rule py-3 max-[1100px]:w-44 max-md:hidden">
      <div className="flex gap-4 px-4 pb-2">
        {[false, true].map((pages) => (
          <button
            key={String(pages)}
            type="button"
            aria-pressed={small === pages}
            className={`caption ${small === pages ? "text-ink underline underline-offset-4" : "hover:text-ink"}`}
            onClick={() => setSmall(pages)}
          >
            {pages ? WORDS.pagesSmall : WORDS.contents}
          </button>
        ))}
      </div>
      {small && outline && <PageThumbs spec={spec} pages={outline.pages} at={at} go={go} />}
      {!small &&
        entries.map((entry, i) => (
          <button
            key={`${i} ${entry.text}`}
            type="button"
            onClick={() => go(entry.page)}
            aria-current={entry.page === at ? "location" : undefined}
            className={`flex w-full justify-between gap-2 py-[3px] pr-4 text-left hover:bg-bottle-tint ${entry.page === at ? "bg-bottle-tint" : ""} ${entry.empty ? "text-ochre" : entry.level > 0 ? "text-soft" : ""}`}
            style={{ paddingLeft: 16 + entry.level * 14 }}
          >
            <span className={`truncate ${entry.page === at && entry.level === 0 ? "font-semibold" : ""}`}>{entry.text}</span>
            <span className="text-faint">{entry.page}</span>
          </button>
        ))}
      {!small && outline && outline.entries.length > MOST_ENTRIES && (
        <p className="px-4 py-2 text-small text-soft">{WORDS.moreGroups(writeCount(outline.entries.length - MOST_ENTRIES, locale))}</p>
      )}
      {!small && outline && (
        <button
          type="button"
          onClick={() => go(outline.totalPage)}
          className="mt-2 flex w-full justify-between px-4 py-[3px] font-semibold hover:bg-bottle-tint"
        >
          <span>{WORDS.grandTotal}</span>
          <span className="text-faint">{outline.totalPage}</span>
        </button>
      )}
    </nav>
  );
}
