"use client";

import { useCallback, useRef, useState } from "react";
import type { PreviewPage } from "@/server/jobs/posting/preview";
import { ask } from "../ask";

const BLOCK = 100;

/** The rows of a preview, fetched in blocks as they are looked at; backwards where they were worked through from the last. */
export function usePreviewRows<Row>(
  id: string | null,
  { step = 0, outcomes, backwards = false }: Pick<PreviewPage, "outcomes" | "backwards"> & { step?: number },
) {
  const blocks = useRef(new Map<number, Row[] | Promise<void>>());
  const [, redraw] = useState(0);
  const key = `${id} ${step} ${outcomes.join(" ")}`;
  const now = useRef(key);
  if (now.current !== key) {
    now.current = key;
    blocks.current = new Map();
  }
  const fetchBlock = useCallback(
    (block: number) => {
      if (!id || blocks.current.has(block)) return;
      const asked = now.current;
      const load = ask<Row[]>("/api/postings/rows", { id, step, outcomes, offset: block * BLOCK, rows: BLOCK, backwards }).then(
        (rows) => {
          if (now.current !== asked) return;
          blocks.current.set(block, rows);
          redraw((n) => n + 1);
        },
        () => void blocks.current.delete(block),
      );
      blocks.current.set(block, load);
    },
    [id, key],
  );
  const onWindow = useCallback(
    (first: number, last: number) => {
      for (let block = Math.floor(first / BLOCK); block <= Math.floor(Math.max(0, last) / BLOCK); block++) fetchBlock(block);
    },
    [fetchBlock],
  );
  const rowAt = (index: number): Row | undefined => {
    const block = blocks.current.get(Math.floor(index / BLOCK));
    return Array.isArray(block) ? block[index % BLOCK] : undefined;
  };
  return { rowAt, onWindow };
}
