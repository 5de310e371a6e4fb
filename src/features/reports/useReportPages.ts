"use client";

import { useEffect, useMemo, useRef, useState } from "react";
import type { PlanParameter } from "@/core/query/plan";
import type { Gone } from "@/core/report/gone";
import type { ReportOutline } from "@/core/report/layOut";
import type { Page } from "@/core/report/page";
import { reflowColumns } from "@/core/report/reflow";
import type { ReportSpec } from "@/core/report/spec";
import type { ReportCheck } from "@/server/services/reports/service";
import { useAhead } from "../ahead/AnswersAhead";
import { AskError, ask, isAbort, sentenceOf } from "../ask";
import { pagesAsked } from "./pagesAsked";
import type { ReportColumn } from "./reportColumn";
import { useGlance } from "./useGlance";

type Laid = {
  pages: Page[];
  outline: ReportOutline;
  columns: ReportColumn[];
  printed: ReportColumn[];
  gone: Gone[];
  parameters: PlanParameter[];
  proof: ReportCheck;
};
/** So long a report may go on changing before it is laid out. */
const SETTLED_MS = 60;

/**
 * The pages of a report that are looked at, laid out anew as it changes, with its outline and proof.
 * @param shown how many pages side by side
 */
export function useReportPages(spec: ReportSpec, shown: number) {
  const ahead = useAhead();
  const [laid, setLaid] = useState(() => ahead<Laid>(pagesAsked(spec, 1))?.answer ?? null);
  const [running, setRunning] = useState(laid === null);
  const [failure, setFailure] = useState<AskError | null>(null);
  const [at, setAt] = useState(1);
  const came = useRef(laid !== null);
  const key = useMemo(() => JSON.stringify(spec), [spec]);

  useEffect(() => {
    const answered = came.current;
    came.current = false;
    if (answered) return;
    const abort = new AbortController();
    setRunning(true);
    const timer = setTimeout(() => {
      const { path, body } = pagesAsked(JSON.parse(key), at, shown);
      ask<Laid>(path, body, { signal: abort.signal }).then(
        (answer) => {
          if (answer.outline.pages < at) return setAt(answer.outline.pages);
          setLaid(answer);
          setFailure(null);
          setRunning(false);
        },
        (error) => {
          if (isAbort(error)) return;
          setFailure(error instanceof AskError ? error : new AskError({ sentence: sentenceOf(error), code: "unforeseen", problems: [] }));
          setRunning(false);
        },
      );
    }, SETTLED_MS);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [key, at, shown]);
  const glance = useGlance({ spec }, running && at === 1);
  return {
    laid,
    failure,
    at,
    setAt,
    /** How many there are; null while only the first is known. */
    count: glance ? null : (laid?.outline.pages ?? 1),
    /** Columns are as wide as they are wanted at once, before the page is laid out with it. */
    pages: (glance ? [glance] : (laid?.pages.map((page) => reflowColumns(page, laid.outline.columns, spec)) ?? [])).slice(0, shown),
  };
}
