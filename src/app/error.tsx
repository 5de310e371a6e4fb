"use client";
import { COMMON } from "@/features/words";

import { Notice } from "@/ui/Notice";

/** Shown in place of a page that failed in a way nobody foresaw. */
export default function PageError({ reset }: { reset: () => void }) {
  return (
    <div className="mx-auto max-w-xl p-10">
      <Notice tone="wrong">
        {COMMON.pageFailed}{" "}
        <button type="button" className="link" onClick={reset}>
          {COMMON.tryAgain}
        </button>
      </Notice>
    </div>
  );
}
