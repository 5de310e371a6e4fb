"use client";

import { useRouter } from "next/navigation";
import { useEffect, useState } from "react";
import type { Retyped } from "@/core/schema/sampled";
import { TYPE_WORDS } from "@/core/types/valueType";
import { ask } from "../ask";
import { COMMON } from "../words";
import { WORDS } from "./words";

/** How far the look at all values is, null where it is over, and what it found otherwise than the sample. */
export type Look = { share: number | null; retyped: Retyped[] };

const ASKED_EVERY_MS = 1000;

/** Says that types are from a sample, until all values have been looked at; then what is otherwise. The page is brought up to date when it is wanted: somebody may be typing in it. */
export function Looking({ first }: { first: number | null }) {
  const router = useRouter();
  const [{ share, retyped }, setLook] = useState<Look>({ share: first, retyped: [] });
  const looking = share !== null;
  // What is said at the end stands when the page has been brought up to date, and no look goes on.
  useEffect(() => {
    if (first !== null) setLook({ share: first, retyped: [] });
  }, [first]);
  useEffect(() => {
    if (!looking) return;
    const timer = setInterval(
      () =>
        void ask<{ look: Look }>("/api/opening").then(
          ({ look: now }) => setLook(now),
          // The server may be gone for a moment; it is asked again.
          () => {},
        ),
      ASKED_EVERY_MS,
    );
    return () => clearInterval(timer);
  }, [looking]);
  if (!looking && retyped.length === 0) return null;
  const end = (update: boolean) => {
    setLook({ share: null, retyped: [] });
    if (update) router.refresh();
  };
  return (
    <div role="status" className="no-print flex shrink-0 items-center gap-3 border-b border-hairline bg-bottle-tint px-4 py-1 text-small">
      <span className="min-w-0 tabular-nums">
        {looking
          ? WORDS.looking(Math.floor(share * 100))
          : WORDS.retyped(retyped.map((r) => WORDS.retypedColumn(r.column, r.table, TYPE_WORDS[r.to.kind], TYPE_WORDS[r.from.kind])))}
      </span>
      {!looking && (
        <button type="button" className="link shrink-0" onClick={() => end(true)}>
          {WORDS.updatePage}
        </button>
      )}
      {!looking && (
        <button type="button" className="link shrink-0" onClick={() => end(false)}>
          {COMMON.close}
        </button>
      )}
    </div>
  );
}
