"use client";

import type { ReactNode, Ref } from "react";
import type { Page } from "@/core/report/page";
import { writeCount } from "@/core/types/format";
import { useLocale } from "../workspace/locale";
import { PageView } from "./PageView";
import { WORDS } from "./words";

/** `at` is counted from 0; `count` is null while it is not known. */
type Turn = { noun: string; at: number; count: number | null; go: (at: number) => void };

/** The way from one to the next of so many: pages, or letters. */
export function Pager({ noun, at, count, go }: Turn) {
  const locale = useLocale();
  return (
    <nav aria-label={`${noun}s`} className="flex items-center gap-2">
      <button type="button" className="button" aria-label={WORDS.previous(noun)} disabled={at === 0} onClick={() => go(at - 1)}>
        ‹
      </button>
      <span className="text-small text-soft">
        {count === null
          ? WORDS.countingTheOthers(noun, writeCount(at + 1, locale))
          : WORDS.pageOf(noun, writeCount(Math.min(at + 1, count), locale), writeCount(count, locale))}
      </span>
      <button type="button" className="button" aria-label={WORDS.nextOf(noun)} disabled={count === null || at + 1 >= count} onClick={() => go(at + 1)}>
        ›
      </button>
    </nav>
  );
}

/** Pages as they lie on the desk, with the way from one to the next over them. */
export function PagesDesk({
  label,
  turn,
  bar,
  children,
  ref,
}: {
  label: string;
  turn: Turn | null /** What stands over the pages in place of the way alone. */;
  bar?: ReactNode;
  children: ReactNode;
  ref?: Ref<HTMLElement>;
}) {
  return (
    <section
      ref={ref}
      aria-label={label}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keyboard (WCAG 2.1.1)
      tabIndex={0}
      className="grid min-h-0 flex-1 content-start gap-5 overflow-auto bg-desk px-6 pb-5"
    >
      <div className="sticky top-0 left-0 z-30 -mb-3 flex flex-wrap items-center justify-center gap-x-5 gap-y-1 bg-desk py-2">
        {bar ?? (turn && <Pager {...turn} />)}
      </div>
      {children}
    </section>
  );
}

export const PageList = ({ pages }: { pages: Page[] }) => pages.map((page) => <PageView key={page.number} page={page} />);
