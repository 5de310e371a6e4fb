"use client";

import type { Page } from "@/core/report/page";
import { writeCount } from "@/core/types/format";
import { useLocale } from "../shell/Shell";
import { PageView } from "./PageView";

type Turn = { noun: string; at: number; count: number; go: (at: number) => void };

/** The way from one to the next of so many: pages, or letters. @param at counted from 0 */
export function Pager({ noun, at, count, go }: Turn) {
  const locale = useLocale();
  return (
    <nav aria-label={`${noun}s`} className="flex items-center gap-2">
      <button type="button" className="button" aria-label={`The ${noun} before`} disabled={at === 0} onClick={() => go(at - 1)}>
        ‹
      </button>
      <span className="text-small text-soft">
        {noun} {writeCount(Math.min(at + 1, count), locale)} of {writeCount(count, locale)}
      </span>
      <button type="button" className="button" aria-label={`Next ${noun}`} disabled={at + 1 >= count} onClick={() => go(at + 1)}>
        ›
      </button>
    </nav>
  );
}

export const PageList = ({ pages }: { pages: Page[] }) => pages.map((page) => <PageView key={page.number} page={page} />);
