"use client";

import { useEffect, useState } from "react";
import type { Page } from "@/core/report/page";
import type { ReportSpec } from "@/core/report/spec";
import { ask, isAbort } from "../ask";
import { PageView } from "./PageView";
import { pagesAsked } from "./pagesAsked";
import { WORDS } from "./words";

/** Pages drawn small at once, around the one that is looked at. */
const AT_ONCE = 8;

/** The pages of a report, small, a stretch of them at a time: those around the page that is looked at. */
export function PageThumbs({ spec, pages, at, go }: { spec: ReportSpec; pages: number; at: number; go: (page: number) => void }) {
  const first = Math.max(1, Math.min(pages - AT_ONCE + 1, at - 2));
  const key = JSON.stringify(spec);
  const [shown, setShown] = useState<Page[]>([]);
  useEffect(() => {
    const abort = new AbortController();
    const timer = setTimeout(() => {
      const { path, body } = pagesAsked(JSON.parse(key), first, AT_ONCE);
      ask<{ pages: Page[] }>(path, body, { signal: abort.signal }).then(
        (answer) => setShown(answer.pages),
        // What is wrong is said where the page itself is asked for.
        (error) => isAbort(error),
      );
    }, 250);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [key, first]);
  return (
    <ol className="grid gap-3 px-4 pb-3">
      {shown.map((page) => (
        <li key={page.number}>
          <button
            type="button"
            aria-label={WORDS.pageNumber(page.number)}
            aria-current={page.number === at ? "page" : undefined}
            className={`block w-full border-2 ${page.number === at ? "border-bottle" : "border-transparent hover:border-faint"}`}
            onClick={() => go(page.number)}
          >
            <PageView page={page} />
          </button>
          <span className="block text-center text-tiny text-faint">{page.number}</span>
        </li>
      ))}
    </ol>
  );
}
