"use client";

import { useEffect, useState } from "react";
import type { Page } from "@/core/report/page";
import { ask } from "../ask";

/** A report that is counted sooner is shown at once, with its number of pages. */
const GLANCE_AFTER_MS = 150;

/** The first page of a report while its pages are still being counted, as far as it can be told; else null. */
export function useGlance(report: object, waiting: boolean): Page | null {
  const [page, setPage] = useState<Page | null>(null);
  const key = JSON.stringify(report);
  useEffect(() => {
    setPage(null);
    if (!waiting) return;
    const abort = new AbortController();
    const timer = setTimeout(() => {
      ask<{ pages: Page[] }>("/api/report/glance", JSON.parse(key), { signal: abort.signal }).then(
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
