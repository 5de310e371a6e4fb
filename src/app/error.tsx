"use client";

import { Notice } from "@/ui/Notice";

/** Shown in place of a page that failed in a way nobody foresaw. */
export default function PageError({ reset }: { reset: () => void }) {
  return (
    <div className="mx-auto max-w-xl p-10">
      <Notice tone="wrong">
        This page failed in a way that was not foreseen. Nothing saved is lost.{" "}
        <button type="button" className="link" onClick={reset}>
          Show it again
        </button>
      </Notice>
    </div>
  );
}
