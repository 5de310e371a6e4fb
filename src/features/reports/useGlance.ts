"use client";

import { useEffect, useRef, useState } from "react";
import type { Page } from "@/core/report/page";
import { useAhead } from "../ahead/AnswersAhead";
import { ask } from "../ask";

/** A report that is counted sooner is shown at once, with its number of pages. */
const GLANCE_AFTER_MS = 150;
const GLANCE = "/api/report/glance";

type Glance = { pages: Page[] };

/** The first page of a report while its pages are still being counted, as far as it can be told; else null. */
export function useGlance(report: object, waiting: boolean): Page | null {
  const ahead = useAhead();
  const [page, setPage] = useState(() => ahead<Glance>({ path: GLANCE, body: report })?.answer.pages[0] ?? null);
  const came = useRef(page !== null);
  const key = JSON.stringify(report);
  useEffect(() => {
    const answered = came.current;
    came.current = false;
    if (answered) return;
    setPage(null);
    if (!waiting) return;
    const abort = new AbortController();
    const timer = setTimeout(() => {
      ask<Glance>(GLANCE, JSON.parse(key), { signal: abort.signal }).then(
        ({ pages: [first] }) => setPage(first ?? null),
        // What is wrong is said where the whole is asked for.
        () => {},
      );
    }, GLANCE_AFTER_MS);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [key, waiting]);
  return waiting ? page : null;
}
