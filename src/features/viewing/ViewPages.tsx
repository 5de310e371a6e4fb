"use client";

import { useState } from "react";
import type { Page } from "@/core/report/page";
import { Notice } from "@/ui/Notice";
import { makeFile } from "../DeedsMenu";
import { PageList, PagesDesk } from "../reports/PagedView";
import { useGlance } from "../reports/useGlance";
import { useAnswer } from "../useAnswer";
import { COMMON } from "../words";
import { PageHeading } from "../workspace/PageHeading";
import { VIEWED, viewAsked } from "./viewAsked";
import { WORDS } from "./words";

type Shown = { pages: Page[]; count: number };

type Answer = { pages: Page[]; count?: number; outline?: { pages: number } };
const shownIn = (answer: Answer | null): Shown | null => answer && { pages: answer.pages, count: answer.count ?? answer.outline?.pages ?? 0 };

/** A report or letters as those see them who only look: page by page, to be printed as they are saved. */
export function ViewPages({ kind, id, name }: { kind: "report" | "letter"; id: string; name: string }) {
  const [at, setAt] = useState(0);
  const { print, noun } = VIEWED[kind];
  const { path, body } = viewAsked(kind, id, at);
  const { answer, failure, running } = useAnswer<Answer>(path, body, { settleMs: 60 });
  const shown = shownIn(answer);
  const glance = useGlance({ object: id }, kind === "report" && running && answer === null);
  return (
    <div className="flex h-full flex-col">
      <div className="flex flex-wrap items-center gap-3 px-8 py-4">
        <PageHeading name={name} />
        <span className="ml-auto flex flex-wrap gap-3">
          <button type="button" className="button-primary" disabled={!shown} onClick={() => makeFile(print, { object: id, name }, "pdf")}>
            {COMMON.printToPDF}
          </button>
        </span>
      </div>
      <PagesDesk label={WORDS.the(noun)} turn={shown || glance ? { noun, at, count: shown?.count ?? null, go: setAt } : null}>
        {failure && <Notice tone="wrong">{failure.message}</Notice>}
        {shown ? <PageList pages={shown.pages} /> : glance && <PageList pages={[glance]} />}
      </PagesDesk>
    </div>
  );
}
