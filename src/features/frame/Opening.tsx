"use client";

import { useRouter } from "next/navigation";
import { useEffect, useState } from "react";
import { ask } from "../ask";
import { WORDS } from "./words";

/** How often is asked how far it is. */
const ASKED_EVERY_MS = 500;

/** In the place of a first page while all values of the database are looked at; then the page comes by itself. */
export function Opening({ first }: { first: number }) {
  const router = useRouter();
  const [share, setShare] = useState(first);
  useEffect(() => {
    const timer = setInterval(
      () =>
        void ask<{ share: number | null }>("/api/opening").then(
          (now) => (now.share === null ? router.refresh() : setShare(now.share)),
          // The server may be gone for a moment; it is asked again.
          () => {},
        ),
      ASKED_EVERY_MS,
    );
    return () => clearInterval(timer);
  }, [router]);
  const percent = Math.floor(share * 100);
  return (
    <div className="mx-auto grid w-full max-w-xl content-start gap-3 p-6 pt-24">
      <h1 className="font-serif text-title font-semibold">{WORDS.opening}</h1>
      <p className="text-soft">{WORDS.openingWhy}</p>
      <div
        role="progressbar"
        aria-label={WORDS.opening}
        aria-valuenow={percent}
        aria-valuemin={0}
        aria-valuemax={100}
        className="h-2 overflow-hidden rounded bg-hairline"
      >
        <div className="h-full bg-bottle" style={{ width: `${percent}%` }} />
      </div>
      <p className="text-small text-soft tabular-nums" aria-live="polite">
        {WORDS.openingShare(percent)}
      </p>
    </div>
  );
}
