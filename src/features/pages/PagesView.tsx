"use client";

import { useState } from "react";
import type { Page } from "@/core/report/page";
import { Notice } from "@/ui/Notice";
import { PageList, Pager } from "../reports/PagedView";
import { useAnswer } from "../useAnswer";
import type { Asking } from "./asking";

/** A report for visitors, page by page. */
export function PagesView({ asking }: { asking: Asking }) {
  const [at, setAt] = useState(0);
  const { answer, failure } = useAnswer<{ pages: Page[]; count: number }>(asking.path, { ...asking.with, question: { ask: "pages", at } }, { settleMs: 60 });
  if (failure) return <Notice tone="wrong">{failure.message}</Notice>;
  return (
    <div className="grid gap-3">
      {answer && (
        <>
          <div className="flex justify-center">
            <Pager noun="page" at={at} count={answer.count} go={setAt} />
          </div>
          <PageList pages={answer.pages} />
        </>
      )}
    </div>
  );
}
